#include "core/trace/account.h"

#include "core/base/duration_text.h"

#include <QEvent>

#include <algorithm>
#include <set>

namespace pipit
{

namespace
{

constexpr std::size_t mostSteps = 40, mostCauses = 8;
constexpr std::uint32_t farRows = 20'000, farPosts = 20'000;

bool isToldAsCause(const TraceModel &trace, Handlers &handlers, const Span &s)
{
    switch (s.kind) {
    case SpanKind::Call:
        return !handlers.isHelper(s.what);
    case SpanKind::Signal:
    case SpanKind::ForcedPass:
        return true;
    case SpanKind::Dispatch:
        return !trace.object(s.object).className.endsWith("Window");
    default:
        return false;
    }
}

class Effects
{
public:
    Effects(const TraceModel &trace, Handlers &handlers, Account &account)
        : trace_(trace), handlers_(handlers), account_(account)
    {
    }

    void follow(SpanId of)
    {
        std::vector<SpanId> next{of};
        while (!next.empty()) {
            const SpanId id = next.back();
            next.pop_back();
            if (!seen_.insert(id.number()).second)
                continue;
            within(id, id != of);
            cameOf(id, next);
            if (account_.effects.size() >= mostSteps) {
                account_.more = true;
                break;
            }
        }
        touched();
        std::stable_sort(account_.effects.begin(), account_.effects.end(),
                         [](const AccountStep &a, const AccountStep &b) { return a.time < b.time; });
    }

private:
    struct Range { // of a thread's rows
        std::uint16_t thread;
        std::uint32_t from, to;
        std::int64_t start, end;
    };

    void add(const Span &s, const QString &text) { account_.effects.push_back({s.id, s.start, text}); }

    void tell(const Span &s)
    {
        if (s.kind == SpanKind::Call && !handlers_.isHelper(s.what)) {
            add(s, handlers_.of(s.what).name + " ran" +
                       (s.open()     ? QStringLiteral(" and has not ended")
                        : s.judged() ? " for " + durationText(s.end - s.start)
                                     : QString()) +
                       (trace_.isMain(s.thread) ? QString() : QStringLiteral(" on another thread")));
        } else if (s.kind == SpanKind::Dispatch) {
            const ObjectInfo o = trace_.object(s.object);
            const char *what = s.what == QEvent::Paint     ? "was painted"
                               : s.what == QEvent::Show    ? "was shown"
                               : s.what == QEvent::Hide    ? "was hidden"
                               : s.what == QEvent::Close   ? "was closed"
                               : s.what == QEvent::FocusIn ? "got the focus"
                                                           : nullptr;
            if (what && !o.className.endsWith("Window") && !o.className.endsWith("Style") &&
                told_.insert(std::uint64_t(s.object) << 16 | s.what).second)
                add(s, o.text() + ' ' + QLatin1String(what));
        }
    }

    void within(SpanId id, bool itself)
    {
        const ThreadRows &rows = trace_.rows(id.thread());
        const std::uint32_t all = rows.after(id.row()), end = std::min(all, id.row() + farRows);
        account_.more = account_.more || end < all;
        const Span s = rows.at(id.row());
        ranges_.push_back({id.thread(), id.row(), end, s.start, s.end < 0 ? trace_.now() : s.end});
        for (std::uint32_t row = id.row() + (itself ? 0 : 1);
             row < end && account_.effects.size() < mostSteps; ++row)
            tell(rows.at(row));
    }

    // What was begun while it ran, posted or otherwise, and came later.
    void cameOf(SpanId by, std::vector<SpanId> &next)
    {
        const Range range = ranges_.back();
        const auto inside = [&range](SpanId cause) {
            return cause && cause.thread() == range.thread && cause.row() >= range.from &&
                   cause.row() < range.to;
        };
        for (std::uint16_t t = 0; t < trace_.threadCount(); ++t) {
            const ThreadRows &rows = trace_.rows(t);
            const std::uint32_t from = t == by.thread() ? range.from : rows.firstFrom(range.start);
            std::uint32_t n = rows.firstPostedFrom(from);
            for (const std::uint32_t end = std::min(rows.postedCount(), n + farPosts); n < end; ++n)
                if (inside(rows.posting(rows.postedRow(n)).cause))
                    next.push_back(SpanId(t, rows.postedRow(n)));
            n = rows.firstCauseFrom(from);
            for (const std::uint32_t end = std::min(rows.causeCount(), n + farPosts); n < end; ++n)
                if (const auto &c = rows.causeAt(n);
                    inside(c.cause.span) && c.cause.kind != CauseKind::TimerAgain)
                    next.push_back(SpanId(t, c.row));
        }
    }

    // Facts come by time: what was set inside of what was followed.
    void touched()
    {
        const auto inside = [&](SpanId id) {
            return id && std::any_of(ranges_.begin(), ranges_.end(), [&](const Range &r) {
                       return r.thread == id.thread() && id.row() >= r.from && id.row() < r.to;
                   });
        };
        std::int64_t from = INT64_MAX, to = 0;
        for (const Range &r : ranges_) {
            from = std::min(from, r.start);
            to = std::max(to, r.end);
        }
        std::uint32_t low = trace_.firstFactFrom(from);
        for (; low < trace_.factCount() && trace_.fact(low).time <= to; ++low) {
            const FactRow &f = trace_.fact(low);
            if (f.fact == link::Fact::File && inside(f.span)) {
                account_.effects.push_back({f.span, f.time, fileText(trace_.factText(f))});
                continue;
            }
            if (f.fact == link::Fact::Used && inside(f.span)) {
                account_.effects.push_back({f.span, f.time, usedText(trace_.factText(f))});
                continue;
            }
            if (f.fact != link::Fact::Touched || !f.object || !inside(f.span))
                continue;
            const QString what = trace_.factText(f).section('\t', 0, 0);
            account_.effects.push_back(
                {f.span, f.time,
                 QStringLiteral("%1's %2 was set").arg(trace_.object(f.object).text(), what)});
        }
    }

    const TraceModel &trace_;
    Handlers &handlers_;
    Account &account_;
    std::vector<Range> ranges_;
    std::set<std::uint64_t> seen_, told_;
};

} // namespace

// The nearest that is told of what it lies in, unless it is in the account already.
static void addOther(const TraceModel &trace, Handlers &handlers, SpanId id, Account &account)
{
    const auto isIn = [&](const std::vector<AccountStep> &steps) {
        return std::any_of(steps.begin(), steps.end(), [&](const AccountStep &a) { return a.span == id; });
    };
    for (; id; id = trace.span(id).parent) {
        const Span s = trace.span(id);
        if (!isToldAsCause(trace, handlers, s))
            continue;
        if (!isIn(account.causes) && !isIn(account.otherCauses) && account.otherCauses.size() < mostCauses)
            account.otherCauses.push_back({id, s.start, sentenceOf(trace, handlers, s)});
        return;
    }
}

Account accountOf(const TraceModel &trace, Handlers &handlers, SpanId of)
{
    Account account;
    std::vector<SpanId> others;
    for (SpanId id = of; id && account.causes.size() < mostCauses;) {
        const Span s = trace.span(id);
        if (id != of && isToldAsCause(trace, handlers, s))
            account.causes.push_back({id, s.start, sentenceOf(trace, handlers, s)});
        SpanId by;
        for (const Cause &c : trace.causes(id))
            if (c.kind != CauseKind::LoopEnded && c.span &&
                trace.span(c.span).start < s.start) // nothing goes round
                by ? others.push_back(c.span) : void(by = c.span);
        id = by ? by : s.parent;
    }
    for (const SpanId other : others)
        addOther(trace, handlers, other, account);
    Effects(trace, handlers, account).follow(of);
    return account;
}

int waitingAt(const TraceModel &trace, std::uint16_t thread, std::int64_t time, int most)
{
    const ThreadRows &rows = trace.rows(thread);
    int waiting = 0;
    constexpr std::uint32_t far = 400;
    const std::uint32_t from = rows.firstPostedFrom(rows.firstFrom(time + 1)),
                        end = std::min(rows.postedCount(), from + far);
    for (std::uint32_t n = from; n < end && waiting < most; ++n) {
        const Posting p = rows.posting(rows.postedRow(n));
        waiting += p.time > 0 && p.time <= time;
    }
    return waiting;
}

} // namespace pipit
