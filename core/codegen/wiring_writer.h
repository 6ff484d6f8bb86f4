// What the parts of the wiring writer share. Inner; include wiring.h instead.
//
// Threads: one writer belongs to one thread.
#pragma once

#include "core/codegen/cpp_text.h"
#include "core/codegen/wiring.h"
#include "core/project/fit.h"

namespace pipit
{

class WiringWriter
{
public:
    WiringWriter(const Reach &reach, int window, const ProjectPlace &place, const QSet<QString> &overloaded);
    Result<WiringText> write();

private:
    // Sources of one connection that are alike, so that one loop over them will do.
    struct Group {
        const Connection *c;
        QByteArray type; // of a source
        QStringList sources;
        bool isMany() const { return sources.size() > 1; }
        const QString &first() const { return sources.first(); }
    };

    Problem at(const Connection &c, const QString &what, const QString &remedy) const;
    Problem at(const Connection &c, const Problem &why) const { return at(c, why.what, why.remedy); }
    Outcome collect();
    QByteArray header() const;
    void destruction();

    // Lines, indented by `depth_` steps; a condition is broken where it is longer than `widest`.
    static constexpr qsizetype widest = 110;
    void line(const QByteArray &text = {});
    void open(const QByteArray &text);  // and one step in
    void close(const QByteArray &text); // one step out, and
    // The lines from `first` to the one last written are this connection's; a helper is code that
    // looks whether the handler is called, and counts as no call of it.
    void note(int first, const Group &g, const QString &name, bool helper = false);
    void sentence(const Connection &c);
    QByteArray unique(const QByteArray &wanted); // among the locals of the present function
    // A loop over the sources where there are several; `source_` is what the code calls one.
    void openLoop(const Group &g, const QString &part);
    void closeLoop(const Group &g);
    QByteArray sourceCode(const Group &g, const QString &part) const;

    // wiring_signals.cpp
    struct Call {
        QByteArray receiver, member; // to be connected as it is; else
        QStringList types, names;    // what the signal gives it
        QByteArrayList before;       // statements
        QByteArray only;             // a condition that the statements left
        QByteArray text;             // the call
        QString name;                // as the map has it
        bool helper = false;         // what is called is no handler
        bool posted = false;         // to another thread, by the call itself
        bool isPlain() const { return !member.isEmpty(); }
    };
    Outcome signalConnection(const Group &g);
    Result<Call> callFor(const Group &g, const SignalEntry &signal);
    Problem misfit(const Group &g, const Handler &h, const SignalEntry &signal, const Fit &fit) const;
    Result<Call> handlerCall(const Group &g, const SignalEntry &signal);
    Outcome convert(const Group &g, const Handler &h, const SignalEntry &signal, const Conversion &how,
                    Call &call);
    Result<Call> memberCall(const Group &g, const SignalEntry &signal);
    Call opening(const Group &g) const;
    QByteArray signalCode(const Group &g, const SignalEntry &signal) const;
    QStringList parameterNames(const SignalEntry &signal, qsizetype count) const;
    void connection(const Group &g, const QByteArray &signal, const Call &call, const QByteArray &condition);
    void paced(const Group &g, const QByteArray &signal, const Call &call, const QByteArray &condition);
    void body(const Group &g, const Call &call, const QByteArray &condition);

    // wiring_jobs.cpp
    Connection ownerOf(const Handler &h) const; // the first that starts it speaks for it
    void jobs();
    void jobEnds();
    void jobBatches(const Handler &h, Connection owner);
    void starts();
    QByteArray starter(const Handler &h) const; // "startTideForecast"
    QByteArray called(const Handler &h) const;  // what a connection calls
    QByteArray worker(const Handler &h) const;  // "workOnTideForecast"
    QByteArray queued(const Handler &h) const;
    QByteArray busy(const Handler &h) const;
    QByteArray parameters(const Handler &h) const;
    QByteArray argumentNames(const Handler &h) const;
    void jobStart(const Handler &h, const Group &owner);
    void jobWork(const Handler &h, const Group &owner);
    void jobNext(const Handler &h);
    void takeInput(const Handler &h, const Group &owner); // and returns where there is none
    void work(const Handler &h, const Group &owner, const QByteArray &watcher, const QByteArray &pool);
    QByteArray inputType(const Handler &h) const; // "(const TideInput &input)"
    QByteArray inputOf(const Handler &h) const;   // what it was taken into

    // wiring_queues.cpp: queues that handlers share, and several runs at once
    QByteArray queue(const Handler &h) const; // "gaugeQueue_"
    QByteArray runs(const Handler &h) const;
    QByteArray beginner(const Handler &h) const; // "beginTide"
    QByteArray shower(const Handler &h) const;   // "showTides"
    QByteArray sharedMembers() const;
    void queuedStart(const Handler &h, const Group &owner);
    void queuedEnd(const Handler &h);
    void next(const Handler &h); // in its queue
    void togetherStart(const Handler &h, const Group &owner);
    void togetherWork(const Handler &h, const Group &owner);
    void togetherEnds(const Handler &h);
    QByteArray jobMembers() const;
    static QByteArray waitingType(const Handler &h); // of what it was triggered with
    static bool waitsForItsTurn(const Handler &h);
    static bool hasInput(const Handler &h) { return h.input != "void"; }
    static QByteArray capital(const Handler &h);

    // wiring_steps.cpp
    void steps();
    void stepStart(const Handler &h, const Group &owner);
    void stepOn(const Handler &h, const Group &owner);
    void stepTimers();
    QByteArray stepMembers() const;
    QByteArray state(const Handler &h) const;

    // wiring_events.cpp
    Outcome eventFilter();
    Outcome eventCases();
    QByteArray eventName(const EventEntry &e) const;
    Outcome eventBlock(const Group &g, const EventEntry &e);
    Outcome afterBlock(const QList<Group> &groups, const EventEntry &e);
    Outcome dropAcceptance(const EventEntry &e);
    Result<QByteArray> guard(const Group &g, const EventEntry &e);
    QByteArray watchedTest(const Group &g, const EventEntry &e) const;
    QByteArray callOf(const Group &g) const;
    void installFilter();

    const Reach &reach_;
    const Project &p_;
    const WindowNode &w_;
    int index_;
    QString file_;
    QByteArray user_, wired_; // the user's class, and the one that wires it
    const QSet<QString> &overloaded_;
    QByteArray out_;
    int lineNumber_ = 1, depth_ = 0;
    QList<WiringLine> lines_;
    QList<Group> signals_, events_;
    QList<const Handler *> background_, steps_; // handlers of this window
    bool scoped_ = false;                       // some key connection listens beyond its widget
    bool after_ = false;                        // some event connection comes after the widget's own handling
    LocalNames locals_;                         // what they must not be called
    QSet<QByteArray> used_;                     // locals of the present function
    QByteArray source_, event_, watched_, handled_; // what these are called
};

} // namespace pipit
