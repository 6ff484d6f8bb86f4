// One run of a program that prints what each of its acts came of, against what a recording of it says.
//
// Threads: one at a time; blocking, some seconds each.
#pragma once

#include <QStringList>

namespace pipit::tests
{

struct CausesVerdict {
    int acts = 0, edges = 0; // that there were
    int right = 0, missing = 0, falseOnes = 0;
    QStringList wrong; // in words
    void add(const CausesVerdict &other);
    QString text() const;
};

CausesVerdict judgeCauses(unsigned seed, int count);

} // namespace pipit::tests
