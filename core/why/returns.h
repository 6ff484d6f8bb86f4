// Where a handler returns before its end: what to look at when it changed nothing. From the text of its
// source alone; which of them was taken is not known.
//
// Threads: any; a function of its arguments.
#pragma once

#include <QList>
#include <QStringList>

namespace pipit
{

// The lines on which the function returns that begins at `line` (from 1), but for a return that is its last
// statement. `first` is the number of the first of `lines`. Lambdas inside it are not looked into. Empty
// where the function does not end within them.
QList<int> earlyReturns(const QStringList &lines, int first, int line);

} // namespace pipit
