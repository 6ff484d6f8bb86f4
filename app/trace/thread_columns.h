// Which column of the Trace page a thread stands in: the loop's is the first; up to three others have one
// each, more share one.
//
// Threads: the loop's thread only. Made anew for each painting: threads come.
#pragma once

#include "core/trace/model.h"

#include <algorithm>
#include <vector>

namespace pipit::app
{

class ThreadColumns
{
public:
    explicit ThreadColumns(const TraceModel *trace) : trace_(trace)
    {
        for (std::uint16_t t = 0; trace && t < trace->threadCount() && others_.size() <= most; ++t)
            if (!trace->isMain(t) && trace->rows(t).count() > 0)
                others_.push_back(t);
    }
    bool shared() const { return others_.empty() || others_.size() > most; }
    int count() const { return shared() ? 2 : 1 + int(others_.size()); }
    int of(std::uint16_t thread) const
    {
        if (trace_->isMain(thread))
            return 0;
        const auto it = std::find(others_.begin(), others_.end(), thread);
        return shared() || it == others_.end() ? 1 : 1 + int(it - others_.begin());
    }
    QString name(int column) const
    {
        if (column == 0)
            return QStringLiteral("loop");
        if (shared())
            return QStringLiteral("threads");
        const ThreadInfo info = trace_->thread(others_[std::size_t(column - 1)]);
        return info.name.isEmpty() ? QStringLiteral("thread %1").arg(info.tid) : info.name;
    }

private:
    static constexpr std::size_t most = 3;
    const TraceModel *trace_;
    std::vector<std::uint16_t> others_;
};

} // namespace pipit::app
