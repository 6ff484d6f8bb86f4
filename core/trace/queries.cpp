#include "core/trace/queries.h"

#include "core/base/duration_text.h"
#include "core/trace/inputs.h"
#include "core/trace/order.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

namespace
{

// The widget that an input reached: dispatches pass from the window down to it.
Span innermostSame(const TraceModel &trace, const Span &outer)
{
    const ThreadRows &rows = trace.rows(outer.thread);
    const std::uint32_t end = rows.after(outer.id.row());
    for (std::uint32_t k = outer.id.row() + 1; k < end; ++k) {
        const Span s = rows.at(k);
        if (s.kind == SpanKind::Dispatch && s.what == outer.what)
            return s;
    }
    return outer;
}

// The turns, or the calls, that lie around the rows of one thread, which are looked at in order.
template <class What> class Around
{
public:
    // What the next one lies in: the innermost that was put there.
    const What *of(std::uint32_t row)
    {
        while (!open_.empty() && open_.back().after <= row)
            open_.pop_back();
        return open_.empty() ? nullptr : &open_.back().what;
    }
    void put(const ThreadRows &rows, std::uint32_t row, const What &what)
    {
        open_.push_back({rows.after(row), what});
    }

private:
    struct Open {
        std::uint32_t after;
        What what;
    };
    std::vector<Open> open_;
};

// By when they began; what they refer to follows.
template <class Row> void sortByStart(std::vector<Row> &rows)
{
    std::stable_sort(rows.begin(), rows.end(), [](const Row &a, const Row &b) { return a.start < b.start; });
}

bool isSettings(const TraceModel &trace, std::uint32_t object)
{
    return trace.object(object).className == "QSettings";
}

QString waitKind(const TraceModel &trace, const Span &s)
{
    if (s.what == QEvent::MouseButtonRelease || s.what == QEvent::KeyRelease || s.what == QEvent::TouchEnd)
        return "release";
    if (isInputEvent(int(s.what)))
        return "input";
    if (s.what == QEvent::UpdateRequest && !isSettings(trace, s.object))
        return "repaint";
    if (s.what == QEvent::MetaCall)
        return "queued call";
    return "posted";
}

} // namespace

bool isCall(Handlers &handlers, const Span &s)
{
    return s.kind == SpanKind::Call && !handlers.isHelper(s.what);
}

QString causeWord(CauseKind kind)
{
    switch (kind) {
    case CauseKind::Posted:
        return QStringLiteral("posted");
    case CauseKind::Painted:
        return QStringLiteral("painted");
    case CauseKind::Timer:
        return QStringLiteral("timer");
    case CauseKind::TimerAgain:
        return QStringLiteral("timer goes on");
    case CauseKind::Thread:
        return QStringLiteral("thread");
    case CauseKind::Task:
        return QStringLiteral("task");
    case CauseKind::Object:
        return QStringLiteral("object");
    case CauseKind::LoopEnded:
        return QStringLiteral("loop ended");
    default:
        return QStringLiteral("aside");
    }
}

SpanId causeOf(const TraceModel &trace, Handlers &handlers, const Span &span)
{
    SpanId p = span.parent;
    while (p) {
        const Span s = trace.span(p);
        if (s.kind != SpanKind::Call || isCall(handlers, s))
            break;
        p = s.parent;
    }
    return p;
}

std::vector<Cause> causesAround(const TraceModel &trace, SpanId call)
{
    std::vector<Cause> all;
    for (SpanId id = call; id;) {
        const Span s = trace.span(id);
        if (s.kind != SpanKind::Call && s.kind != SpanKind::Signal && s.kind != SpanKind::Dispatch)
            break;
        for (const Cause &c : trace.causes(id))
            if (std::find(all.begin(), all.end(), c) == all.end())
                all.push_back(c);
        if (s.kind == SpanKind::Dispatch)
            break;
        id = s.parent;
    }
    return all;
}

std::vector<TurnRow> turnsOf(const TraceModel &trace, Handlers &handlers, TimeRange range)
{
    std::vector<TurnRow> turns;
    const std::int64_t now = trace.now();
    for (std::uint16_t thread = 0; thread < trace.threadCount(); ++thread) {
        const ThreadRows &rows = trace.rows(thread);
        Around<std::size_t> around;
        const std::uint32_t count = rows.count();
        for (std::uint32_t i = range.from == INT64_MIN ? 0 : rows.firstFrom(range.from); i < count; ++i) {
            const SpanKind kind = rows.kind(i);
            if (kind != SpanKind::Turn && kind != SpanKind::Dispatch && kind != SpanKind::Call)
                continue;
            const Span s = rows.at(i);
            if (s.start > range.to)
                break;
            const std::size_t *in = around.of(i);
            if (s.kind == SpanKind::Turn) {
                TurnRow row{s.id, s.start, s.duration(now), thread, 0, 0, (s.flags & Forced) != 0, s.judged(),
                            {},   0};
                if (in) {
                    row.parent = turns[*in].span;
                    row.depth = turns[*in].depth + 1;
                }
                around.put(rows, i, turns.size());
                turns.push_back(row);
            } else if (in && s.kind == SpanKind::Dispatch) {
                ++turns[*in].dispatches;
            } else if (in && isCall(handlers, s)) {
                ++turns[*in].calls;
            }
        }
    }
    sortByStart(turns);
    return turns;
}

// Who emitted or got it, in words; the toolkit's own timer behind a single shot has no name.
static QString sourceText(const TraceModel &trace, const Span &s)
{
    const ObjectInfo object = trace.object(s.object);
    return object.className == "QSingleShotTimer" ? QStringLiteral("a single shot") : object.text();
}

static void fillCause(const TraceModel &trace, Handlers &handlers, const Span &call, CallRow &row)
{
    const SpanId p = causeOf(trace, handlers, call);
    if (!p)
        return;
    const Span s = trace.span(p);
    if (s.kind == SpanKind::Turn || s.kind == SpanKind::Loop || s.kind == SpanKind::ForcedPass)
        return;
    row.cause = p;
    row.causeKind = s.kind == SpanKind::Signal ? "signal" : s.kind == SpanKind::Call ? "call" : "dispatch";
    if (const Posting posting =
            s.kind == SpanKind::Dispatch && (s.flags & WasPosted) ? trace.posting(p) : Posting{};
        posting.cause) {
        row.cause = posting.cause;
        row.causeKind = "posted";
        const Span by = trace.span(posting.cause);
        // Emitted then, delivered now; a project's own connections say it in its words.
        if (s.what == QEvent::MetaCall && by.kind == SpanKind::Signal &&
            (row.source.isEmpty() || row.handler.connection.isEmpty())) {
            row.source = sourceText(trace, by);
            row.signal = trace.signal(by.what).name();
        }
    }
    if (s.kind == SpanKind::Dispatch && s.what == QEvent::MetaCall)
        return; // who gets the event is no source of it
    if (s.kind == SpanKind::Signal && row.signal.isEmpty())
        row.signal = trace.signal(s.what).name();
    if (s.kind != SpanKind::Call && row.source.isEmpty())
        row.source = sourceText(trace, s);
}

CallRow callRow(const TraceModel &trace, Handlers &handlers, const Span &s)
{
    CallRow row;
    row.span = s.id;
    row.start = s.start;
    row.duration = s.duration(trace.now());
    row.open = s.open();
    row.judged = s.judged();
    row.thread = s.thread;
    row.handler = handlers.of(s.what);
    row.source = row.handler.source;
    row.signal = row.handler.signal;
    fillCause(trace, handlers, s, row);
    return row;
}

void eachCall(const TraceModel &trace, Handlers &handlers, TimeRange range,
              const std::function<bool(const CallRow &)> &take)
{
    struct Outer {
        SpanId span;
        int depth;
    };
    std::unordered_map<std::uint16_t, Around<Outer>> around; // by thread
    inOrder(trace, range.from, range.to, [&](const ThreadRows &rows, std::uint32_t i) {
        if (rows.kind(i) != SpanKind::Call)
            return true;
        const Span s = rows.at(i);
        if (!isCall(handlers, s))
            return true;
        CallRow row = callRow(trace, handlers, s);
        Around<Outer> &open = around[s.thread];
        if (const Outer *in = open.of(i)) {
            row.parent = in->span;
            row.depth = in->depth + 1;
        }
        open.put(rows, i, {s.id, row.depth});
        return take(row);
    });
}

std::vector<CallRow> callsOf(const TraceModel &trace, Handlers &handlers, TimeRange range)
{
    std::vector<CallRow> calls;
    eachCall(trace, handlers, range, [&](const CallRow &row) {
        calls.push_back(row);
        return true;
    });
    return calls;
}

std::optional<WaitRow> waitRow(const TraceModel &trace, const Span &s)
{
    if (s.kind != SpanKind::Dispatch || !(s.flags & WasPosted))
        return std::nullopt;
    const std::int64_t posted = trace.posting(s.id).time;
    if (posted <= 0)
        return std::nullopt;
    const bool input = isInputEvent(int(s.what));
    if (input) // once for each input: only the outermost dispatch of it
        for (SpanId p = s.parent; p;) {
            const Span outer = trace.span(p);
            if (outer.kind == SpanKind::Dispatch && (outer.flags & WasPosted) &&
                isInputEvent(int(outer.what)) && trace.posting(p).time == posted)
                return std::nullopt;
            p = outer.parent;
        }
    const Span reached = input ? innermostSame(trace, s) : s;
    const QString object = trace.object(reached.object).text();
    return WaitRow{s.id,
                   QStringLiteral("%1 on %2").arg(eventWords(int(s.what)), object),
                   waitKind(trace, s),
                   posted,
                   std::max<std::int64_t>(0, s.start - posted),
                   s.thread};
}

void eachWait(const TraceModel &trace, TimeRange range, const std::function<bool(const WaitRow &)> &take)
{
    inOrder(trace, range.from, INT64_MAX, [&](const ThreadRows &rows, std::uint32_t i) {
        if (!(rows.alike(ThreadRows::chunkOf(i), rows.alikeOf(i)).flags & WasPosted))
            return true;
        const auto w = waitRow(trace, rows.at(i));
        return !w || w->posted < range.from || w->posted > range.to || take(*w);
    });
}

std::vector<WaitRow> waitsOf(const TraceModel &trace, TimeRange range)
{
    std::vector<WaitRow> waits;
    eachWait(trace, range, [&](const WaitRow &w) {
        waits.push_back(w);
        return true;
    });
    return waits;
}

static QString turnSentence(const TraceModel &trace, Handlers &handlers, const Span &s)
{
    int dispatches = 0, calls = 0;
    const ThreadRows &rows = trace.rows(s.thread);
    constexpr std::uint32_t most = 20'000;
    const std::uint32_t first = s.id.row() + 1, end = std::min(rows.after(s.id.row()), first + most);
    for (std::uint32_t k = first; k < end; ++k) {
        const SpanKind kind = rows.kind(k);
        dispatches += kind == SpanKind::Dispatch;
        calls += kind == SpanKind::Call && isCall(handlers, rows.at(k));
    }
    return QStringLiteral("%1 of %2 and %3")
        .arg((s.flags & Forced) ? "a forced turn of the event loop" : "a turn of the event loop",
             counted(dispatches, "dispatch", "dispatches"), counted(calls, "call", "calls"));
}

QString sentenceOf(const TraceModel &trace, Handlers &handlers, const Span &s)
{
    if (s.kind == SpanKind::Turn)
        return turnSentence(trace, handlers, s);
    if (s.kind == SpanKind::Signal)
        if (const QString carried = trace.argumentsOf(s); !carried.isEmpty())
            return sentenceOf(trace, handlers, ThreadRows::Alike{s.object, s.what, s.kind, s.flags}) + '(' +
                   carried + ')';
    if (const auto input = inputOf(trace, s))
        return sentenceOf(trace, handlers, ThreadRows::Alike{s.object, s.what, s.kind, s.flags}) + ": " +
               inputWords(int(s.what), *input);
    return sentenceOf(trace, handlers, ThreadRows::Alike{s.object, s.what, s.kind, s.flags});
}

QString sentenceOf(const TraceModel &trace, Handlers &handlers, const ThreadRows::Alike &s)
{
    const QString object = trace.object(s.object).text();
    switch (s.kind) {
    case SpanKind::Turn:
        return QStringLiteral("a turn of the event loop");
    case SpanKind::Dispatch: {
        const QString words = eventWords(int(s.what));
        if (s.what == QEvent::UpdateRequest) // which settings post to themselves, too
            return object + (isSettings(trace, s.object) ? " writes what has changed" : " is repainted");
        return QStringLiteral("%1 gets %2 %3")
            .arg(object, QStringLiteral("aeiou").contains(words[0]) ? "an" : "a", words);
    }
    case SpanKind::Signal:
        return QStringLiteral("%1 emits %2").arg(object, trace.signal(s.what).name());
    case SpanKind::Call:
        return QString(!handlers.isHelper(s.what) ? "%1 runs"
                                                  : "the generated code checks the condition of %1")
            .arg(handlers.of(s.what).name);
    case SpanKind::Loop:
        return QStringLiteral("an event loop runs (%1)").arg(object);
    case SpanKind::ForcedPass:
        return "processEvents runs one pass of the event loop";
    case SpanKind::Message:
        return QStringLiteral("message: %1").arg(trace.message(s.what));
    }
    return {};
}

QString fileText(const QString &fact)
{
    const QStringList f = fact.split('\t');
    const QString path = f.value(2), folder = f.value(1);
    const QString name = path.isEmpty()           ? QStringLiteral("a file")
                         : folder == u"elsewhere" ? path
                                                  : path.section('/', -1);
    const QString in = folder == u"elsewhere" ? (path.isEmpty() ? QStringLiteral(" elsewhere") : QString())
                                              : QStringLiteral(" in the ") + folder;
    const QString done = f.value(0) == u"read"     ? QStringLiteral("was opened to read")
                         : f.value(0) == u"write"  ? QStringLiteral("was opened to write")
                         : f.value(0) == u"rename" ? QStringLiteral("got its name")
                                                   : QStringLiteral("was removed");
    return name + in + ' ' + done;
}

QString usedText(const QString &fact)
{
    const QString kind = fact.section('\t', 0, 0), what = fact.section('\t', 1, 1);
    const QString setting = what.isEmpty() ? QStringLiteral("a setting") : "the setting " + what;
    return kind == u"setting"      ? setting + " was set"
           : kind == u"no setting" ? setting + " was removed"
           : kind == u"clipboard"  ? QStringLiteral("the clipboard was set")
           : kind == u"desktop"    ? QStringLiteral("the desktop was asked to open %1")
                                      .arg(what == u"file"  ? QStringLiteral("a file")
                                           : what.isEmpty() ? QStringLiteral("an address")
                                                            : QStringLiteral("an address (%1)").arg(what))
           : kind == u"sound"     ? QStringLiteral("a sound was made")
           : kind == u"attention" ? QStringLiteral("the desktop was asked for attention")
                                  : QStringLiteral("a message was shown in the system tray");
}

} // namespace pipit
