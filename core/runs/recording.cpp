#include "core/runs/recording.h"

#include "core/base/files.h"

#include <QFileInfo>

namespace pipit
{

namespace
{

// The trace, and who wants to know when something is in it.
class Opening : public SinkList
{
public:
    Opening(std::shared_ptr<Recording> r, const Recording::Begun &begun) : r_(std::move(r)), begun_(begun)
    {
        add(&r_->trace);
    }
    void caughtUp(std::int64_t time) override
    {
        SinkList::caughtUp(time);
        if (begun_ && !told_)
            begun_(r_);
        told_ = true;
    }

private:
    const std::shared_ptr<Recording> r_;
    const Recording::Begun &begun_;
    bool told_ = false;
};

// What stands beside the records may be missing, from a recording cut short, or damaged: what there
// is is shown all the same, and what is not is told.
QStringList readBeside(Recording &r)
{
    QStringList notes;
    const QString beside = r.folder + "/pipit/";
    if (!QFileInfo::exists(beside + "info.json"))
        notes << "The recording was cut short: it does not say how the run ended.";
    else if (auto info = readJsonObject(beside + "info.json"))
        r.info = RunInfo::fromJson(*info);
    else
        notes << info.problem().text() + " What is told of the run is unknown.";
    if (QFileInfo::exists(beside + "map.json")) {
        if (auto map = WiringMap::load(beside + "map.json"))
            r.handlers.setMap(*map);
        else
            notes << map.problem().text() + " Calls are not matched with connections.";
    }
    if (QFileInfo::exists(beside + "stacks.jsonl"))
        if (auto ok = r.trace.stacks().load(beside + "stacks.jsonl"); !ok)
            notes << ok.problem().text() + " What was on the stacks is unknown.";
    if (QFileInfo::exists(beside + "handlers.json"))
        if (auto ok = r.handlers.load(beside + "handlers.json"); !ok)
            notes << ok.problem().text() + " Handlers are named from the program as it is now.";
    return notes;
}

} // namespace

Result<std::shared_ptr<Recording>> Recording::open(const QString &folder, const std::atomic<bool> *stop,
                                                   const Begun &begun)
{
    auto r = std::make_shared<Recording>();
    r->folder = folder;
    const QStringList notes = readBeside(*r); // first: others may look at it while the records are read
    Opening sink(r, begun);
    auto report = readRecording(folder, sink, stop);
    if (!report)
        return report.problem();
    r->report = *report;
    r->report.notes += notes;
    // What had not ended lasted until the program's end, not until its last record.
    constexpr std::int64_t longest = 400LL * 24 * 3600 * 1'000'000'000;
    if (r->info.ended > r->trace.now() && r->info.ended - r->trace.now() < longest)
        r->trace.caughtUp(r->info.ended);
    return r;
}

} // namespace pipit
