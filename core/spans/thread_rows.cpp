#include "core/spans/thread_rows.h"

#include <algorithm>
#include <cstring>
#include <new>

namespace pipit
{

namespace
{

constexpr auto relaxed = std::memory_order_relaxed;
constexpr std::uint32_t alikePage = 64, baseRows = 64;
constexpr unsigned smallChunks = 8; // of 16, 32, … 2048 rows
constexpr std::uint32_t inSmall = ThreadRows::firstRows * ((1u << smallChunks) - 1);
constexpr std::uint16_t noParent = 0, amongAncestors = 0x8000;

// Cells of a column that are written after they were published.
template <class T> std::atomic_ref<T> cell(T *column, std::uint32_t i)
{
    return std::atomic_ref<T>(column[i]);
}

} // namespace

struct ThreadRows::Chunk {
    std::uint32_t first = 0;
    std::uint32_t firstEdge = 0;
    std::atomic<std::uint32_t> alikes{0};
    std::int64_t *bases = nullptr; // of 64 rows each, ns
    std::uint32_t *starts = nullptr, *durations = nullptr;
    std::uint16_t *alike = nullptr, *up = nullptr;
    Alike **pages = nullptr;            // of alikes
    std::uint32_t *ancestors = nullptr; // rows open when it began, the outermost first

    std::int64_t base(std::uint32_t i) const { return bases[i / baseRows]; }
};

// Small and open: linear probing over a power of two.
struct ThreadRows::Numbers {
    std::vector<std::uint16_t> table; // number + 1
    std::uint32_t used = 0;
    void clear()
    {
        table.assign(256, 0);
        used = 0;
    }
    static std::size_t hash(const Alike &a)
    {
        std::uint64_t h = (std::uint64_t(a.object) << 32 | a.what) * 0x9e3779b97f4a7c15u;
        h ^= (std::uint64_t(a.kind) << 16 | a.flags) * 0xc2b2ae3d27d4eb4fu;
        return std::size_t(h ^ h >> 29);
    }
};

ThreadRows::ThreadRows(SpanMemory &memory, std::uint16_t thread)
    : memory_(memory), thread_(thread), edges_(memory), causes_(memory), loopEnds_(memory), inputs_(memory),
      hops_(memory), numbers_(std::make_unique<Numbers>())
{
    numbers_->clear();
}

ThreadRows::~ThreadRows() = default;

std::uint32_t ThreadRows::chunkOf(std::uint32_t row)
{
    return row < inSmall ? std::uint32_t(std::bit_width(row / firstRows + 1)) - 1
                         : smallChunks + (row - inSmall) / chunkRows;
}

ThreadRows::ChunkRange ThreadRows::rowsOf(std::uint32_t chunk)
{
    if (chunk >= smallChunks) {
        const std::uint32_t first = inSmall + (chunk - smallChunks) * chunkRows;
        return {first, first + chunkRows};
    }
    const std::uint32_t first = firstRows * ((1u << chunk) - 1);
    return {first, first + (firstRows << chunk)};
}

// The chunk for the next row, a new one where that begins one; null when there is no memory.
ThreadRows::Chunk *ThreadRows::chunkFor(std::uint32_t row)
{
    const std::uint32_t number = chunkOf(row);
    if (number < chunks_.size())
        return chunks_[number];
    const ChunkRange range = rowsOf(number);
    const std::size_t rows = range.end - range.first;
    const auto take = [&]<class T>(T *&to, std::size_t n) {
        to = static_cast<T *>(memory_.take(n * sizeof(T)));
        return to != nullptr || n == 0;
    };
    void *at = memory_.take(sizeof(Chunk));
    if (!at)
        return nullptr;
    auto *c = new (at) Chunk;
    c->first = range.first;
    c->firstEdge = edges_.size();
    if (!take(c->bases, (rows + baseRows - 1) / baseRows) || !take(c->starts, rows) ||
        !take(c->durations, rows) || !take(c->alike, rows) || !take(c->up, rows) ||
        !take(c->pages, (2 * rows + alikePage - 1) / alikePage) || !take(c->ancestors, open_.size()))
        return nullptr;
    std::copy(open_.begin(), open_.end(), c->ancestors);
    chunks_.add(c);
    numbers_->clear();
    return c;
}

// A time that fits into 31 bits is kept in the row, others apart.
std::uint32_t ThreadRows::packed(std::int64_t time)
{
    return time < std::int64_t(elsewhere) ? std::uint32_t(time) : elsewhere | times_.add(time);
}

std::int64_t ThreadRows::unpacked(std::uint32_t word) const
{
    return word & elsewhere ? times_[word & ~elsewhere] : std::int64_t(word);
}

std::uint16_t ThreadRows::numberOf(Chunk &c, const Alike &alike)
{
    const std::uint32_t count = c.alikes.load(relaxed);
    const bool last = &c == chunks_[chunks_.size() - 1];
    auto &table = numbers_->table;
    std::size_t slot = 0;
    if (last) {
        slot = Numbers::hash(alike) & (table.size() - 1);
        for (; table[slot]; slot = (slot + 1) & (table.size() - 1)) {
            const std::uint16_t n = std::uint16_t(table[slot] - 1);
            if (c.pages[n / alikePage][n % alikePage] == alike)
                return n;
        }
    } else { // a row that outlived its chunk: rare
        for (std::uint32_t n = 0; n < count; ++n)
            if (c.pages[n / alikePage][n % alikePage] == alike)
                return std::uint16_t(n);
    }
    // There is room for two of each row: flags change once, when it ends.
    Alike *&page = c.pages[count / alikePage];
    if (!page && !(page = static_cast<Alike *>(memory_.take(alikePage * sizeof(Alike)))))
        return UINT16_MAX;
    page[count % alikePage] = alike;
    c.alikes.store(count + 1, std::memory_order_release);
    if (last) {
        table[slot] = std::uint16_t(count + 1);
        if (++numbers_->used * 2 > table.size()) { // sparse, so that it stays quick
            std::vector<std::uint16_t> wider(table.size() * 4, 0);
            for (std::uint32_t n = 0; n <= count; ++n) {
                std::size_t to = Numbers::hash(c.pages[n / alikePage][n % alikePage]) & (wider.size() - 1);
                while (wider[to])
                    to = (to + 1) & (wider.size() - 1);
                wider[to] = std::uint16_t(n + 1);
            }
            table = std::move(wider);
        }
    }
    return std::uint16_t(count);
}

std::uint32_t ThreadRows::open(SpanKind kind, std::int64_t start, std::uint32_t object, std::uint32_t what,
                               std::uint16_t flags)
{
    const std::uint32_t row = written_;
    start = last_ = std::max(start, last_);
    Chunk *c = row < UINT32_MAX - 1 && !full_ ? chunkFor(row) : nullptr;
    const std::uint16_t number = c ? numberOf(*c, {object, what, kind, flags}) : UINT16_MAX;
    if (!c || number == UINT16_MAX) {
        full_ = true;
        return row;
    }
    const std::uint32_t i = row - c->first;
    if (i % baseRows == 0)
        c->bases[i / baseRows] = start;
    c->starts[i] = packed(start - c->base(i));
    c->durations[i] = openStill;
    c->alike[i] = number;
    if (open_.empty())
        c->up[i] = noParent;
    else if (open_.back() >= c->first)
        c->up[i] = std::uint16_t(row - open_.back());
    else
        c->up[i] = std::uint16_t(amongAncestors | (open_.size() - 1));
    open_.push_back(row);
    ++written_;
    return row;
}

std::uint32_t ThreadRows::open(std::int64_t start, std::uint32_t object, std::uint32_t what,
                               std::uint16_t flags, const Posting &posting)
{
    if (!edges_.reserve()) {
        full_ = true;
        return written_;
    }
    start = std::max(start, last_);
    const std::uint32_t row = open(SpanKind::Dispatch, start, object, what, flags | WasPosted);
    if (full_)
        return row;
    // What is dispatched before it was posted, by clocks of two threads, waited no time, and its own is kept.
    Edge e{row, posting.cause.row(), 0, posting.cause ? posting.cause.thread() : std::uint16_t(0),
           bool(posting.cause)};
    const std::int64_t wait = start - posting.time;
    e.wait = wait >= 0 && wait < std::int64_t(elsewhere) ? std::uint32_t(wait) : elsewhere | times_.add(wait);
    edges_.add(e);
    return row;
}

void ThreadRows::close(std::int64_t end, std::uint16_t flags)
{
    const std::uint32_t row = open_.back();
    open_.pop_back();
    Chunk &c = chunk(chunkOf(row));
    const std::uint32_t i = row - c.first;
    end = last_ = std::max(end, last_);
    const std::int64_t began = c.base(i) + unpacked(c.starts[i]);
    const std::uint16_t before = cell(c.alike, i).load(relaxed);
    const Alike &was = c.pages[before / alikePage][before % alikePage];
    if (flags & ~was.flags) {
        const std::uint16_t n =
            numberOf(c, {was.object, was.what, was.kind, std::uint16_t(was.flags | flags)});
        if (n != UINT16_MAX)
            cell(c.alike, i).store(n, std::memory_order_release);
    }
    if (was.kind == SpanKind::Turn && !((was.flags | flags) & BesideLoss))
        zoom_.add(row, end - began);
    cell(c.durations, i).store(packed(end - began), std::memory_order_release);
}

void ThreadRows::close(std::int64_t end, std::uint16_t flags, const std::vector<Hop> &hops)
{
    const std::uint32_t row = open_.back();
    for (const Hop &hop : hops) {
        if (!hops_.reserve()) {
            full_ = true;
            break;
        }
        hops_.add({row, hop});
        flags |= HasHops;
    }
    close(end, flags);
}

void ThreadRows::describe(const InputInfo &input)
{
    if (written_ == 0 || !inputs_.reserve())
        return;
    inputs_.add({written_ - 1, input});
}

void ThreadRows::addCause(std::uint32_t row, const Cause &cause)
{
    Pages<CauseOfRow> &to = cause.kind == CauseKind::LoopEnded ? loopEnds_ : causes_;
    if (to.reserve())
        to.add({row, cause});
    else
        full_ = true;
}

std::uint32_t ThreadRows::firstCauseFrom(std::uint32_t row) const
{
    std::uint32_t from = 0, to = causes_.size();
    while (from < to) {
        const std::uint32_t middle = from + (to - from) / 2;
        if (causes_[middle].row < row)
            from = middle + 1;
        else
            to = middle;
    }
    return from;
}

std::vector<Cause> ThreadRows::causes(std::uint32_t row) const
{
    std::vector<Cause> all;
    const std::uint32_t end = causes_.size();
    for (std::uint32_t n = firstCauseFrom(row); n < end && causes_[n].row == row; ++n)
        all.push_back(causes_[n].cause);
    if (kind(row) == SpanKind::Loop)
        for (std::uint32_t n = 0; n < loopEnds_.size(); ++n)
            if (loopEnds_[n].row == row)
                all.push_back(loopEnds_[n].cause);
    return all;
}

std::optional<InputInfo> ThreadRows::input(std::uint32_t row) const
{
    std::uint32_t from = 0, to = inputs_.size();
    while (from < to) {
        const std::uint32_t middle = from + (to - from) / 2;
        if (inputs_[middle].row < row)
            from = middle + 1;
        else
            to = middle;
    }
    if (from >= inputs_.size() || inputs_[from].row != row)
        return std::nullopt;
    return inputs_[from].input;
}

// Rows that ended one after the other have ends that do not go back.
std::vector<Hop> ThreadRows::hops(std::uint32_t row) const
{
    const std::uint32_t wanted = after(row);
    std::uint32_t from = 0, to = hopCount();
    while (from < to) {
        const std::uint32_t middle = from + (to - from) / 2;
        if (after(hops_[middle].row) < wanted)
            from = middle + 1;
        else
            to = middle;
    }
    std::vector<Hop> found;
    for (; from < hopCount() && (hops_[from].row == row || (found.empty() && hops_[from].row > row)); ++from)
        if (hops_[from].row == row)
            found.push_back(hops_[from].hop);
    return found;
}

Span ThreadRows::at(std::uint32_t row) const
{
    const Chunk &c = chunk(chunkOf(row));
    const std::uint32_t i = row - c.first;
    Span s;
    s.id = SpanId(thread_, row);
    s.thread = thread_;
    s.start = c.base(i) + unpacked(c.starts[i]);
    const std::uint32_t took = cell(c.durations, i).load(std::memory_order_acquire);
    s.end = took == openStill ? -1 : s.start + unpacked(took);
    const std::uint16_t n = cell(c.alike, i).load(std::memory_order_acquire);
    const Alike &a = c.pages[n / alikePage][n % alikePage];
    s.object = a.object;
    s.what = a.what;
    s.kind = a.kind;
    s.flags = a.flags;
    s.parent = parent(row);
    return s;
}

SpanKind ThreadRows::kind(std::uint32_t row) const
{
    return alike(chunkOf(row), alikeOf(row)).kind;
}

std::int64_t ThreadRows::start(std::uint32_t row) const
{
    const Chunk &c = chunk(chunkOf(row));
    const std::uint32_t i = row - c.first;
    return c.base(i) + unpacked(c.starts[i]);
}

std::int64_t ThreadRows::end(std::uint32_t row) const
{
    const Chunk &c = chunk(chunkOf(row));
    const std::uint32_t i = row - c.first;
    const std::uint32_t took = cell(c.durations, i).load(std::memory_order_acquire);
    return took == openStill ? -1 : c.base(i) + unpacked(c.starts[i]) + unpacked(took);
}

SpanId ThreadRows::parent(std::uint32_t row) const
{
    const Chunk &c = chunk(chunkOf(row));
    const std::uint16_t up = c.up[row - c.first];
    if (up == noParent)
        return {};
    return SpanId(thread_, up & amongAncestors ? c.ancestors[up & ~amongAncestors] : row - up);
}

std::uint32_t ThreadRows::alikes(std::uint32_t chunkNumber) const
{
    return chunk(chunkNumber).alikes.load(std::memory_order_acquire);
}

const ThreadRows::Alike &ThreadRows::alike(std::uint32_t chunkNumber, std::uint32_t number) const
{
    return chunk(chunkNumber).pages[number / alikePage][number % alikePage];
}

std::uint32_t ThreadRows::alikeOf(std::uint32_t row) const
{
    const Chunk &c = chunk(chunkOf(row));
    return cell(c.alike, row - c.first).load(std::memory_order_acquire);
}

std::uint32_t ThreadRows::firstPostedFrom(std::uint32_t row) const
{
    std::uint32_t from = 0, to = postedCount();
    if (row < count()) { // what was posted by the beginning of its chunk is known
        const std::uint32_t number = chunkOf(row);
        from = chunk(number).firstEdge;
        if (number + 1 < chunks_.size())
            to = chunk(number + 1).firstEdge;
    }
    while (from < to) {
        const std::uint32_t middle = from + (to - from) / 2;
        if (edges_[middle].row < row)
            from = middle + 1;
        else
            to = middle;
    }
    return from;
}

Posting ThreadRows::posting(std::uint32_t row) const
{
    const std::uint32_t n = firstPostedFrom(row);
    if (n >= postedCount() || edges_[n].row != row)
        return {};
    const Edge &e = edges_[n];
    return {start(row) - unpacked(e.wait), e.caused ? SpanId(e.causeThread, e.causeRow) : SpanId()};
}

std::uint32_t ThreadRows::firstFrom(std::int64_t time) const
{
    std::uint32_t from = 0, to = count();
    while (from < to) {
        const std::uint32_t middle = from + (to - from) / 2;
        if (start(middle) < time)
            from = middle + 1;
        else
            to = middle;
    }
    return from;
}

std::uint32_t ThreadRows::after(std::uint32_t row) const
{
    const std::uint32_t all = count();
    const std::int64_t ended = end(row);
    if (ended < 0)
        return all;
    // Most subtrees are small.
    std::uint32_t from = row + 1, step = 1, to = from;
    while (to < all && start(to) < ended) {
        from = to + 1;
        to += step;
        step *= 2;
    }
    to = std::min(to, all);
    while (from < to) {
        const std::uint32_t middle = from + (to - from) / 2;
        if (start(middle) < ended)
            from = middle + 1;
        else
            to = middle;
    }
    // What began in the very nanosecond in which it ended lies in it if its parents say so.
    const auto within = [&](std::uint32_t r) {
        SpanId p = parent(r);
        while (p && p.row() > row)
            p = parent(p.row());
        return p && p.row() == row;
    };
    while (from < all && start(from) == ended && within(from))
        ++from;
    return from;
}

} // namespace pipit
