// Made by Pipit; edits here are overwritten.
#pragma once

#include "confirm_dialog.h"

// The window with everything connected.
class ConfirmDialogWired final : public ConfirmDialog
{
public:
    explicit ConfirmDialogWired(QWidget *parent = nullptr);
    ~ConfirmDialogWired() override;

private:
    void wire();
};
