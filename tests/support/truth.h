// One run of the truth-telling target, and what Pipit said of it: found, missed, false, wrong.
//
// Threads: one at a time; blocking, some seconds each.
#pragma once

#include <QStringList>

namespace pipit::tests
{

struct TruthCase {
    unsigned seed = 1;
    QString variant;   // of the target's build
    QString ending;    // quit, crash, exit, hang
    bool load = false; // a processor is kept busy meanwhile
    bool loss = false; // Pipit is stopped for a while, so that records are lost
    static TruthCase of(unsigned seed);
    QString text() const;
};

struct Verdict {
    int stalls = 0, found = 0, missed = 0, notKnown = 0; // of those that there were; not known: beside a loss
    int falseOnes = 0, wrongName = 0, wrongLength = 0, wrongEnd = 0;
    int calls = 0, callsMissed = 0, callsFalse = 0;
    double worstLength = 0; // ms, of those found, how far from the truth
    QStringList wrong;      // in words
    void add(const Verdict &other);
    QString text() const;
};

Verdict judge(const TruthCase &which);

} // namespace pipit::tests
