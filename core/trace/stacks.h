// Stacks of threads that were busy too long, taken from outside while they were.
//
// Threads: any; one lock, held for a moment. Times are CLOCK_MONOTONIC nanoseconds.
#pragma once

#include "core/base/result.h"

#include <QString>

#include <cstdint>
#include <mutex>
#include <vector>

namespace pipit
{

struct StackFrame {
    QString module;           // empty: not in a file
    std::uint64_t offset = 0; // in the module's file, as its symbol table counts
    bool exact = false;       // the very instruction; else where a call returns to
    // Once it was named; empty before, and where nothing is known.
    QString function, file;
    int line = 0;
    bool own = false; // of the program's own source, not of a library's
};
// Whether a file with code is Pipit's own, which the program has loaded; or a library of the system, the
// toolkit or the interpreter, or the interpreter itself.
[[nodiscard]] bool isOwnLibrary(const QString &module);
[[nodiscard]] bool isSystemLibrary(const QString &module);

struct StackSample {
    std::int64_t time = 0;
    std::uint32_t pid = 0, tid = 0;
    bool running = false; // else it waited in a system call
    int call = -1;        // its number; -1 unknown
    // Since the reading before it in the same stretch: how long that was, and how much of it the thread ran,
    // or could have run but had no processor. All 0: not known.
    std::int64_t over = 0, ran = 0, delayed = 0;
    // The word that it waits for, and which thread holds it if it is a mutex of the system's or a
    // QRecursiveMutex; 0: not known.
    std::uint64_t lock = 0;
    std::uint32_t mutexOwner = 0, recursiveOwner = 0;
    bool interpretersLock = false; // it is the one of the Python interpreter in the process
    std::uint32_t interpretersOwner = 0;
    std::vector<StackFrame> frames; // the innermost first
    // What is worth reading: what went on inside the innermost call or dispatch, up to the outermost frame of
    // the program's own in it. Further out stands who called that, which is told by the trace.
    std::vector<StackFrame> story() const;
};

class StackLog
{
public:
    void add(StackSample sample);
    // Of one thread, or with tid 0 of all others of the process, in order of time.
    std::vector<StackSample> of(std::uint32_t pid, std::uint32_t tid, std::int64_t from,
                                std::int64_t to) const;
    std::vector<StackSample> all() const;
    void replace(std::vector<StackSample> samples); // with what they are called

    // One line of text for each: what a recording keeps.
    static QByteArray line(const StackSample &sample);
    static StackSample fromLine(const QByteArray &line);
    // Adds what a file of such lines holds; lines that say nothing are passed over.
    void load(const QByteArray &lines);

private:
    mutable std::mutex mutex_;
    std::vector<StackSample> samples_;
};

} // namespace pipit
