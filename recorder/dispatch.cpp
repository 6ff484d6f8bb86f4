// Every dispatch and every signal.
//
// The dispatch is recorded by taking it over: the notify callback runs before the toolkit's own
// delivery, so it raises the scope level as that would, calls notify() itself and reports the
// event as done. Overridden notify() functions and exceptions pass through untouched. The event
// is read only before the call; afterwards it may be gone.
#include "recorder/acts.h"
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/hops.h"
#include "recorder/thread_log.h"
#include "recorder/ties.h"

#include <QtCore/QAbstractEventDispatcher>
#include <QtCore/QCoreApplication>
#include <QtCore/QEvent>
#include <QtCore/private/qobject_p.h>
#include <QtCore/private/qthread_p.h>
#include <QtGui/QInputEvent>

namespace pipit::recorder
{

using link::Kind;

namespace
{

// Input events carry a 32-bit millisecond clock; 0 when it is none or not ours.
std::uint64_t stampOf(QEvent *event)
{
    if (!event->isInputEvent())
        return 0;
    const auto stamp = std::uint32_t(static_cast<QInputEvent *>(event)->timestamp());
    if (stamp == 0)
        return 0;
    const std::uint64_t nowMs = now() / 1'000'000;
    const std::uint32_t age = std::uint32_t(nowMs) - stamp;
    constexpr std::uint32_t tenMinutes = 600'000;
    return age < tenMinutes ? (nowMs - age) * 1'000'000 : 0;
}

bool movesSomething(QEvent::Type type)
{
    switch (type) {
    case QEvent::Move:
    case QEvent::Resize:
    case QEvent::Show:
    case QEvent::Hide:
    case QEvent::FocusIn:
    case QEvent::FocusOut:
    case QEvent::LayoutRequest:
    case QEvent::ChildPolished:
    case QEvent::ShowToParent:
    case QEvent::HideToParent:
        return true;
    default:
        return false;
    }
}

// By itself it changes no state. What comes of it shows in other events, in signals, or in what is set. Keys
// and buttons that own code is given are no such: hops.cpp sees to that.
bool isQuiet(QEvent::Type type)
{
    if (isKeyOrButton(type))
        return waysAreKnown();
    switch (type) {
    case QEvent::MouseMove:
    case QEvent::NonClientAreaMouseMove:
    case QEvent::HoverEnter:
    case QEvent::HoverLeave:
    case QEvent::HoverMove:
    case QEvent::Enter:
    case QEvent::Leave:
    case QEvent::Paint:
    case QEvent::UpdateRequest:
    case QEvent::UpdateLater:
    case QEvent::CursorChange:
    case QEvent::ToolTip:
    case QEvent::InputMethodQuery:
    case QEvent::SockAct:
        return true;
    default:
        return false;
    }
}

bool isDiscreteInput(QEvent::Type type)
{
    switch (type) {
    case QEvent::MouseButtonPress:
    case QEvent::MouseButtonDblClick:
    case QEvent::KeyPress:
    case QEvent::ShortcutOverride:
    case QEvent::Wheel:
    case QEvent::DragEnter:
    case QEvent::Drop:
        return true;
    default:
        return false;
    }
}

// An input goes to its window first, which sends it on to a widget.
thread_local bool insideInput = false;
struct InsideInput {
    explicit InsideInput(bool is) { insideInput = insideInput || is; }
    ~InsideInput() { insideInput = was; }
    InsideInput(const InsideInput &) = delete;
    InsideInput &operator=(const InsideInput &) = delete;
    const bool was = insideInput;
};

bool onNotify(void **data)
{
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return false;
    auto *receiver = static_cast<QObject *>(data[0]);
    auto *event = static_cast<QEvent *>(data[1]);
    QCoreApplication *app = QCoreApplication::instance();
    QThreadData *thread = QObjectPrivate::get(receiver)->threadData.loadAcquire();
    if (!app || !thread->requiresCoreApplication)
        return false;
    const auto type = std::uint32_t(event->type()) & 0xffff;
    if (log->isMain()) {
        if (event->spontaneous() && isDiscreteInput(event->type()) && !insideInput)
            sweepBeforeInput();
        if (!isQuiet(event->type()))
            somethingHappened();
    }
    const InsideInput inside(event->spontaneous());
    const auto eventId = reinterpret_cast<std::uint64_t>(event);
    const std::uint64_t object = log->object(receiver);
    const std::uint64_t stamp = stampOf(event);
    const std::uint32_t generation = generationOf(event);
    std::uint32_t value = type | generation << link::generationShift;
    if (event->spontaneous())
        value |= link::FromWindowSystem;
    if (type == QEvent::MetaCall && !watchMetaCall(event))
        value |= link::SlotUnknown;
    OpenSpan span(log, Kind::DispatchEnd, eventId);
    if (generation)
        log->beginAfterwards(Kind::DispatchBegin, value, object, eventId, stamp);
    else
        log->begin(Kind::DispatchBegin, value, object, eventId, stamp);
    tellCauseOf(log, receiver, event);
    static const bool noInputs = isLeftOut("inputs");
    if (std::uint32_t input = 0, what = 0; event->isInputEvent() && acts && receiver->isWidgetType() &&
                                           !noInputs && acts->describeInput(event, &input, &what))
        log->mark(Kind::Input, input, what);
    if (acts && receiver->isWindowType() &&
        (type == QEvent::DragEnter || type == QEvent::DragMove || type == QEvent::Drop))
        if (const Offer offer = acts->offered(receiver, event); offer.to)
            tellOffered(offer.to, offer.types);
    const Way way(log, receiver, object);
    QScopedScopeLevelCounter level(thread);
    if (acts && movesSomething(QEvent::Type(type)))
        acts->geometryChanged();
    const bool handled = app->notify(receiver, event);
    *static_cast<bool *>(data[2]) = handled;
    span.value = (handled ? 1 : 0) | way.ending();
    return true;
}

void signalBegin(QObject *sender, int index, void **values)
{
    if (ThreadLog *log = ThreadLog::current()) {
        const std::uint64_t object = log->object(sender);
        const std::uint64_t key = log->method(sender->metaObject(), index, true);
        if (key && key == socketState.load(std::memory_order_relaxed))
            tellConnecting(sender, values);
        if (log->isMain() && sender != QAbstractEventDispatcher::instance()) // which says that it waits
            somethingHappened();
        log->begin(Kind::SignalBegin, 0, object, key);
        log->arguments().tell(log, sender, index, values);
    }
}

void signalEnd(QObject *sender, int)
{
    if (ThreadLog *log = ThreadLog::current(); log && log->depth() > 0)
        log->end(Kind::SignalEnd, std::uint16_t(log->depth() - 1), 0,
                 reinterpret_cast<std::uint64_t>(sender));
}

void slotBegin(QObject *receiver, int index, void **)
{
    ThreadLog *log = ThreadLog::current();
    if (!log || log->runningSlots.count >= RunningSlots::most)
        return;
    RunningSlots &running = log->runningSlots;
    MethodNature nature = MethodNature::Program;
    const std::uint64_t key = log->method(receiver->metaObject(), index, false, &nature);
    const bool quiet = nature == MethodNature::Inner ||
                       (nature == MethodNature::Toolkit && !connectedByProgram(receiver, index));
    running.at[running.count++] = {receiver, index, log->depth(), quiet};
    if (quiet)
        return;
    const std::uint64_t object = log->object(receiver);
    log->begin(Kind::CallBegin, std::uint32_t(link::LinkKind::NamedMethod), object, 0, key, 0);
}

void slotEnd(QObject *receiver, int index)
{
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return;
    RunningSlots &running = log->runningSlots;
    int i = running.count - 1;
    while (i >= 0 && (running.at[i].receiver != receiver || running.at[i].index != index))
        --i;
    if (i < 0)
        return;
    const RunningSlot is = running.at[i];
    running.count = i;
    if (!is.quiet)
        log->end(Kind::CallEnd, is.depth, 0, reinterpret_cast<std::uint64_t>(receiver));
}

} // namespace

void installDispatch()
{
    QInternal::registerCallback(QInternal::EventNotifyCallback, &onNotify);
    static QSignalSpyCallbackSet set = {signalBegin, slotBegin, signalEnd, slotEnd};
    qt_register_signal_spy_callbacks(&set);
}

} // namespace pipit::recorder
