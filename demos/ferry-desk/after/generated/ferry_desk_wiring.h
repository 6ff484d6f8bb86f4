// Made by Pipit; edits here are overwritten.
#pragma once

#include "ferry_desk.h"

#include <QtCore/QPointer>

class FerryDeskWired final : public FerryDesk
{
public:
    explicit FerryDeskWired(QWidget *parent = nullptr);
    ~FerryDeskWired() override;

private:
    class Filter;
    void wire();
    void unwire();
    void start_tideForecast();
    QObject *links_ = nullptr;
};
