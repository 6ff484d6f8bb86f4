// Conditions without code: "key Ctrl+S", "button left and text not empty", "value from 1 to 9".
//
// Threads: any. Terms are joined by "and" and all must hold. Terms about the event itself fit only
// some events; terms about a widget's state fit signals and events alike and mean the source
// unless they name another widget ("ticketField text not empty"). docs/conditions.md lists them.
#pragma once

#include "core/project/model.h"

namespace pipit
{

struct ConditionTerm {
    enum Kind { Key, Modifiers, Button, MimeType, NotRepeated, TextEmpty, TextIs, Value, Checked };
    Kind kind = Key;
    bool negated = false;              // text not empty, not checked
    QString object;                    // whose state; empty: the source's
    QString word;                      // the key's name, the button, the MIME type, the text
    QStringList modifiers;             // "Ctrl", "Shift", "Alt", "Meta"; of Key and Modifiers
    std::optional<double> least, most; // of Value
};

struct Condition {
    QList<ConditionTerm> terms;
};

// `eventClass` is empty for a signal.
Result<Condition> parseCondition(const QString &text, const QString &eventClass);
QString conditionText(const Condition &condition);

// Whether Qt::Key_<name> is a key, and its proper spelling: "return" → "Return".
QString keyNamed(const QString &name);

} // namespace pipit
