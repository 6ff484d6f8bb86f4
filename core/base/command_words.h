// A command as it is typed in a shell, taken apart; nothing in it is expanded or run.
//
// Threads: any.
#pragma once

#include "core/base/result.h"

#include <QStringList>

namespace pipit
{

// Spaces divide, outside of quotes. A backslash takes the next character as it is; in double quotes before "
// and itself only, in single quotes never. An error where a quote is not closed.
Result<QStringList> commandWords(const QString &command);

} // namespace pipit
