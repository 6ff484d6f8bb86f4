// Calls of slots that are bound by their names: by connect() with SIGNAL and SLOT or with methods, by
// invokeMethod(), by single shots; called at once or from the queue.
//
// At once: the spy of signals and slots sees what a signal calls (dispatch.cpp); what is invoked is
// recorded here. From the queue, waiting for it or not: the event that carries the call makes it by a
// virtual function of its own, which is replaced in that one event, by a table that is otherwise a copy
// of its own, so that a call which a filter swallows is none.
#include "link/control.h"
#include "recorder/control.h"
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QJsonObject>
#include <QtCore/QMetaMethod>
#include <QtCore/QThread>
#include <QtCore/QTimer>
#include <QtCore/private/qhooks_p.h>
#include <QtCore/private/qmetaobject_p.h>
#include <QtCore/private/qobject_p.h>

#include <algorithm>
#include <mutex>
#include <shared_mutex>
#include <unordered_map>
#include <vector>

// The event's table of virtual functions; the first one stands behind two words of type information.
extern "C" void *const qtMetaCallTable[] asm("_ZTV14QMetaCallEvent");
extern "C" void qtPlaceMetaCall(QMetaCallEvent *,
                                QObject *) asm("_ZN14QMetaCallEvent13placeMetaCallEP7QObject");

namespace pipit::recorder
{

using link::Kind;
using link::LinkKind;

namespace
{

// The event's data are private; an explicit instantiation may name them.
template <auto Member> struct Reach {
    friend const auto &dataOf(const QMetaCallEvent &event) { return event.*Member; }
};
const auto &dataOf(const QMetaCallEvent &event);
template struct Reach<&QMetaCallEvent::d>;

// Slots that the program connected or invoked by name: receiver and method. Read on every call of a slot
// of the toolkit's own classes, written by connects, so a lock for readers is enough.
std::shared_mutex namedMutex;
std::unordered_map<const QObject *, std::vector<int>> named;
std::atomic<bool> anyNamed{false};
// Whether an object may be among them, by its address: most that die are not.
std::atomic<bool> mayBeNamed[1024];

std::atomic<bool> &mayBe(const QObject *object)
{
    const auto address = reinterpret_cast<std::uint64_t>(object);
    return mayBeNamed[(address >> 4 ^ address >> 14) % std::size(mayBeNamed)];
}

void remember(const QObject *receiver, int method)
{
    if (!receiver || method < 0)
        return;
    std::unique_lock lock(namedMutex);
    std::vector<int> &methods = named[receiver];
    if (std::find(methods.begin(), methods.end(), method) == methods.end())
        methods.push_back(method);
    mayBe(receiver) = true;
    anyNamed = true;
}

// An address may be another object's next; and what only grew would not fit into memory for ever.
QHooks::RemoveQObjectCallback deathBefore = nullptr;
void forget(QObject *object)
{
    if (mayBe(object).load(std::memory_order_relaxed) &&
        isRecording()) { // a forked child's locks may be held
        std::unique_lock lock(namedMutex);
        named.erase(object);
    }
    if (deathBefore)
        deathBefore(object);
}

// As SLOT() writes it: a digit first.
void rememberSlot(const QObject *receiver, const char *member)
{
    if (receiver && member && *member)
        remember(receiver, receiver->metaObject()->indexOfMethod(
                               QMetaObject::normalizedSignature(member + 1).constData()));
}

QMetaObject::Connection hookConnectNames(const QObject *sender, const char *signal, const QObject *receiver,
                                         const char *member, Qt::ConnectionType type)
{
    using Real = QMetaObject::Connection (*)(const QObject *, const char *, const QObject *, const char *,
                                             Qt::ConnectionType);
    static const auto real = reinterpret_cast<Real>(realFunction(StubConnectNames));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    const void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (!fromProgram(place))
        return real(sender, signal, receiver, member, type);
    rememberSlot(receiver, member);
    const auto made = real(sender, signal, receiver, member, type);
    const auto name = [](const QObject *of, const char *given) {
        return given && *given ? (of ? QByteArray(of->metaObject()->className()) + "::" : QByteArray()) +
                                     QMetaObject::normalizedSignature(given + 1)
                               : QByteArray();
    };
    const Wire wire{sender,   signal && *signal ? QMetaObject::normalizedSignature(signal + 1) : QByteArray(),
                    receiver, name(receiver, member),
                    type & 3, 0,
                    true,     callersOf(place, frame)};
    if (made)
        tellConnected(wire, place);
    else
        tellNotConnected(wire, place, whyNotByName(sender, signal, receiver, member, type));
    return made;
}

WiresByRule wiresByRuleTo(const QObject *receiver)
{
    WiresByRule all = wiresByRule(receiver, receiver);
    for (const QObject *child : receiver->findChildren<QObject *>())
        if (!child->objectName().isEmpty()) {
            const WiresByRule more = wiresByRule(child, receiver);
            all.insert(all.end(), more.begin(), more.end());
        }
    return all;
}

// Connects slots by their names, on_OBJECT_SIGNAL, within the toolkit: what it made is what was not there
// before.
void hookConnectByRule(QObject *receiver)
{
    using Real = void (*)(QObject *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubConnectByRule));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    const void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (!receiver || !fromProgram(place) || receiver->thread() != QThread::currentThread())
        return real(receiver);
    const WiresByRule before = wiresByRuleTo(receiver);
    real(receiver);
    for (auto &[key, wire] : wiresByRuleTo(receiver)) {
        const auto isIt = [key](const auto &was) { return was.first == key; };
        if (std::any_of(before.begin(), before.end(), isIt))
            continue;
        wire.callers = callersOf(place, frame);
        remember(receiver, receiver->metaObject()->indexOfMethod(wire.slot.mid(wire.slot.indexOf("::") + 2)));
        tellConnected(wire, place);
    }
}

QMetaObject::Connection hookConnectMethods(const QObject *sender, const QMetaMethod &signal,
                                           const QObject *receiver, const QMetaMethod &method,
                                           Qt::ConnectionType type)
{
    using Real = QMetaObject::Connection (*)(const QObject *, const QMetaMethod &, const QObject *,
                                             const QMetaMethod &, Qt::ConnectionType);
    static const auto real = reinterpret_cast<Real>(realFunction(StubConnectMethods));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    const void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (!fromProgram(place))
        return real(sender, signal, receiver, method, type);
    remember(receiver, method.methodIndex());
    const auto made = real(sender, signal, receiver, method, type);
    const Wire wire{sender,
                    signal.methodSignature(),
                    receiver,
                    receiver
                        ? QByteArray(receiver->metaObject()->className()) + "::" + method.methodSignature()
                        : QByteArray(),
                    type & 3,
                    0,
                    true,
                    callersOf(place, frame)};
    if (made)
        tellConnected(wire, place);
    else
        tellNotConnected(wire, place,
                         !sender || !receiver ? "an end of it is missing"
                         : (type & Qt::UniqueConnection) && signal.isValid() && method.isValid()
                             ? "it is connected already"
                             : "");
    return made;
}

void hookSingleShotByName(int ms, const QObject *receiver, const char *member)
{
    using Real = void (*)(int, const QObject *, const char *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubSingleShotByName));
    if (fromProgram(reinterpret_cast<std::uint64_t>(__builtin_return_address(0))))
        rememberSlot(receiver, member);
    real(ms, receiver, member);
}

void hookSingleShotTyped(int ms, Qt::TimerType type, const QObject *receiver, const char *member)
{
    using Real = void (*)(int, Qt::TimerType, const QObject *, const char *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubSingleShotTyped));
    if (fromProgram(reinterpret_cast<std::uint64_t>(__builtin_return_address(0))))
        rememberSlot(receiver, member);
    real(ms, type, receiver, member);
}

// Runs `call`, which calls the method; records it unless it is none of a handler.
template <class Call>
auto calling(ThreadLog *log, QObject *receiver, int method, bool askedFor, const QObject *sender, Call &&call)
{
    MethodNature nature = MethodNature::Program;
    const std::uint64_t key = log->method(receiver->metaObject(), method, false, &nature);
    if (!key || nature == MethodNature::Inner ||
        (nature == MethodNature::Toolkit && !askedFor && !connectedByProgram(receiver, method)))
        return call();
    const std::uint64_t object = log->object(receiver);
    OpenSpan span(log, Kind::CallEnd, object);
    log->begin(Kind::CallBegin, std::uint32_t(LinkKind::NamedMethod), object, 0, key,
               reinterpret_cast<std::uint64_t>(sender));
    span.value = 1;
    struct Leave { // an exception leaves the value as it is
        OpenSpan &span;
        int thrown = std::uncaught_exceptions();
        ~Leave()
        {
            if (std::uncaught_exceptions() == thrown)
                span.value = 0;
        }
    } leave{span};
    return call();
}

using Ret = QGenericReturnArgument;
using Arg = QGenericArgument;

// Whether the call is made before invoke() returns, on this thread; a queued one is recorded when it
// is made.
bool isAtOnce(const QObject *receiver, Qt::ConnectionType type)
{
    const bool here = receiver->thread() == QThread::currentThread();
    return type == Qt::DirectConnection || (type == Qt::AutoConnection && here);
}

// As invoke() checks it before it calls.
bool accepts(const QMetaMethod &method, const Ret &ret, int given)
{
    if (given < method.parameterCount())
        return false;
    return !ret.data() || qstrcmp(ret.name(), method.typeName()) == 0 ||
           QMetaObject::normalizedType(ret.name()) == method.typeName();
}

bool hookInvokeMethod(const QMetaMethod *method, QObject *receiver, Qt::ConnectionType type, Ret ret, Arg a,
                      Arg b, Arg c, Arg d, Arg e, Arg f, Arg g, Arg h, Arg i, Arg j)
{
    using Real = bool (*)(const QMetaMethod *, QObject *, Qt::ConnectionType, Ret, Arg, Arg, Arg, Arg, Arg,
                          Arg, Arg, Arg, Arg, Arg);
    static const auto real = reinterpret_cast<Real>(realFunction(StubInvokeMethod));
    const auto call = [&] { return real(method, receiver, type, ret, a, b, c, d, e, f, g, h, i, j); };
    ThreadLog *log = ThreadLog::current();
    if (!log || !receiver || !method->isValid() ||
        !fromProgram(reinterpret_cast<std::uint64_t>(__builtin_return_address(0))))
        return call();
    const Arg all[] = {a, b, c, d, e, f, g, h, i, j};
    const auto given = int(
        std::find_if(std::begin(all), std::end(all), [](const Arg &x) { return !x.name() || !*x.name(); }) -
        std::begin(all));
    if (!accepts(*method, ret, given))
        return call();
    if (!isAtOnce(receiver, type)) {
        remember(receiver, method->methodIndex());
        return call();
    }
    return calling(log, receiver, method->methodIndex(), true, nullptr, call);
}

// The method that invokeMethod() will find for these arguments, or -1.
int methodNamed(const QObject *receiver, const char *member, const Ret &ret, const Arg *arguments)
{
    QByteArray signature(member);
    signature += '(';
    int count = 0;
    for (; count < 10 && arguments[count].name() && *arguments[count].name(); ++count)
        signature.append(count ? "," : "").append(arguments[count].name());
    signature += ')';
    const QMetaObject *of = receiver->metaObject();
    int index = of->indexOfMethod(signature.constData());
    if (index < 0)
        index = of->indexOfMethod(QMetaObject::normalizedSignature(signature.constData()).constData());
    return index >= 0 && accepts(of->method(index), ret, count) ? index : -1;
}

bool hookInvokeByName(QObject *receiver, const char *member, Qt::ConnectionType type, Ret ret, Arg a, Arg b,
                      Arg c, Arg d, Arg e, Arg f, Arg g, Arg h, Arg i, Arg j)
{
    using Real = bool (*)(QObject *, const char *, Qt::ConnectionType, Ret, Arg, Arg, Arg, Arg, Arg, Arg, Arg,
                          Arg, Arg, Arg);
    static const auto real = reinterpret_cast<Real>(realFunction(StubInvokeByName));
    const auto call = [&] { return real(receiver, member, type, ret, a, b, c, d, e, f, g, h, i, j); };
    ThreadLog *log = ThreadLog::current();
    if (!log || !receiver || !member || !*member ||
        !fromProgram(reinterpret_cast<std::uint64_t>(__builtin_return_address(0))))
        return call();
    const Arg all[] = {a, b, c, d, e, f, g, h, i, j};
    const int index = methodNamed(receiver, member, ret, all);
    if (index < 0)
        return call();
    if (!isAtOnce(receiver, type)) {
        remember(receiver, index);
        return call();
    }
    return calling(log, receiver, index, true, nullptr, call);
}

// The table that is put into a queued call: type information, then what is virtual in it.
constexpr int informationWords = 2, tableFunctions = 5;
void *metaCallTable[informationWords + tableFunctions];

void placeCall(QMetaCallEvent *event, QObject *receiver)
{
    const auto &data = dataOf(*event);
    ThreadLog *log = data.slotObj_ ? nullptr : ThreadLog::current();
    if (!log)
        return qtPlaceMetaCall(event, receiver); // a slot object is wrapped and records itself
    calling(log, receiver, event->id(), false, event->sender(), [&] { qtPlaceMetaCall(event, receiver); });
}

bool copyTable()
{
    std::copy(qtMetaCallTable, qtMetaCallTable + informationWords + tableFunctions, metaCallTable);
    for (void *&entry : metaCallTable)
        if (entry == reinterpret_cast<void *>(&qtPlaceMetaCall)) {
            entry = reinterpret_cast<void *>(&placeCall);
            return true;
        }
    return false;
}

bool tableIsKnown = false;

} // namespace

bool connectedByProgram(const QObject *receiver, int methodIndex)
{
    if (!anyNamed.load(std::memory_order_relaxed))
        return false;
    std::shared_lock lock(namedMutex);
    const auto it = named.find(receiver);
    return it != named.end() &&
           std::find(it->second.begin(), it->second.end(), methodIndex) != it->second.end();
}

bool watchMetaCall(QEvent *event)
{
    const void *&table = *reinterpret_cast<const void **>(event);
    if (!tableIsKnown ||
        (table != qtMetaCallTable + informationWords && table != metaCallTable + informationWords))
        return false;
    table = metaCallTable + informationWords;
    return true;
}

void installNamed()
{
    tableIsKnown = copyTable();
    if (!tableIsKnown)
        notifyPipit(
            link::tells::limit,
            {{"what", "queued"},
             {"text", "Which slots queued calls by name call is unknown: this build of Qt's queued call "
                      "is laid out in a way the recorder does not know."}});
    deathBefore = reinterpret_cast<QHooks::RemoveQObjectCallback>(qtHookData[QHooks::RemoveQObject]);
    qtHookData[QHooks::RemoveQObject] = reinterpret_cast<quintptr>(&forget);
    setStub(StubConnectNames, reinterpret_cast<void *>(&hookConnectNames));
    setStub(StubConnectByRule, reinterpret_cast<void *>(&hookConnectByRule));
    setStub(StubConnectMethods, reinterpret_cast<void *>(&hookConnectMethods));
    setStub(StubSingleShotByName, reinterpret_cast<void *>(&hookSingleShotByName));
    setStub(StubSingleShotTyped, reinterpret_cast<void *>(&hookSingleShotTyped));
    setStub(StubInvokeMethod, reinterpret_cast<void *>(&hookInvokeMethod));
    setStub(StubInvokeByName, reinterpret_cast<void *>(&hookInvokeByName));
}

} // namespace pipit::recorder
