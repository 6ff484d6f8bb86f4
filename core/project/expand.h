// Names that stand for several: "key_{0..9}", "fare_{child,adult}".
//
// Threads: any.
#pragma once

#include "core/base/result.h"

#include <QList>
#include <QString>

namespace pipit
{

struct Expansion {
    QString name;  // "key_7"
    QString value; // "7": what {} stands for in texts beside the name
};

// At most 1,000; a name without braces stands for itself.
Result<QList<Expansion>> expandName(const QString &pattern);

} // namespace pipit
