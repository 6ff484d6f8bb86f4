// Who holds the lock that a thread waits for, as its stack was found.
//
// A std::mutex, which is a pthread_mutex_t, and a QRecursiveMutex keep which thread holds them; a QMutex does
// not, nor does a QReadWriteLock: then the holder is not known, and said so.
//
// Threads: any; plain values.
#pragma once

#include "core/trace/model.h"

namespace pipit
{

struct LockWait {
    QString holder;      // its thread's name; empty: not known
    QString doing;       // "sleeping in refill, cabins.cpp:30"; empty: not known
    QStringList others;  // threads that wait for the same lock
    bool circle = false; // the holder waits for a lock that a thread holds that waits…, back to this one
    bool interpreters = false; // Python's own, without which none of its code runs
    QString circleText;  // "worker-1 waits for a lock that MainThread holds"
    // "it waits for a lock that worker-1 holds, which was sleeping in refill, cabins.cpp:30"
    [[nodiscard]] QString text(bool lasts) const;
};

// Whose number the lock holds that this waits for; 0: not known. The sample's frames are named.
[[nodiscard]] std::uint32_t holderOf(const StackSample &waiting);
// `others`: looks at the process's other threads at about that time, named.
[[nodiscard]] LockWait lockWaitOf(const StackSample &waiting, const std::vector<StackSample> &others,
                                  const QList<ThreadInfo> &threads);

} // namespace pipit
