#include "core/trace/between.h"

#include "core/base/duration_text.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

Between between(const TraceModel &trace, Handlers &handlers, std::int64_t from, std::int64_t to)
{
    Between b;
    b.duration = to - from;
    QHash<QString, Between::Row> byHandler;
    const std::int64_t now = trace.now();
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        std::vector<std::pair<std::uint32_t, QString>> open; // calls that it lies in: their end row, and who
        const std::uint32_t end = rows.firstFrom(to);
        for (std::uint32_t row = rows.firstFrom(from); row < end; ++row) {
            const SpanKind kind = rows.kind(row);
            if (kind == SpanKind::Message || kind == SpanKind::Signal || kind == SpanKind::Loop)
                continue;
            const Span s = rows.at(row);
            const std::int64_t took = s.judged() ? s.duration(now) : 0;
            if (kind == SpanKind::Turn) {
                ++b.turns;
                if (trace.isMain(t))
                    b.longestTurn = std::max(b.longestTurn, took);
            } else if (kind == SpanKind::Dispatch) {
                ++b.dispatches;
                b.inputs += s.flags & FromWindow && isInputEvent(int(s.what)) &&
                            !trace.object(s.object).className.endsWith("Window");
            } else if (isCall(handlers, s)) {
                const HandlerName &h = handlers.of(s.what);
                while (!open.empty() && row >= open.back().first)
                    open.pop_back();
                if (!open.empty())
                    byHandler[open.back().second].own -= took;
                Between::Row &r = byHandler[h.name];
                r.name = h.name;
                ++r.calls;
                r.all += took;
                r.own += took;
                r.longest = std::max(r.longest, took);
                open.push_back({rows.after(row), h.name});
            }
        }
    }
    for (const Between::Row &r : std::as_const(byHandler))
        b.handlers.push_back(r);
    std::sort(b.handlers.begin(), b.handlers.end(),
              [](const Between::Row &x, const Between::Row &y) { return x.own > y.own; });
    return b;
}

QString betweenText(const Between &b)
{
    QString text = "between them " + counted(b.turns, "turn", "turns") + ", " +
                   counted(b.dispatches, "dispatch", "dispatches") + ", " +
                   counted(b.inputs, "input", "inputs");
    if (b.longestTurn)
        text += ", the longest turn " + durationText(b.longestTurn);
    constexpr std::size_t most = 3;
    for (std::size_t i = 0; i < b.handlers.size() && i < most; ++i) {
        const Between::Row &r = b.handlers[i];
        text += QStringLiteral("; %1 ran %2 for %3")
                    .arg(r.name, r.calls == 1 ? QString("once") : QStringLiteral("%1 times").arg(r.calls),
                         durationText(r.all));
        if (r.calls > 1)
            text += ", at most " + durationText(r.longest);
    }
    if (b.handlers.size() > most)
        text += QStringLiteral("; %1 more handlers").arg(b.handlers.size() - most);
    return text;
}

SpanId inputBeside(const TraceModel &trace, std::int64_t time, bool after)
{
    SpanId found;
    std::int64_t at = 0;
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        if (!trace.isMain(t))
            continue;
        const ThreadRows &rows = trace.rows(t);
        const auto is = [&](std::uint32_t row) {
            if (rows.kind(row) != SpanKind::Dispatch)
                return false;
            const Span s = rows.at(row);
            const auto type = int(s.what);
            return s.flags & FromWindow &&
                   (type == QEvent::MouseButtonPress || type == QEvent::MouseButtonDblClick ||
                    type == QEvent::KeyPress || type == QEvent::Shortcut || type == QEvent::Wheel ||
                    type == QEvent::Drop) &&
                   !trace.object(s.object).className.endsWith("Window");
        };
        const auto take = [&](std::uint32_t row) {
            const std::int64_t start = rows.start(row);
            if (!found || (after ? start < at : start > at)) {
                found = SpanId(t, row);
                at = start;
            }
        };
        const std::uint32_t count = rows.count();
        if (after) {
            std::uint32_t row = rows.firstFrom(time + 1);
            while (row < count && !is(row))
                ++row;
            if (row < count)
                take(row);
        } else {
            std::uint32_t row = rows.firstFrom(time);
            while (row > 0 && !is(row - 1))
                --row;
            if (row > 0)
                take(row - 1);
        }
    }
    return found;
}

} // namespace pipit
