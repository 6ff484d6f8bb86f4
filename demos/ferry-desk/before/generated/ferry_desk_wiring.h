// Made by Pipit; edits here are overwritten.
#pragma once

#include "ferry_desk.h"

#include <QtCore/QPointer>
#include <QtCore/QSet>

class FerryDeskWired final : public FerryDesk
{
public:
    explicit FerryDeskWired(QWidget *parent = nullptr);
    ~FerryDeskWired() override;

private:
    class Filter;
    bool on(const char *connection) const { return off_.isEmpty() || !off_.contains(connection); }
    void wire();
    void connectAll();
    void unwire();
    QObject *links_ = nullptr;
    QSet<QByteArray> off_; // connections switched off
};
