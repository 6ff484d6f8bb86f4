// The trace in memory: spans and names, filled while the program runs or from a recording.
//
// Threads: one writer (the sink's thread). Any number of readers: `spanCount` publishes spans,
// which never move; names and tables are copied out under a lock. A span's end is written later
// than the span itself.
#pragma once

#include "core/records/sink.h"
#include "core/trace/span.h"
#include "core/trace/stacks.h"

#include <QHash>
#include <QString>

#include <array>
#include <memory>
#include <mutex>
#include <unordered_map>

namespace pipit
{

struct ObjectInfo {
    QString className;
    QString name;    // objectName, may be empty
    QString caption; // what stands on a widget without a name, may be empty
    std::uint64_t address = 0;
    // tideButton, QPushButton "Ask", QTimer
    QString text() const
    {
        return !name.isEmpty()     ? name
               : caption.isEmpty() ? className
                                   : className + QStringLiteral(" \"") + caption + '"';
    }
};

struct SignalInfo {
    QString className;
    QString signature;
    QString name() const { return signature.left(signature.indexOf('(')); }
};

struct CodeInfo {
    QString module;
    std::uint64_t offset = 0; // in the module's file, as its symbol table counts
};

// How a handler was bound: one connect call, posted function or single shot.
struct LinkRow {
    link::LinkKind kind = link::LinkKind::Functor;
    std::uint64_t serial = 0;
    std::uint32_t sender = 0;                                    // object index + 1, 0 none
    std::uint32_t signal = 0;                                    // signal index + 1, 0 none
    std::uint64_t code = 0;                                      // addresses, see code()
    std::uint64_t place = 0, outerPlace = 0, outermostPlace = 0; // addresses
    std::uint64_t first = 0, second = 0, fourth = 0; // words that the slot object holds, see LinkWords
    bool codeIsFunction = false;                     // else it is made from a template around it
};

struct ThreadInfo {
    std::uint32_t pid = 0, tid = 0;
    bool main = false;
    QString name;
};

// A stretch in which no loop on a thread reached a wait or a full poll.
struct Stretch {
    std::int64_t start = 0, end = 0;
    std::uint16_t thread = 0;
    std::uint32_t firstSpan = 0; // the first span that began in it
    std::uint32_t around = 0;    // span + 1 that was open when it began, 0 none
    bool reentry = false;        // it ended in a pass without a wait from inside a handler
};

class TraceModel : public RecordSink
{
public:
    TraceModel();
    ~TraceModel() override;

    void streamOpened(int stream, const StreamInfo &info) override;
    void record(int stream, const link::Record &record, const char *text, std::size_t bytes) override;
    void streamEnded(int stream) override;
    void caughtUp(std::int64_t time) override;

    std::uint32_t spanCount() const { return count_.load(std::memory_order_acquire); }
    const Span &span(std::uint32_t i) const { return chunks_[i / chunkSpans]->spans[i % chunkSpans]; }

    ObjectInfo object(std::uint32_t i) const;
    SignalInfo signal(std::uint32_t i) const;
    LinkRow link(std::uint32_t i) const;
    std::uint32_t linkCount() const;
    CodeInfo code(std::uint64_t address) const;
    QString message(std::uint32_t i) const;
    QList<ThreadInfo> threads() const;
    std::vector<Stretch> stretches() const; // every one of at least `shortestStretch`
    std::uint64_t lost() const { return lost_; }
    // Deliveries of a call whose slot is not known.
    std::uint32_t unknownDeliveries() const { return unknownDeliveries_; }
    // When the main thread's loop looked for work first and last; 0: never. What lies before and after is
    // the program's start-up and shutdown.
    std::int64_t firstPass() const { return firstPass_; }
    std::int64_t lastPass() const { return lastPass_; }
    bool mainWaits() const; // for something to come, as one does that is ended then

    std::int64_t now() const { return now_.load(std::memory_order_relaxed); } // the last caughtUp
    std::int64_t firstTime() const { return first_.load(std::memory_order_relaxed); }
    // Since when a thread's loop has not looked for work; 0 while it waits, or has no loop.
    std::int64_t busySince(std::uint16_t thread) const
    {
        return thread < maxThreads ? busySince_[thread].load(std::memory_order_relaxed) : 0;
    }

    std::int64_t busySinceMain() const; // of the main thread
    // Since when a thread has not looked for work, in a loop or not: what is worth a look at its stack.
    std::int64_t unservedSince(std::uint16_t thread) const
    {
        return thread < maxThreads ? unservedSince_[thread].load(std::memory_order_relaxed) : 0;
    }

    StackLog &stacks() { return stacks_; }
    const StackLog &stacks() const { return stacks_; }

    static constexpr std::int64_t shortestStretch = 16'000'000;

private:
    static constexpr std::uint32_t chunkSpans = 4096, maxChunks = 1 << 15, maxThreads = 1 << 16;
    struct Chunk {
        Span spans[chunkSpans];
    };
    struct Thread;
    struct Posting {
        std::int64_t time;
        std::uint32_t cause;
        std::uint32_t generation;
    };

    Span &mutableSpan(std::uint32_t i) { return chunks_[i / chunkSpans]->spans[i % chunkSpans]; }
    std::uint32_t add(Thread &t, SpanKind kind, std::int64_t time);
    void publish() { count_.store(written_, std::memory_order_release); }
    void keepStretch(Thread &t, std::int64_t time, bool reentry);
    bool insideDispatch(const Thread &t) const;
    void begin(Thread &t, const link::Record &s);
    void end(Thread &t, const link::Record &s);
    void closeTop(Thread &t, std::int64_t time, std::uint8_t flags);
    void cutByLoss(Thread &t, std::int64_t time);
    void popTo(Thread &t, std::uint16_t depth, std::int64_t time);
    void openTurn(Thread &t, std::int64_t time);
    void served(Thread &t, std::int64_t time, bool waits);
    void awake(Thread &t, std::int64_t time);
    void learn(Thread &t, const link::Record &s, const char *text, std::size_t bytes);
    std::uint32_t objectIndex(Thread &t, std::uint64_t address);
    std::uint32_t linkIndex(const link::Record &s);
    QString threadName(std::uint32_t pid, std::uint32_t tid, bool main) const;

    std::unique_ptr<std::unique_ptr<Chunk>[]> chunks_;
    std::uint32_t written_ = 0; // writer only
    std::atomic<std::uint32_t> count_{0};
    std::atomic<std::int64_t> now_{0}, first_{0};
    std::unique_ptr<std::atomic<std::int64_t>[]> busySince_, unservedSince_; // by thread
    std::atomic<std::int64_t> firstPass_{0}, lastPass_{0};
    std::atomic<std::uint64_t> lost_{0};
    std::atomic<std::uint32_t> unknownDeliveries_{0};
    std::vector<std::unique_ptr<Thread>> threadStates_; // writer only
    std::unordered_map<std::uint64_t, Posting> posted_; // writer only, by event address
    // Writer only: the tables' rows, without their lock.
    std::unordered_map<std::uint64_t, std::uint32_t> signalCache_, linkCache_;
    std::unordered_map<std::uint64_t, std::uint32_t> lastNamed_; // objects by address, on any thread

    mutable std::mutex mutex_; // guards the tables below
    std::vector<ObjectInfo> objects_;
    QHash<QString, std::uint32_t> objectRows_;
    std::vector<SignalInfo> signals_;
    QHash<std::uint64_t, std::uint32_t> signalRows_;
    std::vector<LinkRow> links_;
    QHash<std::uint64_t, std::uint32_t> linkRows_;
    QHash<std::uint64_t, CodeInfo> codes_;
    QHash<std::uint64_t, LinkRow> linkPlaces_;
    std::vector<QString> messages_;
    QList<ThreadInfo> threads_;
    QList<std::uint32_t> processes_; // in the order in which they came
    std::vector<Stretch> stretches_;
    StackLog stacks_; // has a lock of its own
};

// The name of an event type in words ("mouse press"), or its number when it has none.
QString eventWords(int type);
// The same as the tool-kit spells it ("MouseButtonPress").
QString eventName(int type);
bool isInputEvent(int type);

} // namespace pipit
