#include "core/why/lesson.h"

#include "core/trace/inputs.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

namespace
{

constexpr std::uint32_t farRows = 20'000;

bool isStep(int type)
{
    switch (type) {
    case QEvent::MouseButtonPress:
    case QEvent::MouseButtonRelease:
    case QEvent::MouseButtonDblClick:
    case QEvent::MouseMove:
    case QEvent::KeyPress:
    case QEvent::KeyRelease:
    case QEvent::ShortcutOverride:
    case QEvent::Shortcut:
    case QEvent::Wheel:
    case QEvent::ContextMenu:
    case QEvent::DragEnter:
    case QEvent::DragMove:
    case QEvent::Drop:
        return true;
    default:
        return false;
    }
}

// What an act that begins so ends with; 0: with itself.
int endOf(int type)
{
    switch (type) {
    case QEvent::MouseButtonPress:
    case QEvent::MouseButtonDblClick:
        return QEvent::MouseButtonRelease;
    case QEvent::KeyPress:
    case QEvent::ShortcutOverride:
        return QEvent::KeyRelease;
    default:
        return 0;
    }
}

int typeOf(const ThreadRows &rows, std::uint32_t row)
{
    return rows.kind(row) == SpanKind::Dispatch ? int(rows.at(row).what) : 0;
}

// The press that a release belongs to, the shortcut check that a press comes after.
std::uint32_t beginningOf(const ThreadRows &rows, std::uint32_t row, std::uint32_t object)
{
    const auto before = [&](std::uint32_t from, int wanted, int other) -> std::uint32_t {
        for (std::uint32_t r = from; r > 0 && from - r < farRows; --r)
            if (const int type = typeOf(rows, r - 1);
                (type == wanted || (other && type == other)) && rows.at(r - 1).object == object)
                return r - 1;
        return from;
    };
    int type = typeOf(rows, row);
    if (type == QEvent::MouseButtonRelease)
        row = before(row, QEvent::MouseButtonPress, QEvent::MouseButtonDblClick);
    if (type == QEvent::KeyRelease)
        row = before(row, QEvent::KeyPress, 0);
    type = typeOf(rows, row);
    constexpr std::int64_t near = 5'000'000;
    if (type == QEvent::KeyPress)
        if (const std::uint32_t check = before(row, QEvent::ShortcutOverride, QEvent::KeyRelease);
            typeOf(rows, check) == QEvent::ShortcutOverride && rows.start(row) - rows.start(check) < near)
            row = check;
    return row;
}

} // namespace

Lesson lessonOf(const TraceModel &trace, SpanId input)
{
    const ThreadRows &rows = trace.rows(input.thread());
    const Span s = trace.span(input);
    if (s.kind != SpanKind::Dispatch || !isStep(int(s.what)))
        return {};
    const ObjectInfo object = trace.object(s.object);
    Lesson lesson{object.text(), object.className, {}, 0, 0};
    const std::uint32_t first = beginningOf(rows, input.row(), s.object);
    const int last = endOf(typeOf(rows, first));
    lesson.from = rows.start(first);
    const std::uint32_t far = std::min(rows.count(), first + farRows);
    std::uint32_t end = last ? far : std::min(far, rows.after(first));
    for (std::uint32_t row = first; row < end; ++row) {
        const Span step = rows.at(row);
        if (step.object != s.object)
            continue;
        if (step.kind == SpanKind::Dispatch && isStep(int(step.what))) {
            if (row > first && int(step.what) == typeOf(rows, first) && last)
                break; // the next act
            const QString words = eventWords(int(step.what));
            if (lesson.steps.isEmpty() || lesson.steps.last() != words || step.what != QEvent::MouseMove)
                lesson.steps << words;
            lesson.to = step.end < 0 ? trace.now() : step.end;
            if (int(step.what) == last)
                end = std::min(end, rows.after(row));
        } else if (step.kind == SpanKind::Signal) {
            lesson.steps << trace.signal(step.what).name();
        }
    }
    return lesson;
}

} // namespace pipit
