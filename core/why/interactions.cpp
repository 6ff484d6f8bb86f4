#include "core/why/interactions.h"

#include "core/trace/inputs.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

namespace
{

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

std::vector<Interaction> Interactions::more(const TraceModel &trace)
{
    constexpr std::int64_t gesture = 500'000'000;
    std::vector<Interaction> all;
    learnParents(trace);
    next_.resize(trace.threadCount());
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        for (std::uint32_t &row = next_[t]; row < rows.count(); ++row) {
            if (rows.kind(row) != SpanKind::Dispatch)
                continue;
            const auto info = rows.input(row);
            if (!info)
                continue;
            const Span s = rows.at(row);
            // A key that a parent is asked about as well is one; so is a press on a part of a widget.
            if (s.parent && trace.span(s.parent).kind == SpanKind::Dispatch &&
                trace.span(s.parent).what == s.what && rows.input(s.parent.row()))
                continue;
            const QString words = wordsOf(int(s.what), *info);
            if (words.isEmpty())
                continue;
            if (s.what == QEvent::Wheel && s.start - std::exchange(lastWheel_, s.start) < gesture)
                continue;
            all.push_back({s.start, s.id, words, nameOf(trace, s.object)});
        }
    }
    std::stable_sort(all.begin(), all.end(), [](auto &a, auto &b) { return a.time < b.time; });
    return all;
}

} // namespace pipit
