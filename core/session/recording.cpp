#include "core/session/recording.h"

#include "core/base/files.h"

#include <QJsonArray>
#include <QJsonDocument>

namespace pipit
{

QJsonObject RunInfo::toJson() const
{
    return {{"version", 1},
            {"program", program},
            {"arguments", QJsonArray::fromStringList(arguments)},
            {"project", project},
            {"flavour", flavour},
            {"ending", ending},
            {"exit_code", exitCode},
            {"signal", signal},
            {"play", play},
            {"play_fingerprint", playFingerprint},
            {"play_ok", playOk},
            {"play_start_ns", qint64(playStart)},
            {"play_end_ns", qint64(playEnd)},
            {"time_to_result_ns", qint64(timeToResult)},
            {"start_ns", qint64(started)},
            {"notes", QJsonArray::fromStringList(notes)}};
}

RunInfo RunInfo::fromJson(const QJsonObject &o)
{
    RunInfo i;
    i.program = o["program"].toString();
    for (const auto &a : o["arguments"].toArray())
        i.arguments << a.toString();
    i.project = o["project"].toString();
    i.flavour = o["flavour"].toString();
    i.ending = o["ending"].toString();
    i.exitCode = o["exit_code"].toInt(-1);
    i.signal = o["signal"].toInt();
    i.play = o["play"].toString();
    i.playFingerprint = o["play_fingerprint"].toString();
    i.playOk = o["play_ok"].toBool(true);
    i.playStart = o["play_start_ns"].toInteger();
    i.playEnd = o["play_end_ns"].toInteger();
    i.timeToResult = o["time_to_result_ns"].toInteger();
    i.started = o["start_ns"].toInteger();
    for (const auto &n : o["notes"].toArray())
        i.notes << n.toString();
    return i;
}

Result<std::unique_ptr<Recording>> Recording::open(const QString &folder, const std::atomic<bool> *stop)
{
    auto r = std::make_unique<Recording>();
    r->folder = folder;
    auto report = readRecording(folder, r->trace, stop);
    if (!report)
        return report.problem();
    r->report = *report;
    // A recording cut short has none of these; what it has is shown all the same.
    if (auto bytes = readFile(folder + "/pipit/info.json"))
        r->info = RunInfo::fromJson(QJsonDocument::fromJson(*bytes).object());
    else
        r->report.notes << "The recording was cut short: it does not say how the run ended.";
    if (auto map = WiringMap::load(folder + "/pipit/map.json"))
        r->handlers.setMap(*map);
    (void)r->handlers.load(folder + "/pipit/handlers.json");
    return r;
}

} // namespace pipit
