// Made by Pipit; edits here are overwritten.
#pragma once

#include "confirm_dialog.h"

#include <QtCore/QPointer>
#include <QtCore/QSet>

class ConfirmDialogWired final : public ConfirmDialog
{
public:
    explicit ConfirmDialogWired(QWidget *parent = nullptr);
    ~ConfirmDialogWired() override;

private:
    class Filter;
    bool on(const char *connection) const { return off_.isEmpty() || !off_.contains(connection); }
    void wire();
    void connectAll();
    void unwire();
    QObject *links_ = nullptr;
    QSet<QByteArray> off_; // connections switched off
};
