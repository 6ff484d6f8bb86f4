// Made by Pipit; edits here are overwritten.
#pragma once

#include "wiring_support.h"

#include <QtWidgets/QDialog>
#include <QtWidgets/QDialogButtonBox>
#include <QtWidgets/QLabel>
#include <QtWidgets/QPushButton>
#include <QtWidgets/QVBoxLayout>
#include <QtWidgets/QWidget>


class ConfirmDialogBase : public QDialog
{
public:
    explicit ConfirmDialogBase(QWidget *parent = nullptr);

    QLabel *confirmLabel = nullptr;
    QDialogButtonBox *confirmButtons = nullptr;
};
