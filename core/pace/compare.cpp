#include "core/pace/compare.h"

#include <algorithm>
#include <cmath>

namespace pipit
{

namespace
{

void addThread(RunFigures &f, const TraceModel &trace, const ThreadRows &rows, TimeRange range)
{
    const std::uint32_t count = rows.count();
    const std::int64_t now = trace.now();
    for (std::uint32_t i = range.from == INT64_MIN ? 0 : rows.firstFrom(range.from); i < count; ++i) {
        if (rows.kind(i) != SpanKind::Turn)
            continue;
        const Span s = rows.at(i);
        if (s.start > range.to)
            break;
        if (s.judged())
            f.longestTurn = std::max(f.longestTurn, s.duration(now));
    }
    for (std::uint32_t n = 0; n < rows.postedCount() && rows.postedRow(n) < count; ++n) {
        const Span s = rows.at(rows.postedRow(n));
        const std::int64_t posted = rows.posting(s.id.row()).time;
        const bool isInput = isInputEvent(int(s.what));
        if (posted < range.from || posted > range.to || (!isInput && s.start - posted <= f.longestWait))
            continue;
        const auto w = waitRow(trace, s);
        if (!w || w->kind == "posted")
            continue;
        f.longestWait = std::max(f.longestWait, w->wait);
        if (w->kind == "input")
            f.inputWaits.push_back(w->wait);
    }
}

} // namespace

RunFigures figuresOf(const TraceModel &trace, Handlers &handlers, const RunInfo &info,
                     std::chrono::milliseconds budget)
{
    RunFigures f;
    const TimeRange range = info.playStart ? TimeRange{info.playStart, info.playEnd} : TimeRange{};
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i)
        if (trace.isMain(i))
            addThread(f, trace, trace.rows(i), range);
    std::sort(f.inputWaits.begin(), f.inputWaits.end());
    for (const Stall &s : stallsOf(trace, handlers, budget, range)) {
        ++f.stalls;
        f.longestStall = std::max(f.longestStall, s.duration);
        f.stalledTime += s.duration;
        for (const Unseen &u : s.unseen)
            f.unseen += u.late ? 0 : u.count;
    }
    f.timeToResult = info.timeToResult;
    f.processor = info.processorTime;
    return f;
}

Spread::Spread(std::vector<std::int64_t> values) : values_(std::move(values))
{
    std::sort(values_.begin(), values_.end());
}

void Spread::add(std::int64_t value)
{
    values_.insert(std::upper_bound(values_.begin(), values_.end(), value), value);
}

std::int64_t Spread::quantile(double part) const
{
    if (values_.empty())
        return 0;
    const auto rank = std::size_t(std::max(1.0, std::ceil(part * double(values_.size()) - 1e-9)));
    return values_[std::min(rank, values_.size()) - 1];
}

double chanceOf(const Spread &a, const Spread &b)
{
    const int n = a.count(), m = b.count();
    if (n == 0 || m == 0)
        return 1;
    double u = 0; // how many pairs have the first one larger
    for (const std::int64_t x : a.values())
        for (const std::int64_t y : b.values())
            u += x > y ? 1 : x == y ? 0.5 : 0;
    const double extreme = std::min(u, n * double(m) - u);
    // ways[i][k]: arrangements of i of the first among all so far with k pairs (Mann and Whitney 1947, (3)).
    std::vector<std::vector<double>> ways(std::size_t(n) + 1, std::vector<double>(std::size_t(n * m) + 1, 0));
    ways[0][0] = 1;
    for (int placed = 1; placed <= n + m; ++placed)
        for (int i = std::min(n, placed); i >= 1; --i) {
            const int others = placed - i; // of the second that lie before this one of the first
            if (others > m)
                continue;
            for (int k = n * m; k >= others; --k)
                ways[std::size_t(i)][std::size_t(k)] += ways[std::size_t(i - 1)][std::size_t(k - others)];
        }
    double all = 0, within = 0;
    for (int k = 0; k <= n * m; ++k) {
        all += ways[std::size_t(n)][std::size_t(k)];
        if (k <= extreme + 1e-9)
            within += ways[std::size_t(n)][std::size_t(k)];
    }
    return std::min(1.0, 2 * within / all);
}

QString Figure::text(std::int64_t value) const
{
    return value == 0 ? QStringLiteral("none") : isTime ? durationText(value) : QString::number(value);
}

namespace
{

constexpr int fewRuns = 4;                   // below it no difference is told from chance
constexpr double unlikely = 0.05;            // by chance
constexpr double worthTelling = 0.1;         // of the larger one
constexpr std::int64_t feltTime = 2'000'000; // ns
// Few runs prove little: what is said of them must be plain to see, each of them on its own side.
constexpr double plainRatio = 2;
constexpr std::int64_t plainTime = 10'000'000; // ns

Change changeOf(const Figure &f)
{
    if (f.before.empty() || f.after.empty())
        return Change::Unknown;
    const std::int64_t b = f.before.median(), a = f.after.median(), difference = std::abs(b - a);
    if (difference == 0 || (f.isTime && difference < feltTime) ||
        double(difference) < worthTelling * double(std::max(a, b)))
        return Change::Same;
    const bool apart = f.after.most() < f.before.least() || f.before.most() < f.after.least();
    const bool few = std::min(f.before.count(), f.after.count()) < fewRuns;
    const bool plain = apart && (!f.isTime || difference >= plainTime) &&
                       double(std::max(a, b)) >= plainRatio * double(std::min(a, b));
    if (few ? !plain : chanceOf(f.before, f.after) > unlikely)
        return Change::Same;
    return a < b ? Change::Better : Change::Worse;
}

QString reasonAgainst(const std::vector<ComparedRun> &before, const std::vector<ComparedRun> &after)
{
    if (before.empty() || after.empty())
        return "There is no run to compare.";
    const RunInfo &first = before.front().info;
    bool heldBefore = true, heldAfter = true;
    for (const auto *side : {&before, &after})
        for (const ComparedRun &r : *side) {
            if (r.info.play.isEmpty())
                return "Only runs of the same play can be compared. Run one play on both.";
            if (r.info.playFingerprint != first.playFingerprint)
                return QStringLiteral("The plays differ: %1 and %2.").arg(first.play, r.info.play);
            if (r.info.flavour != first.flavour)
                return QStringLiteral("The builds differ: %1 and %2.")
                    .arg(first.flavour.isEmpty() ? "unknown" : first.flavour,
                         r.info.flavour.isEmpty() ? "unknown" : r.info.flavour);
            if (r.info.cut)
                return QStringLiteral("A recording %1 is incomplete: the disk was full.")
                    .arg(side == &before ? "before" : "after");
            bool &held = side == &before ? heldBefore : heldAfter;
            held = held && r.info.playHeld;
        }
    if (heldBefore && heldAfter)
        return {};
    return QStringLiteral("An expectation of the play failed %1.")
        .arg(!heldBefore && !heldAfter ? "on both sides"
             : heldBefore              ? "after"
                                       : "before");
}

// Nothing where a run does not know it.
void addFigure(Comparison &c, const std::vector<ComparedRun> &before, const std::vector<ComparedRun> &after,
               Figure figure, const std::function<std::int64_t(const RunFigures &)> &value)
{
    for (const ComparedRun &r : before)
        if (const std::int64_t v = value(r.figures); v >= 0)
            figure.before.add(v);
    for (const ComparedRun &r : after)
        if (const std::int64_t v = value(r.figures); v >= 0)
            figure.after.add(v);
    figure.change = changeOf(figure);
    c.figures << std::move(figure);
}

std::int64_t quantileOf(const RunFigures &f, double part)
{
    Spread s;
    for (const std::int64_t w : f.inputWaits)
        s.add(w);
    return s.quantile(part);
}

QString fromTo(const Figure &f)
{
    return QStringLiteral("%1 %2 → %3").arg(f.words, f.text(f.before.median()), f.text(f.after.median()));
}

// Those that stand for others, if one of them is among them.
QString listed(const Comparison &c, Change change, bool ofResponse)
{
    static const QStringList telling{"longest_turn_ns", "input_wait_worst_ns", "stalls", "unseen"};
    QStringList parts, told;
    for (const Figure &f : c.figures) {
        if (f.change != change || f.ofResponse != ofResponse)
            continue;
        parts << fromTo(f);
        if (telling.contains(f.name))
            told << fromTo(f);
    }
    return (told.isEmpty() ? parts : told).join(", ");
}

void judge(Comparison &c)
{
    const QString better = listed(c, Change::Better, true), worse = listed(c, Change::Worse, true);
    c.change = !better.isEmpty() && worse.isEmpty()   ? Change::Better
               : better.isEmpty() && !worse.isEmpty() ? Change::Worse
               : better.isEmpty()                     ? Change::Same
                                                      : Change::Unknown;
    const QString runs = c.runsBefore == c.runsAfter
                             ? QStringLiteral("%1 each").arg(counted(c.runsBefore, "run", "runs"))
                             : QStringLiteral("%1 and %2 runs").arg(c.runsBefore).arg(c.runsAfter);
    QStringList all;
    switch (c.change) {
    case Change::Better:
        all << "It got better: " + better + '.';
        break;
    case Change::Worse:
        all << "It got worse: " + worse + '.';
        break;
    case Change::Unknown:
        all << "Some figures got better, some worse. Better: " + better + ". Worse: " + worse + '.';
        break;
    case Change::Same:
        all << "These runs show no difference.";
        break;
    }
    if (const QString dearer = listed(c, Change::Worse, false); !dearer.isEmpty())
        all << "It costs more: " + dearer + '.';
    if (const QString cheaper = listed(c, Change::Better, false); !cheaper.isEmpty())
        all << "It costs less: " + cheaper + '.';
    if (std::min(c.runsBefore, c.runsAfter) < fewRuns)
        all << QStringLiteral("%1: the variation between runs is unknown. Run the play %2 times or more.")
                   .arg(runs.left(1).toUpper() + runs.mid(1))
                   .arg(fewRuns);
    else
        all << QStringLiteral("Medians of %1; the differences are unlikely to be chance (below 5 %).")
                   .arg(runs);
    c.verdict = all.join(' ');
}

} // namespace

Comparison compareRuns(const std::vector<ComparedRun> &before, const std::vector<ComparedRun> &after)
{
    Comparison c;
    c.reason = reasonAgainst(before, after);
    c.comparable = c.reason.isEmpty();
    c.runsBefore = int(before.size());
    c.runsAfter = int(after.size());
    if (!before.empty()) {
        c.play = before.front().info.play;
        c.flavour = before.front().info.flavour;
    }
    const auto add = [&](const char *name, const char *words, bool isTime, bool ofResponse,
                         const auto &value) {
        addFigure(c, before, after, {name, words, isTime, ofResponse, {}, {}, Change::Unknown}, value);
    };
    add("longest_turn_ns", "longest turn", true, true, [](const RunFigures &f) { return f.longestTurn; });
    add("input_wait_median_ns", "median wait of inputs", true, true,
        [](const RunFigures &f) { return quantileOf(f, 0.5); });
    add("input_wait_p95_ns", "95 % of inputs waited", true, true,
        [](const RunFigures &f) { return quantileOf(f, 0.95); });
    add("input_wait_worst_ns", "worst wait of an input", true, true,
        [](const RunFigures &f) { return quantileOf(f, 1); });
    add("longest_wait_ns", "longest wait of all", true, true,
        [](const RunFigures &f) { return f.longestWait; });
    add("stalls", "stalls", false, true, [](const RunFigures &f) { return std::int64_t(f.stalls); });
    add("longest_stall_ns", "longest stall", true, true, [](const RunFigures &f) { return f.longestStall; });
    add("stalled_ns", "time stalled", true, true, [](const RunFigures &f) { return f.stalledTime; });
    add("unseen", "set and never seen", false, true,
        [](const RunFigures &f) { return std::int64_t(f.unseen); });
    add("time_to_result_ns", "time to the result", true, false,
        [](const RunFigures &f) { return f.timeToResult; });
    add("processor_ns", "processor time", true, false, [](const RunFigures &f) { return f.processor; });
    for (const ComparedRun &r : before)
        for (const std::int64_t w : r.figures.inputWaits)
            c.inputsBefore.add(w);
    for (const ComparedRun &r : after)
        for (const std::int64_t w : r.figures.inputWaits)
            c.inputsAfter.add(w);
    if (c.comparable)
        judge(c);
    return c;
}

} // namespace pipit
