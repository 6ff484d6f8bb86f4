// Verbs about the pace of a recording: stalls, waits, timers, compare.
#include "cli/of_recording.h"

#include "core/base/files.h"
#include "core/exports/proof_page.h"
#include "core/pace/coverage.h"
#include "core/pace/strains.h"

#include <QFileInfo>

namespace pipit::cli
{

namespace
{

// What is not among the rows: for people with them, beside JSON on the other stream, where there is more to
// it than that there is nothing.
void say(bool json, const QString &denied)
{
    if (!json)
        print(denied);
    else if (denied.contains("known"))
        std::fprintf(stderr, "pipit: %s\n", qPrintable(denied));
}

struct Stalls : OfRecording {
    int budget = int(stallBudget.count());

    void takes(Words &words)
    {
        OfRecording::takes(words);
        words.whole("--over", budget, 16, 10'000, "The stall budget in milliseconds");
    }
    int run() const;
};

QJsonObject stallJson(const Stall &s, const QString &thread)
{
    const auto known = [](const QString &text) { return text.isEmpty() ? QJsonValue() : QJsonValue(text); };
    // What was read of a part of it, for the whole.
    const auto share = [&](std::int64_t ns) {
        return qint64(double(ns) / double(s.processor.over) * double(s.duration));
    };
    QJsonArray contributors, waiting, places, blocking, unseen;
    for (const HotPlace &p : s.places)
        places.append(QJsonObject{{"function", p.function},
                                  {"file", known(p.file)},
                                  {"line", p.file.isEmpty() ? QJsonValue() : QJsonValue(p.line)},
                                  {"share", p.share}});
    for (const BlockingShare &b : s.blocking)
        blocking.append(QJsonObject{{"kind", blockingWords(b.blocking)}, {"share", b.share}});
    for (const Contributor &c : s.contributors)
        contributors.append(
            QJsonObject{{"handler", handlerJson(c.handler)}, {"own_ns", qint64(c.ns)}, {"calls", c.calls}});
    for (const Unseen &u : s.unseen)
        unseen.append(QJsonObject{{"widget", u.widget},
                                  {"what", u.what},
                                  {"value", known(u.values.value(0))},
                                  {"times", u.count},
                                  {"late", u.late},
                                  {"set_ns", qint64(u.set)},
                                  {"painted_ns", qint64(u.painted)},
                                  {"shown", known(u.shown)}});
    for (const WaitRow &x : s.waiting)
        waiting.append(QJsonObject{{"what", x.what}, {"wait_ns", qint64(x.wait)}});
    return {{"role", s.startUp            ? "start-up"
                     : s.worker.isEmpty() ? "main"
                                          : "worker"},
            {"start_ns", qint64(s.start)},
            {"duration_ns", qint64(s.duration)},
            {"thread", thread},
            {"handler", handlerJson(s.contributors.front().handler)},
            {"hot", places},
            {"blocking", blocking},
            {"contributors", contributors},
            {"waiting", waiting},
            {"unseen", unseen},
            {"reentry", s.reentry},
            {"unfinished", s.open},
            {"story", QJsonArray::fromStringList(s.story)},
            {"lock", s.lock ? QJsonObject{{"holder", known(s.lock->holder)},
                                          {"holder_does", known(s.lock->doing)},
                                          {"deadlock", s.open && s.lock->circle}}
                            : QJsonValue()},
            {"ran_ns", s.processor.known() ? QJsonValue(share(s.processor.ran)) : QJsonValue()},
            {"no_processor_ns", s.processor.known() ? QJsonValue(share(s.processor.delayed)) : QJsonValue()},
            {"machine_busy", s.processor.known() ? QJsonValue(s.processor.machineWasBusy()) : QJsonValue()}};
}

// What is no stall, for it does not lie between two looks of the loop for work.
QStringList aroundTheLoop(const Recording &r, std::chrono::milliseconds budget)
{
    QStringList lines;
    const auto tell = [&](const QString &what, std::int64_t ns, const QString &until) {
        if (std::chrono::nanoseconds(ns) >= budget)
            lines << what + durationText(ns) + until;
    };
    const RunInfo &run = r.info;
    if (run.started && r.trace.firstTime() > run.started)
        tell("Loading took ", r.trace.firstTime() - run.started,
             ", until the program made its application object. It is not recorded.");
    if (run.ended && run.lastPass && !r.trace.busySinceMain())
        tell("Shutdown took ", run.ended - run.lastPass, ", after the event loop last looked for work.");
    return lines;
}

int Stalls::run() const
{
    return with(recording, [&](Recording &r) {
        QJsonArray rows;
        const auto over = std::chrono::milliseconds(budget);
        const auto threads = r.trace.threads();
        const auto stalls = stallsOf(r.trace, r.handlers, over),
                   busy = busyWorkersOf(r.trace, r.handlers, over);
        const auto tell = [&](const std::vector<Stall> &all) {
            for (const Stall &s : all) {
                rows.append(stallJson(s, threads.value(s.thread).name));
                if (json)
                    continue;
                print(at(r, s.start) + "  " + s.sentence());
                if (const QString kind = blockingSentence(s.blocking); !kind.isEmpty())
                    print("             " + kind +
                          (s.hot.known() ? ", most often in " + s.hot.text() : QString()));
                for (const Unseen &u : s.unseen)
                    print("             " + u.sentence());
                for (const QString &line : s.story)
                    print("             " + line);
                for (const WaitRow &x : s.waiting)
                    print("             " + column(durationText(x.wait), 9) + "  " + x.what + " waited");
            }
        };
        tell(stalls);
        const Coverage seen = coverageOf(r.trace, r.info, r.recordedTo, r.leftOut);
        if (stalls.empty())
            say(json, seen.deniedStalls(over));
        else if (!seen.whole())
            say(json, seen.notKnown());
        if (!json && !busy.empty())
            print("Busy worker threads:");
        tell(busy);
        if (const auto startUp = startUpOf(r.trace, r.handlers, over))
            tell({*startUp});
        if (json)
            printJson(rows);
        else
            for (const QString &line : aroundTheLoop(r, over))
                print(line);
        return stalls.empty() ? fine : findings;
    });
}

struct Waits : OfRecording {
    int run() const;
};

int Waits::run() const
{
    return with(recording, [&](Recording &r) {
        const auto threads = r.trace.threads();
        const auto out = rowsIf(json);
        eachWait(r.trace, {}, [&](const WaitRow &x) {
            const ThreadInfo &thread = threads[x.thread];
            if (!out) {
                print(at(r, x.posted) + "  " + column(durationText(x.wait), 9) + "  " + x.what +
                      (thread.main ? QString() : ", in the queue of " + thread.name));
                return true;
            }
            out->beginRow();
            out->key("kind").text(x.kind);
            out->key("posted_ns").number(x.posted);
            out->key("role").text(thread.main ? QStringLiteral("main") : QStringLiteral("worker"));
            out->key("thread").text(thread.name);
            out->key("wait_ns").number(x.wait);
            out->key("what").text(x.what);
            out->endRow();
            return true;
        });
        return fine;
    });
}

struct Compare {
    QString before, after, page;
    int budget = int(stallBudget.count());
    bool json = false;

    void takes(Words &words)
    {
        words.word("BEFORE", before, Words::Needed, "A recording, or a folder of recordings");
        words.flag("--json", json);
        words.whole("--over", budget, 16, 10'000, "The stall budget in milliseconds");
        words.word("AFTER", after, Words::Needed, "The recording or folder to compare with");
        words.word("--page", page, Words::MayBeLeftOut, "Also write one HTML page");
    }
    int run() const;
};

QJsonArray valuesOf(const Spread &s)
{
    QJsonArray values;
    for (const std::int64_t v : s.values())
        values.append(qint64(v));
    return values;
}

QString changeWord(Change change)
{
    switch (change) {
    case Change::Better:
        return "better";
    case Change::Worse:
        return "worse";
    case Change::Same:
        return "same";
    case Change::Unknown:
        break;
    }
    return "unknown";
}

QJsonObject comparisonJson(const Comparison &c)
{
    QJsonObject figures;
    for (const Figure &f : c.figures) {
        const auto ratio = c.comparable ? f.ratio() : std::nullopt;
        const auto median = [](const Spread &s) {
            return s.empty() ? QJsonValue() : QJsonValue(qint64(s.median()));
        };
        figures[f.name] =
            QJsonObject{{"before", median(f.before)},
                        {"after", median(f.after)},
                        {"ratio", ratio ? QJsonValue(*ratio) : QJsonValue()},
                        {"change", c.comparable ? QJsonValue(changeWord(f.change)) : QJsonValue()},
                        {"all_before", valuesOf(f.before)},
                        {"all_after", valuesOf(f.after)}};
    }
    return {{"comparable", c.comparable},
            {"reason", orNull(c.reason)},
            {"runs_before", c.runsBefore},
            {"runs_after", c.runsAfter},
            {"change", c.comparable ? QJsonValue(changeWord(c.change)) : QJsonValue()},
            {"verdict", orNull(c.verdict)},
            {"figures", figures}};
}

void printComparison(const Comparison &c)
{
    const auto value = [](const Figure &f, const Spread &s) {
        return s.empty()               ? QStringLiteral("not known")
               : s.least() == s.most() ? f.text(s.median())
                                       : QStringLiteral("%1 (%2 – %3)")
                                             .arg(f.text(s.median()), f.text(s.least()), f.text(s.most()));
    };
    const int width = std::max(c.runsBefore, c.runsAfter) > 1 ? 30 : 11;
    print(QString().leftJustified(22) + column("before", width) + column("after", width));
    for (const Figure &f : c.figures) {
        const auto ratio = c.comparable ? f.ratio() : std::nullopt;
        print(f.words.leftJustified(22) + column(value(f, f.before), width) +
              column(value(f, f.after), width) +
              (ratio ? column(QStringLiteral("× %1").arg(*ratio, 0, 'g', 3), 12) : QString()));
    }
    print(c.comparable ? c.verdict : "Not comparable. " + c.reason);
}

int Compare::run() const
{
    const auto over = std::chrono::milliseconds(budget);
    const auto first = runsIn(before, over), second = runsIn(after, over);
    if (!first || !second)
        return fail(first ? second.problem() : first.problem());
    const Comparison c = compareRuns(*first, *second);
    json ? printJson(comparisonJson(c)) : printComparison(c);
    if (!page.isEmpty()) {
        if (auto ok = writeFile(page, proofPage(c, *first, *second).toUtf8()); !ok)
            return fail(ok.problem());
        if (!json)
            print("The page was written to " + page);
    }
    return c.comparable ? fine : findings;
}

struct Timers : OfRecording {
    int run() const;
};

QJsonObject delayJson(const PollDelay &d)
{
    return {
        {"shortest_ns", qint64(d.shortest)}, {"mean_ns", qint64(d.mean)}, {"longest_ns", qint64(d.longest)}};
}

QJsonObject timerJson(const TimerRow &t, const QString &thread)
{
    const PollDelay delay = predictedDelay(t.intervals);
    return {{"name", t.name},
            {"class", t.className},
            {"thread", thread},
            {"promised_ns", t.promised > 0 ? QJsonValue(qint64(t.promised)) : QJsonValue()},
            {"single_shots", t.shots},
            {"toolkit", t.toolkit},
            {"objects", t.objects},
            {"ticks", t.ticks},
            {"idle_ticks", t.idle},
            {"alone_ticks", t.alone},
            {"kept_ns", t.intervals.empty()
                            ? QJsonValue()
                            : QJsonValue(QJsonObject{{"least", qint64(t.intervals.least())},
                                                     {"median", qint64(t.intervals.median())},
                                                     {"p95", qint64(t.intervals.quantile(0.95))},
                                                     {"most", qint64(t.intervals.most())}})},
            {"work_ns", qint64(t.work)},
            {"per_second", t.perSecond()},
            {"load", t.load()},
            {"poll_delay", delay.known ? QJsonValue(delayJson(delay)) : QJsonValue()}};
}

int Timers::run() const
{
    return with(recording, [&](Recording &r) {
        QJsonArray rows;
        for (const TimerRow &t : timersOf(r.trace)) {
            rows.append(timerJson(t, r.trace.thread(t.thread).name));
            if (json)
                continue;
            print(t.sentence());
            if (const PollDelay d = predictedDelay(t.intervals); d.known && t.known && t.ticks > 2)
                print(QStringLiteral("    a poll notices a change after %1 on average, %2 at most; %3 ticks "
                                     "a second, %4 % of them are the only reason to wake up")
                          .arg(durationText(d.mean), durationText(d.longest))
                          .arg(t.perSecond(), 0, 'g', 3)
                          .arg(100 * t.alone / t.ticks));
        }
        if (json)
            printJson(rows);
        if (rows.isEmpty())
            say(json,
                coverageOf(r.trace, r.info, r.recordedTo, r.leftOut).denied("No timer ticked", "Timers"));
        return fine;
    });
}

struct Strains : OfRecording {
    int run() const;
};

int Strains::run() const
{
    return with(recording, [&](Recording &r) {
        QJsonArray rows;
        const auto strains = strainsOf(r.trace, r.handlers, {}, r.info.ended > 0);
        for (const Strain &s : strains) {
            rows.append(QJsonObject{{"kind", Strain::id(s.kind)},
                                    {"who", s.who},
                                    {"why", orNull(s.why)},
                                    {"at_ns", qint64(s.at)},
                                    {"count", s.count},
                                    {"took_ns", qint64(s.took)},
                                    {"file", orNull(s.file)},
                                    {"line", orNull(s.line)},
                                    {"sentence", s.sentence()}});
            if (json)
                continue;
            const QString place =
                s.file.isEmpty() ? QString()
                                 : QStringLiteral(" (%1:%2)").arg(QFileInfo(s.file).fileName()).arg(s.line);
            print(at(r, s.at) + "  " + s.sentence() + place);
            print("             " + s.advice());
        }
        if (json)
            printJson(rows);
        if (strains.empty())
            say(json, coverageOf(r.trace, r.info, r.recordedTo, r.leftOut).denied("Nothing", "Strains"));
        return strains.empty() ? fine : findings;
    });
}

} // namespace

void addPaceVerbs(Registry &r)
{
    r.add<Stalls>("stalls", "Show what blocked the main event loop, and what waited",
                  "pipit stalls /tmp/first --over 16");
    r.add<Waits>("waits", "Show how long inputs and posted events waited", "pipit waits /tmp/first");
    r.add<Timers>("timers", "Show intervals, delays and costs of timers", "pipit timers /tmp/first");
    r.add<Strains>("strains", "Show small costs that add up, and widgets set on other threads",
                   "pipit strains /tmp/first");
    r.add<Compare>("compare", "Compare runs of a play before and after a change",
                   "pipit compare /tmp/before /tmp/after --page proof.html");
}

} // namespace pipit::cli
