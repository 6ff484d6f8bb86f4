// Which functions of Python a thread is in, read from outside, in a process that has an interpreter.
//
// Known is the layout of CPython 3.11, which Debian 12 has: its structures' offsets stand in the source file,
// from pycore_runtime.h, pycore_interp.h, pycore_frame.h and code.h of that version. Of other versions only
// that they are there is told. Nothing runs in the process, and nothing is changed there.
//
// Threads: one at a time. `of` is asked while the thread is held, or waits in a system call: only then do its
// frames stand still.
#pragma once

#include <QString>

#include <cstdint>
#include <memory>
#include <sys/types.h>
#include <vector>

namespace pipit
{

struct PythonFrame {
    QString function;   // with the classes around it: "Desk.fill"
    QString file;       // as the interpreter has it
    int line = 0;       // 0: not known
    bool entry = false; // it was called from native code, else by the frame after it
};

class PythonFrames
{
public:
    explicit PythonFrames(pid_t pid);
    ~PythonFrames();

    [[nodiscard]] bool there() const; // the process has an interpreter
    // Why frames are unknown although it has one: "the layout of Python 3.12 is not known"; else empty.
    [[nodiscard]] QString unknown() const;
    // The innermost first; empty where the thread is in none.
    [[nodiscard]] std::vector<PythonFrame> of(pid_t tid);
    // Whether native code at this offset of that module's file runs Python's code.
    [[nodiscard]] bool runsCode(const QString &module, std::uint64_t offset) const;
    // Whether this word belongs to the interpreter's own lock (the GIL), and who holds it; 0: nobody, or not
    // known.
    [[nodiscard]] bool isInterpretersLock(std::uint64_t word) const;
    [[nodiscard]] pid_t interpretersLockHolder() const;

    static constexpr std::size_t mostFrames = 128;

private:
    struct Private;
    std::unique_ptr<Private> d;
};

// The line of an instruction, `at` bytes into the code, by a location table (PEP 626, and
// Objects/locations.md of 3.11) whose code begins at line `first`; 0: none.
[[nodiscard]] int pythonLineAt(const QByteArray &table, int first, std::int64_t at);

} // namespace pipit
