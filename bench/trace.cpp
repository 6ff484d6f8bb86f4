// What a large trace costs: ./dev bench trace [RECORDS | hour | rate SECONDS HOGS | make FOLDER RECORDS]
//
// A short real recording is told again and again, later each time, until it has so many records; what is
// measured is measured in processes of their own, so that none has another's memory.
#include "core/pace/stalls.h"
#include "core/runs/live_run.h"
#include "core/runs/recording.h"
#include "core/trace/order.h"
#include "core/trace/story.h"

#include <QCoreApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QProcess>
#include <QRandomGenerator>
#include <QTemporaryDir>

#include <algorithm>
#include <cstdio>
#include <fcntl.h>
#include <unistd.h>

using namespace pipit;

namespace
{

void wanted(bool there, const char *what)
{
    if (!there)
        qFatal("%s, so there is nothing to measure", what);
}

// What a run gave, kept.
struct Kept : RecordSink {
    struct One {
        int stream;
        link::Record record;
        std::string text;
    };
    std::vector<StreamInfo> streams;
    std::vector<One> all;
    void streamOpened(int stream, const StreamInfo &info) override
    {
        if (streams.size() <= std::size_t(stream))
            streams.resize(std::size_t(stream) + 1);
        streams[std::size_t(stream)] = info;
    }
    void record(int stream, const link::Record &r, const char *text, std::size_t bytes) override
    {
        all.push_back({stream, r, text ? std::string(text, bytes) : std::string()});
    }
    void caughtUp(std::int64_t) override {}
};

QString bin(const char *name)
{
    return QCoreApplication::applicationDirPath() + '/' + name;
}

// A recording of clicks, each with its handler, in turns of the loop.
Kept realClicks()
{
    QTemporaryDir dir;
    RunSpec spec;
    spec.program.program = bin("bench-target");
    spec.program.arguments = QStringList{"turns"};
    spec.recordTo = dir.path() + "/rec";
    auto run = LiveRun::start(spec, {});
    wanted(bool(run), "the target did not start");
    wanted((*run)->program().waitForEnd(std::chrono::seconds(60)), "the target did not end");
    wanted(bool((*run)->finish()), "the recording was not completed");
    Kept kept;
    const auto report = readRecording(spec.recordTo, kept);
    wanted(report && report->lost == 0 && kept.all.size() > 10'000, "the target's recording holds nothing");
    return kept;
}

struct Made {
    std::uint64_t records = 0, dispatches = 0;
};

// Told again and again.
template <class Sink> Made repeat(const Kept &kept, Sink &sink, std::uint64_t records)
{
    Made made;
    for (int i = 0; i < int(kept.streams.size()); ++i)
        sink.streamOpened(i, kept.streams[std::size_t(i)]);
    const std::uint64_t span = kept.all.back().record.time - kept.all.front().record.time + 1'000'000;
    for (std::uint64_t round = 0; made.records < records; ++round)
        for (const Kept::One &one : kept.all) {
            if (round && one.record.kind < std::uint16_t(link::Kind::DispatchBegin))
                continue; // names are told once
            const bool loop = link::Kind(one.record.kind) == link::Kind::LoopBegin ||
                              link::Kind(one.record.kind) == link::Kind::LoopEnd;
            if (loop && (round || link::Kind(one.record.kind) == link::Kind::LoopEnd))
                continue; // one loop around all of it
            link::Record r = one.record;
            r.time += round * span;
            sink.record(one.stream, r, one.text.empty() ? nullptr : one.text.data(), one.text.size());
            ++made.records;
            made.dispatches += link::Kind(r.kind) == link::Kind::DispatchBegin;
        }
    sink.caughtUp(std::int64_t(kept.all.back().record.time + 1000 * span));
    return made;
}

std::size_t pss()
{
    QFile f("/proc/self/smaps_rollup");
    if (f.open(QIODevice::ReadOnly))
        for (const QByteArray &line : f.readAll().split('\n'))
            if (line.startsWith("Pss:"))
                return line.mid(4).trimmed().split(' ').value(0).toULongLong() * 1024;
    return 0;
}

double ms(const QElapsedTimer &t)
{
    return double(t.nsecsElapsed()) / 1e6;
}

struct Times {
    std::vector<double> all;
    void add(double v) { all.push_back(v); }
    double at(double share)
    {
        std::sort(all.begin(), all.end());
        return all.empty() ? 0 : all[std::min(all.size() - 1, std::size_t(share * double(all.size())))];
    }
};

void forgetPages(const QString &folder)
{
    for (const QFileInfo &f : QDir(folder).entryInfoList(QDir::Files)) {
        const int fd = ::open(QFile::encodeName(f.filePath()).constData(), O_RDONLY);
        fsync(fd);
        posix_fadvise(fd, 0, 0, POSIX_FADV_DONTNEED);
        ::close(fd);
    }
}

qint64 sizeOf(const QString &folder)
{
    qint64 bytes = 0;
    for (const QFileInfo &f : QDir(folder).entryInfoList({"stream_*"}, QDir::Files))
        bytes += f.size();
    return bytes;
}

// In a process of its own: opens it, tells the story, jumps about.
void openAndTell(const QString &folder)
{
    forgetPages(folder);
    const std::size_t before = pss();
    QElapsedTimer t;
    t.start();
    auto r = Recording::open(folder);
    wanted(bool(r), "the recording did not open");
    const double opened = ms(t);
    const TraceModel &trace = (*r)->trace;
    Handlers &handlers = (*r)->handlers;
    const StoryChoice choice;
    StoryTeller teller(trace, handlers, choice);
    std::vector<StoryPage> pages;
    auto news = teller.advance(std::chrono::milliseconds(4));
    StoryEye eye(trace, handlers, choice);
    (void)(news.pages.empty() ? news.tail : news.pages.front().rows(eye));
    const double first = ms(t);
    std::uint64_t rows = 0;
    for (;;) {
        for (StoryPage &p : news.pages) {
            rows += std::uint64_t(p.count);
            pages.push_back(std::move(p));
        }
        if (!news.more)
            break;
        news = teller.advance(std::chrono::milliseconds(40));
    }
    rows += news.tail.size();
    std::printf("  opened after %.0f ms, first rows after %.0f, all %llu rows of %llu spans after %.0f ms\n",
                opened, first, static_cast<unsigned long long>(rows),
                static_cast<unsigned long long>(trace.spanCount()), ms(t));
    std::uint64_t dispatches = 0;
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i)
        for (std::uint32_t row = 0; row < trace.rows(i).count(); ++row)
            dispatches += trace.rows(i).kind(row) == SpanKind::Dispatch;
    const double million = double(dispatches) / 1e6;
    std::printf(
        "  memory: %.1f MB taken for spans, %.1f MB of it in the file; %.1f MB for a million dispatches\n",
        double(trace.memory().taken()) / 1e6, double(trace.memory().inFile()) / 1e6,
        double(trace.memory().taken()) / 1e6 / million);
    trace.memory().rest();
    std::printf("  Pss %.0f MB more than before it was opened\n", double(pss() - before) / 1e6);
    QRandomGenerator random(1);
    Times jumps;
    for (int i = 0; i < 300 && !pages.empty(); ++i) {
        QElapsedTimer jump;
        jump.start();
        const auto page = pages[random.bounded(std::uint32_t(pages.size()))].rows(eye);
        for (std::size_t k = 0; k < std::min<std::size_t>(30, page.size()); ++k)
            if (page[k].span)
                (void)sentenceOf(trace, handlers, trace.span(page[k].span));
        jumps.add(ms(jump));
    }
    std::printf("  a jump to anywhere, thirty rows with their sentences: %.2f ms median, %.2f ms at the 99th "
                "percentile\n",
                jumps.at(0.5), jumps.at(0.99));
    Times filters;
    for (int i = 0; i < 20; ++i) {
        QElapsedTimer filter;
        filter.start();
        StoryTeller other(trace, handlers, {i % 2 ? "lambda" : "no such thing", false});
        (void)other.advance(std::chrono::milliseconds(4));
        filters.add(ms(filter));
    }
    std::printf("  a filter's first rows: %.2f ms median, %.2f ms worst\n", filters.at(0.5), filters.at(1));
    QElapsedTimer whole;
    whole.start();
    StoryTeller none(trace, handlers, {"no such thing", false});
    while (none.advance(std::chrono::milliseconds(40)).more) {
    }
    std::printf("  a filter that fits nothing, to the end: %.0f ms\n", ms(whole));
}

// In a process of its own: what an hour at that many dispatches a second leaves in memory.
void hour(double perSecond)
{
    const Kept kept = realClicks();
    const std::size_t before = pss();
    TraceModel trace;
    Handlers handlers(trace);
    StallLog stalls(trace, handlers, stallBudget);
    struct Looks : RecordSink { // as a window does: it looks at what came, some times in so many records
        TraceModel &trace;
        StallLog &stalls;
        std::uint64_t count = 0;
        Looks(TraceModel &t, StallLog &s) : trace(t), stalls(s) {}
        void streamOpened(int stream, const StreamInfo &info) override { trace.streamOpened(stream, info); }
        void record(int stream, const link::Record &r, const char *text, std::size_t bytes) override
        {
            trace.record(stream, r, text, bytes);
            if (++count % 100'000 == 0) {
                trace.caughtUp(std::int64_t(r.time));
                stalls.update();
            }
        }
        void caughtUp(std::int64_t time) override { trace.caughtUp(time); }
    } sink(trace, stalls);
    const std::uint64_t dispatches = std::uint64_t(perSecond * 3600);
    std::uint64_t mix = 0;
    for (const Kept::One &one : kept.all)
        mix += link::Kind(one.record.kind) == link::Kind::DispatchBegin;
    QElapsedTimer t;
    t.start();
    const Made made = repeat(kept, sink, dispatches * kept.all.size() / mix);
    std::printf(
        "an hour at %.0f dispatches a second, %.1f million of them, taken in %.0f s (%.0f ns a record):\n",
        perSecond, double(made.dispatches) / 1e6, ms(t) / 1e3, ms(t) * 1e6 / double(made.records));
    std::printf("  %.1f GB taken for spans, %.1f GB of it in the file\n",
                double(trace.memory().taken()) / 1e9, double(trace.memory().inFile()) / 1e9);
    std::printf("  Pss %.0f MB more than before, %.0f MB after a look at all of it and a rest\n",
                double(pss() - before) / 1e6, [&] {
                    StoryTeller teller(trace, handlers, {"no such thing", false});
                    while (teller.advance(std::chrono::milliseconds(100)).more)
                        trace.memory().rest();
                    trace.memory().rest();
                    return double(pss() - before) / 1e6;
                }());
}

// A million records a second for so long; none may be lost, and every one that is must be told.
void rate(int seconds, int hogs)
{
    QTemporaryDir dir(QDir::homePath() + "/pipit-bench-XXXXXX");
    std::vector<std::unique_ptr<QProcess>> busy;
    for (int i = 0; i < hogs; ++i) {
        busy.push_back(std::make_unique<QProcess>());
        busy.back()->start("/bin/sh", {"-c", "while :; do :; done"});
    }
    RunSpec spec;
    spec.program.program = bin("bench-target");
    spec.program.arguments = QStringList{"rate", QString::number(seconds)};
    spec.recordTo = dir.path() + "/rec";
    QByteArray output;
    std::mutex mutex;
    Program::Callbacks callbacks;
    callbacks.output = [&](const QByteArray &b, bool) {
        std::lock_guard lock(mutex);
        output += b;
    };
    const std::size_t before = pss();
    auto run = LiveRun::start(spec, callbacks);
    wanted(bool(run), "the target did not start");
    wanted((*run)->program().waitForEnd(std::chrono::seconds(seconds + 60)), "the target did not end");
    const std::uint64_t lost = (*run)->trace().lost();
    wanted(bool((*run)->finish()), "the recording was not completed");
    for (auto &b : busy) {
        b->kill();
        b->waitForFinished();
    }
    const auto sent = output.mid(output.indexOf("sent ") + 5).trimmed().toULongLong();
    wanted(sent > 0, "the target told nothing");
    std::printf("%d s with %d hogs: %.2f million records a second made; %llu lost; Pss %.0f MB more; %.0f MB "
                "on disk\n",
                seconds, hogs, 2 * double(sent) / 1e6 / seconds, static_cast<unsigned long long>(lost),
                double(pss() - before) / 1e6, double(sizeOf(spec.recordTo)) / 1e6);
    std::uint64_t seen = 0;
    inOrder((*run)->trace(), INT64_MIN, INT64_MAX, [&](const ThreadRows &rows, std::uint32_t row) {
        const auto &a = rows.alike(ThreadRows::chunkOf(row), rows.alikeOf(row));
        seen += a.kind == SpanKind::Dispatch && a.what == 1000; // QEvent::User
        return true;
    });
    std::printf("  of %llu sends %llu are in the trace\n", static_cast<unsigned long long>(sent),
                static_cast<unsigned long long>(seen));
}

void inProcess(const QStringList &arguments)
{
    QProcess p;
    p.setProcessChannelMode(QProcess::ForwardedChannels);
    p.start(QCoreApplication::applicationFilePath(), arguments);
    wanted(p.waitForFinished(1'200'000) && p.exitCode() == 0, "a part of the bench did not end as it should");
}

Made make(const QString &folder, std::uint64_t records)
{
    const Kept kept = realClicks();
    auto writer = RecordingWriter::create(folder);
    wanted(bool(writer), "no recording could be written");
    QElapsedTimer t;
    t.start();
    const Made made = repeat(kept, **writer, records);
    wanted(bool((*writer)->finish()), "the recording was not completed");
    std::printf("%llu records of clicks with their handler, %llu dispatches\n",
                static_cast<unsigned long long>(made.records),
                static_cast<unsigned long long>(made.dispatches));
    std::printf("  written in %.2f s (%.0f ns a record); %.1f bytes a dispatch\n", ms(t) / 1e3,
                ms(t) * 1e6 / double(made.records), double(sizeOf(folder)) / double(made.dispatches));
    std::fflush(stdout);
    return made;
}

void all(std::uint64_t records)
{
    QTemporaryDir dir(QDir::homePath() + "/pipit-bench-XXXXXX");
    (void)make(dir.path() + "/rec", records);
    inProcess({"open", dir.path() + "/rec"});
}

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    const QString what = argc > 1 ? argv[1] : "10000000";
    if (what == "open" && argc > 2)
        openAndTell(argv[2]);
    else if (what == "make" && argc > 3)
        (void)make(argv[2], QString(argv[3]).toULongLong());
    else if (what == "hour")
        hour(30'000);
    else if (what == "rate")
        rate(argc > 2 ? std::atoi(argv[2]) : 60, argc > 3 ? std::atoi(argv[3]) : 0);
    else
        all(what.toULongLong());
    return 0;
}
