// A thread's native frames and its frames of Python, as one stack.
//
// Threads: any; plain values.
#pragma once

#include "core/runner/python_frames.h"
#include "core/trace/stacks.h"

#include <functional>

namespace pipit
{

// Where native code runs Python's, the functions that it runs stand in its place: up to the one that native
// code called. What is left over goes to the outside. `folder` is what relative file names start from; a
// file of an installed module is no code of the program's own.
using RunsCode = std::function<bool(const StackFrame &)>;
[[nodiscard]] std::vector<StackFrame> withPython(const std::vector<StackFrame> &native,
                                                 const std::vector<PythonFrame> &python,
                                                 const RunsCode &runsCode, const QString &folder);
// Where the interpreter's layout is not known: its place says so.
[[nodiscard]] std::vector<StackFrame> withoutPython(std::vector<StackFrame> native, const RunsCode &runsCode,
                                                    const QString &why);

} // namespace pipit
