// "Did you mean": the nearest of several names.
//
// Threads: any.
#pragma once

#include <QStringList>

namespace pipit
{

// Upper and lower case are the same; empty when none is near.
QString nearestName(const QString &name, const QStringList &candidates);

} // namespace pipit
