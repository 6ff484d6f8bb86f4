// Three texts made one: what was read, what stands here, and what somebody else wrote meanwhile, line by
// line. Changes that do not touch each other are both kept.
//
// Threads: any. Cost: the square of the number of changed lines, so what is too different (thousands of
// changed lines) is one clash as a whole.
#pragma once

#include <QList>
#include <QString>

namespace pipit
{

struct MergePiece {
    QString text;         // what both agree on, or what was merged
    bool clash = false;   // or else the two that do not go together:
    QString mine, theirs; // each with its line ends
    int line = 0;         // in what stands here, from 1
};

struct Merge {
    QList<MergePiece> pieces;
    bool clean() const;
    int clashes() const;
    // The whole, with one choice for each clash: true keeps mine.
    QString text(const QList<bool> &keepMine = {}) const;
};

// Two additions at the same place are both kept, theirs first: a stub at the end does not clash with a
// function that was written there.
Merge merge(const QString &base, const QString &mine, const QString &theirs);

} // namespace pipit
