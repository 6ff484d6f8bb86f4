// Verbs that answer from a recording: turns, calls, stalls, waits, compare.
#include "cli/verbs.h"

#include "core/pace/compare.h"

#include <QFileInfo>
#include <memory>

namespace pipit::cli
{

namespace
{

struct Words {
    std::string recording, after;
    int budget = 50;
    bool json = false;
};

QJsonValue orNull(const QString &s)
{
    return s.isEmpty() ? QJsonValue() : QJsonValue(s);
}
QJsonValue orNull(int n)
{
    return n > 0 ? QJsonValue(n) : QJsonValue();
}

QJsonObject handlerJson(const HandlerName &h)
{
    return {{"name", h.name}, {"file", orNull(h.file)}, {"line", orNull(h.line)}};
}

// Times as seconds since the recording began, for people.
QString at(const Recording &r, std::int64_t ns)
{
    return QStringLiteral("%1 s").arg(double(ns - r.trace.firstTime()) / 1e9, 9, 'f', 4);
}

QString column(const QString &text, int width)
{
    return text.rightJustified(width);
}

int with(const std::string &folder, const std::function<int(Recording &)> &what)
{
    auto r = Recording::open(q(folder));
    if (!r)
        return fail(r.problem());
    for (const QString &n : (*r)->report.notes)
        std::fprintf(stderr, "pipit: %s\n", n.toUtf8().constData());
    if ((*r)->report.lost)
        std::fprintf(stderr, "pipit: %llu records were lost while recording\n",
                     static_cast<unsigned long long>((*r)->report.lost));
    return what(**r);
}

int turns(const Words &w)
{
    return with(w.recording, [&](Recording &r) {
        QJsonArray rows;
        const auto threads = r.trace.threads();
        for (const TurnRow &t : turnsOf(r.trace)) {
            const QString thread = threads.value(t.thread).name;
            rows.append(QJsonObject{{"start_ns", qint64(t.start)},
                                    {"duration_ns", qint64(t.duration)},
                                    {"thread", thread},
                                    {"dispatches", t.dispatches},
                                    {"calls", t.calls},
                                    {"forced", t.forced}});
            if (!w.json)
                print(QStringLiteral("%1  %2  %3 dispatches, %4 calls  %5")
                          .arg(at(r, t.start), column(durationText(t.duration), 9))
                          .arg(t.dispatches)
                          .arg(t.calls)
                          .arg(thread));
        }
        if (w.json)
            printJson(rows);
        return fine;
    });
}

int calls(const Words &w)
{
    return with(w.recording, [&](Recording &r) {
        QJsonArray rows;
        const auto threads = r.trace.threads();
        for (const CallRow &c : callsOf(r.trace, r.handlers)) {
            const QJsonValue cause =
                c.cause ? QJsonValue(QJsonObject{{"kind", c.causeKind}, {"id", qint64(c.cause - 1)}})
                        : QJsonValue();
            rows.append(QJsonObject{{"handler", handlerJson(c.handler)},
                                    {"connection", orNull(c.handler.connection)},
                                    {"source", orNull(c.source)},
                                    {"signal", orNull(c.signal)},
                                    {"thread", threads.value(c.thread).name},
                                    {"start_ns", qint64(c.start)},
                                    {"duration_ns", qint64(c.duration)},
                                    {"cause", cause}});
            if (w.json)
                continue;
            const QString from = c.source.isEmpty() ? QString() : "  from " + c.source + " · " + c.signal;
            const QString place =
                c.handler.file.isEmpty()
                    ? QString()
                    : QStringLiteral("  %1:%2").arg(QFileInfo(c.handler.file).fileName()).arg(c.handler.line);
            print(at(r, c.start) + "  " + column(durationText(c.duration), 9) + "  " + c.handler.name + from +
                  place);
        }
        if (w.json)
            printJson(rows);
        return fine;
    });
}

int stalls(const Words &w)
{
    return with(w.recording, [&](Recording &r) {
        QJsonArray rows;
        const auto threads = r.trace.threads();
        const auto all = stallsOf(r.trace, r.handlers, std::chrono::milliseconds(w.budget));
        for (const Stall &s : all) {
            QJsonArray contributors, waiting;
            for (const Contributor &c : s.contributors)
                contributors.append(QJsonObject{
                    {"handler", handlerJson(c.handler)}, {"own_ns", qint64(c.ns)}, {"calls", c.calls}});
            for (const WaitRow &x : s.waiting)
                waiting.append(QJsonObject{{"what", x.what}, {"wait_ns", qint64(x.wait)}});
            rows.append(QJsonObject{{"start_ns", qint64(s.start)},
                                    {"duration_ns", qint64(s.duration)},
                                    {"thread", threads.value(s.thread).name},
                                    {"handler", handlerJson(s.contributors.front().handler)},
                                    {"hot", QJsonValue()},
                                    {"contributors", contributors},
                                    {"waiting", waiting},
                                    {"reentry", s.reentry},
                                    {"machine_busy", QJsonValue()}});
            if (w.json)
                continue;
            print(at(r, s.start) + "  " + s.sentence());
            for (const WaitRow &x : s.waiting)
                print("             " + column(durationText(x.wait), 9) + "  " + x.what + " waited");
        }
        if (w.json)
            printJson(rows);
        else if (all.empty())
            print(QStringLiteral("No stall over %1 ms.").arg(w.budget));
        return all.empty() ? fine : findings;
    });
}

int waits(const Words &w)
{
    return with(w.recording, [&](Recording &r) {
        QJsonArray rows;
        for (const WaitRow &x : waitsOf(r.trace)) {
            rows.append(QJsonObject{{"what", x.what},
                                    {"kind", x.kind},
                                    {"posted_ns", qint64(x.posted)},
                                    {"wait_ns", qint64(x.wait)}});
            if (!w.json)
                print(at(r, x.posted) + "  " + column(durationText(x.wait), 9) + "  " + x.what);
        }
        if (w.json)
            printJson(rows);
        return fine;
    });
}

int compare(const Words &w)
{
    return with(w.recording, [&](Recording &before) {
        return with(w.after, [&](Recording &after) {
            const auto budget = std::chrono::milliseconds(w.budget);
            const Comparison c =
                compareRuns(before.info, figuresOf(before.trace, before.handlers, before.info, budget),
                            after.info, figuresOf(after.trace, after.handlers, after.info, budget));
            QJsonObject figures;
            for (const Figure &f : c.figures) {
                const auto ratio = c.comparable ? f.ratio() : std::nullopt;
                figures[f.name] = QJsonObject{{"before", qint64(f.before)},
                                              {"after", qint64(f.after)},
                                              {"ratio", ratio ? QJsonValue(*ratio) : QJsonValue()}};
                const auto text = [&](std::int64_t v) {
                    return f.isTime ? durationText(v) : QString::number(v);
                };
                if (!w.json)
                    print(f.words.leftJustified(20) + column(text(f.before), 10) + column(text(f.after), 10) +
                          (ratio ? column(QStringLiteral("× %1").arg(*ratio, 0, 'g', 3), 12) : QString()));
            }
            if (w.json)
                printJson(QJsonObject{
                    {"comparable", c.comparable}, {"reason", orNull(c.reason)}, {"figures", figures}});
            else if (!c.comparable)
                print("Not comparable. " + c.reason);
            return c.comparable ? fine : findings;
        });
    });
}

} // namespace

void addRecordingVerbs(Registry &r)
{
    const auto add = [&](const std::string &name, const std::string &text, int (*run)(const Words &)) {
        auto w = std::make_shared<Words>();
        CLI::App *sub = r.app.add_subcommand(name, text);
        sub->add_option(name == "compare" ? "BEFORE" : "RECORDING", w->recording, "A recording's folder")
            ->required();
        sub->add_flag("--json", w->json);
        if (name == "stalls" || name == "compare")
            sub->add_option("--over", w->budget, "The budget in milliseconds")->check(CLI::Range(16, 10'000));
        if (name == "compare")
            sub->add_option("AFTER", w->after, "The recording to compare it with")->required();
        sub->callback([&r, w, run] { r.chosen = [w, run] { return run(*w); }; });
    };
    add("turns", "The turns of the event loops", turns);
    add("calls", "Every call of a handler", calls);
    add("stalls", "What blocked a loop, and what waited", stalls);
    add("waits", "How long inputs and posted events waited", waits);
    add("compare", "Two runs of the same play side by side", compare);
}

} // namespace pipit::cli
