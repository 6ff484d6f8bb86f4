#include "core/records/run_info.h"

#include <QJsonArray>

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
            {"play_held", playHeld},
            {"play_start_ns", qint64(playStart)},
            {"play_end_ns", qint64(playEnd)},
            {"time_to_result_ns", qint64(timeToResult)},
            {"processor_ns", qint64(processorTime)},
            {"start_ns", qint64(started)},
            {"end_ns", qint64(ended)},
            {"first_pass_ns", qint64(firstPass)},
            {"last_pass_ns", qint64(lastPass)},
            {"cut", cut},
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
    i.playHeld = o["play_held"].toBool(i.playOk);
    i.playStart = o["play_start_ns"].toInteger();
    i.playEnd = o["play_end_ns"].toInteger();
    i.timeToResult = o["time_to_result_ns"].toInteger();
    i.processorTime = o["processor_ns"].toInteger(-1);
    i.started = o["start_ns"].toInteger();
    i.ended = o["end_ns"].toInteger();
    i.firstPass = o["first_pass_ns"].toInteger();
    i.lastPass = o["last_pass_ns"].toInteger();
    i.cut = o["cut"].toBool();
    for (const auto &n : o["notes"].toArray())
        i.notes << n.toString();
    return i;
}

} // namespace pipit
