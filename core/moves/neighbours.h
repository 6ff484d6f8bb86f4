// Which other functions of the class add to the same widget as a handler that is moved: their order among
// each other becomes another, since what the handler adds comes in the end.
//
// Threads: any; plain text. What is added through pointers of other names is not seen.
#pragma once

#include "core/moves/cut.h"

namespace pipit
{

// A sentence for each: "boardPassenger adds to passengerList too: …".
[[nodiscard]] QStringList alsoAddedTo(const Cut &cut, const QString &text, const QString &className,
                                      const QString &handler);

} // namespace pipit
