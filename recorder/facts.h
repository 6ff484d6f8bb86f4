// Facts about objects (link/facts.h): states and connections, recorded when they changed, and what the
// program does to them, recorded as it happens.
//
// States and connections are read while nothing of the program runs: before its loop waits, and before an
// input is delivered. What that takes is held to a hundredth of the time. Objects of the main thread are
// looked at: those that a window reaches, and those that the program connected.
//
// Threads: `tell…` any; all else on the main thread.
#pragma once

#include "recorder/callers.h"

#include <QtCore/QByteArray>
#include <QtCore/QObject>

#include <cstdint>
#include <mutex>
#include <string>

namespace pipit::recorder
{

class ThreadLog;
struct LinkInfo;

// Something was delivered: what there is may have changed.
void somethingHappened();
// In how many ms the objects should be looked at: 0 now, link::NoTimeout when nothing happened since.
std::uint32_t sweepDue();
void sweep();
// Before an input is delivered, where that takes next to nothing.
void sweepBeforeInput();

// Its death is recorded from now on: as a state that is "gone", and where what it stands for was started as
// that tie's end. Any thread.
void rememberUntilDeath(const QObject *object, bool started = false);
// A text as it may be told: nothing of it where captions are not.
QByteArray shortened(const QString &text);
void tellTouched(const QObject *object, std::uint64_t place, const QByteArray &what);
// Main thread; told once as long as the drag stays over the object.
void tellOffered(const QObject *object, const std::string &types);

// One end and the other of a connection. `slot` as it is called, or empty; `serial` of its link, or 0.
struct Wire {
    const QObject *sender;
    QByteArray signal;
    const QObject *receiver;
    QByteArray slot;
    int type; // Qt::ConnectionType, without Qt::UniqueConnection
    std::uint64_t serial = 0;
    bool own = true;  // made by the program
    Frames callers{}; // around the place of the connect, which may lie in a template of a header
};
void tellConnected(const Wire &wire, std::uint64_t place);
void tellNotConnected(const Wire &wire, std::uint64_t place, const QByteArray &reason);

// What connects by name or pointer gave: the reason why none came of it, as the toolkit finds it.
QByteArray whyNotByName(const QObject *sender, const char *signal, const QObject *receiver,
                        const char *member, Qt::ConnectionType type);

// Held while the receivers of connections are read, which may be of any thread. The toolkit takes an object
// out of all connections before its death is told, and frees its memory behind that: the death waits for
// this.
extern std::mutex deathWaits;

// All connections of an object, as lines; and a number that changes when they do.
std::size_t wiresInShort(const QObject *sender);
std::string wiresOf(ThreadLog *log, const QObject *sender);
// Those of an object to slots of the receiver that are called by the rule for names, on_OBJECT_SIGNAL; each
// with what the toolkit keeps for it, to be told apart by.
using WiresByRule = std::vector<std::pair<const void *, Wire>>;
WiresByRule wiresByRule(const QObject *sender, const QObject *receiver);
// Adds a wire as one line, without its end.
void addLine(std::string &to, const Wire &wire);

} // namespace pipit::recorder
