// A handler that runs in parts, put into one function again: what a move wrote is taken out, and what a
// person wrote stays as it is.
//
// Threads: plain values. Goes by the text of what moves write (rewrite.h). Where that was changed so far that
// they cannot be recognised, it is refused, with the place.
#pragma once

#include "core/base/result.h"
#include "core/project/model.h"
#include "core/userfiles/cpp_scan.h"

namespace pipit
{

struct PutBack {
    QString function; // the whole, without the comment above it
    QString what;     // why it cannot be, empty if it can
    int line = 0;     // of that
};

// `text` is the handler's file, `header` its window's, in which its structs stand; `head` the function's new
// head, "void FerryDesk::tideForecast()".
[[nodiscard]] PutBack putBack(const Handler &handler, const QString &text, const QString &className,
                              const QString &header);

} // namespace pipit
