// What one act of a person really did at a widget, in order: its events and its signals. To be laid beside
// what the catalog says of it.
//
// An act goes from the press of a button or a key, or its shortcut check, to its release. Signals of the
// widget's own parts (a combo box's list, a model) are theirs and not told.
//
// Threads: any; bounded.
#pragma once

#include "core/trace/model.h"

#include <QStringList>

namespace pipit
{

struct Lesson {
    QString widget, className;
    QStringList steps; // "mouse press", "pressed", "mouse release", "released", "clicked"
    std::int64_t from = 0, to = 0;
};

// Of an input; no steps: it is none.
Lesson lessonOf(const TraceModel &trace, SpanId input);

} // namespace pipit
