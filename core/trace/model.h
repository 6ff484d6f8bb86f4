// The trace in memory: spans and names, filled while the program runs or from a recording.
//
// Threads: one writer (the sink's thread). Any number of readers, without locks: what they are told that
// there is, is complete, and stays where it is. A span's end is written later than the span itself.
#pragma once

#include "core/records/sink.h"
#include "core/spans/thread_rows.h"
#include "core/trace/names.h"
#include "core/trace/stacks.h"
#include "link/facts.h"
#include "link/ties.h"

#include <deque>

namespace pipit
{

struct ThreadInfo {
    std::uint32_t pid = 0, tid = 0;
    bool main = false;
    QString name;
};

// A stretch in which no loop on a thread reached a wait or a full poll.
struct Stretch {
    std::int64_t start = 0, end = 0;
    std::uint16_t thread = 0;
    std::uint32_t firstRow = 0; // of its thread: the first span that began in it
    SpanId around;              // that was open when it began
    bool reentry = false;       // it ended in a pass without a wait from inside a handler
};

// A fact about an object.
struct FactRow {
    std::int64_t time = 0;
    std::uint64_t other = 0;  // by fact
    std::uint32_t object = 0; // index; 0 where it was never named
    std::uint32_t text = 0;
    SpanId span; // in which it was recorded
    link::Fact fact = link::Fact::State;
    std::uint16_t thread = 0;
};

class TraceModel : public RecordSink
{
public:
    explicit TraceModel(QString spillFolder = SpanMemory::defaultFolder());
    ~TraceModel() override;

    void streamOpened(int stream, const StreamInfo &info) override;
    void record(int stream, const link::Record &record, const char *text, std::size_t bytes) override;
    void streamEnded(int stream) override;
    void caughtUp(std::int64_t time) override;

    // Spans.
    std::uint16_t threadCount() const { return std::uint16_t(threads_.size()); }
    const ThreadRows &rows(std::uint16_t thread) const { return threads_[thread]->rows; }
    // Whether there is such a span: one that was kept may be of another trace.
    bool has(SpanId id) const
    {
        return id && id.thread() < threadCount() && id.row() < rows(id.thread()).count();
    }
    Span span(SpanId id) const { return rows(id.thread()).at(id.row()); }
    Posting posting(SpanId id) const { return rows(id.thread()).posting(id.row()); }
    // All that is known to have led to it, besides what it lies in; who posted its event comes first.
    std::vector<Cause> causes(SpanId id) const;
    std::uint64_t spanCount() const { return total_.load(std::memory_order_relaxed); } // in all

    // Names.
    ObjectInfo object(std::uint32_t i) const { return names_.object(i); }
    SignalInfo signal(std::uint32_t i) const { return names_.signal(i); }
    LinkRow link(std::uint32_t i) const { return names_.link(i); }
    std::uint32_t linkCount() const { return names_.linkCount(); }
    CodeInfo code(std::uint64_t address) const { return names_.code(address); }
    QString message(std::uint32_t i) const { return names_.message(i); }
    ThreadInfo thread(std::uint16_t i) const;
    bool isMain(std::uint16_t i) const { return i < threadCount() && threads_[i]->main; }
    QList<ThreadInfo> threads() const;

    // Facts about objects, in the order in which they came (link/facts.h); texts by `factText`.
    std::uint32_t factCount() const { return facts_.size(); }
    std::uint32_t firstFactFrom(std::int64_t time) const;
    const FactRow &fact(std::uint32_t i) const { return facts_[i]; }
    const QString &factText(const FactRow &f) const { return names_.text(f.text); }
    // What a signal carried: "5", "true, \"K-204\""; empty where it is unknown.
    QString argumentsOf(const Span &signal) const;

    // Every one of at least `shortestStretch`, in the order in which they ended.
    std::uint32_t stretchCount() const { return stretches_.size(); }
    const Stretch &stretch(std::uint32_t i) const { return stretches_[i]; }
    std::uint64_t lost() const { return lost_; }
    // Deliveries of a call whose slot is not known.
    std::uint32_t unknownDeliveries() const { return unknownDeliveries_; }
    // When the main thread's loop looked for work first and last; 0: never. What lies before and after is
    // the program's start-up and shutdown.
    std::int64_t firstPass() const { return firstPass_; }
    std::int64_t lastPass() const { return lastPass_; }
    bool mainWaits() const; // for something to come, as one does that is ended then

    std::int64_t now() const { return now_.load(std::memory_order_acquire); } // the last caughtUp
    std::int64_t firstTime() const { return first_.load(std::memory_order_relaxed); }
    // Since when a thread's loop has not looked for work; 0 while it waits, or has no loop.
    std::int64_t busySince(std::uint16_t thread) const
    {
        return thread < threadCount() ? threads_[thread]->busySince.load() : 0;
    }
    std::int64_t busySinceMain() const; // of the main thread
    // Since when a thread has not looked for work, in a loop or not: what is worth a look at its stack.
    std::int64_t unservedSince(std::uint16_t thread) const
    {
        return thread < threadCount() ? threads_[thread]->unservedSince.load() : 0;
    }

    StackLog &stacks() { return stacks_; }
    const StackLog &stacks() const { return stacks_; }
    const SpanMemory &memory() const { return memory_; }

    static constexpr std::int64_t shortestStretch = 16'000'000;

private:
    struct Shared { // of a thread: what readers see
        ThreadRows rows;
        std::uint32_t pid = 0, tid = 0;
        std::atomic<bool> main{false};
        std::atomic<std::uint32_t> name{0}; // a text
        std::atomic<std::int64_t> busySince{0}, unservedSince{0};
        Shared(SpanMemory &memory, std::uint16_t thread) : rows(memory, thread) {}
    };
    struct Thread; // what the writer knows of it
    struct Posted {
        std::int64_t time;
        SpanId cause;
        std::uint32_t generation;
        SpanId thread; // what started the thread, where it was posted in no span
    };
    // Of an object and a type of event of which one at most is queued: others are compressed into it, so long
    // as it is. One that was taken back is only known by a later one's delivery, so each is kept with its
    // event.
    struct Queued {
        std::uint64_t event = 0;
        std::uint32_t generation = 0;
        std::vector<std::pair<std::uint64_t, SpanId>> others;
        static constexpr std::size_t most = 64;
    };
    struct TieKey {
        std::uint64_t token;
        link::Tie tie;
        bool operator==(const TieKey &) const = default;
    };
    struct TieHash {
        std::size_t operator()(const TieKey &k) const
        {
            return std::size_t((k.token * 8 + std::uint64_t(k.tie)) * 0x9e3779b97f4a7c15u >> 7);
        }
    };
    struct Begun {
        SpanId by;
        bool came = false; // something came of it before
    };

    void nameThread(Shared &s);
    void keepStretch(Thread &t, std::int64_t time, bool reentry);
    bool insideDispatch(const Thread &t) const;
    void begin(Thread &t, const link::Record &s);
    void beginDispatch(Thread &t, const link::Record &s, std::uint32_t object);
    void end(Thread &t, const link::Record &s);
    void closeTop(Thread &t, std::int64_t time, std::uint16_t flags);
    void takeHop(Thread &t, const link::Record &s);
    void takeInput(Thread &t, const link::Record &s);
    void takePost(Thread &t, const link::Record &s);
    void takeBegan(Thread &t, const link::Record &s);
    void takeCause(Thread &t, const link::Record &s);
    void addCause(Thread &t, std::uint32_t row, const Cause &cause);
    void addCompressed(Thread &t, const link::Record &s, std::uint32_t row, SpanId poster);
    void addStarted(Thread &t, std::uint64_t object, std::uint32_t row);
    void takeFact(Thread &t, const link::Record &s, const char *text, std::size_t bytes);
    void cutByLoss(Thread &t, std::int64_t time);
    void popTo(Thread &t, std::uint16_t depth, std::int64_t time);
    void openTurn(Thread &t, std::int64_t time);
    void served(Thread &t, std::int64_t time, bool waits);
    void awake(Thread &t, std::int64_t time);
    void learn(Thread &t, const link::Record &s, const char *text, std::size_t bytes);
    void publish(Thread &t);
    void publishOther(std::uint16_t thread);

    SpanMemory memory_;
    AppendOnly<std::unique_ptr<Shared>> threads_;
    TraceNames names_;
    AppendOnly<FactRow> facts_;
    AppendOnly<Stretch> stretches_;
    std::atomic<std::uint64_t> total_{0};
    std::atomic<std::int64_t> now_{0}, first_{0};
    std::atomic<std::int64_t> firstPass_{0}, lastPass_{0};
    std::atomic<std::uint64_t> lost_{0};
    std::atomic<std::uint32_t> unknownDeliveries_{0};
    // Writer only.
    std::vector<std::unique_ptr<Thread>> threadStates_;
    std::vector<Thread *> states_;                     // by number; null once they ended
    std::vector<std::uint16_t> unpublished_;           // numbers
    std::unordered_map<std::uint64_t, Posted> posted_; // by event address
    std::unordered_map<std::uint64_t, Queued> queued_; // by object and type
    std::unordered_map<TieKey, Begun, TieHash> begun_;
    std::deque<std::uint64_t> painters_; // their tokens, the oldest first
    bool objectsStarted_ = false;
    QList<std::uint32_t> processes_; // in the order in which they came
    std::int64_t restedAt_ = 0;

    StackLog stacks_; // has a lock of its own
};

// The name of an event type in words ("mouse press"), or its number when it has none.
QString eventWords(int type);
// The same as the toolkit spells it ("MouseButtonPress").
QString eventName(int type);
bool isInputEvent(int type);

} // namespace pipit
