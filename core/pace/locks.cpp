#include "core/pace/locks.h"

#include "core/pace/blocking.h"

#include <QFileInfo>
#include <QHash>
#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{

bool passes(const StackSample &s, const char *name)
{
    for (const StackFrame &f : s.frames) {
        if (f.own)
            return false;
        if (f.function.contains(QLatin1String(name)))
            return true;
    }
    return false;
}

// One that gives up after a while is in no deadlock.
bool givesUp(const StackSample &s)
{
    return s.interpretersLock || passes(s, "timed") || passes(s, "clocklock") || passes(s, "tryLock");
}

QString nameOf(std::uint32_t pid, std::uint32_t tid, const QList<ThreadInfo> &threads)
{
    for (const ThreadInfo &t : threads)
        if (t.pid == pid && t.tid == tid)
            return t.name;
    return QStringLiteral("thread %1").arg(tid);
}

// The look at it that was nearest to then.
const StackSample *lookAt(std::uint32_t tid, std::int64_t time, const std::vector<StackSample> &samples)
{
    const StackSample *nearest = nullptr;
    for (const StackSample &s : samples)
        if (s.tid == tid && (!nearest || std::abs(s.time - time) <= std::abs(nearest->time - time)))
            nearest = &s;
    return nearest;
}

QString doingOf(const StackSample &s)
{
    QString text = blockingWords(blockingOf(s));
    const auto frames = s.story();
    const auto own = std::find_if(frames.begin(), frames.end(), [](const StackFrame &f) { return f.own; });
    if (own != frames.end())
        text += QStringLiteral(" in %1, %2:%3")
                    .arg(own->function, QFileInfo(own->file).fileName())
                    .arg(own->line);
    return text;
}

// What a thread did while the other waited for the lock: at most of the looks, since one may be just before
// or after it. Where they are equal, at the one nearest to `waiting`.
QString doingMeanwhile(std::uint32_t tid, const StackSample &waiting, const std::vector<StackSample> &samples)
{
    const StackSample *nearest = lookAt(tid, waiting.time, samples);
    if (!nearest)
        return {};
    const QString first = doingOf(*nearest);
    QHash<QString, int> seen;
    for (const StackSample &s : samples)
        if (s.tid == waiting.tid && s.lock == waiting.lock && blockingOf(s) == Blocking::Lock)
            if (const StackSample *meanwhile = lookAt(tid, s.time, samples))
                ++seen[doingOf(*meanwhile)];
    QString most = first;
    for (auto it = seen.cbegin(); it != seen.cend(); ++it)
        if (it.value() > seen.value(most))
            most = it.key();
    return most;
}

} // namespace

std::uint32_t holderOf(const StackSample &s)
{
    if (!s.lock || blockingOf(s) != Blocking::Lock)
        return 0;
    if (s.interpretersLock)
        return s.interpretersOwner == s.tid ? 0 : s.interpretersOwner;
    if (passes(s, "QRecursiveMutex"))
        return s.recursiveOwner;
    return passes(s, "pthread_mutex") || passes(s, "lll_lock") ? s.mutexOwner : 0;
}

LockWait lockWaitOf(const StackSample &waiting, const std::vector<StackSample> &others,
                    const QList<ThreadInfo> &threads)
{
    LockWait wait;
    wait.interpreters = waiting.interpretersLock;
    for (const ThreadInfo &t : threads)
        if (const StackSample *s =
                t.pid == waiting.pid && t.tid != waiting.tid ? lookAt(t.tid, waiting.time, others) : nullptr;
            s && s->lock == waiting.lock && blockingOf(*s) == Blocking::Lock)
            wait.others << t.name;
    std::uint32_t holder = holderOf(waiting);
    if (!holder)
        return wait;
    wait.holder = nameOf(waiting.pid, holder, threads);
    bool circle = !givesUp(waiting);
    if (holder == waiting.tid) {
        wait.circle = circle;
        return wait;
    }
    QStringList told;
    QSet<std::uint32_t> seen{waiting.tid};
    while (holder && !seen.contains(holder)) {
        seen.insert(holder);
        const StackSample *s = lookAt(holder, waiting.time, others);
        if (!s)
            return wait;
        if (wait.doing.isEmpty())
            wait.doing = doingMeanwhile(holder, waiting, others);
        circle = circle && !givesUp(*s);
        const std::uint32_t next = holderOf(*s);
        if (next)
            told << QStringLiteral("%1 waits for a lock that %2 holds")
                        .arg(nameOf(waiting.pid, holder, threads), nameOf(waiting.pid, next, threads));
        holder = next;
    }
    wait.circle = circle && holder == waiting.tid;
    if (wait.circle)
        wait.circleText = told.join(", and ");
    return wait;
}

QString LockWait::text(bool lasts) const
{
    const QString start = (lasts ? QStringLiteral("it waits for ") : QStringLiteral("it waited for ")) +
                          (interpreters ? "Python's lock" : "a lock");
    if (holder.isEmpty())
        return start + "; its holder is unknown" +
               (others.isEmpty() ? QString() : ", and " + others.join(", ") + " waited for it too");
    QString s = start + (interpreters ? ", held by " + holder
                                      : QStringLiteral(" that %1 %2").arg(holder, lasts ? "holds" : "held"));
    if (lasts && circle && circleText.isEmpty())
        return start + " that it holds itself: a deadlock";
    if (lasts && circle)
        return s + ", and " + circleText + ": a deadlock";
    if (!doing.isEmpty())
        s += ", which was " + doing;
    return s;
}

} // namespace pipit
