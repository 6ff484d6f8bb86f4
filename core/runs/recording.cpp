#include "core/runs/recording.h"

#include "core/base/files.h"

#include <QJsonDocument>

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
    const RecordingFiles &files = *r.files;
    // Of one that is there: whether it could be read; else it is told what that means.
    const auto with = [&](const QString &name, const QString &otherwise, auto &&take) {
        const auto bytes = files.read(name);
        const auto object = bytes ? jsonObjectOf(*bytes, files.where(name)) : bytes.problem();
        if (object)
            take(*object);
        else if (files.has(name))
            notes << object.problem().text() + ' ' + otherwise;
    };
    if (!files.has("pipit/info.json"))
        notes << "The recording was cut short: it does not say how the run ended.";
    with("pipit/info.json", "The run's information is missing.",
         [&](const QJsonObject &o) { r.info = RunInfo::fromJson(o); });
    with("pipit/map.json", "Calls are not assigned to connections.",
         [&](const QJsonObject &o) { r.handlers.setMap(WiringMap::of(o)); });
    if (const auto lines = files.read("pipit/stacks.jsonl"))
        r.trace.stacks().load(*lines);
    else if (files.has("pipit/stacks.jsonl"))
        notes << lines.problem().text() + " The stacks are unknown.";
    with("pipit/handlers.json", "Handler names come from the program as it is now.",
         [&](const QJsonObject &o) { r.handlers.load(o); });
    with("pipit/sources.json", "No source code is shown.",
         [&](const QJsonObject &o) { r.sources = Excerpts::of(o); });
    if (files.packed())
        r.handlers.setApart();
    return notes;
}

} // namespace

Result<std::shared_ptr<Recording>> Recording::open(const QString &path, const std::atomic<bool> *stop,
                                                   const Begun &begun)
{
    auto r = std::make_shared<Recording>();
    auto files = RecordingFiles::open(path);
    if (!files)
        return files.problem();
    r->files = *files;
    const QStringList notes = readBeside(*r); // first: others may look at it while the records are read
    Opening sink(r, begun);
    auto report = readRecording(**files, sink, stop);
    if (!report)
        return report.problem();
    r->report = *report;
    r->leftOut = report->notes;
    r->report.notes += notes;
    r->recordedTo = r->trace.now();
    // What had not ended lasted until the program's end, not until its last record; unless that is missing.
    constexpr std::int64_t longest = 400LL * 24 * 3600 * 1'000'000'000;
    if (!r->info.cut && r->info.ended > r->trace.now() && r->info.ended - r->trace.now() < longest)
        r->trace.caughtUp(r->info.ended);
    return r;
}

PackedExtras extrasOf(Recording &r, bool withSources)
{
    PackedExtras extras;
    if (!withSources) {
        if (r.files->has("pipit/sources.json")) // packed once more, without them
            extras.files.push_back({"pipit/sources.json", QJsonDocument(Excerpts().toJson()).toJson()});
        return extras;
    }
    extras.sources = r.sources;
    if (extras.sources.empty())
        extras.sources = Excerpts::gather(r.trace, r.handlers,
                                          r.report.sinceEpoch ? r.trace.firstTime() + r.report.sinceEpoch : 0,
                                          &extras.leftOut);
    if (!extras.sources.empty())
        extras.files.push_back(
            {"pipit/sources.json", QJsonDocument(extras.sources.toJson()).toJson(QJsonDocument::Compact)});
    return extras;
}

} // namespace pipit
