#include "core/why/interactions.h"

#include "core/trace/inputs.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

namespace
{

constexpr std::int64_t gesture = 500'000'000; // ns: what comes sooner is of the one before

bool isModifier(int key)
{
    return key >= Qt::Key_Shift && key <= Qt::Key_ScrollLock;
}

// Empty for what nobody asks about.
QString wordsOf(int type, const InputInfo &i)
{
    switch (type) {
    case QEvent::MouseButtonPress:
        return buttonWords(i) + QStringLiteral(" click");
    case QEvent::MouseButtonDblClick:
        return buttonWords(i) + QStringLiteral(" double click");
    case QEvent::KeyPress:
        return isModifier(i.key) || i.repeated ? QString() : keyWords(i);
    case QEvent::Wheel:
        return QStringLiteral("wheel");
    case QEvent::ContextMenu:
        return QStringLiteral("context menu");
    default:
        return {};
    }
}

} // namespace

void Interactions::learnParents(const TraceModel &trace)
{
    for (; nextFact_ < trace.factCount(); ++nextFact_) {
        const FactRow &f = trace.fact(nextFact_);
        if (f.fact != link::Fact::State)
            continue;
        const QString text = trace.factText(f);
        const qsizetype at = text.indexOf("\nin=");
        if (at >= 0)
            known_.insert(trace.object(f.object).address,
                          {f.object, text.mid(at + 4).section('\n', 0, 0).toULongLong(nullptr, 16)});
    }
}

// An inner part of a widget is told as the widget that it is in.
QString Interactions::nameOf(const TraceModel &trace, std::uint32_t object) const
{
    ObjectInfo o = trace.object(object);
    for (int guard = 0; guard < 20 && o.name.startsWith("qt_"); ++guard) {
        const auto own = known_.constFind(o.address);
        const auto in = own == known_.constEnd() ? own : known_.constFind(own->in);
        if (in == known_.constEnd())
            break;
        o = trace.object(in->object);
    }
    return o.text();
}

// The dispatch of an input, or of a shortcut, that a signal was emitted in; none where it was another event.
SpanId Interactions::inputAround(const TraceModel &trace, SpanId signal)
{
    const ThreadRows &rows = trace.rows(signal.thread());
    SpanId at = trace.span(signal).parent;
    for (int guard = 0; at && guard < 60; ++guard) {
        const Span s = trace.span(at);
        if (s.kind == SpanKind::Dispatch && (s.what == QEvent::Shortcut || rows.input(at.row())))
            return at;
        at = s.parent;
    }
    return {};
}

Interactions::Meaning Interactions::meaningOf(const TraceModel &trace, std::uint32_t signal)
{
    const auto known = meanings_.constFind(signal);
    if (known != meanings_.constEnd())
        return *known;
    const SignalInfo info = trace.signal(signal);
    const Meaning means =
        info.className == u"QAction" && info.name() == u"triggered"  ? Meaning::Chosen
        : info.className == u"QDialog" && info.name() == u"finished" ? Meaning::Closed
        : (info.className == u"QAction" || info.className == u"QMenu") && info.name() == u"hovered"
            ? Meaning::Hovered
        : info.signature.contains(u"ntered(") && info.className.startsWith(u'Q')
            ? Meaning::Hovered // of a view, an item, a cell
            : Meaning::None;
    return *meanings_.insert(signal, means);
}

// What a person did with it: an action that was chosen, a dialog that a key closed.
std::optional<Interaction> Interactions::byASignal(const TraceModel &trace, const Span &s)
{
    const Meaning means = meaningOf(trace, s.what);
    const bool closed = means == Meaning::Closed;
    const SpanId by =
        means == Meaning::None || means == Meaning::Hovered ? SpanId() : inputAround(trace, s.id);
    if (!by)
        return std::nullopt;
    const Span input = trace.span(by);
    const auto info = trace.rows(by.thread()).input(by.row());
    if (!info || (closed && input.what != QEvent::KeyPress)) // a shortcut stands there for itself
        return std::nullopt;
    const QString words = input.what == QEvent::MouseButtonRelease ? buttonWords(*info) + " click"
                                                                   : wordsOf(int(input.what), *info);
    if (words.isEmpty())
        return std::nullopt;
    return Interaction{s.start, s.id,
                       words + (closed ? ", which closes it" : " in " + nameOf(trace, input.object)),
                       nameOf(trace, s.object)};
}

// A pointer over something, for which a handler is called; often nobody listens to such a signal.
std::optional<Interaction> Interactions::byACall(const TraceModel &trace, const Span &s)
{
    const Span by = s.parent ? trace.span(s.parent) : Span{};
    if (by.kind != SpanKind::Signal || meaningOf(trace, by.what) != Meaning::Hovered)
        return std::nullopt;
    const bool goesOn = by.object == hovered_ && by.start - hoveredAt_ < gesture;
    hovered_ = by.object;
    hoveredAt_ = by.start;
    if (goesOn) // menus say it again for each move
        return std::nullopt;
    return Interaction{by.start, by.id, QStringLiteral("pointer over it"), nameOf(trace, by.object)};
}

// An input, or a shortcut. A key is first offered as a shortcut: what became of it comes later.
std::optional<Interaction> Interactions::byADispatch(const TraceModel &trace, const Span &s)
{
    const ThreadRows &rows = trace.rows(s.id.thread());
    std::optional<Key> &key = keys_[s.id.thread()];
    if (s.what == QEvent::Shortcut && key) {
        const QString words = keyWords(key->info) + ", a shortcut";
        key.reset();
        return Interaction{s.start, s.id, words, nameOf(trace, s.object)};
    }
    const auto info = rows.input(s.id.row());
    if (!info)
        return std::nullopt;
    // A key that a parent is asked about as well is one; so is a press on a part of a widget.
    const Span parent = s.parent ? trace.span(s.parent) : Span{};
    if (s.parent && parent.kind == SpanKind::Dispatch && parent.what == s.what && rows.input(s.parent.row()))
        return std::nullopt;
    if (s.what == QEvent::ShortcutOverride) {
        key = Key{s.id, *info};
        return std::nullopt;
    }
    if (s.what == QEvent::KeyRelease && key) { // neither a shortcut nor a key press to a widget
        const Span offered = trace.span(key->span);
        const QString words = wordsOf(QEvent::KeyPress, key->info);
        key.reset();
        if (!words.isEmpty())
            return Interaction{offered.start, offered.id, words, nameOf(trace, offered.object)};
        return std::nullopt;
    }
    if (s.what == QEvent::KeyPress)
        key.reset();
    const QString words = wordsOf(int(s.what), *info);
    if (words.isEmpty() ||
        (s.what == QEvent::Wheel && s.start - std::exchange(lastWheel_, s.start) < gesture))
        return std::nullopt;
    return Interaction{s.start, s.id, words, nameOf(trace, s.object)};
}

std::vector<Interaction> Interactions::more(const TraceModel &trace)
{
    std::vector<Interaction> all;
    learnParents(trace);
    next_.resize(trace.threadCount());
    keys_.resize(trace.threadCount());
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        for (std::uint32_t &row = next_[t]; row < rows.count(); ++row) {
            const SpanKind kind = rows.kind(row);
            if (auto one = kind == SpanKind::Dispatch ? byADispatch(trace, rows.at(row))
                           : kind == SpanKind::Signal ? byASignal(trace, rows.at(row))
                           : kind == SpanKind::Call   ? byACall(trace, rows.at(row))
                                                      : std::nullopt)
                all.push_back(std::move(*one));
        }
    }
    std::stable_sort(all.begin(), all.end(), [](auto &a, auto &b) { return a.time < b.time; });
    return all;
}

} // namespace pipit
