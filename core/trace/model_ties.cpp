// What came of what, where no event says it: link/ties.h.
#include "core/trace/model_thread.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

using link::Record;
using link::Tie;

namespace
{

// Of these the toolkit keeps one at most for an object, and deletes what is posted besides.
bool isCompressed(std::uint32_t type)
{
    switch (type) {
    case QEvent::UpdateRequest:
    case QEvent::LayoutRequest:
    case QEvent::DeferredDelete:
    case QEvent::Resize:
    case QEvent::Move:
    case QEvent::LanguageChange:
    case QEvent::Quit:
        return true;
    default:
        return false;
    }
}

std::uint64_t queueKey(std::uint64_t object, std::uint32_t type)
{
    return object ^ std::uint64_t(type) << 48;
}

CauseKind kindOf(Tie tie, bool again)
{
    switch (tie) {
    case Tie::Painted:
        return CauseKind::Painted;
    case Tie::Timer:
        return again ? CauseKind::TimerAgain : CauseKind::Timer;
    case Tie::Thread:
        return CauseKind::Thread;
    case Tie::Task:
        return CauseKind::Task;
    case Tie::LoopEnd:
        return CauseKind::LoopEnded;
    default:
        return CauseKind::Object;
    }
}

} // namespace

void TraceModel::takePost(Thread &t, const Record &s)
{
    const std::uint32_t type = s.value & 0xffff;
    const SpanId top = t.top();
    if (isCompressed(type)) {
        Queued &q = queued_[queueKey(s.words[1], type)];
        const auto it = posted_.find(q.event);
        const bool waits = q.event && it != posted_.end() && it->second.generation == q.generation;
        if (!waits || q.event == s.words[0])
            q = {s.words[0], link::generationOf(s), {}};
        else if (q.others.size() < Queued::most)
            q.others.emplace_back(s.words[0], top);
    }
    posted_[s.words[0]] = {std::int64_t(s.time), top, link::generationOf(s), top ? SpanId() : t.startedBy};
}

void TraceModel::takeBegan(Thread &t, const Record &s)
{
    const Tie tie = Tie(s.value);
    const SpanId top = t.top();
    if (tie == Tie::ObjectGone) {
        begun_.erase({s.words[0], Tie::Object});
        return;
    }
    Begun &begun = begun_[{s.words[0], tie}];
    if (tie != Tie::LoopEnd || !begun.by) // the first one ends it
        begun = {top ? top : t.startedBy, false};
    objectsStarted_ = objectsStarted_ || tie == Tie::Object;
    if (tie != Tie::Painted)
        return;
    constexpr std::size_t most = 8192; // what was marked longer ago is painted by now
    painters_.push_back(s.words[0]);
    if (painters_.size() > most) {
        begun_.erase({painters_.front(), Tie::Painted});
        painters_.pop_front();
    }
}

void TraceModel::addCause(Thread &t, std::uint32_t row, const Cause &cause)
{
    if (cause.span && cause.span.thread() != t.index)
        publishOther(cause.span.thread());
    t.rows.addCause(row, cause);
}

void TraceModel::takeCause(Thread &t, const Record &s)
{
    const Tie tie = Tie(s.value);
    const auto it = begun_.find({s.words[0], tie});
    if (tie == Tie::PaintedAside) {
        if (t.justBegan(s.depth))
            addCause(t, t.open.back().row, {{}, CauseKind::Aside});
        return;
    }
    if (it == begun_.end() || !it->second.by)
        return;
    if (tie == Tie::Thread) {
        t.startedBy = it->second.by;
        begun_.erase(it);
    } else if (tie == Tie::LoopEnd) {
        if (!t.open.empty() && t.open.back().turn())
            closeTop(t, std::int64_t(s.time), 0);
        if (!t.open.empty() && t.open.back().kind == SpanKind::Loop && t.open.back().depth + 1 == s.depth)
            addCause(t, t.open.back().row, {it->second.by, CauseKind::LoopEnded});
        begun_.erase(it);
    } else if (t.justBegan(s.depth)) {
        addCause(t, t.open.back().row, {it->second.by, kindOf(tie, it->second.came)});
        it->second.came = true;
        if (tie == Tie::Task) // its token is not used again
            begun_.erase(it);
    }
}

// What was posted besides and compressed into the event that is delivered.
void TraceModel::addCompressed(Thread &t, const Record &s, std::uint32_t row, SpanId poster)
{
    const std::uint32_t type = s.value & 0xffff;
    if (!isCompressed(type))
        return;
    const auto it = queued_.find(queueKey(s.words[0], type));
    if (it == queued_.end())
        return;
    const auto &others = it->second.others;
    auto from = others.begin(); // of those that were posted behind the one that is delivered
    if (it->second.event != s.words[1])
        from =
            std::find_if(others.begin(), others.end(), [&](const auto &o) { return o.first == s.words[1]; });
    for (auto other = from; other != others.end(); ++other) {
        const SpanId by = other->second;
        const auto same = [by](const auto &o) { return o.second == by; };
        if (by && by != poster && std::none_of(from, other, same))
            addCause(t, row, {by, CauseKind::Posted});
    }
    queued_.erase(it);
}

// A signal of an object comes of what started it, unless it stands in that and no loop is between.
void TraceModel::addStarted(Thread &t, std::uint64_t object, std::uint32_t row)
{
    const auto it = begun_.find({object, Tie::Object});
    if (it == begun_.end() || !it->second.by)
        return;
    const SpanId by = it->second.by;
    for (auto open = t.open.rbegin(); open != t.open.rend() && !open->turn(); ++open)
        if (by == SpanId(t.index, open->row))
            return;
    addCause(t, row, {by, CauseKind::Object});
}

std::vector<Cause> TraceModel::causes(SpanId id) const
{
    std::vector<Cause> all;
    const ThreadRows &rows = this->rows(id.thread());
    const Span s = rows.at(id.row());
    if (s.flags & WasPosted)
        if (const Posting p = rows.posting(id.row()); p.cause)
            all.push_back({p.cause, CauseKind::Posted});
    const auto more = rows.causes(id.row());
    all.insert(all.end(), more.begin(), more.end());
    return all;
}

} // namespace pipit
