// What Pipit says of a window that tells itself what was well and what was not (tests/targets/lively.cpp).
#pragma once

#include <QString>
#include <QStringList>

namespace pipit::tests
{

struct LivelyVerdict {
    int healthy = 0, ok = 0, unknown = 0, falseClaims = 0; // interactions that came to their handler
    int faults = 0, right = 0, notKnown = 0, wrong = 0;    // those that something was wrong with
    QStringList mistakes;                                  // in words
    void add(const LivelyVerdict &other);
    QString text() const;
};

// One run with so many inputs.
LivelyVerdict judgeLively(unsigned seed, int inputs);

} // namespace pipit::tests
