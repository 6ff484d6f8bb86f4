// What a timer's handler ends at its ticks, and where that begins: a label that is set for a moment, a lamp
// that is lit.
//
// At each tick of a sweep either the handler asks a QElapsedTimer of the window's how long it is since it
// began, or a flag whether it did, or it ends it whatever there is. What it does beside that stands against
// ending each on time.
//
// Threads: plain values; the unit must outlive it.
#pragma once

#include "core/moves/effects.h"

#include <chrono>

namespace pipit
{

struct Swept {
    enum class How { Elapsed, Flag, Always };
    How how = How::Always;
    int decl = -1;                         // the QElapsedTimer, or the flag
    std::chrono::milliseconds lasts{0};    // as the handler asks for it; 0: no matter of that
    QSet<std::pair<int, QString>> widgets; // Always: what is set of which, as `settingOf` has it
    struct Piece {
        int begin = -1, end = -1; // of the file
        QString with{};           // what stands there afterwards
    };
    QList<Piece> pieces; // of the handler, that are not asked any more
    struct Against {
        int at = -1;
        QString reason;
    };
    QList<Against> against;
    QStringList names(const CodeUnit &unit) const; // of the members that mark where it begins
};

[[nodiscard]] Swept sweptBy(const CodeUnit &unit, const Effects &effects, const CodeFunction &tick,
                            const QString &text);

struct Begun {
    int begin = -1, end = -1; // of the statement
    bool alone = false;       // it stands without braces after an if or a loop
};
// Where another function begins what the sweep ends; of several statements in a row the last.
[[nodiscard]] QList<Begun> begunIn(const CodeUnit &unit, const Swept &swept, const CodeFunction &function,
                                   const QString &text, QList<Swept::Against> *against);

// "text" of setText, setNum and clear; empty for what is no plain setting.
[[nodiscard]] QString settingOf(const QString &method);

} // namespace pipit
