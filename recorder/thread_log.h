// One recorded thread's log: its ring, its nesting depth and which names it has told already.
//
// Threads: a ThreadLog belongs to the thread that made it (`current()`), and only that thread
// uses it; the switches at the bottom are atomic. A forked child never writes. Names are told
// per stream, so that each stream of a recording can be read alone, and told again after an
// address was reused for something else.
#pragma once

#include "link/clock.h"
#include "link/ring.h"
#include "recorder/arguments.h"
#include "recorder/told.h"

#include <QtCore/qglobal.h>
#include <atomic>
#include <memory>
#include <string>
#include <sys/types.h>

QT_BEGIN_NAMESPACE
class QObject;
struct QMetaObject;
QT_END_NAMESPACE

namespace pipit::recorder
{

// CLOCK_MONOTONIC, ns.
inline std::uint64_t now()
{
    return link::monotonic();
}
// The clock of the records, which Pipit chose; set before anything is recorded.
extern bool countsForClock;
inline std::uint64_t moment()
{
    return countsForClock ? link::counter() : link::monotonic();
}
// For what another thread's record may have led to: not before that one.
inline std::uint64_t momentAfterwards()
{
    return countsForClock ? link::counterAfterwards() : link::monotonic();
}

// A connect call, a posted function or a single shot, as told by Link and LinkPlace.
struct LinkInfo {
    std::uint64_t serial = 0;
    std::uint64_t sender = 0;
    std::uint64_t signalKey = 0;
    std::uint64_t code = 0;
    std::uint64_t place = 0, outerPlace = 0, outermostPlace = 0;
    std::uint64_t first = 0, second = 0, fourth = 0; // words of the slot object, behind its own function
    std::string signalText;                          // "Class\nsignature", empty when there is no signal
    link::LinkKind kind = link::LinkKind::Functor;
    bool codeIsFunction = false;
    std::uint32_t value() const { return std::uint32_t(kind) | (codeIsFunction ? link::CodeIsFunction : 0); }
};

// Whose a slot called by index is.
enum class MethodNature : std::uint8_t {
    Program, // of a class of the program
    Toolkit, // of a class of the toolkit: a handler only if the program connected it
    Inner,   // a signal passed on, or an inner slot of the toolkit: never a handler
};

// Slots called by index that are running on a thread. The end callback may come after the receiver is gone,
// so what it needs is kept here; entries that an exception left are dropped. They go with the log: other
// thread-local objects may emit when the thread ends, and nothing is recorded of that.
struct RunningSlot {
    QObject *receiver;
    int index;
    std::uint16_t depth;
    bool quiet;
};
struct RunningSlots {
    static constexpr int most = 128; // deeper ones are not recorded
    RunningSlot at[most];
    int count = 0;
};
// Whether the code before a place calls a function's stub.
struct KnownCall { // what the code in front of a return address calls
    std::uint64_t place = 0;
    const void *called = nullptr;
};

// The key of QAbstractSocket::stateChanged once it was emitted, else 0: connectToHost is virtual and cannot
// be stood in for, but emits that.
inline std::atomic<std::uint64_t> socketState{0};

class ThreadLog
{
public:
    // This thread's log, made on first use; null when nothing is recorded here, as in a forked child.
    static ThreadLog *current();
    // The same, but never made: null on a thread that has recorded nothing yet.
    static ThreadLog *existing();

    void begin(link::Kind kind, std::uint32_t value, std::uint64_t a = 0, std::uint64_t b = 0,
               std::uint64_t c = 0, std::uint64_t d = 0);
    // The same of what another thread may have led to.
    void beginAfterwards(link::Kind kind, std::uint32_t value, std::uint64_t a, std::uint64_t b,
                         std::uint64_t c);
    void end(link::Kind kind, std::uint16_t depth, std::uint32_t value = 0, std::uint64_t a = 0);
    bool mark(link::Kind kind, std::uint32_t value = 0, std::uint64_t a = 0, std::uint64_t b = 0,
              std::uint64_t c = 0, std::uint64_t d = 0);
    // The same of what another thread may have led to.
    bool markAfterwards(link::Kind kind, std::uint32_t value, std::uint64_t a);
    bool text(link::Kind kind, std::uint32_t value, const char *bytes, std::size_t size, std::uint64_t a = 0,
              std::uint64_t b = 0);

    RunningSlots runningSlots;
    KnownCall knownCalls[64];

    std::uint16_t depth() const { return depth_; }
    // Of the innermost open span; 0 for none. No other span of the process has it.
    std::uint64_t spanNumber() const { return depth_ ? numbers_[(depth_ - 1) & 255] : 0; }
    bool isMain() const { return place_ == 0; }
    // The innermost that has not ended is a call of a handler.
    bool inHandler() const { return depth_ > 0 && opened_[(depth_ - 1) & 255] == link::Kind::CallBegin; }
    // A record is being written: only a signal handler sees that.
    bool isWriting() const { return writing_; }
    SignalArguments &arguments() { return arguments_; }
    // An exception left a call, and with it the signal around it, whose own end is never told.
    void leaveSignal();

    // Each tells the name on this stream unless it is known here, and returns the key to record. What found
    // no room is told again the next time.
    std::uint64_t object(const QObject *o);
    // The same; what had no name and no caption so far may have one by now, and is told anew then.
    std::uint64_t objectAnew(const QObject *o);
    std::uint64_t method(const QMetaObject *of, int index, bool isSignalIndex,
                         MethodNature *nature = nullptr);
    std::uint64_t code(std::uint64_t address);
    void link(const LinkInfo &info);
    bool knowsLink(std::uint64_t serial) const { return links_.has(serial); }

private:
    friend struct ThreadLogOwner;
    ThreadLog(link::RingHeader *ring, std::size_t place, std::size_t objectSlots);
    void open(const link::Record &s);
    void introduce(bool isMain); // the first records of a stream
    bool put(const link::Record &s, const char *bytes = nullptr, std::size_t size = 0);

    struct KnownObject {
        const QObject *object = nullptr;
        const void *metaObject = nullptr;
        const void *name = nullptr;
        bool isCalled = false; // by a name or a caption
    };
    KnownObject &knownFor(const QObject *o);
    struct KnownMethod {
        const QMetaObject *of = nullptr;
        int index = -1;
        std::uint64_t key = 0;
        MethodNature nature = MethodNature::Program;
    };

    link::RingWriter ring_;
    std::size_t place_;
    std::uint16_t depth_ = 0;
    bool writing_ = false;
    link::Kind opened_[256] = {}; // by depth, modulo its size
    std::uint64_t numbers_[256] = {};
    std::uint64_t begun_ = 0;
    std::uint64_t lostTold_ = 0;
    std::size_t objectMask_;
    std::unique_ptr<KnownObject[]> objects_;
    KnownMethod methods_[512];
    SignalArguments arguments_;
    Told codes_, links_, keys_;
};

// Leaves a begin record open and closes it on the way out, exceptions included.
class OpenSpan
{
public:
    OpenSpan(ThreadLog *log, link::Kind endKind, std::uint64_t word)
        : log_(log), kind_(endKind), word_(word), depth_(log->depth())
    {
    }
    ~OpenSpan()
    {
        log_->end(kind_, depth_, value, word_);
        if (kind_ == link::Kind::CallEnd && value)
            log_->leaveSignal();
    }
    OpenSpan(const OpenSpan &) = delete;
    OpenSpan &operator=(const OpenSpan &) = delete;
    std::uint32_t value = 0; // of a call: 1 while it may be left by an exception

private:
    ThreadLog *log_;
    link::Kind kind_;
    std::uint64_t word_;
    std::uint16_t depth_;
};

// "Class\nsignature" for a method, and its key: the address of its meta-object and its index in it.
std::string methodText(const QMetaObject *of, int localIndex);
std::uint64_t methodKey(const QMetaObject *of, int localIndex);

// Nothing is recorded on the calling thread from now on: for the recorder's own threads.
void muteThisThread();
void unmuteThisThread();
// Off until start-up is done, and in a forked child, where its page is empty.
extern std::atomic<bool> *recordingSwitch;
inline bool isRecording()
{
    return recordingSwitch && recordingSwitch->load(std::memory_order_relaxed);
}
// The one that made the application object: the main thread, whichever it is.
extern pid_t applicationThread;

} // namespace pipit::recorder
