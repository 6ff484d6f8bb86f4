// What is asked for: a connection, something new, a property. Sentences are read into these, the
// command line fills them, edits carry them out.
//
// Threads: plain values.
#pragma once

#include "core/project/model.h"

namespace pipit
{

struct ConnectRequest {
    QString source; // object name, perhaps ".viewport"; or a selector
    QString what;   // signal name or signature, or event in words
    QString when;   // condition
    // A handler's name, new or existing; "object.member"; with a selector a name with *, which
    // stands for what the selector's * matched: a handler each.
    QString target;
    Pacing pacing;
    bool opens = false; // the target is a window
    bool after = false; // an event, after the widget's own handling
    Connection::Scope scope = Connection::Scope::Widget;
    QString drop{}, convert{};
    bool withSource = false; // a new handler gets the source, also of one
    bool enabled = true;
};

// What a line that adds says: `button key_{0..9} "{}" minimumWidth=48`.
struct AddRequest {
    QString words; // a class or a plain word
    QString name;
    QString text;
    QString base, header; // of a class of the user's; without a base the header says it
    bool thread = false;  // on a thread of its own
    QString parent;       // empty: as the caller has it
    QList<std::pair<QString, QString>> properties;
};

// "boardButton: text Depart", "#key_*: minimum width 48", "boardButton: reset text".
struct SetRequest {
    QString subject;  // a name or a selector
    QString property; // a name or words
    QString text;     // null: back to the default
};
} // namespace pipit
