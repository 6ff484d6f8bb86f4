#include "core/trace/story.h"

#include "core/base/duration_text.h"
#include "core/records/merge.h"
#include "core/trace/folds.h"
#include "core/trace/inputs.h"

#include <QEvent>
#include <QHash>
#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

constexpr std::uint32_t pageRows = 4096, fewest = 64;
constexpr std::uint32_t turnReach = 2000,
                        signalReach = 64; // how far ahead what makes them worth telling may be
constexpr std::int64_t idleWorth = 20'000'000;

} // namespace

std::size_t StoryEye::AlikeHash::operator()(const ThreadRows::Alike &a) const
{
    return std::size_t((std::uint64_t(a.object) << 32 | a.what) * 0x9e3779b97f4a7c15u ^
                       (std::uint64_t(a.kind) << 16 | a.flags) * 0xc2b2ae3d27d4eb4fu);
}

StoryEye::StoryEye(const TraceModel &trace, Handlers &handlers, StoryChoice choice)
    : trace_(trace), handlers_(handlers), choice_(std::move(choice)), text_(choice_.text)
{
    static const QRegularExpression over(R"(\bover\s+(\d+(?:\.\d+)?)\s*(ns|µs|us|ms|s)\b)",
                                         QRegularExpression::CaseInsensitiveOption);
    static const QHash<QString, double> units{{"ns", 1}, {"us", 1e3}, {"µs", 1e3}, {"ms", 1e6}, {"s", 1e9}};
    if (const auto m = over.match(text_); m.hasMatch()) {
        least_ = std::int64_t(m.captured(1).toDouble() * units.value(m.captured(2).toLower()));
        text_ = text_.remove(m.capturedStart(), m.capturedLength()).simplified();
    }
    // Turns are told by counts: most texts fit none of them.
    for (const QChar c : text_)
        if (!c.isDigit() && !QStringLiteral("a forced turn of the event loop dispatches and calls")
                                 .contains(c, Qt::CaseInsensitive))
            turnsMayFit_ = false;
}

bool StoryEye::fits(const QString &sentence) const
{
    return text_.isEmpty() || sentence.contains(text_, Qt::CaseInsensitive);
}

StoryEye::Decision StoryEye::decide(const ThreadRows::Alike &a)
{
    const auto yesIf = [](bool is) { return is ? Decision::Yes : Decision::No; };
    if (a.kind == SpanKind::Turn) {
        if (!turnsMayFit_)
            return Decision::No;
        return choice_.everything && text_.isEmpty() ? Decision::Yes : Decision::Look;
    }
    bool look = false;
    if (!choice_.everything) {
        if (a.kind == SpanKind::Call && handlers_.isHelper(a.what))
            return Decision::No;
        if (a.kind == SpanKind::Dispatch &&
            ((!isInputEvent(int(a.what)) && a.what != QEvent::UpdateRequest && a.what != QEvent::Close) ||
             trace_.object(a.object).className.endsWith("Window")))
            return Decision::No;
        look = a.kind == SpanKind::Signal;
    }
    if (!text_.isEmpty() && !fits(sentenceOf(trace_, handlers_, a)))
        return a.kind == SpanKind::Dispatch && isDescribed(int(a.what)) ? Decision::Look : Decision::No;
    return look ? Decision::Look : yesIf(true);
}

StoryEye::Decision StoryEye::decisionOf(const ThreadRows &rows, std::uint32_t row)
{
    Near &near = near_[rows.thread()];
    const std::uint32_t chunk = ThreadRows::chunkOf(row), n = rows.alikeOf(row);
    if (near.chunk != chunk) {
        near.chunk = chunk;
        near.decisions.clear();
    }
    if (n >= near.decisions.size())
        near.decisions.resize(n + 16, Decision::Unknown);
    Decision &d = near.decisions[n];
    if (d == Decision::Unknown) {
        const ThreadRows::Alike &alike = rows.alike(chunk, n);
        const auto [it, fresh] = decisions_.try_emplace(alike, Decision::Unknown);
        if (fresh)
            it->second = decide(alike);
        d = it->second;
    }
    return d;
}

bool StoryEye::isHandlers(const ThreadRows &rows, std::uint32_t row)
{
    const ThreadRows::Alike &a = rows.alike(ThreadRows::chunkOf(row), rows.alikeOf(row));
    return a.kind == SpanKind::Call && !handlers_.isHelper(a.what);
}

// A turn that kept the loop for so long that it is kept as a stretch is told whatever was in it.
static bool isStretch(const ThreadRows &rows, std::uint32_t row)
{
    const std::int64_t end = rows.end(row);
    return end >= 0 && end - rows.start(row) >= TraceModel::shortestStretch;
}

// A turn in which a handler ran, a signal that called one, an input whose details fit.
bool StoryEye::looks(const ThreadRows &rows, std::uint32_t row)
{
    const SpanKind kind = rows.kind(row);
    if (kind == SpanKind::Dispatch) // of those that are alike the keys, buttons and places differ
        return rows.inputCount() && fits(sentenceOf(trace_, handlers_, rows.at(row)));
    const bool turn = kind == SpanKind::Turn;
    bool worth = choice_.everything || (turn && isStretch(rows, row));
    if (!worth) {
        const std::uint32_t end = std::min(rows.after(row), row + (turn ? turnReach : signalReach));
        for (std::uint32_t k = row + 1; k < end && !worth; ++k)
            worth = isHandlers(rows, k) &&
                    (turn || causeOf(trace_, handlers_, rows.at(k)) == SpanId(rows.thread(), row));
    }
    return worth && (!turn || fits(sentenceOf(trace_, handlers_, rows.at(row))));
}

bool StoryEye::isLong(const ThreadRows &rows, std::uint32_t row) const
{
    const Span s = rows.at(row);
    return s.judged() && s.kind != SpanKind::Message && s.kind != SpanKind::Loop &&
           s.duration(trace_.now()) > least_;
}

bool StoryEye::shows(const ThreadRows &rows, std::uint32_t row)
{
    const Decision d = decisionOf(rows, row);
    if (d == Decision::No || (least_ && !isLong(rows, row)))
        return false;
    return d == Decision::Yes || looks(rows, row);
}

namespace
{

// What the rows of one thread lie in, while they are looked at in order.
class Ancestors
{
public:
    Ancestors(StoryEye &eye, const ThreadRows &rows, std::uint32_t first) : eye_(eye), rows_(rows)
    {
        std::vector<std::uint32_t> chain;
        for (SpanId p = rows.parent(first); p; p = rows.parent(p.row()))
            chain.push_back(p.row());
        for (auto it = chain.rbegin(); it != chain.rend(); ++it)
            (void)enter(*it);
    }

    // Its depth among what is told; -1: it is not told.
    int enter(std::uint32_t row)
    {
        const SpanId parent = rows_.parent(row);
        while (!open_.empty() && !(parent && open_.back().row == parent.row()))
            open_.pop_back();
        const int depth = open_.empty() ? 0 : open_.back().within;
        const bool shown = eye_.shows(rows_, row);
        open_.push_back({row, shown && rows_.kind(row) != SpanKind::Loop ? depth + 1 : depth});
        return shown ? depth : -1;
    }

private:
    struct Open {
        std::uint32_t row;
        int within; // the depth of what lies in it
    };
    StoryEye &eye_;
    const ThreadRows &rows_;
    std::vector<Open> open_;
};

struct PageEnd {
    std::int64_t lastEnd;
    std::vector<SpanId> open;
};

// The rows of a page, and what the next one begins with.
std::vector<StoryRow> rowsOf(const StoryPage &page, StoryEye &eye, PageEnd *end)
{
    struct Head {
        const ThreadRows *rows;
        std::uint32_t at, to;
        std::uint64_t start;
        Ancestors ancestors;
    };
    const TraceModel &trace = eye.trace();
    std::vector<Head> heads;
    for (const StoryPage::Part &p : page.parts) {
        const ThreadRows &rows = trace.rows(p.thread);
        heads.push_back(
            {&rows, p.from, p.to, std::uint64_t(rows.start(p.from)), Ancestors(eye, rows, p.from)});
    }
    std::vector<StoryRow> told;
    std::int64_t lastEnd = page.lastEnd;
    const std::int64_t now = trace.now();
    std::vector<SpanId> open;
    const auto reached = [&](SpanId id) {
        const std::int64_t e = trace.rows(id.thread()).end(id.row());
        lastEnd = std::max(lastEnd, e < 0 ? now : e);
        if (e < 0)
            open.push_back(id);
    };
    for (const SpanId id : page.openBefore)
        reached(id);
    mergeByTime(
        heads.size(), UINT64_MAX,
        [&](std::size_t i) { return heads[i].at < heads[i].to ? &heads[i].start : nullptr; },
        [&](std::size_t i) {
            Head &h = heads[i];
            const std::uint32_t row = h.at++;
            const auto start = std::int64_t(h.start);
            if (h.at < h.to)
                h.start = std::uint64_t(h.rows->start(h.at));
            const int depth = h.ancestors.enter(row);
            if (depth < 0)
                return true;
            if (depth == 0 && lastEnd && start - lastEnd > idleWorth)
                told.push_back({{}, 0, lastEnd, start - lastEnd});
            const SpanId id(h.rows->thread(), row);
            told.push_back({id, depth, start, 0});
            if (h.rows->kind(row) == SpanKind::Loop)
                lastEnd = std::max(lastEnd, start);
            else
                reached(id);
            return true;
        });
    if (end)
        *end = {lastEnd, std::move(open)};
    return told;
}

} // namespace

std::vector<StoryRow> StoryPage::unfolded(StoryEye &eye) const
{
    return rowsOf(*this, eye, nullptr);
}

std::vector<StoryRow> StoryPage::rows(StoryEye &eye, const std::set<SpanId> &opened) const
{
    auto all = unfolded(eye);
    return eye.choice().folds ? folded(eye.trace(), std::move(all), opened) : all;
}

QString idleText(const TraceModel &trace, const StoryRow &row, const StoryChoice &choice)
{
    const QString length = durationText(row.idle);
    if (!choice.text.isEmpty())
        return "nothing that matches for " + length;
    // What the main threads did meanwhile, and is not told.
    std::int64_t worked = 0;
    const std::int64_t from = row.start, to = row.start + row.idle;
    constexpr std::uint32_t far = 5000;
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        if (!trace.isMain(t))
            continue;
        const ThreadRows &rows = trace.rows(t);
        const std::uint32_t first = rows.firstFrom(from), last = std::min(rows.firstFrom(to), first + far);
        for (std::uint32_t r = first; r < last; ++r)
            if (rows.kind(r) == SpanKind::Turn)
                worked += std::min(to, rows.end(r) < 0 ? to : rows.end(r)) - rows.start(r);
    }
    constexpr std::int64_t ofNoMatter = 5'000'000;
    if (worked < ofNoMatter || worked < row.idle / 10)
        return "the event loop waits for " + length;
    return QStringLiteral("nothing to show for %1; the event loop works for %2 of it")
        .arg(length, durationText(worked));
}

StoryTeller::StoryTeller(const TraceModel &trace, Handlers &handlers, const StoryChoice &choice)
    : eye_(trace, handlers, choice)
{
}

// The next few thousand spans, cut at one moment on all threads; false if there are not so many yet.
bool StoryTeller::nextPage(StoryPage &page) const
{
    const TraceModel &trace = eye_.trace();
    std::int64_t until = INT64_MAX;
    std::size_t active = 0;
    for (std::uint16_t i = 0; i < at_.size(); ++i)
        active += at_[i] < trace.rows(i).count();
    const std::uint32_t each = std::max(fewest, pageRows / std::uint32_t(std::max<std::size_t>(active, 1)));
    bool full = false;
    for (std::uint16_t i = 0; i < at_.size(); ++i)
        if (const ThreadRows &rows = trace.rows(i); at_[i] + each < rows.count()) {
            until = std::min(until, rows.start(at_[i] + each));
            full = true;
        }
    if (!full)
        return false;
    page = begun();
    for (std::uint16_t i = 0; i < at_.size(); ++i) {
        const ThreadRows &rows = trace.rows(i);
        if (at_[i] >= rows.count())
            continue;
        // Many rows at one moment are cut where the page is full.
        const std::uint32_t most = std::min(at_[i] + each, rows.count());
        take(page, i, rows.start(at_[i]) == until ? most : std::min(rows.firstFrom(until), most));
    }
    return true;
}

StoryPage StoryTeller::begun() const
{
    StoryPage page;
    page.start = INT64_MAX;
    page.lastEnd = lastEnd_;
    page.openBefore = open_;
    return page;
}

void StoryTeller::take(StoryPage &page, std::uint16_t thread, std::uint32_t to) const
{
    if (to <= at_[thread])
        return;
    page.start = std::min(page.start, eye_.trace().rows(thread).start(at_[thread]));
    page.parts.push_back({thread, at_[thread], to});
}

// All that is not in a page yet.
StoryPage StoryTeller::rest() const
{
    StoryPage page = begun();
    for (std::uint16_t i = 0; i < at_.size(); ++i)
        take(page, i, eye_.trace().rows(i).count());
    return page;
}

// Whether nothing that comes can change what is told of it: a turn that has just begun may still call. But
// there is an end to waiting for that.
bool StoryTeller::decided(const StoryPage &page)
{
    constexpr std::uint32_t mostWaiting = 32 * pageRows;
    std::uint64_t waiting = 0;
    for (std::uint16_t i = 0; i < at_.size(); ++i)
        waiting += eye_.trace().rows(i).count() - at_[i];
    const bool waits = waiting <= mostWaiting;
    for (const StoryPage::Part &p : page.parts) {
        const ThreadRows &rows = eye_.trace().rows(p.thread);
        // What is open has the part's last row in it, or is that.
        for (SpanId id(p.thread, p.to - 1); id && id.row() >= p.from; id = rows.parent(id.row())) {
            const SpanKind kind = rows.kind(id.row());
            const std::uint32_t reach = kind == SpanKind::Turn     ? turnReach
                                        : kind == SpanKind::Signal ? signalReach
                                                                   : 0;
            const bool mayBeTold =
                rows.count() < id.row() + reach || kind == SpanKind::Turn; // it may take long
            if (reach && rows.end(id.row()) < 0 && mayBeTold && !eye_.shows(rows, id.row())) {
                hurried_ = hurried_ || !waits;
                return !waits;
            }
        }
    }
    return true;
}

StoryTeller::News StoryTeller::advance(std::chrono::nanoseconds slice, int rows,
                                       const std::set<SpanId> &opened)
{
    const auto until = std::chrono::steady_clock::now() + slice;
    News news;
    at_.resize(eye_.trace().threadCount(), 0);
    for (StoryPage page; nextPage(page) && decided(page);) {
        PageEnd end;
        auto told = rowsOf(page, eye_, &end);
        constexpr std::size_t some = 32;
        for (std::size_t i = 0; i < told.size(); i += std::max<std::size_t>(1, told.size() / some))
            page.some.push_back(told[i].start);
        page.count = int((eye_.choice().folds ? folded(eye_.trace(), std::move(told), opened) : told).size());
        for (const StoryPage::Part &p : page.parts)
            at_[p.thread] = p.to;
        lastEnd_ = end.lastEnd;
        open_ = std::move(end.open);
        rows -= page.count;
        news.pages.push_back(std::move(page));
        if (rows <= 0 || std::chrono::steady_clock::now() >= until) {
            news.more = true;
            return news;
        }
    }
    news.rest = rest();
    news.tail = news.rest.rows(eye_, opened);
    return news;
}

} // namespace pipit
