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
    Click,       // boardButton: click, double click, context click, press and hold, release
    Wheel,       // passengerList: wheel down 3
    Type,        // ticketField: type "K-204"
    Press,       // ticketField: press Return
    Hover,       // deckMap: hover 40,60
    Drag,        // carList row 2: drag to deckLane_3
    Wait,        // wait 300ms
    WaitFor,     // statusLabel: wait for text containing "aboard" within 2s
    Expect,      // openButton: expect checked
    ExpectCalls, // handler boardPassenger: expect 1 call
    ExpectPace,  // loop: expect no stall over 50ms
    ExpectWait,  // loop: expect wait under 100ms
    ExpectEvery, // gateTimer: expect every 250ms within 20ms
};

// As the recorder counts them.
enum class ClickKind { Plain, Double, Context, Hold, Release };

struct PlayStep {
    int line = 0;
    QString source; // the line as written
    PlayVerb verb = PlayVerb::Wait;
    QString subject;
    int row = 0;  // of a list, table or tree, from 1; 0: the widget itself
    QString text; // what to type, the key, the text expected; where to drag to
    int textRow = 0;
    int x = 0, y = 0; // in the widget; both 0: its middle
    ClickKind click = ClickKind::Plain;
    QString kind; // what is expected: "text", "containing", "checked", "partly", "enabled", "visible",
                  // "value", "item", "count"
    bool is = true;                    // of those that are or are not
    double number = 0;                 // of "value" and "count"
    int count = 0;                     // of calls; steps of the wheel, up is positive
    std::chrono::milliseconds time{0}; // how long, within what, over what
    std::chrono::milliseconds every{0};
    // An expectation about how quick it is: in a comparison it is a figure, no condition.
    bool isPace() const
    {
        return verb == PlayVerb::ExpectPace || verb == PlayVerb::ExpectWait ||
               verb == PlayVerb::ExpectEvery || (verb == PlayVerb::Expect && time.count() > 0);
    }
    // In words, "text containing "aboard"".
    QString expected() const;
};

struct Play {
    QString name; // of its file
    QList<PlayStep> steps;
    QByteArray fingerprint; // the same for plays with the same steps
};

Result<Play> parsePlay(const QString &text, const QString &file);
Result<Play> loadPlay(const QString &file);

} // namespace pipit
