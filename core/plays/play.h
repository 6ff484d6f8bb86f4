// Plays: scripted input with expectations, as plain text (docs/formats/plays.md).
//
// Threads: plain values.
#pragma once

#include "core/base/result.h"

#include <QList>
#include <QString>

#include <chrono>

namespace pipit
{

enum class PlayVerb {
    Click,       // boardButton: click
    Type,        // ticketField: type "K-204"
    Press,       // ticketField: press Return
    Hover,       // deckMap: hover 40,60
    Drag,        // carList row 2: drag to deckLane_3
    Wait,        // wait 300ms
    WaitForText, // statusLabel: wait for text containing "aboard" within 2s
    ExpectText,  // statusLabel: expect text "K-204 aboard"
    ExpectCalls, // handler boardPassenger: expect 1 call
    ExpectPace,  // loop: expect no stall over 50ms
};

struct PlayStep {
    int line = 0;
    QString source; // the line as written
    PlayVerb verb = PlayVerb::Wait;
    QString subject;
    int row = 0;  // of a list, table or tree, from 1; 0: the widget itself
    QString text; // what to type, the key, the text expected; where to drag to
    int textRow = 0;
    int x = 0, y = 0; // in the widget; both 0: its middle
    bool containing = false;
    int count = 0;
    std::chrono::milliseconds time{0}; // how long, within what, over what
};

struct Play {
    QString name; // of its file
    QList<PlayStep> steps;
    QByteArray fingerprint; // the same for plays with the same steps
};

Result<Play> parsePlay(const QString &text, const QString &file);
Result<Play> loadPlay(const QString &file);

} // namespace pipit
