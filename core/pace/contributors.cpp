#include "core/pace/contributors.h"

#include <QEvent>

#include <algorithm>
#include <functional>

namespace pipit
{

namespace
{

struct Clip {
    std::int64_t from, to;
    std::int64_t of(const Span &s) const
    {
        const std::int64_t end = s.open() ? to : std::min(s.end, to);
        return std::max<std::int64_t>(0, end - std::max(s.start, from));
    }
};

bool isWork(SpanKind kind)
{
    return kind == SpanKind::Call || kind == SpanKind::Dispatch;
}

// Own time of each call and dispatch in the stretch: without the calls and dispatches within it. The sum is
// what lay in any dispatch or call. Told as they end, so it takes no room however many there are.
class OwnTimes
{
public:
    using Tell = std::function<void(const Span &, std::int64_t ns)>;
    OwnTimes(const TraceModel &trace, const Stretch &stretch, Tell tell)
        : rows_(trace.rows(stretch.thread)), clip_{stretch.start, stretch.end}, tell_(std::move(tell))
    {
        std::vector<SpanId> around; // the innermost first
        for (SpanId p = stretch.around; p; p = rows_.parent(p.row()))
            around.push_back(p);
        for (auto p = around.rbegin(); p != around.rend(); ++p)
            enter(trace.span(*p));
        const std::uint32_t count = rows_.count();
        for (std::uint32_t i = stretch.firstRow; i < count && rows_.start(i) <= stretch.end; ++i)
            enter(rows_.at(i));
        while (!open_.empty())
            leave();
    }

private:
    struct Open {
        Span span;
        std::int64_t ns = 0;
        bool counts = false; // it has a part in the stretch
    };
    void enter(const Span &s)
    {
        while (!open_.empty() && open_.back().span.id != s.parent)
            leave();
        const std::int64_t ns = isWork(s.kind) ? clip_.of(s) : 0;
        if (ns > 0)
            for (auto outer = open_.rbegin(); outer != open_.rend(); ++outer)
                if (isWork(outer->span.kind)) {
                    outer->ns -= ns;
                    outer->counts = true;
                    break;
                }
        open_.push_back({s, ns, ns > 0});
    }
    void leave()
    {
        if (const Open &o = open_.back(); o.counts)
            tell_(o.span, std::max<std::int64_t>(0, o.ns));
        open_.pop_back();
    }

    const ThreadRows &rows_;
    const Clip clip_;
    const Tell tell_;
    std::vector<Open> open_;
};

// One that took longer comes first; of equals the one that began first.
struct Longest {
    std::int64_t ns = -1;
    Span span;
    bool take(const Span &s, std::int64_t took)
    {
        if (took < ns || (took == ns && span.id < s.id))
            return false;
        ns = took;
        span = s;
        return true;
    }
    bool operator<(const Longest &other) const
    {
        return ns != other.ns ? ns > other.ns : span.id < other.span.id;
    }
};

// The handlers that were called, one row for each.
class Called
{
public:
    explicit Called(Handlers &handlers) : handlers_(handlers) {}
    void take(const Span &call, std::int64_t ns)
    {
        const auto [at, fresh] = byWhat_.try_emplace(call.what, 0);
        if (fresh)
            at->second = byIdentity_.try_emplace(handlers_.identity(call.what), rows_.size()).first->second;
        if (at->second == rows_.size())
            rows_.emplace_back();
        Row &row = rows_[at->second];
        row.ns += ns;
        ++row.calls;
        row.longest.take(call, ns);
    }
    // The largest share first.
    std::vector<Contributor> sorted()
    {
        std::sort(rows_.begin(), rows_.end(), [](const Row &a, const Row &b) {
            return a.ns != b.ns ? a.ns > b.ns : a.longest < b.longest;
        });
        std::vector<Contributor> all;
        for (const Row &r : rows_)
            all.push_back({handlers_.of(r.longest.span.what), r.ns, r.calls});
        return all;
    }

private:
    struct Row {
        std::int64_t ns = 0;
        int calls = 0;
        Longest longest;
    };
    Handlers &handlers_;
    std::vector<Row> rows_;
    std::unordered_map<std::uint32_t, std::size_t> byWhat_;
    std::unordered_map<QString, std::size_t> byIdentity_;
};

Contributor named(const QString &name, std::int64_t ns, int calls)
{
    HandlerName h;
    h.name = name;
    return {h, ns, calls};
}

} // namespace

std::vector<Contributor> contributors(const TraceModel &trace, Handlers &handlers, const Stretch &stretch)
{
    const std::int64_t all = stretch.end - stretch.start, worth = std::max<std::int64_t>(1'000'000, all / 50);
    Called called(handlers);
    Longest longest;
    std::int64_t inCalls = 0, inDispatches = 0;
    int calls = 0, dispatches = 0;
    const OwnTimes own(trace, stretch, [&](const Span &s, std::int64_t ns) {
        const bool isCall = s.kind == SpanKind::Call;
        (isCall ? inCalls : inDispatches) += ns;
        ++(isCall ? calls : dispatches);
        isCall ? called.take(s, ns) : void(longest.take(s, ns));
    });
    std::vector<Contributor> rows = called.sorted();
    const std::int64_t outside = all - inCalls - inDispatches;
    while (!rows.empty() && rows.back().ns < worth)
        rows.pop_back();
    const auto handlerCount = qsizetype(rows.size());
    if (!rows.empty() && rows.front().ns >= all / 3 && rows.front().ns >= longest.ns)
        return rows;
    if (longest.ns >= 0 && longest.ns >= all / 3) {
        const Span &s = longest.span;
        rows.insert(rows.begin(), named(QStringLiteral("%1's own %2 handling")
                                            .arg(trace.object(s.object).text(), eventWords(int(s.what))),
                                        longest.ns, 1));
    } else if (inCalls >= all * 2 / 3) {
        rows.insert(rows.begin(),
                    named(QStringLiteral("%1 handlers together").arg(handlerCount), inCalls, calls));
    } else if (outside >= all / 3) {
        rows.insert(rows.begin(), named(betweenDispatches(), outside, 1));
    } else {
        rows.insert(rows.begin(), named(QStringLiteral("%1 events together").arg(dispatches),
                                        inDispatches + inCalls, dispatches));
    }
    return rows;
}

} // namespace pipit
