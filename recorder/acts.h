// What acts on a program's widgets and reads from them: libpipit-hands.so, which the recorder loads into
// programs with Qt Widgets. The recorder itself watches, and needs QtCore only, so that it can be loaded into
// programs without windows too.
//
// Threads: `acts` is set once, before anything is recorded; see each function.
#pragma once

#include <QtCore/QString>

#include <chrono>
#include <cstdint>
#include <string>
#include <vector>

QT_BEGIN_NAMESPACE
class QEvent;
class QJsonObject;
class QObject;
class QRect;
QT_END_NAMESPACE

namespace pipit::recorder
{

struct Offer {
    const QObject *to = nullptr;
    std::string types; // parted by commas
};
struct LookAt {
    const std::vector<const QObject *> &also;                      // objects that no window need reach
    void (*state)(const QObject *object, const std::string &text); // it has changed
    void (*sender)(const QObject *object);                         // it has connections
    std::chrono::nanoseconds most;                                 // of the processor's time
};
struct Looked {
    int reached = 0; // objects, in the whole round so far
    bool all = true; // the round is over: none is left
};

// What of a widget is to be painted, in its own coordinates: one of them, the latter a QRegion. Invalid: what
// was painted there before is no longer there, so opaque children are painted too.
struct MarkedArea {
    const QRect *rect;
    const void *region;
    bool invalid;
};

struct Acts {
    // What stands on a widget, for those that have no name; empty when there is none, or when it may not be
    // read here. Any thread.
    QString (*captionOf)(const QObject *object);
    // Whether `beforeWait` has anything to do: then it is the recorder's own work, and is recorded as such.
    // On a loop's thread.
    bool (*worksBeforeWait)();
    // On a loop's thread before a poll; `reallyWaits` is false for one without a wait.
    void (*beforeWait)(bool reallyWaits);
    // On a loop's thread before a poll when there is no such work: the loop came round.
    void (*loopServed)();
    // An event may have moved, shown or hidden something. Main thread.
    void (*geometryChanged)();
    // What Input records of an event to a widget; false when there is nothing to record. Any thread.
    bool (*describeInput)(const QEvent *event, std::uint32_t *value, std::uint32_t *what);
    // What a drag that comes to a window offers, and which widget it is over. Main thread.
    Offer (*offered)(QObject *window, const QEvent *event);
    // Looks at the objects in reach and records the state of those that changed (link/facts.h); goes on where
    // it ended the last time, if that was not the end of the round. Main thread, while nothing of the program
    // runs.
    Looked (*look)(const LookAt &how);
    // A span marked what is to be painted by that manager of a window's painting; true if it is the first
    // that it marks there since the last painting. Main thread, as are all of these.
    bool (*marked)(void *manager, QObject *widget, const MarkedArea &area, std::uint64_t span);
    // The manager paints what was marked; it has.
    void (*paints)(void *manager);
    void (*painted)(void *manager);
    // The spans that marked what a paint event covers, or what an update request brings, at most `most`; -1
    // for a paint that no manager asked for.
    int (*markedBy)(QObject *receiver, QEvent *event, std::uint64_t *spans, int most);
    // Does what Pipit asked for (link/control.h), and gives the result, or an "error" text. The recorder's
    // own thread.
    QJsonObject (*answer)(const QString &method, const QJsonObject &params);
};

// Null in a program without widgets, or where the library is missing.
extern const Acts *acts;

// What the library exports. `captionsAllowed`: captions are texts as well, and texts may be masked. `posting`
// is called on the recorder's thread before the first input of a request is posted: the program may end by
// that input before there is an answer.
using ActsEntry = const Acts *(*)(bool captionsAllowed, void (*posting)());
inline constexpr char actsEntry[] = "pipit_acts";

// Loads it, if the program has Qt Widgets. On the thread that builds the QCoreApplication, once.
void loadActs(bool captionsAllowed);

} // namespace pipit::recorder
