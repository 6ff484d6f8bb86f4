// Generated programs whose handlers block in one known line for a known time, and what Pipit says of them.
//
// A program is made from its seed: twelve handlers of some form (a lambda, a member function, a function, a
// lambda that calls one) that block in some way (computing, sleeping, a lock, a thread, a process, a file)
// for between 20 and 700 ms, one after the other. It measures each by its own clock. Built with -O0 or -O2;
// some run beside others that want all processors.
//
// Threads: one at a time; blocking, some ten seconds each.
#pragma once

#include <QStringList>

#include <vector>

namespace pipit::tests
{

struct BlockerVerdict {
    int blockers = 0, stalls = 0; // stalls: of the blockers, those over the budget
    int found = 0, missed = 0, falseOnes = 0;
    int wrongHandler = 0, wrongLine = 0, noLine = 0, wrongKind = 0, kinds = 0;
    int busy = 0;            // where the machine was said to be busy
    std::vector<double> off; // ms, of those found, how far from the truth
    QStringList wrong;       // in words
    void add(const BlockerVerdict &other);
    [[nodiscard]] QString text() const;
    [[nodiscard]] QByteArray toLine() const;
    [[nodiscard]] static BlockerVerdict fromLine(const QByteArray &line);
};

struct BlockerCase {
    unsigned seed = 1;
    bool optimised = false, load = false;
    [[nodiscard]] static BlockerCase of(unsigned seed);
    [[nodiscard]] QString text() const;
};

[[nodiscard]] BlockerVerdict judgeBlockers(const BlockerCase &which);

} // namespace pipit::tests
