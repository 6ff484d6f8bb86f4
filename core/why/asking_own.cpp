// What a widget itself keeps from happening: what a field does not take, what a class of the program's keeps
// from the class that it derives from, what ends within the toolkit.
#include "core/why/asking.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

namespace
{

bool emits(const TraceModel &trace, const std::vector<Span> &emitted,
           std::initializer_list<const char *> names)
{
    return std::any_of(emitted.begin(), emitted.end(), [&](const Span &s) {
        const QString name = trace.signal(s.what).name();
        return std::any_of(names.begin(), names.end(),
                           [&](const char *n) { return name == QLatin1String(n); });
    });
}

} // namespace

QString Asking::messageWith(const QString &words, std::int64_t from, std::int64_t to) const
{
    for (std::uint16_t t = 0; t < trace_.threadCount(); ++t) {
        const ThreadRows &rows = trace_.rows(t);
        for (std::uint32_t row = from == INT64_MIN ? 0 : rows.firstFrom(from);
             row < rows.count() && rows.start(row) <= to; ++row)
            if (rows.kind(row) == SpanKind::Message)
                if (const QString text = trace_.message(rows.at(row).what); text.contains(words))
                    return text.left(300);
    }
    return {};
}

// A class of the program's without a meta-object of its own is told as the one that it derives from; one with
// its own is told by what it takes.
bool Asking::isLineOfText(const ObjectState &w) const
{
    const QString className = trace_.object(w.object).className;
    return className == "QLineEdit" || (w.own && w.has(link::TakesText) && !w.limits.isEmpty());
}

// Whether a field did what a key is for.
bool Asking::fieldTookIt(const ObjectState &w, const InputEvent &key, const Effects &e, bool enters)
{
    if (!isLineOfText(w) || lostBetween(e.from, e.to) || signalsAreBlocked(e.from))
        return true;
    const QString limits = w.limits.join(QStringLiteral(" and "));
    // A class of the program's own may keep the key as well.
    const auto refused = [&](const QString &sentence, const QString &fix) {
        if (!w.own)
            return broken(QStringLiteral("signal"), QStringLiteral("refused"), sentence, fix);
        unknown(QStringLiteral("signal"), sentence + QStringLiteral(", or its own class kept the key"),
                QStringLiteral("refused"), sentence + QStringLiteral(", or its own class kept the key"), fix);
        return false;
    };
    if (enters && !w.limits.isEmpty() && !emits(trace_, e.emitted, {"returnPressed"}) &&
        !(w.limits.size() == 1 && limits.startsWith("at most")))
        return refused(
            QStringLiteral("%1 did not emit returnPressed: what stands in it is not acceptable to its %2")
                .arg(name(), limits),
            QStringLiteral("Type what it accepts, show that it is not accepted, or loosen the limit"));
    const bool changed = emits(trace_, e.emitted, {"textChanged", "textEdited"});
    if (!enters && key.info->typed && !changed && !w.has(link::IsReadOnly) && !w.limits.isEmpty())
        return refused(QStringLiteral("%1 did not take the character: its limits are %2").arg(name(), limits),
                       QStringLiteral("Type what it accepts, or loosen the limit"));
    return true;
}

// A button that is disabled or hidden while it is pressed is not clicked, though it is let go over it.
bool Asking::wasNotKeptFromIt(const Effects &e, const QStringList &expected)
{
    if (!expected.contains("clicked") || !emits(trace_, e.emitted, {"pressed"}))
        return true;
    const ObjectState *w = self(e.from);
    for (const TouchRow &t : scene_.touches()) {
        static const QStringList kinds{"enabled", "disabled", "hidden", "visible"};
        if (t.time < e.from || t.time > e.to || !kinds.contains(t.what) || !w)
            continue;
        const bool on = t.value == QStringLiteral("true");
        if ((t.what == "enabled" || t.what == "visible") ? on : t.what == "disabled" && !on && t.value)
            continue;
        if (t.address != address_ && !scene_.isInside(*w, t.address, e.from))
            continue;
        const bool hides = t.what == "hidden" || t.what == "visible";
        const Author by = authorOf(t);
        lookAt(by);
        return broken(QStringLiteral("signal"),
                      hides ? QStringLiteral("hidden while it was pressed")
                            : QStringLiteral("disabled while it was pressed"),
                      QStringLiteral(
                          "%1 emitted pressed, and then %2 was %3%4 before it was let go: so it did not emit "
                          "clicked")
                          .arg(name(), t.address == address_ ? QStringLiteral("it") : nameOf(t.address),
                               hides ? QStringLiteral("hidden") : QStringLiteral("disabled"),
                               by.text.isEmpty() ? QString() : QStringLiteral(" by %1").arg(by.text)),
                      QStringLiteral("Do that when it is clicked"));
    }
    return true;
}

// A button that is pressed says so at once, whatever it is connected to, unless a class of the program's
// keeps the press to itself.
bool Asking::classPassedItOn(const Effects &e, const QStringList &expected)
{
    const ObjectState *w = self(e.from);
    if (!w || !w->own || lostBetween(e.from, e.to))
        return true;
    const bool button = w->has(link::IsButton) && expected.contains("clicked");
    const bool enters = expected.contains("returnPressed");
    if (!button && !enters)
        return true;
    const bool pressed = emits(trace_, e.emitted, {"pressed"});
    const QString what = enters    ? QStringLiteral("the key")
                         : pressed ? QStringLiteral("the release")
                                   : QStringLiteral("the press");
    const QString function = enters    ? QStringLiteral("keyPressEvent()")
                             : pressed ? QStringLiteral("mouseReleaseEvent()")
                                       : QStringLiteral("mousePressEvent()");
    return broken(
        QStringLiteral("receivers"), QStringLiteral("swallowed by its own class"),
        QStringLiteral(
            "%1 is of a class of the program's own, which kept %2 to itself: the class that it derives from "
            "never got it, and %3 was not emitted")
            .arg(name(), what, expected.first()),
        QStringLiteral("Call the base class's %1, or event(), in its own").arg(function));
}

// A button of a box, or of an action: what the toolkit emits next may be what nobody listens to.
bool Asking::leadsToTheProgram(const Effects &e)
{
    const ObjectState *w = self(e.from);
    const std::int64_t looked = scene_.lookedAfter(e.to);
    if (!w || !w->has(link::IsButton) || w->has(link::IsCheckable) || e.ran() || !e.calls.empty() ||
        !looked || lostBetween(e.from, e.to) || !changesSeen(e).isEmpty())
        return true;
    QStringList chain;
    for (const Span &s : e.others) {
        const QString name = trace_.signal(s.what).name();
        const std::uint64_t sender = trace_.object(s.object).address;
        static const QStringList acts{"clicked",       "accepted",      "rejected", "triggered",
                                      "helpRequested", "buttonClicked", "idClicked"};
        if (!acts.contains(name))
            continue;
        for (const WireRow &wire : scene_.wires(sender, e.from))
            if (wire.own && wire.signalName() == name)
                return true; // and the program has it
        chain << trace_.object(s.object).text() + "'s " + name;
    }
    if (chain.isEmpty())
        return true;
    chain.removeDuplicates();
    return broken(
        QStringLiteral("connection"), QStringLiteral("not connected"),
        QStringLiteral(
            "%1's clicked is connected to the toolkit only, which emitted %2: nothing of the program is "
            "connected to that")
            .arg(name(), chain.mid(0, 3).join(QStringLiteral(" and "))),
        QStringLiteral("Connect %1").arg(chain.last()));
}

bool Asking::ledElsewhere(const Effects &e)
{
    struct Way {
        const char *className, *signal, *words;
    };
    // What a tool button, or Return and Escape in a dialog, set off besides the widget's own signals.
    static constexpr Way ways[] = {{"QDialog", "finished", "closed"},
                                   {"QAction", "triggered", "triggered"},
                                   {"QAbstractButton", "clicked", "pressed"}};
    for (const Way &way : ways)
        for (const Span &s : e.others) {
            const SignalInfo signal = trace_.signal(s.what);
            if (signal.className == QLatin1String(way.className) &&
                signal.name() == QLatin1String(way.signal)) {
                tellWhatItSetOff(
                    e, s,
                    QStringLiteral("it %1 %2").arg(QLatin1String(way.words), trace_.object(s.object).text()));
                return true;
            }
        }
    return false;
}

void Asking::tellWhatItSetOff(const Effects &e, const Span &signal, const QString &did)
{
    const ObjectInfo other = trace_.object(signal.object);
    const QString station = QStringLiteral("connection"), name = trace_.signal(signal.what).name();
    const auto call = std::find_if(e.calls.begin(), e.calls.end(), [&](const Ran &r) {
        return r.signal && trace_.object(trace_.span(r.signal).object).address == other.address;
    });
    if (call != e.calls.end()) {
        fine(station, did);
        fine(QStringLiteral("handler"),
             QStringLiteral("%1 ran for %2")
                 .arg(callText(*call), durationText(call->call.duration(trace_.now()))));
        a_.verdict = QStringLiteral("ok");
        a_.sentence = QStringLiteral("Nothing is wrong here: %1, and %2 ran").arg(did, callText(*call));
        const HandlerName &handler = handlers_.of(call->call.what);
        lookAt(Author{{}, handler.file, handler.line});
        return;
    }
    const QList<WireRow> wires = scene_.wires(other.address, e.from);
    const bool isWired = std::any_of(wires.begin(), wires.end(),
                                     [&](const WireRow &w) { return w.own && w.signalName() == name; });
    if (isWired || name == "finished") { // exec() tells as well
        fine(station, did);
        a_.verdict = isWired ? QStringLiteral("unknown") : QStringLiteral("ok");
        a_.sentence = isWired ? QStringLiteral("%1: ask about %2").arg(did, other.text())
                              : QStringLiteral("Nothing is wrong here: %1").arg(did);
        return;
    }
    broken(station, QStringLiteral("not connected"),
           QStringLiteral("%1, whose %2 is not connected to anything").arg(did, name),
           QStringLiteral("Connect %1's %2 to a handler").arg(other.text(), name));
}

} // namespace pipit
