// Made by Pipit; edits here are overwritten.
#pragma once

#include "ferry_desk.h"

// The window with everything connected.
class FerryDeskWired final : public FerryDesk
{
public:
    explicit FerryDeskWired(QWidget *parent = nullptr);
    ~FerryDeskWired() override;

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void wire();
    void startTideForecast();
    void workOnTideForecast(const QString &input);
    void startSaveManifest();
    void workOnSaveManifest(const QStringList &input);
    bool tideForecastBusy_ = false; // until its result was shown
    bool saveManifestBusy_ = false; // until its result was shown
};
