// One question while it is answered: private to core/why. Its functions are in files by what they look at.
//
// Each station's function says whether to go on to the next: false once one is broken, or nothing can be
// known of what follows.
//
// Threads: one question belongs to one thread.
#pragma once

#include "core/trace/dispatches.h"
#include "core/trace/inputs.h"
#include "core/why/why.h"

namespace pipit
{

// An input as it was delivered to a widget, or a shortcut.
struct InputEvent {
    SpanId span;
    std::int64_t start = 0, end = 0;
    int type = 0; // QEvent::Type
    std::uint32_t object = 0;
    std::uint64_t address = 0;
    std::optional<InputInfo> info;
    bool fromWindow = false;
};

class Asking
{
public:
    Asking(const TraceModel &trace, Handlers &handlers, const Scene &scene,
           const std::vector<InputEvent> &events, const WhyQuestion &question)
        : trace_(trace), handlers_(handlers), scene_(scene), question_(question), events_(events)
    {
    }
    WhyAnswer answer(std::uint64_t address);

    // What came of an input.
    struct Ran {
        Span call;
        SpanId signal;
        QString handler;
        bool queued = false;
        bool aside = false; // by what another object emitted meanwhile
    };
    struct Effects {
        std::int64_t from = 0, to = 0;
        std::vector<Span> emitted; // by the widget
        std::vector<Span> others;  // signals of others, in the same dispatches
        std::vector<Ran> calls;    // those aside last
        bool ran() const { return !calls.empty() && !calls.front().aside; }
    };

    // asking.cpp
    void fine(const QString &station, const QString &detail);
    void unknown(const QString &station, const QString &detail, const QString &verdict = {},
                 const QString &sentence = {}, const QString &fix = {});
    bool broken(const QString &station, const QString &verdict, const QString &sentence, const QString &fix);
    void lookAt(const std::vector<std::uint64_t> &places); // where to look
    QString name() const;                                  // the widget's
    QString nameOf(std::uint64_t address) const;
    QString nameOf(const ObjectState &s) const;
    QString placeWords(const std::vector<std::uint64_t> &places);
    // The first message of the program's that holds these words; empty: none does.
    QString messageWith(const QString &words, std::int64_t from, std::int64_t to) const;
    bool lostBetween(std::int64_t from, std::int64_t to) const;
    const ObjectState *self(std::int64_t time) const { return scene_.state(address_, time); }

    // asking.cpp: which interaction
    const InputEvent *lastMouse(std::int64_t until) const;
    const InputEvent *lastKey(std::int64_t until) const;
    bool wasPressedLast(const InputEvent &mouse) const;
    const InputEvent *lastDrag(std::int64_t until) const;
    const OfferRow *lastOffer(std::int64_t until) const; // a drag that came to where it is
    bool reached(const InputEvent &e) const;             // the widget, or a part of it
    bool liesIn(const InputEvent &e) const;              // the press was where the widget is
    std::optional<QPoint> onScreen(const InputEvent &e) const;

    // asking_reach.cpp: window, widget, state
    const WhyAttempt *lastAttempt(std::int64_t until) const;
    void chooseAndAnswer(const ObjectState *s);
    void withoutInput(std::int64_t time);
    QString stateNow(std::int64_t then) const; // ", and is disabled now"
    bool canBeReached(std::int64_t time);      // state stations, with the mouse
    bool isWhole(std::int64_t time);           // it and its parents are there, visible, enabled
    bool isUncovered(const ObjectState &w, std::int64_t time);
    void byMouse(const InputEvent &press);
    bool wentTo(const InputEvent &press); // the widget under the pointer is this one
    bool passedFilters(const InputEvent &e);
    bool wasTaken(const InputEvent &e);
    // What a right click asks for, if this widget accepted that.
    const InputEvent *contextMenuOf(const InputEvent &press) const;
    bool releaseCame(const InputEvent &release, const Effects &e);

    // asking_keys.cpp
    void byKey(const InputEvent &key);
    bool keyWentTo(const InputEvent &key);
    void byShortcut(std::int64_t time, const InputEvent *key);
    enum class Match { Own, Ambiguous, Others, None };
    Match matchOf(const InputEvent &key, QString *other) const;
    bool contextFits(const ObjectState &w, std::int64_t time, const QString &keys);
    bool shortcutFits(const ObjectState &w, std::int64_t time, const InputEvent *key);
    const InputEvent *lastOf(const QStringList &keys, std::int64_t until) const;

    // asking_own.cpp: what a widget itself keeps from happening
    bool isLineOfText(const ObjectState &w) const; // a QLineEdit, or of a class derived from it
    bool fieldTookIt(const ObjectState &w, const InputEvent &key, const Effects &e, bool enters);
    // What its own handlers did to it while it was pressed.
    bool wasNotKeptFromIt(const Effects &e, const QStringList &expected);
    bool classPassedItOn(const Effects &e, const QStringList &expected);
    bool leadsToTheProgram(const Effects &e); // what the toolkit makes of a click
    bool ledElsewhere(const Effects &e);      // to an action, to a dialog's end; what came of that is told
    void tellWhatItSetOff(const Effects &e, const Span &signal, const QString &did);

    // asking_drags.cpp
    void byDrag(const InputEvent &drag);
    void byOffer(const OfferRow &offer); // which no widget got
    bool takesDrops(std::int64_t time) const;
    QString offeredBetween(std::int64_t from, std::int64_t to) const;
    bool dragNeverStarted(const InputEvent &press);

    // asking_timers.cpp
    void ofTimer(std::int64_t time);
    bool startedElsewhere(const std::vector<const TouchRow *> &touches);

    // asking_effects.cpp: signal, connection, delivery, handler, value, repaint
    Effects effectsOf(std::int64_t from, std::int64_t to, const std::vector<SpanId> &roots) const;
    void after(const Effects &e, const QStringList &expected);
    bool emittedWhatIsExpected(const Effects &e, const QStringList &expected);
    bool signalsAreBlocked(std::int64_t time) const;
    bool isConnected(const Effects &e, const QStringList &expected);
    void notConnected(const QStringList &signalNames, std::int64_t time);
    bool wasDelivered(const Effects &e, const QList<WireRow> &wires);
    bool handlersRan(const Effects &e);
    bool hasEnded(const Ran &r);
    bool isNoCircle(const Effects &e);
    bool isSameFunction(const Ran &a, const Ran &b) const;
    bool changedSomething(const Effects &e);
    bool setAnew(const Effects &e, const std::vector<const TouchRow *> &touched);
    void judgeOwnHandling(const Effects &e);
    bool wasPainted(const Effects &e, const std::vector<const TouchRow *> &touched);
    std::vector<const TouchRow *> touchesOf(const Effects &e) const;
    QStringList changesSeen(const Effects &e) const;
    // Files opened to write, renamed or removed, settings, the clipboard and the like, by what ran.
    QStringList usedBy(const Effects &e) const;
    void tellChanges(std::int64_t until);
    bool isOwnSignal(const Span &s) const; // the widget's, or of an inner part of it
    struct Author {
        QString text; // "board", "main.cpp:12"
        QString file;
        int line = 0;
    };
    Author authorOf(const TouchRow &t);
    void lookAt(const Author &a);

private:
    QString callText(const Ran &r) const;
    bool overwritten(const std::vector<const TouchRow *> &touched, std::int64_t before);
    bool paintedTooLate(const Effects &e, const std::vector<const TouchRow *> &touched);

    const TraceModel &trace_;
    Handlers &handlers_;
    const Scene &scene_;
    const WhyQuestion &question_;
    const std::vector<InputEvent> &events_; // in order of time
    std::uint64_t address_ = 0;
    std::int64_t until_ = 0;
    WhyAnswer a_;
    bool done_ = false; // a station is broken
};

// "3.214 s", from the beginning of the recording.
QString secondsOf(const TraceModel &trace, std::int64_t time);
// The same key and modifiers, however they are written.
bool isSameKey(const QString &a, const QString &b);
bool isToolkitClass(const QString &name);

} // namespace pipit
