// Where a project lies.
//
// Threads: any; values.
#pragma once

#include <QString>

namespace pipit
{

struct ProjectPlace {
    QString folder; // absolute
    QString file;   // absolute, ends in .pipit
};

} // namespace pipit
