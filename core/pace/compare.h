// Runs of the same play before and after a change, side by side: distributions, and in words whether it got
// better.
//
// Threads: any; plain values. Comparable only when the play and the build flavour are the same and all
// expectations were met in every run; otherwise the reason is said and no ratio is shown.
#pragma once

#include "core/pace/stalls.h"
#include "core/records/run_info.h"

namespace pipit
{

// What one run came to, over its play when there was one, over the whole run otherwise.
struct RunFigures {
    std::int64_t longestTurn = 0, longestWait = 0, longestStall = 0, stalledTime = 0, timeToResult = 0;
    int stalls = 0;
    int unseen = 0;                       // texts and states that were set in a stall and never seen
    std::vector<std::int64_t> inputWaits; // of all inputs, the shortest first
    std::int64_t processor = -1;          // what all its threads ran; -1: not known
};
[[nodiscard]] RunFigures figuresOf(const TraceModel &trace, Handlers &handlers, const RunInfo &info,
                                   std::chrono::milliseconds budget);

struct ComparedRun {
    RunInfo info;
    RunFigures figures;
};

// Values in order, the least first.
class Spread
{
public:
    Spread() = default;
    explicit Spread(std::vector<std::int64_t> values); // of many at once
    void add(std::int64_t value);
    [[nodiscard]] bool empty() const { return values_.empty(); }
    [[nodiscard]] int count() const { return int(values_.size()); }
    [[nodiscard]] const std::vector<std::int64_t> &values() const { return values_; }
    [[nodiscard]] std::int64_t least() const { return values_.empty() ? 0 : values_.front(); }
    [[nodiscard]] std::int64_t most() const { return values_.empty() ? 0 : values_.back(); }
    // The smallest value that at least this part of them does not exceed (the nearest-rank method); 0 of
    // none.
    [[nodiscard]] std::int64_t quantile(double part) const;
    [[nodiscard]] std::int64_t median() const { return quantile(0.5); }

private:
    std::vector<std::int64_t> values_;
};

// How likely two spreads are to differ as much by chance, if both were drawn from the same: the Mann-Whitney
// test in its exact form, two-sided; ties count half. 1 where either is empty.
[[nodiscard]] double chanceOf(const Spread &a, const Spread &b);

enum class Change { Better, Worse, Same, Unknown };

struct Figure {
    QString name;  // "longest_stall_ns"
    QString words; // "longest stall"
    bool isTime = true;
    bool ofResponse = true; // of what the person feels; else of what it costs
    Spread before, after;   // one value for each run
    Change change = Change::Unknown;
    [[nodiscard]] QString text(std::int64_t value) const; // "1.20 s", "none"
    // after / before, of the medians; nothing when before is 0.
    [[nodiscard]] std::optional<double> ratio() const
    {
        return before.median() > 0 ? std::optional(double(after.median()) / double(before.median()))
                                   : std::nullopt;
    }
};

struct Comparison {
    bool comparable = false;
    QString reason; // why not
    QString play, flavour;
    int runsBefore = 0, runsAfter = 0;
    QList<Figure> figures;
    Spread inputsBefore, inputsAfter; // each input of all runs: how long it waited
    Change change = Change::Unknown;  // of what the person feels
    QString verdict;                  // in plain words; empty if not comparable
};

[[nodiscard]] Comparison compareRuns(const std::vector<ComparedRun> &before,
                                     const std::vector<ComparedRun> &after);

} // namespace pipit
