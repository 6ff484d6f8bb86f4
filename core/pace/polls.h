// What a timer's handler polls, and the notification that exists for it.
//
// Threads: any; plain text. Judged by what the code calls: a suggestion, and said as one.
#pragma once

#include <QString>

namespace pipit
{

// "It looks at a file: QFileSystemWatcher tells when one changes, and needs no timer."; empty where nothing
// such is seen. `code`: the body of the handler.
[[nodiscard]] QString notificationInstead(const QString &code);

} // namespace pipit
