// The recorder's parts that hang themselves into the program. Each `install…` is called once,
// on the thread that builds the QCoreApplication, before the program has other threads.
#pragma once

#include "recorder/shim/stubs.h"

#include <QtCore/qglobal.h>
#include <cstdint>
#include <vector>

QT_BEGIN_NAMESPACE
class QEvent;
class QObject;
namespace QtPrivate
{
class QSlotObjectBase;
}
QT_END_NAMESPACE

namespace pipit::recorder
{

class ThreadLog;

void installDispatch(); // every event, every signal
void installCalls();    // functor and member slots, invoked functions, single shots
void installNamed();    // slots called by name: connected, invoked, queued
void installWork();     // what is given to thread pools
void installLoops();    // loops, forced passes, waits
void installPosts();    // postEvent, by an entry patch; tells Pipit when it cannot
void installHops();     // the way of an event through filters and receivers; tells Pipit when it cannot
void installMessages(); // qDebug … qFatal
void installFacts();    // states, connections: see facts.h
void installEnds();     // threads that run on when the application object goes
void installTouches();  // what the program does to widgets and timers
void installFiles();    // files that are opened, renamed, removed
void installServices(); // settings, the clipboard, the desktop
void installTies();     // what was begun, for what comes of it: see ties.h
void installPainting(); // which spans had a widget painted

// Whether a part is left out of this run: link::parts.
bool isLeftOut(const char *part);

// The real function behind a stub, and a stub's slot.
void *realFunction(StubId id);
void setStub(StubId id, void *function);
const void *stubFunction(StubId id); // the stub itself

// Pieces of code whose connections and calls are switched off: what they bound is not called. Any thread.
struct CodeRange {
    std::uint64_t from, to; // addresses, the last one excluded
};
void switchOff(std::vector<CodeRange> ranges);

// True if the program itself connected something to this method by name. The toolkit's own inner
// connections to its own slots are not handlers of the program.
bool connectedByProgram(const QObject *receiver, int methodIndex);

// Looks at an event that may be about to call a slot by its index, and sees to it that the call is recorded
// when it is made. False: it calls a slot, and which is not known.
bool watchMetaCall(QEvent *event);
// The generation of a posted event, stamped into it; 0 for one that was never posted.
std::uint32_t generationOf(const QEvent *event);

// The function of a slot object; and the serial of its link, told first, if the program connected it: else 0.
std::uint64_t implOf(const QtPrivate::QSlotObjectBase *slot);
std::uint64_t tellLinkOf(ThreadLog *log, const QtPrivate::QSlotObjectBase *slot, const QObject *receiver);

// Captions and the like may be told.
extern bool textsMayBeTold;
extern bool ownTexts; // the program was composed in Pipit: what its signals carry is told word by word

// True if the address lies in one of the toolkit's own libraries, or in a plugin of its or of the desktop's.
bool inToolkit(std::uint64_t address);
// True if a call from there is the program's own, and something is recorded.
bool fromProgram(std::uint64_t returnAddress);
// True if the address lies in the code of a module.
bool isCode(std::uint64_t address);

} // namespace pipit::recorder
