#include "app/trace/trace_rows.h"

#include "app/session/background.h"
#include "core/trace/folds.h"

#include <algorithm>

namespace pipit::app
{

using namespace std::chrono_literals;

// One story: shared with the worker that goes on with it.
struct TraceRows::Telling {
    std::shared_ptr<const void> owner; // of the trace, which stays alive meanwhile
    StoryTeller teller;
};

TraceRows::TraceRows(Session *session) : QAbstractListModel(session), session_(session)
{
    pool_.setMaxThreadCount(2); // the next story need not wait for the last slice of the one before
    quietPool_.setMaxThreadCount(1);
}

TraceRows::~TraceRows() = default;

void TraceRows::tell(const StoryChoice &choice)
{
    beginResetModel();
    choice_ = choice;
    choice_.folds = true;
    pages_.clear();
    tail_.clear();
    opened_.clear();
    rest_ = {};
    made_.clear();
    paged_ = 0;
    telling_ = again_ = false;
    teller_.reset();
    eye_.reset();
    if (const TraceModel *trace = session_->shown.trace()) {
        Handlers &handlers = *session_->shown.handlers();
        eye_ = std::make_unique<StoryEye>(*trace, handlers, choice_);
        teller_ = std::make_shared<Telling>(
            Telling{session_->shown.owner(), StoryTeller(*trace, handlers, choice_)});
    }
    endResetModel();
    ask(true);
}

void TraceRows::refresh()
{
    again_ = telling_;
    if (!telling_)
        ask(true);
}

bool TraceRows::hurried() const
{
    return teller_ && !telling_ && teller_->teller.hurried();
}

// Enough to fill the view, if it comes within three glances: what comes next waits for a thread that stands
// back.
static StoryTeller::News firstGlance(StoryTeller &teller, std::chrono::nanoseconds glance, int rows,
                                     const std::set<SpanId> &opened)
{
    constexpr int fillsTheView = 40, glances = 3;
    StoryTeller::News news = teller.advance(glance, rows, opened);
    int told = 0;
    for (const StoryPage &p : news.pages)
        told += p.count;
    for (int i = 1; i < glances && news.more && told < fillsTheView; ++i) {
        StoryTeller::News next = teller.advance(glance, rows, opened);
        for (StoryPage &p : next.pages) {
            told += p.count;
            news.pages.push_back(std::move(p));
        }
        news.tail = std::move(next.tail);
        news.rest = std::move(next.rest);
        news.more = next.more;
    }
    return news;
}

// First what there is to see at once; the rest by a thread that stands back for those who paint it.
void TraceRows::ask(bool first)
{
    if (!teller_)
        return;
    telling_ = true;
    inBackground(
        first ? &pool_ : &quietPool_, this,
        [telling = teller_, first, opened = opened_] {
            constexpr auto glance = 4ms, slice = 40ms;
            constexpr int inSight = 200;
            if (first)
                return firstGlance(telling->teller, glance, inSight, opened);
            lowerThreadPriority();
            return telling->teller.advance(slice, INT_MAX, opened);
        },
        [this, telling = std::weak_ptr(teller_)](StoryTeller::News news) {
            if (telling.lock() != teller_ || !teller_)
                return; // another story by now
            const bool more = news.more || std::exchange(again_, false);
            take(std::move(news));
            telling_ = false;
            if (more)
                ask(false);
            Q_EMIT arrived();
        });
}

// Rows that are told as before stay; what is told otherwise by now is replaced.
void TraceRows::take(StoryTeller::News news)
{
    rest_ = std::move(news.rest);
    if (!opened_.empty()) { // some may have been opened or closed meanwhile
        for (StoryPage &p : news.pages)
            p.count = int(p.rows(*eye_, opened_).size());
        news.tail = rest_.rows(*eye_, opened_);
    }
    int pages = 0;
    for (const StoryPage &p : news.pages)
        pages += p.count;
    const int total = pages + int(news.tail.size()), had = int(tail_.size());
    std::vector<StoryRow> before = std::exchange(tail_, {});
    const int base = paged_;
    // What stood in the tail is in the first of the pages now, as a rule.
    std::vector<StoryRow> now;
    for (std::size_t i = 0; i < news.pages.size() && int(now.size()) < had; ++i) {
        const auto rows = news.pages[i].rows(*eye_, opened_);
        now.insert(now.end(), rows.begin(), rows.end());
    }
    if (int(now.size()) < had)
        now.insert(now.end(), news.tail.begin(), news.tail.end());
    const int same = int(std::mismatch(before.begin(), before.end(), now.begin(), now.end(),
                                       [](const StoryRow &a, const StoryRow &b) { return a.isSame(b); })
                             .first -
                         before.begin());
    if (same < had) {
        tail_.assign(before.begin(), before.end());
        beginRemoveRows({}, base + same, base + had - 1);
        tail_.resize(std::size_t(same));
        endRemoveRows();
    }
    if (total > same)
        beginInsertRows({}, base + same, base + total - 1);
    for (StoryPage &p : news.pages) {
        const int first = paged_;
        paged_ += p.count;
        pages_.push_back({std::move(p), first});
    }
    tail_ = std::move(news.tail);
    if (total > same)
        endInsertRows();
    for (int i = 0; i < same; ++i) // what repeats has come more often since
        if (!(before[std::size_t(i)] == now[std::size_t(i)]))
            Q_EMIT dataChanged(index(base + i), index(base + i));
}

std::size_t TraceRows::pageOf(int row) const
{
    const auto it =
        std::upper_bound(pages_.begin(), pages_.end(), row, [](int r, const Page &p) { return r < p.first; });
    return std::size_t(it - pages_.begin()) - 1;
}

const std::vector<StoryRow> &TraceRows::rowsOf(std::size_t page) const
{
    const auto it = std::find_if(made_.begin(), made_.end(), [&](const auto &m) { return m.first == page; });
    if (it != made_.end()) {
        if (it != made_.begin())
            std::swap(*it, made_.front());
        return made_.front().second;
    }
    constexpr std::size_t kept = 8;
    if (made_.size() >= kept)
        made_.pop_back();
    made_.emplace_front(page, pages_[page].story.rows(*eye_, opened_));
    made_.front().second.resize(std::size_t(pages_[page].story.count)); // as many as were counted
    return made_.front().second;
}

StoryRow TraceRows::at(int row) const
{
    if (row < 0 || row >= rowCount())
        return {};
    if (row >= paged_)
        return tail_[std::size_t(row - paged_)];
    const std::size_t page = pageOf(row);
    return rowsOf(page)[std::size_t(row - pages_[page].first)];
}

Span TraceRows::spanAt(int row) const
{
    const StoryRow r = at(row);
    return r.span ? session_->shown.trace()->span(r.span) : Span{};
}

int TraceRows::rowOf(SpanId span) const
{
    const auto find = [&](const std::vector<StoryRow> &rows, const StoryPage &page) {
        const auto its = [&](const StoryRow &r) { return r.span == span; };
        const auto stands = [&](const StoryRow &r) { return its(r) && !(r.repeats && r.repeats->opened); };
        if (const auto it = std::find_if(rows.begin(), rows.end(), stands); it != rows.end())
            return int(it - rows.begin());
        const auto all = page.unfolded(*eye_);
        const auto hidden = std::find_if(all.begin(), all.end(), its);
        if (hidden == all.end())
            return -1;
        const auto number = std::uint32_t(hidden - all.begin());
        const auto holds = [&](const StoryRow &r) {
            return r.repeats && !r.repeats->opened && number - r.repeats->at < r.repeats->rows;
        };
        const auto fold = std::find_if(rows.begin(), rows.end(), holds);
        return fold == rows.end() ? -1 : int(fold - rows.begin());
    };
    if (!eye_)
        return -1;
    for (std::size_t i = 0; i < pages_.size(); ++i)
        for (const StoryPage::Part &p : pages_[i].story.parts)
            if (p.thread == span.thread() && span.row() >= p.from && span.row() < p.to) {
                const int at = find(rowsOf(i), pages_[i].story);
                return at < 0 ? -1 : pages_[i].first + at;
            }
    const int at = find(tail_, rest_);
    return at < 0 ? -1 : paged_ + at;
}

int TraceRows::reveal(SpanId span)
{
    int row = rowOf(span);
    constexpr int deepest = 8;
    for (int i = 0; i < deepest && row >= 0 && isFold(row) && at(row).span != span; ++i) {
        toggle(row);
        row = rowOf(span);
    }
    return row;
}

int TraceRows::foldOf(int row) const
{
    const int depth = at(row).depth;
    constexpr int far = 20'000;
    for (int i = row - 1; i >= 0 && row - i < far; --i)
        if (const StoryRow r = at(i); r.depth < depth && r.repeats && r.repeats->opened)
            return i;
        else if (r.depth == 0 && r.span)
            break;
    return -1;
}

bool TraceRows::toggle(int row)
{
    const StoryRow fold = at(row);
    if (!fold.repeats || !eye_)
        return false;
    if (!opened_.erase(fold.span))
        opened_.insert(fold.span);
    const bool inTail = row >= paged_;
    const std::size_t page = inTail ? pages_.size() : pageOf(row);
    auto rows = (inTail ? rest_ : pages_[page].story).rows(*eye_, opened_);
    const int had = inTail ? int(tail_.size()) : pages_[page].story.count, more = int(rows.size()) - had;
    // What it stands for comes and goes behind it; all else stays.
    if (more < 0 && row - more >= rowCount())
        return false; // what came since is told otherwise: at the next refresh
    if (more > 0)
        beginInsertRows({}, row + 1, row + more);
    else if (more < 0)
        beginRemoveRows({}, row + 1, row - more);
    if (inTail) {
        tail_ = std::move(rows);
    } else {
        made_.erase(
            std::remove_if(made_.begin(), made_.end(), [&](const auto &m) { return m.first == page; }),
            made_.end());
        pages_[page].story.count += more;
        for (std::size_t i = page + 1; i < pages_.size(); ++i)
            pages_[i].first += more;
        paged_ += more;
    }
    if (more > 0)
        endInsertRows();
    else if (more < 0)
        endRemoveRows();
    Q_EMIT dataChanged(index(row), index(row));
    return true;
}

std::vector<std::int64_t> TraceRows::someTimes() const
{
    std::vector<std::int64_t> times;
    for (const Page &p : pages_)
        times.insert(times.end(), p.story.some.begin(), p.story.some.end());
    for (const StoryRow &r : tail_)
        times.push_back(r.start);
    return times;
}

int TraceRows::rowAt(std::int64_t time) const
{
    const auto last = [&](const std::vector<StoryRow> &rows) {
        return int(std::upper_bound(rows.begin(), rows.end(), time,
                                    [](std::int64_t t, const StoryRow &r) { return t < r.start; }) -
                   rows.begin()) -
               1;
    };
    if (const int at = last(tail_); at >= 0)
        return paged_ + at;
    auto it = std::upper_bound(pages_.begin(), pages_.end(), time,
                               [](std::int64_t t, const Page &p) { return t < p.story.start; });
    while (it != pages_.begin()) {
        --it;
        if (const int at = last(rowsOf(std::size_t(it - pages_.begin()))); at >= 0)
            return it->first + at;
    }
    return rowCount() ? 0 : -1;
}

QString TraceRows::sentence(int row) const
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || row < 0 || row >= rowCount())
        return {};
    const StoryRow r = at(row);
    if (!r.span)
        return idleText(*trace, r, choice_);
    if (r.repeats)
        return repeatText(*trace, *session_->shown.handlers(), r);
    return sentenceOf(*trace, *session_->shown.handlers(), trace->span(r.span));
}

QVariant TraceRows::data(const QModelIndex &index, int role) const
{
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
        return sentence(index.row());
    return {};
}

} // namespace pipit::app
