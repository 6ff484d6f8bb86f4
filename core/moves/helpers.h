// Methods that use nothing of their object, made plain functions so that work on another thread can call
// them.
//
// Threads: plain values.
#pragma once

#include "core/code/unit.h"
#include "core/userfiles/user_files.h"

#include <QSet>

namespace pipit
{

// Adds to `edits` and `sentences`. A Problem says which cannot be, and why.
Outcome freeHelpers(const CodeUnit &unit, const QSet<int> &methods, const QString &className,
                    const QString &source, const QString &header, UserFiles &files, QList<FileEdit> &edits,
                    QStringList &sentences);

} // namespace pipit
