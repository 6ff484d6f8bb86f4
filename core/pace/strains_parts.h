// The parts of strainsOf.
//
// Threads: any.
#pragma once

#include "core/pace/strains.h"

#include <deque>
#include <functional>
#include <map>

namespace pipit
{

constexpr std::int64_t oneSecond = 1'000'000'000;

// Counts and times by subject; the worst second of each is reported, wherever it begins.
template <class Key> class BySecond
{
public:
    enum By { Number, Time };
    explicit BySecond(By by) : by_(by) {}
    struct Cell {
        int count = 0;
        std::int64_t took = 0, first = 0;
        std::int64_t slow = 0; // of `took`, in those that alone are over the budget
    };
    // In the order of their ends, or beginnings.
    void add(const Key &key, std::int64_t at, std::int64_t took)
    {
        Window &w = windows_[key];
        w.recent.emplace_back(at, took);
        w.take(took, 1);
        for (; w.recent.front().first <= at - oneSecond; w.recent.pop_front())
            w.take(w.recent.front().second, -1);
        const Cell cell{int(w.recent.size()), w.took, w.recent.front().first, w.slow};
        if (by_ == Number ? cell.count > w.worst.count : cell.took > w.worst.took)
            w.worst = cell;
    }
    template <class Take> void eachWorst(const Take &take) const
    {
        for (const auto &[key, window] : windows_)
            take(key, window.worst);
    }

private:
    struct Window {
        std::deque<std::pair<std::int64_t, std::int64_t>> recent; // when, and how long
        std::int64_t took = 0, slow = 0;
        Cell worst;
        void take(std::int64_t time, int sign)
        {
            took += sign * time;
            slow += overBudget(time) ? sign * time : 0;
        }
    };
    const By by_;
    std::map<Key, Window> windows_;
};

void addCosts(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, std::uint16_t thread,
              TimeRange range);
void addTimers(std::vector<Strain> &all, const TraceModel &trace, TimeRange range);
void addCrossings(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, TimeRange range);
void addReEntries(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, std::uint16_t thread,
                  TimeRange range);
void addMisplaced(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, TimeRange range);
void addNeverCame(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, TimeRange range);
void addStillRunning(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers);

} // namespace pipit
