#include "core/runs/recording.h"

#include "core/base/files.h"

#include <QFileInfo>

namespace pipit
{

Result<std::unique_ptr<Recording>> Recording::open(const QString &folder, const std::atomic<bool> *stop)
{
    auto r = std::make_unique<Recording>();
    r->folder = folder;
    auto report = readRecording(folder, r->trace, stop);
    if (!report)
        return report.problem();
    r->report = *report;
    // What stands beside the records may be missing, from a recording cut short, or damaged: what there
    // is is shown all the same, and what is not is told.
    QStringList &notes = r->report.notes;
    const QString beside = folder + "/pipit/";
    if (!QFileInfo::exists(beside + "info.json"))
        notes << "The recording was cut short: it does not say how the run ended.";
    else if (auto info = readJsonObject(beside + "info.json"))
        r->info = RunInfo::fromJson(*info);
    else
        notes << info.problem().text() + " What is told of the run is unknown.";
    // What had not ended lasted until the program's end, not until its last record.
    constexpr std::int64_t longest = 400LL * 24 * 3600 * 1'000'000'000;
    if (r->info.ended > r->trace.now() && r->info.ended - r->trace.now() < longest)
        r->trace.caughtUp(r->info.ended);
    if (QFileInfo::exists(beside + "map.json")) {
        if (auto map = WiringMap::load(beside + "map.json"))
            r->handlers.setMap(*map);
        else
            notes << map.problem().text() + " Calls are not matched with connections.";
    }
    if (QFileInfo::exists(beside + "stacks.jsonl"))
        if (auto ok = r->trace.stacks().load(beside + "stacks.jsonl"); !ok)
            notes << ok.problem().text() + " What was on the stacks is unknown.";
    if (QFileInfo::exists(beside + "handlers.json"))
        if (auto ok = r->handlers.load(beside + "handlers.json"); !ok)
            notes << ok.problem().text() + " Handlers are named from the program as it is now.";
    return r;
}

} // namespace pipit
