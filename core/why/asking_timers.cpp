// Timers: started, stopped, started anew before they fire.
#include "core/why/asking.h"

#include <algorithm>

namespace pipit
{

// The toolkit refuses to start a timer on a thread that is not its own, and says so in a message.
bool Asking::startedElsewhere(const std::vector<const TouchRow *> &touches)
{
    constexpr std::int64_t near = 20'000'000;
    for (const TouchRow *t : touches)
        for (const char *words : {"Timers cannot be started from another thread",
                                  "Timers can only be used with threads started with QThread"})
            if (const QString said = messageWith(QLatin1String(words), t->time - near, t->time + near);
                !said.isEmpty()) {
                lookAt(authorOf(*t));
                broken(QStringLiteral("timer"), QStringLiteral("started on another thread"),
                       QStringLiteral(
                           "%1 was started at %2 on another thread than its own, which does not work: the "
                           "program was told \"%3\"")
                           .arg(name(), secondsOf(trace_, t->time), said),
                       QStringLiteral(
                           "Start it on its own thread, with QMetaObject::invokeMethod() for instance"));
                return true;
            }
    return false;
}

void Asking::ofTimer(std::int64_t time)
{
    const QString station = QStringLiteral("timer");
    a_.interaction = QStringLiteral("timeout");
    std::vector<const TouchRow *> touches;
    for (const TouchRow &t : scene_.touches())
        if (t.address == address_ && t.time <= time && (t.what == "start" || t.what == "stop"))
            touches.push_back(&t);
    std::vector<Span> fired;
    for (std::uint16_t t = 0; t < trace_.threadCount(); ++t) {
        const ThreadRows &rows = trace_.rows(t);
        for (std::uint32_t row = 0; row < rows.count() && rows.start(row) <= time; ++row)
            if (rows.kind(row) == SpanKind::Signal)
                if (const Span s = rows.at(row);
                    trace_.object(s.object).address == address_ && trace_.signal(s.what).name() == "timeout")
                    fired.push_back(s);
    }
    const ObjectState *w = self(time);
    const bool running = w && w->has(link::IsRunning);
    const int every = w ? w->every : 0;
    if (!fired.empty()) {
        const Span last = fired.back();
        a_.at = last.start;
        a_.span = last.id;
        const auto stop = std::find_if(touches.rbegin(), touches.rend(), [&](const TouchRow *t) {
            return t->what == "stop" && t->time > last.start;
        });
        if (!running && stop != touches.rend()) {
            lookAt(authorOf(**stop));
            broken(station, QStringLiteral("stopped"),
                   QStringLiteral("%1 was stopped at %2%3, after it had fired %4")
                       .arg(name(), secondsOf(trace_, (*stop)->time),
                            a_.file.isEmpty()
                                ? QString()
                                : QStringLiteral(", in %1:%2").arg(a_.file.section('/', -1)).arg(a_.line))
                       .arg(fired.size() == 1 ? QStringLiteral("once")
                                              : QStringLiteral("%1 times").arg(fired.size())),
                   QStringLiteral("Start it again when it is to go on"));
            return;
        }
        fine(station, QStringLiteral("%1 fired %2, last at %3")
                          .arg(name(),
                               fired.size() == 1 ? QStringLiteral("once")
                                                 : QStringLiteral("%1 times").arg(fired.size()),
                               secondsOf(trace_, last.start)));
        const Effects e = effectsOf(last.start, last.end < 0 ? trace_.now() : last.end, {last.id});
        after(e, {QStringLiteral("timeout")});
        return;
    }
    if (!running && startedElsewhere(touches))
        return;
    const auto starts =
        std::count_if(touches.begin(), touches.end(), [](auto *t) { return t->what == "start"; });
    if (starts == 0 && !running) {
        broken(
            station, QStringLiteral("never started"),
            QStringLiteral("%1 was never started: it is not running, and start() was not called").arg(name()),
            QStringLiteral("Call start() on it"));
        return;
    }
    if (!touches.empty() && touches.back()->what == "stop") {
        lookAt(authorOf(*touches.back()));
        broken(station, QStringLiteral("stopped"),
               QStringLiteral("%1 was stopped before it fired, at %2")
                   .arg(name(), secondsOf(trace_, touches.back()->time)),
               QStringLiteral("Do not stop it before its time"));
        return;
    }
    if (starts > 1) {
        bool early = true;
        for (std::size_t i = 1; i < touches.size(); ++i)
            early = early && touches[i]->time - touches[i - 1]->time < std::int64_t(every) * 1'000'000;
        if (early && every > 0) {
            lookAt(authorOf(*touches.back()));
            broken(station, QStringLiteral("restarted before it fired"),
                   QStringLiteral("%1 was started %2 times, each time before its %3 ms were over, so that it "
                                  "never fired")
                       .arg(name())
                       .arg(starts)
                       .arg(every),
                   QStringLiteral("Start it only if it does not run, or let it run shorter"));
            return;
        }
    }
    if (running && !touches.empty() && time - touches.back()->time < std::int64_t(every) * 1'000'000) {
        unknown(station, QStringLiteral("%1 runs, and its %2 ms are not over").arg(name()).arg(every),
                QStringLiteral("not yet due"),
                QStringLiteral("%1 runs, and its %2 ms were not over by then").arg(name()).arg(every));
        return;
    }
    if (signalsAreBlocked(time)) {
        broken(QStringLiteral("signal"), QStringLiteral("signals blocked"),
               QStringLiteral("the signals of %1 are blocked").arg(name()),
               QStringLiteral("Call blockSignals(false), or hold the blocker for a shorter time"));
        return;
    }
    if (startedElsewhere(touches))
        return;
    const std::int64_t busy = trace_.busySinceMain(),
                       due = touches.empty() ? 0 : touches.back()->time + std::int64_t(every) * 1'000'000;
    unknown(station, busy && due && busy < due
                         ? QStringLiteral("%1 did not fire, and the main loop is busy since %2")
                               .arg(name(), secondsOf(trace_, busy))
                         : QStringLiteral("%1 did not fire, and why is not known").arg(name()));
}

} // namespace pipit
