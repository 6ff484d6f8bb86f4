// How a program's objects were, at any moment of a recording: their states, what was connected to what, and
// what the program did to them. Read from the recorder's facts (link/facts.h).
//
// Objects are known by their address and a moment: an address may be another's later. States are as of when
// they were told; between two looks of the recorder one may have changed unseen, so that `looked` says how
// near the last look was.
//
// Threads: built and asked on one thread; the trace may grow meanwhile, which a scene does not see.
#pragma once

#include "core/trace/handlers.h"

#include <QHash>
#include <QRect>
#include <QStringList>

#include <optional>
#include <vector>

namespace pipit
{

struct ObjectState {
    std::int64_t time = 0;
    std::uint64_t address = 0;
    std::uint32_t object = 0; // index in the trace
    std::uint32_t is = 0;     // link::StateBit
    bool gone = false;
    bool own = false;                           // of a class of the program's
    std::uint64_t in = 0, proxy = 0, model = 0; // addresses
    QRect at;                                   // in its parent
    int z = 0, focus = 0, menu = 0, context = 0, every = 0;
    std::uint64_t text = 0;
    std::optional<std::int64_t> value;
    QString says; // its caption
    QStringList keys;
    QStringList limits; // of a field: its validator's class, "input mask", "at most 3 characters"
    QList<std::uint64_t> on, filters; // whose an action is; who filters its events
    bool has(std::uint32_t bit) const { return is & bit; }
};

struct WireRow {
    QString signal; // "clicked(bool)"
    std::uint64_t receiver = 0;
    QString receiverClass, receiverName;
    QString slot; // "QLabel::clear()", empty for functions
    int type = 0; // Qt::ConnectionType
    std::uint64_t serial = 0;
    bool own = false;
    QString thread; // of the receiver, see link/facts.h
    QString receiverText() const { return receiverName.isEmpty() ? receiverClass : receiverName; }
    QString signalName() const { return signal.left(signal.indexOf('(')); }
};

struct ConnectRow {
    std::int64_t time = 0;
    std::uint64_t sender = 0;
    std::vector<std::uint64_t> places; // of the call, and of those around it
    std::uint32_t object = 0;          // the sender's index
    bool failed = false;
    QString reason; // of a failure; may be empty
    WireRow wire;
};

struct OfferRow { // what a drag offered
    std::int64_t time = 0;
    std::uint64_t address = 0;
    QString types;
};

struct TouchRow {
    std::int64_t time = 0;
    std::uint64_t address = 0, place = 0;
    std::uint32_t object = 0;
    QString what;                 // "text", "enabled"
    std::optional<QString> value; // where it is used
    SpanId span;                  // in which it was done
};

class Scene
{
public:
    explicit Scene(const TraceModel &trace);

    const TraceModel &trace() const { return trace_; }
    bool isKnown() const { return !looks_.empty(); } // recordings before 0.4 have none
    // Its state then; null where it was unknown by then.
    const ObjectState *state(std::uint64_t address, std::int64_t time) const;
    // Its next recorded state after then.
    const ObjectState *nextState(std::uint64_t address, std::int64_t time) const;
    // All there were then.
    std::vector<const ObjectState *> all(std::int64_t time) const;
    // Those whose name it is, at any time; else those whose class and caption are written so, or whose class.
    QList<std::uint64_t> called(const QString &name) const;
    QStringList names() const;
    QString text(std::uint64_t address, std::int64_t time) const; // what it is called

    // The last moment at which the program can be asked about: the end of the recording or, where all windows
    // were closed by then, just before they were.
    std::int64_t lastMoment() const;

    // The last look at all objects before then, and the first one after; 0: none.
    std::int64_t lookedBefore(std::int64_t time) const;
    std::int64_t lookedAfter(std::int64_t time) const;

    // Its connections then, as last recorded.
    QList<WireRow> wires(std::uint64_t sender, std::int64_t time) const;
    bool everWired(std::uint64_t sender) const { return wires_.contains(sender); }
    const std::vector<ConnectRow> &connects() const { return connects_; }
    const std::vector<TouchRow> &touches() const { return touches_; }

    const std::vector<OfferRow> &offers() const { return offers_; }

    // Where a widget is on the screen, without its window's frame; what of it its parents show.
    QRect onScreen(const ObjectState &widget, std::int64_t time) const;
    QRect shown(const ObjectState &widget, std::int64_t time) const; // empty where nothing is
    const ObjectState *windowOf(const ObjectState &widget, std::int64_t time) const;
    bool isInside(const ObjectState &inner, std::uint64_t outer, std::int64_t time) const; // or the same
    // The topmost visible widget at a place of the screen, in the same window, as the mouse finds it.
    const ObjectState *widgetAt(const ObjectState &window, const QPoint &screen, std::int64_t time) const;

private:
    void learnState(const FactRow &f);
    void learnConnect(const FactRow &f);
    struct Wired {
        std::int64_t time;
        QList<WireRow> wires;
    };

    const TraceModel &trace_;
    QHash<std::uint64_t, std::vector<ObjectState>> states_; // by address, in order of time
    QHash<std::uint64_t, std::vector<Wired>> wires_;
    std::vector<ConnectRow> connects_;
    std::vector<TouchRow> touches_;
    std::vector<OfferRow> offers_;
    std::vector<std::int64_t> looks_;
};

} // namespace pipit
