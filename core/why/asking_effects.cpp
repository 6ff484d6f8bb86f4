// What came of an interaction: signal, connection, delivery, handler, value, repaint.
#include "core/why/asking.h"

#include "core/base/duration_text.h"

#include <QEvent>
#include <QHash>
#include <QSet>

#include <algorithm>
#include <csignal>

namespace pipit
{

namespace
{

const QString signalStation = QStringLiteral("signal"), connectionStation = QStringLiteral("connection"),
              deliveryStation = QStringLiteral("delivery"), handlerStation = QStringLiteral("handler");

bool isOfNoMatter(const QString &signalName)
{
    return signalName == "destroyed" || signalName == "objectNameChanged";
}

QString signalOf(const TraceModel &trace, const Span &s)
{
    return trace.signal(s.what).name();
}

} // namespace

bool Asking::isOwnSignal(const Span &s) const
{
    const ObjectInfo o = trace_.object(s.object);
    if (o.address == address_)
        return true;
    const ObjectState *sender = scene_.state(o.address, s.start);
    return sender && o.text().startsWith("qt_") && scene_.isInside(*sender, address_, s.start);
}

namespace
{

// Whether signals led to it, and none of them was the widget's.
bool isAside(const TraceModel &trace, SpanId by, const Asking &asking)
{
    bool any = false;
    for (int guard = 0; by && guard < 500; ++guard) {
        const Span s = trace.span(by);
        if (s.kind == SpanKind::Signal) {
            if (asking.isOwnSignal(s))
                return false;
            any = true;
        }
        by = s.parent;
        if (!by && s.kind == SpanKind::Dispatch)
            by = trace.posting(s.id).cause;
        else if (by && trace.span(by).kind == SpanKind::Turn && s.kind == SpanKind::Dispatch)
            by = trace.posting(s.id).cause;
    }
    return any;
}

} // namespace

// All below the given spans, and what was queued from there.
Asking::Effects Asking::effectsOf(std::int64_t from, std::int64_t to, const std::vector<SpanId> &roots) const
{
    Effects e;
    e.from = from;
    e.to = to;
    std::vector<std::pair<SpanId, bool>> open; // root, queued
    QSet<std::uint64_t> seen;
    for (const SpanId root : roots)
        open.push_back({root, false});
    for (std::size_t i = 0; i < open.size() && i < 500; ++i) {
        const auto [root, queued] = open[i];
        if (seen.contains(root.number()))
            continue;
        seen.insert(root.number());
        const ThreadRows &rows = trace_.rows(root.thread());
        const std::uint32_t end = rows.after(root.row());
        for (std::uint32_t row = root.row(); row < end; ++row) {
            const Span s = rows.at(row);
            if (s.kind == SpanKind::Signal) {
                if (!isOfNoMatter(signalOf(trace_, s)))
                    (isOwnSignal(s) ? e.emitted : e.others).push_back(s);
            } else if (s.kind == SpanKind::Call && isCall(handlers_, s)) {
                SpanId by = s.parent;
                while (by && trace_.span(by).kind == SpanKind::Call)
                    by = trace_.span(by).parent;
                e.calls.push_back({s, by && trace_.span(by).kind == SpanKind::Signal ? by : SpanId(),
                                   handlers_.of(s.what).name, queued, isAside(trace_, s.parent, *this)});
                e.to = std::max(e.to, s.end < 0 ? trace_.now() : s.end);
            }
        }
        // What it queued: calls for this thread and others.
        const std::int64_t begun = rows.start(root.row()),
                           ended = rows.end(root.row()) < 0 ? trace_.now() : rows.end(root.row());
        for (std::uint16_t t = 0; t < trace_.threadCount(); ++t) {
            const ThreadRows &others = trace_.rows(t);
            for (std::uint32_t n = others.firstPostedFrom(others.firstFrom(begun)); n < others.postedCount();
                 ++n) {
                const std::uint32_t row = others.postedRow(n);
                if (row >= others.count() || others.start(row) > ended + 10'000'000'000)
                    break;
                const Span s = others.at(row);
                const Posting p = others.posting(row);
                if (s.what == QEvent::MetaCall && p.cause && p.cause.thread() == root.thread() &&
                    p.cause.row() >= root.row() && p.cause.row() < end)
                    open.push_back({s.id, true});
            }
        }
    }
    std::stable_partition(e.calls.begin(), e.calls.end(), [](const Ran &r) { return !r.aside; });
    return e;
}

QString Asking::callText(const Ran &r) const
{
    return r.handler.isEmpty() ? QStringLiteral("its handler") : r.handler;
}

bool Asking::signalsAreBlocked(std::int64_t time) const
{
    std::optional<bool> blocked;
    for (const TouchRow &t : scene_.touches())
        if (t.address == address_ && t.what == "blockSignals" && t.time <= time)
            blocked = t.value == QStringLiteral("true");
    const ObjectState *w = self(time);
    return blocked.value_or(w && w->has(link::SignalsAreBlocked));
}

bool Asking::emittedWhatIsExpected(const Effects &e, const QStringList &expected)
{
    QStringList names;
    for (const Span &s : e.emitted)
        if (!names.contains(signalOf(trace_, s)))
            names << signalOf(trace_, s);
    const bool has =
        std::any_of(expected.begin(), expected.end(), [&](auto &x) { return names.contains(x); });
    if (has || (expected.isEmpty() && !names.isEmpty())) {
        fine(signalStation, QStringLiteral("%1 emitted %2").arg(name(), names.join(", ")));
        return true;
    }
    if (lostBetween(e.from, e.to)) {
        unknown(signalStation, QStringLiteral("records were lost here, so what was emitted is not known"));
        return false;
    }
    if (signalsAreBlocked(e.from)) {
        for (const TouchRow &t : scene_.touches())
            if (t.address == address_ && t.what == "blockSignals" && t.time <= e.from)
                lookAt(authorOf(t));
        return broken(signalStation, QStringLiteral("signals blocked"),
                      QStringLiteral("the signals of %1 are blocked, so that it emitted nothing").arg(name()),
                      QStringLiteral("Call blockSignals(false), or hold the blocker for a shorter time"));
    }
    if (!wasNotKeptFromIt(e, expected))
        return false;
    if (e.ran()) { // an event handler, no signal
        fine(signalStation, QStringLiteral("%1 handled the event").arg(callText(e.calls.front())));
        return true;
    }
    if (expected.isEmpty()) {
        fine(signalStation, QStringLiteral("%1 emits no signal for it").arg(name()));
        return true;
    }
    if (!classPassedItOn(e, expected))
        return false;
    unknown(signalStation,
            QStringLiteral("%1 did not emit %2, and why is not known").arg(name(), expected.join(" or ")),
            QStringLiteral("unknown"),
            QStringLiteral("%1 had the event and did not emit %2; why is not known")
                .arg(name(), expected.join(" or ")));
    return false;
}

// Nothing is connected: for what reason.
void Asking::notConnected(const QStringList &signalNames, std::int64_t time)
{
    const QString own = trace_.object(self(time) ? self(time)->object : 0).name;
    const QString what = QStringLiteral("%1's %2").arg(name(), signalNames.join(" or "));
    for (auto c = scene_.connects().rbegin(); c != scene_.connects().rend(); ++c) {
        if (c->sender != address_ || !c->failed || c->reason.contains("connected already"))
            continue;
        lookAt(c->places);
        const QString where = placeWords(c->places);
        broken(connectionStation, QStringLiteral("connect failed"),
               QStringLiteral("%1 is not connected: the connect%2 failed, for %3")
                   .arg(what, where.isEmpty() ? QString() : " in " + where,
                        c->reason.isEmpty() ? QStringLiteral("a reason that is not known") : c->reason),
               QStringLiteral("Correct it, best with function pointers, which the compiler checks"));
        return;
    }
    const ConnectRow *namesake = nullptr, *late = nullptr, *was = nullptr;
    for (const ConnectRow &c : scene_.connects()) {
        if (c.failed || !(signalNames.contains(c.wire.signalName()) || c.wire.signal.isEmpty()))
            continue;
        if (c.sender == address_)
            (c.time > time ? late : was) = &c;
        else if (!own.isEmpty() &&
                 (trace_.object(c.object).name == own || scene_.text(c.sender, time) == own ||
                  scene_.text(c.sender, until_) == own))
            namesake = &c;
    }
    if (was) {
        lookAt(was->places);
        const ObjectState *r = scene_.state(was->wire.receiver, time);
        const bool gone = r && r->gone;
        broken(connectionStation, gone ? QStringLiteral("receiver gone") : QStringLiteral("disconnected"),
               gone ? QStringLiteral(
                          "%1 was connected, but its receiver %2 was deleted at %3, and the connection "
                          "with it")
                          .arg(what, was->wire.receiverText(), secondsOf(trace_, r->time))
                    : QStringLiteral("%1 is not connected any more: it was disconnected after %2")
                          .arg(what, secondsOf(trace_, was->time)),
               gone ? QStringLiteral("Keep the receiver alive, or connect again")
                    : QStringLiteral("Do not disconnect it, or connect again"));
        return;
    }
    if (late) {
        lookAt(late->places);
        broken(connectionStation, QStringLiteral("connected too late"),
               QStringLiteral("%1 was not connected yet: that came at %2, %3 later")
                   .arg(what, secondsOf(trace_, late->time), durationText(late->time - time)),
               QStringLiteral("Connect before the window is shown"));
        return;
    }
    if (namesake) {
        lookAt(namesake->places);
        broken(connectionStation, QStringLiteral("another object is connected"),
               QStringLiteral("%1 is not connected: the connect went to another object that is called %2 too")
                   .arg(what, own),
               QStringLiteral("Connect this one, and give each object a name of its own"));
        return;
    }
    const ObjectState *w = self(time);
    const QString className = w ? trace_.object(w->object).className : QString();
    const QString sentence = QStringLiteral("%1 is not connected to anything").arg(what);
    if (const QString said = own.isEmpty()
                                 ? QString()
                                 : messageWith("No matching signal for on_" + own + '_', INT64_MIN, until_);
        !said.isEmpty()) {
        broken(
            connectionStation, QStringLiteral("connect failed"),
            QStringLiteral("%1: the program was told \"%2\"").arg(sentence, said),
            QStringLiteral("Name the slot on_%1_%2, or connect it yourself").arg(own, signalNames.first()));
        return;
    }
    if (w && (w->has(link::IsCheckable) || !isToolkitClass(className))) {
        unknown(connectionStation, sentence, QStringLiteral("not connected"),
                w->has(link::IsCheckable)
                    ? sentence + QStringLiteral(": it changes its own state, and no more")
                    : sentence,
                QStringLiteral("Connect it to a handler"));
        return;
    }
    broken(connectionStation, QStringLiteral("not connected"), sentence,
           QStringLiteral("Connect it to a handler"));
}

bool Asking::isConnected(const Effects &e, const QStringList &expected)
{
    if (e.ran()) {
        QStringList lines;
        for (const Ran &r : e.calls)
            if (const QString h = callText(r); !r.aside && !lines.contains(h))
                lines << h;
        fine(connectionStation, QStringLiteral("connected to %1").arg(lines.join(", ")));
        return true;
    }
    if (lostBetween(e.from, e.to)) {
        unknown(connectionStation, QStringLiteral("records were lost here, so what was called is not known"));
        return false;
    }
    QStringList names = expected;
    for (const Span &s : e.emitted)
        if (!names.contains(signalOf(trace_, s)))
            names << signalOf(trace_, s);
    QList<WireRow> own, inner;
    for (const WireRow &w : scene_.wires(address_, e.from))
        if (w.own ? names.contains(w.signalName())
                  : (expected.isEmpty() ? names : expected).contains(w.signalName()))
            (w.own ? own : inner) << w;
    if (!own.isEmpty())
        return wasDelivered(e, own);
    if (!inner.isEmpty()) {
        fine(connectionStation, QStringLiteral("the toolkit itself is connected to it"));
        return leadsToTheProgram(e);
    }
    if (expected.isEmpty()) { // it need not be
        fine(connectionStation, QStringLiteral("nothing is connected to what it emits"));
        return true;
    }
    if (!ledElsewhere(e))
        notConnected(expected, e.from);
    return false;
}

bool Asking::wasDelivered(const Effects &e, const QList<WireRow> &wires)
{
    const WireRow &w = wires.first();
    fine(connectionStation,
         QStringLiteral("connected to %1").arg(w.slot.isEmpty() ? w.receiverText() : w.slot));
    const bool queued =
        w.type == Qt::QueuedConnection || (w.type == Qt::AutoConnection && w.thread != "same");
    const QString to = w.receiverText();
    if (queued && w.thread == "ended")
        return broken(
            deliveryStation, QStringLiteral("thread ended"),
            QStringLiteral("the call is queued for %1, whose thread has ended: it is never delivered")
                .arg(to),
            QStringLiteral("Keep the thread running, or move %1 to one that runs").arg(to));
    if (queued && w.thread == "unstarted")
        return broken(
            deliveryStation, QStringLiteral("thread not started"),
            QStringLiteral("the call is queued for %1, whose thread was not started: it is never delivered")
                .arg(to),
            QStringLiteral("Call start() on its thread"));
    if (queued && w.thread == "none")
        return broken(
            deliveryStation, QStringLiteral("no event loop"),
            QStringLiteral("the call is queued for %1, whose thread runs no event loop: it is never "
                           "delivered")
                .arg(to),
            QStringLiteral("Let the thread's run() call exec()"));
    if (queued && w.thread == "loop") {
        for (std::uint16_t t = 0; t < trace_.threadCount(); ++t) {
            const std::int64_t since = trace_.isMain(t) ? 0 : trace_.unservedSince(t);
            if (since && since < e.to)
                return broken(
                    deliveryStation, QStringLiteral("thread busy"),
                    QStringLiteral("the call is queued for %1, and the loop of %2 is busy since %3")
                        .arg(to, trace_.thread(t).name, secondsOf(trace_, since)),
                    QStringLiteral("Let that thread return to its loop, or give the work to another"));
        }
    }
    if (w.slot.isEmpty() && !w.serial) { // a signal passed on, or a function that the recorder does not see
        unknown(deliveryStation, QStringLiteral("whether it was called is not known"));
        return false;
    }
    unknown(
        deliveryStation,
        queued
            ? QStringLiteral("the call was queued for %1, and its delivery is not in this recording").arg(to)
            : QStringLiteral("that it was called is not in this recording"));
    return false;
}

// The same code with the same things held, as far as two words say: lambdas of one line may hold different
// ones.
bool Asking::isSameFunction(const Ran &a, const Ran &b) const
{
    const LinkRow x = trace_.link(a.call.what), y = trace_.link(b.call.what);
    return x.code == y.code && x.first == y.first && x.second == y.second &&
           x.kind != link::LinkKind::Invoked && x.kind != link::LinkKind::SingleShot;
}

bool Asking::hasEnded(const Ran &r)
{
    const Span &s = r.call;
    if (!s.open() && !(s.flags & CutShort && !(s.flags & BesideLoss)))
        return true;
    if (question_.signal)
        return broken(
            handlerStation, QStringLiteral("the program crashed"),
            QStringLiteral("the program was ended by signal %1 while %2 ran%3")
                .arg(question_.signal)
                .arg(callText(r), question_.signal == SIGABRT
                                      ? QStringLiteral(": an exception that nobody catches ends it so")
                                      : QString()),
            QStringLiteral("Look what it does where it stands; run it under a debugger"));
    return broken(handlerStation, QStringLiteral("the handler has not ended"),
                  QStringLiteral("%1 did not return: it ran since %2, and the loop waits for it")
                      .arg(callText(r), secondsOf(trace_, s.start)),
                  QStringLiteral("Look where it stands; move slow work off the loop"));
}

// A signal that leads to itself again and again, by way of others.
bool Asking::isNoCircle(const Effects &e)
{
    constexpr int often = 5; // once or twice a value is put right
    for (const Ran &r : e.calls) {
        QHash<std::pair<std::uint32_t, std::uint32_t>, int> around; // object and signal, how often
        QStringList way;
        for (SpanId by = r.call.parent; by; by = trace_.span(by).parent) {
            const Span s = trace_.span(by);
            if (s.kind != SpanKind::Signal)
                continue;
            const QString name = trace_.object(s.object).text() + "'s " + signalOf(trace_, s);
            if (!way.contains(name))
                way << name;
            if (++around[{s.object, s.what}] >= often)
                return broken(
                    handlerStation, QStringLiteral("circle of signals"),
                    QStringLiteral("%1 led to itself again and again, by way of %2")
                        .arg(name, way.mid(0, 3).join(" and ")),
                    QStringLiteral("Set a value only if it differs, or block the signals meanwhile"));
        }
    }
    return true;
}

bool Asking::handlersRan(const Effects &e)
{
    if (!e.ran())
        return true;
    if (!isNoCircle(e))
        return false;
    std::vector<const Ran *> once;
    for (const Ran &r : e.calls) {
        const Span &s = r.call;
        const HandlerName &h = handlers_.of(s.what);
        if (!h.file.isEmpty() && a_.file.isEmpty()) {
            a_.file = h.file;
            a_.line = h.line;
        }
        if (s.flags & ByException)
            return broken(handlerStation, QStringLiteral("the handler threw"),
                          QStringLiteral("%1 was left by an exception after %2")
                              .arg(callText(r), durationText(s.duration(trace_.now()))),
                          QStringLiteral("Catch it in the handler"));
        if (!hasEnded(r))
            return false;
        if (!s.judged()) {
            unknown(handlerStation,
                    QStringLiteral("how %1 ended is not known: records were lost").arg(callText(r)));
            return true;
        }
        const auto same = std::find_if(once.begin(), once.end(), [&](const Ran *o) {
            return o->signal == r.signal && o->call.object == s.object && isSameFunction(*o, r);
        });
        if (r.signal && !r.aside && same != once.end())
            return broken(handlerStation, QStringLiteral("connected twice"),
                          QStringLiteral("%1 ran %2 times for one %3: it is connected %2 times")
                              .arg(callText(r))
                              .arg(std::count_if(e.calls.begin(), e.calls.end(),
                                                 [&](const Ran &o) {
                                                     return o.signal == r.signal &&
                                                            o.call.object == s.object && isSameFunction(o, r);
                                                 }))
                              .arg(signalOf(trace_, trace_.span(r.signal))),
                          QStringLiteral("Connect it once, or with Qt::UniqueConnection"));
        once.push_back(&r);
    }
    // Of Python all that is seen is the binding's proxy, one for each connection.
    const auto proxies = std::count_if(e.calls.begin(), e.calls.end(), [&](const Ran &r) {
        return r.signal && r.signal == e.calls.front().signal &&
               trace_.object(r.call.object).className == "PyQtSlotProxy";
    });
    if (proxies > 1)
        unknown(handlerStation,
                QStringLiteral("%1 Python slots ran for one signal; whether they are the same, connected "
                               "more than once, is not known")
                    .arg(proxies));
    QStringList lines;
    for (const Ran &r : e.calls) {
        if (lines.size() >= 4)
            break;
        lines
            << QStringLiteral("%1 ran for %2").arg(callText(r), durationText(r.call.duration(trace_.now())));
    }
    fine(handlerStation, lines.join(", "));
    return true;
}

void Asking::after(const Effects &e, const QStringList &expected)
{
    if (!emittedWhatIsExpected(e, expected) || !isConnected(e, expected))
        return;
    if (std::any_of(e.calls.begin(), e.calls.end(), [](const Ran &r) { return r.queued; }))
        fine(deliveryStation, QStringLiteral("a queued call was delivered"));
    if (!handlersRan(e) || !changedSomething(e))
        return;
    if (a_.verdict.isEmpty() && !self(e.from)) {
        a_.verdict = QStringLiteral("unknown");
        a_.sentence = QStringLiteral("how %1 was then is not known").arg(name());
    }
    if (a_.verdict.isEmpty()) {
        a_.verdict = QStringLiteral("ok");
        const QString did = !e.ran() ? QStringLiteral("%1 took it").arg(name())
                                     : QStringLiteral("%1 ran").arg(callText(e.calls.front()));
        const QStringList seen = changesSeen(e) + usedBy(e);
        a_.sentence =
            QStringLiteral("Nothing is wrong here: %1%2%3")
                .arg(did, seen.isEmpty() ? QString() : ", and " + seen.mid(0, 3).join(", "), stateNow(e.to));
    }
}

} // namespace pipit
