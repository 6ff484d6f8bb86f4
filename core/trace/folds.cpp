#include "core/trace/folds.h"

#include "core/base/duration_text.h"
#include "core/trace/inputs.h"

#include <QEvent>

#include <algorithm>
#include <unordered_map>

namespace pipit
{

namespace
{

constexpr std::size_t fewest = 3, mostParts = 4;
// What follows something that must be seen, until the loop is idle, or for so long, may well come of it.
constexpr std::int64_t aftermath = 200'000'000;

// A row and all that lies in it; of the outermost ones with the idle time before it.
struct Group {
    std::size_t at, root, end; // rows: its first, its own, the one behind it
    std::uint64_t shape = 0;   // 0: it is not folded
    std::int64_t start = 0;
};

bool mustBeSeen(int type)
{
    switch (type) {
    case QEvent::MouseButtonPress:
    case QEvent::MouseButtonRelease:
    case QEvent::MouseButtonDblClick:
    case QEvent::Drop:
    case QEvent::Close:
    case QEvent::Shortcut:
        return true;
    default:
        return false;
    }
}

void mix(std::uint64_t &hash, std::uint64_t value)
{
    hash = (hash ^ value) * 0x9e3779b97f4a7c15u;
    hash ^= hash >> 29;
}

class Folding
{
public:
    Folding(const TraceModel &trace, const std::vector<StoryRow> &rows, const std::set<SpanId> &opened)
        : trace_(trace), rows_(rows), opened_(opened)
    {
    }

    std::vector<StoryRow> take()
    {
        level(0, rows_.size(), 0);
        return std::move(told_);
    }

private:
    void mixRow(std::uint64_t &hash, const StoryRow &row, int depth, bool &folds) const
    {
        const Span s = trace_.span(row.span);
        folds = folds && !s.open() && s.judged() && s.kind != SpanKind::Loop && !(s.flags & ByException) &&
                s.end - s.start < TraceModel::shortestStretch;
        mix(hash, std::uint64_t(s.kind) << 8 | std::uint64_t(row.depth - depth));
        if (s.kind == SpanKind::Turn)
            return;
        mix(hash, std::uint64_t(s.object) << 32 | s.what);
        if (s.kind == SpanKind::Dispatch) {
            folds = folds && !mustBeSeen(int(s.what));
            if (s.what == QEvent::KeyPress || s.what == QEvent::KeyRelease ||
                s.what == QEvent::ShortcutOverride)
                if (const auto input = inputOf(trace_, s))
                    mix(hash, std::uint64_t(std::uint32_t(input->key)) << 8 | input->modifiers);
        }
    }

    // Those at this depth in some rows, which are neighbours.
    std::vector<Group> groupsIn(std::size_t from, std::size_t to, int depth) const
    {
        std::vector<Group> groups;
        for (std::size_t i = from; i < to;) {
            Group g{i, i, 0};
            if (!rows_[i].span && i + 1 < to)
                ++g.root;
            g.end = g.root + 1;
            while (g.end < to && rows_[g.end].depth > depth)
                ++g.end;
            g.start = rows_[g.root].start;
            bool folds = rows_[g.root].span && rows_[g.root].depth == depth;
            std::uint64_t hash = 1;
            for (std::size_t k = g.root; k < g.end && folds; ++k)
                mixRow(hash, rows_[k], depth, folds);
            g.shape = folds ? hash | 1 : 0;
            groups.push_back(g);
            i = g.end;
        }
        return groups;
    }

    // What is rare is no repetition, and what may have come of what must be seen stays beside it.
    void spare(std::vector<Group> &groups) const
    {
        std::unordered_map<std::uint64_t, std::size_t> counts;
        for (const Group &g : groups)
            ++counts[g.shape];
        std::int64_t until = 0;
        for (Group &g : groups) {
            const bool idleBefore = g.root != g.at;
            if (!g.shape || counts[g.shape] < fewest) {
                g.shape = 0;
                const bool begins =
                    rows_[g.root].span && trace_.span(rows_[g.root].span).kind == SpanKind::Loop;
                until = begins ? 0 : endOf(g) + aftermath;
            } else if (idleBefore) {
                until = 0;
            } else if (g.start < until && rows_[g.root].depth == 0) {
                g.shape = 0;
            }
        }
    }

    std::int64_t endOf(const Group &g) const
    {
        const std::int64_t end = rows_[g.root].span ? trace_.span(rows_[g.root].span).end : 0;
        return end < 0 ? g.start : end;
    }

    // How many groups from here on are of a few kinds that repeat.
    static std::size_t repeatsAt(const std::vector<Group> &g, std::size_t i)
    {
        std::vector<std::pair<std::uint64_t, std::size_t>> kinds;
        std::size_t n = i, most = 0;
        for (; n < g.size() && g[n].shape; ++n) {
            auto it =
                std::find_if(kinds.begin(), kinds.end(), [&](auto &k) { return k.first == g[n].shape; });
            if (it == kinds.end()) {
                if (kinds.size() == mostParts)
                    break;
                it = kinds.insert(kinds.end(), {g[n].shape, 0});
            }
            most = std::max(most, ++it->second);
        }
        return most >= fewest ? n - i : 0;
    }

    void level(std::size_t from, std::size_t to, int depth)
    {
        std::vector<Group> groups = groupsIn(from, to, depth);
        spare(groups);
        for (std::size_t i = 0; i < groups.size();) {
            const std::size_t count = repeatsAt(groups, i);
            const Group &g = groups[i];
            for (std::size_t k = g.at; k < g.root; ++k)
                told_.push_back(shifted(rows_[k]));
            if (count) {
                fold(groups, i, count);
                i += count;
                continue;
            }
            tellGroup(g);
            ++i;
        }
    }

    void tellGroup(const Group &g)
    {
        told_.push_back(shifted(rows_[g.root]));
        if (g.end > g.root + 1)
            level(g.root + 1, g.end, rows_[g.root + 1].depth);
    }

    void fold(const std::vector<Group> &groups, std::size_t i, std::size_t count)
    {
        const Group &first = groups[i], &last = groups[i + count - 1];
        StoryRow row = shifted(rows_[first.root]);
        auto r = std::make_shared<Repeats>();
        r->at = std::uint32_t(first.root);
        r->rows = std::uint32_t(last.end - first.root);
        r->opened = opened_.count(row.span) != 0;
        r->end = endOf(last);
        r->parts = partsOf(groups, i, count);
        const bool opened = r->opened;
        row.repeats = std::move(r);
        told_.push_back(row);
        if (!opened)
            return;
        ++deeper_;
        for (std::size_t k = i; k < i + count; ++k) {
            for (std::size_t at = groups[k].at; k > i && at < groups[k].root; ++at)
                told_.push_back(shifted(rows_[at]));
            tellGroup(groups[k]);
        }
        --deeper_;
    }

    std::vector<Repeats::Part> partsOf(const std::vector<Group> &groups, std::size_t i,
                                       std::size_t count) const
    {
        struct Kind {
            std::uint64_t shape;
            std::size_t within; // from the group's own row to the one that it is told by
            std::int64_t firstStart, lastStart;
        };
        std::vector<Kind> kinds;
        std::vector<Repeats::Part> parts;
        for (std::size_t k = i; k < i + count; ++k) {
            const Group &g = groups[k];
            std::size_t n = 0;
            while (n < kinds.size() && kinds[n].shape != g.shape)
                ++n;
            if (n == kinds.size()) {
                const std::size_t at = tellingRow(g);
                kinds.push_back({g.shape, at - g.root, g.start, g.start});
                parts.push_back({rows_[at].span, 0, 0, std::numeric_limits<std::int64_t>::max(), 0});
            }
            const Span s = trace_.span(rows_[g.root + kinds[n].within].span);
            Repeats::Part &part = parts[n];
            ++part.times;
            part.shortest = std::min(part.shortest, s.end - s.start);
            part.longest = std::max(part.longest, s.end - s.start);
            kinds[n].lastStart = g.start;
        }
        for (std::size_t n = 0; n < parts.size(); ++n)
            if (parts[n].times > 1)
                parts[n].every = (kinds[n].lastStart - kinds[n].firstStart) / (parts[n].times - 1);
        return parts;
    }

    // What a group is told by: the first call in it, or signal, or what is no turn.
    std::size_t tellingRow(const Group &g) const
    {
        for (const SpanKind kind : {SpanKind::Call, SpanKind::Signal})
            for (std::size_t k = g.root; k < g.end; ++k)
                if (trace_.rows(rows_[k].span.thread()).kind(rows_[k].span.row()) == kind)
                    return k;
        const Span root = trace_.span(rows_[g.root].span);
        return root.kind == SpanKind::Turn && g.end > g.root + 1 ? g.root + 1 : g.root;
    }

    StoryRow shifted(StoryRow row) const
    {
        row.depth += deeper_;
        return row;
    }

    const TraceModel &trace_;
    const std::vector<StoryRow> &rows_;
    const std::set<SpanId> &opened_;
    std::vector<StoryRow> told_;
    int deeper_ = 0;
};

} // namespace

std::vector<StoryRow> folded(const TraceModel &trace, std::vector<StoryRow> rows,
                             const std::set<SpanId> &opened)
{
    return Folding(trace, rows, opened).take();
}

QString repeatText(const TraceModel &trace, Handlers &handlers, const StoryRow &fold)
{
    if (!fold.repeats)
        return {};
    QStringList parts;
    for (const Repeats::Part &part : fold.repeats->parts) {
        const Span s = trace.span(part.first);
        const HandlerName *h = s.kind == SpanKind::Call ? &handlers.of(s.what) : nullptr;
        QString text = h && !h->source.isEmpty() && !h->signal.isEmpty()
                           ? QStringLiteral("%1 · %2 calls %3").arg(h->source, h->signal, h->name)
                           : sentenceOf(trace, handlers, s);
        text += part.times == 1 ? QString(", once") : QStringLiteral(", %1 times").arg(part.times);
        constexpr std::int64_t leastInterval = 1'000'000;
        if (part.times >= fewest && part.every >= leastInterval)
            text += ", every " + durationText(part.every);
        const QString shortest = durationText(part.shortest), longest = durationText(part.longest);
        parts << text + ", " + (shortest == longest ? longest : shortest + " to " + longest);
    }
    return parts.join("; ");
}

} // namespace pipit
