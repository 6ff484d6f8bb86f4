// Made by Pipit; edits here are overwritten.
#pragma once

#include "wiring_support.h"

#include <QtCore/QCoreApplication>
#include <QtWidgets/QDialog>
#include <QtWidgets/QDialogButtonBox>
#include <QtWidgets/QLabel>
#include <QtWidgets/QPushButton>
#include <QtWidgets/QVBoxLayout>
#include <QtWidgets/QWidget>


class ConfirmDialogBase : public QDialog
{
    Q_DECLARE_TR_FUNCTIONS(ConfirmDialog)

public:
    explicit ConfirmDialogBase(QWidget *parent = nullptr);

    QLabel *confirmLabel = nullptr;
    QDialogButtonBox *confirmButtons = nullptr;
};
