// What outlasts the program or reaches another one: files that are written, what is sent, devices and
// settings that are changed. Work in the background ends with its window, so such work would stop half-way.
//
// Threads: plain values. Sources: Qt 6's class documentation; the C++ and POSIX.1-2017 standards.
#pragma once

#include "core/code/unit.h"

#include <functional>
#include <optional>

namespace pipit
{

struct Lasting {
    int at = -1;  // offset in the function asked about
    QString what; // "QFile::write writes a file"
};

// The first such call in a piece of code, followed through the person's own functions at any depth.
// `answered` says of an offset whether the person answers for what stands there.
[[nodiscard]] std::optional<Lasting> lastingIn(const CodeUnit &unit, const CodeNode &node,
                                               const QString &text, const std::function<bool(int)> &answered);

} // namespace pipit
