// Calls of handlers that are bound as functions: lambdas and member functions in connect(),
// functions given to invokeMethod() and to single-shot timers.
//
// The slot object is wrapped: the wrapper forwards call, compare and destroy and records the
// call. Connections that the tool-kit makes inside itself are left alone.
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QMetaMethod>
#include <QtCore/QTimer>
#include <QtCore/private/qmetaobject_p.h>
#include <QtCore/private/qobject_p.h>

#include <algorithm>
#include <mutex>
#include <pthread.h>
#include <shared_mutex>
#include <unordered_set>

namespace pipit::recorder
{

using link::Kind;
using link::LinkKind;
using QtPrivate::QSlotObjectBase;

namespace
{

// What was switched off: pieces of code, in ascending order, that connect or call what is not to be
// called. Replaced as a whole; the old ones stay, since another thread may be reading.
std::atomic<const std::vector<CodeRange> *> switchedOff{nullptr};

bool isOff(const LinkInfo &info)
{
    const auto *off = switchedOff.load(std::memory_order_acquire);
    if (!off)
        return false;
    for (const std::uint64_t place : {info.place, info.outerPlace, info.outermostPlace}) {
        const std::uint64_t call = place - 1; // it returns behind the call
        const auto after = std::upper_bound(off->begin(), off->end(), call,
                                            [](std::uint64_t at, const CodeRange &r) { return at < r.from; });
        if (after != off->begin() && call < std::prev(after)->to)
            return true;
    }
    return false;
}

class WrappedSlot : public QSlotObjectBase
{
public:
    WrappedSlot(QSlotObjectBase *inner, LinkInfo info)
        : QSlotObjectBase(&impl), inner_(inner), info_(std::move(info))
    {
    }

private:
    static void impl(int which, QSlotObjectBase *self, QObject *receiver, void **args, bool *ret)
    {
        auto *w = static_cast<WrappedSlot *>(self);
        switch (which) {
        case Destroy:
            w->inner_->destroyIfLastRef();
            delete w;
            break;
        case Call:
            w->record(receiver, args);
            break;
        case Compare:
            *ret = w->inner_->compare(args);
            break;
        default:
            break;
        }
    }

    void record(QObject *receiver, void **args)
    {
        if (isOff(info_))
            return;
        ThreadLog *log = ThreadLog::current();
        if (!log) {
            inner_->call(receiver, args);
            return;
        }
        // The call may destroy its own connection, and with it this wrapper.
        QSlotObjectBase *inner = inner_;
        log->link(info_);
        const std::uint64_t object = log->object(receiver);
        OpenSpan span(log, Kind::CallEnd, object);
        log->begin(Kind::CallBegin, std::uint32_t(info_.kind), object, info_.serial, info_.code,
                   info_.sender);
        span.value = 1;
        inner->call(receiver, args);
        span.value = 0;
    }

    QSlotObjectBase *inner_;
    LinkInfo info_;
};

std::uint64_t nextSerial()
{
    static std::atomic<std::uint64_t> serial{0};
    return ++serial;
}

// The code behind a slot object: its one function pointer, which for a lambda is the template
// that holds it.
std::uint64_t implOf(const QSlotObjectBase *slot)
{
    struct Layout {
        int ref;
        std::uint64_t impl;
    };
    return reinterpret_cast<const Layout *>(slot)->impl;
}

// The code behind a pointer to member function; a virtual one by the receiver's own table.
std::uint64_t memberCode(void **slot, const QObject *receiver)
{
    const auto word = reinterpret_cast<std::uint64_t>(slot[0]);
    const auto adjust = reinterpret_cast<std::ptrdiff_t>(slot[1]);
    if ((word & 1) == 0)
        return word;
    const auto *object = reinterpret_cast<const char *>(receiver) + adjust;
    const auto *table = *reinterpret_cast<const char *const *>(object);
    return *reinterpret_cast<const std::uint64_t *>(table + word - 1);
}

bool onThisStack(const void *p)
{
    static thread_local std::uintptr_t low = 0, high = 0;
    if (!high) {
        pthread_attr_t attributes;
        void *base = nullptr;
        std::size_t size = 0;
        if (pthread_getattr_np(pthread_self(), &attributes) == 0) {
            pthread_attr_getstack(&attributes, &base, &size);
            pthread_attr_destroy(&attributes);
        }
        low = reinterpret_cast<std::uintptr_t>(base);
        high = low + size;
    }
    const auto a = reinterpret_cast<std::uintptr_t>(p);
    return a > low && a + 16 <= high && a % 8 == 0;
}

// Unoptimised code calls connectImpl from a header template, which another may have called; the
// user's line is one or two frames further out, reachable by the frame pointers such code keeps.
void fillPlaces(LinkInfo &info, std::uint64_t place, void *callerFrame)
{
    info.place = place;
    if (!onThisStack(callerFrame))
        return;
    auto **frame = static_cast<void **>(callerFrame);
    info.outerPlace = reinterpret_cast<std::uint64_t>(frame[1]);
    if (frame[0] > callerFrame && onThisStack(frame[0]))
        info.outermostPlace = reinterpret_cast<std::uint64_t>(static_cast<void **>(frame[0])[1]);
}

void fillSignal(LinkInfo &info, void **signal, const QMetaObject *of)
{
    int index = -1;
    void *args[] = {&index, signal};
    for (; of; of = of->superClass()) {
        if (!of->d.static_metacall)
            continue;
        of->d.static_metacall(nullptr, QMetaObject::IndexOfMethod, 0, args);
        if (index >= 0 && index < QMetaObjectPrivate::get(of)->signalCount)
            break;
        index = -1;
    }
    if (!of || index < 0)
        return;
    info.signalKey = methodKey(of, index);
    info.signalText = methodText(of, index);
}

bool worthWrapping(std::uint64_t returnAddress)
{
    return recordingOn.load(std::memory_order_relaxed) && !inToolkit(returnAddress);
}

QMetaObject::Connection hookConnect(const QObject *sender, void **signal, const QObject *receiver,
                                    void **slot, QSlotObjectBase *object, Qt::ConnectionType type,
                                    const int *types, const QMetaObject *senderMeta)
{
    using Real =
        QMetaObject::Connection (*)(const QObject *, void **, const QObject *, void **, QSlotObjectBase *,
                                    Qt::ConnectionType, const int *, const QMetaObject *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubConnectImpl));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (sender && receiver && object && senderMeta && worthWrapping(place)) {
        LinkInfo info;
        info.serial = nextSerial();
        info.sender = reinterpret_cast<std::uint64_t>(sender);
        fillPlaces(info, place, frame);
        info.kind = slot ? LinkKind::Member : LinkKind::Functor;
        info.code = slot ? memberCode(slot, receiver) : implOf(object);
        fillSignal(info, signal, senderMeta);
        object = new WrappedSlot(object, std::move(info));
    }
    return real(sender, signal, receiver, slot, object, type, types, senderMeta);
}

// Slots that the program connected by name: receiver and method. Read on every call of a slot of
// the tool-kit's own classes, written by connects, so a lock for readers is enough.
std::shared_mutex namedMutex;
std::unordered_set<std::uint64_t> named;
std::atomic<bool> anyNamed{false};

std::uint64_t namedKey(const QObject *receiver, int method)
{
    return reinterpret_cast<std::uint64_t>(receiver) ^ std::uint64_t(method) << 48;
}

void remember(const QObject *receiver, int method)
{
    if (!receiver || method < 0)
        return;
    std::unique_lock lock(namedMutex);
    named.insert(namedKey(receiver, method));
    anyNamed = true;
}

QMetaObject::Connection hookConnectNames(const QObject *sender, const char *signal, const QObject *receiver,
                                         const char *member, Qt::ConnectionType type)
{
    using Real = QMetaObject::Connection (*)(const QObject *, const char *, const QObject *, const char *,
                                             Qt::ConnectionType);
    static const auto real = reinterpret_cast<Real>(realFunction(StubConnectNames));
    if (receiver && member && *member &&
        worthWrapping(reinterpret_cast<std::uint64_t>(__builtin_return_address(0))))
        remember(receiver, receiver->metaObject()->indexOfMethod(
                               QMetaObject::normalizedSignature(member + 1).constData()));
    return real(sender, signal, receiver, member, type);
}

QMetaObject::Connection hookConnectMethods(const QObject *sender, const QMetaMethod &signal,
                                           const QObject *receiver, const QMetaMethod &method,
                                           Qt::ConnectionType type)
{
    using Real = QMetaObject::Connection (*)(const QObject *, const QMetaMethod &, const QObject *,
                                             const QMetaMethod &, Qt::ConnectionType);
    static const auto real = reinterpret_cast<Real>(realFunction(StubConnectMethods));
    if (worthWrapping(reinterpret_cast<std::uint64_t>(__builtin_return_address(0))))
        remember(receiver, method.methodIndex());
    return real(sender, signal, receiver, method, type);
}

LinkInfo invokedInfo(const QSlotObjectBase *object, LinkKind kind, std::uint64_t place, void *frame)
{
    LinkInfo info;
    // One serial per place in the code, so that a function posted often is told once.
    info.serial = place | std::uint64_t(1) << 63;
    fillPlaces(info, place, frame);
    info.kind = kind;
    info.code = implOf(object);
    return info;
}

bool hookInvoke(QObject *receiver, QSlotObjectBase *object, Qt::ConnectionType type, void *ret)
{
    using Real = bool (*)(QObject *, QSlotObjectBase *, Qt::ConnectionType, void *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubInvokeImpl));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (receiver && object && worthWrapping(place))
        object = new WrappedSlot(object, invokedInfo(object, LinkKind::Invoked, place, frame));
    return real(receiver, object, type, ret);
}

void hookSingleShot(int msec, Qt::TimerType type, const QObject *receiver, QSlotObjectBase *object)
{
    using Real = void (*)(int, Qt::TimerType, const QObject *, QSlotObjectBase *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubSingleShotImpl));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (object && worthWrapping(place))
        object = new WrappedSlot(object, invokedInfo(object, LinkKind::SingleShot, place, frame));
    real(msec, type, receiver, object);
}

} // namespace

bool connectedByProgram(const QObject *receiver, int methodIndex)
{
    if (!anyNamed.load(std::memory_order_relaxed))
        return false;
    std::shared_lock lock(namedMutex);
    return named.count(namedKey(receiver, methodIndex)) > 0;
}

void switchOff(std::vector<CodeRange> ranges)
{
    std::sort(ranges.begin(), ranges.end(),
              [](const CodeRange &a, const CodeRange &b) { return a.from < b.from; });
    switchedOff.store(ranges.empty() ? nullptr : new std::vector<CodeRange>(std::move(ranges)),
                      std::memory_order_release);
}

void installCalls()
{
    setStub(StubConnectNames, reinterpret_cast<void *>(&hookConnectNames));
    setStub(StubConnectMethods, reinterpret_cast<void *>(&hookConnectMethods));
    setStub(StubConnectImpl, reinterpret_cast<void *>(&hookConnect));
    setStub(StubInvokeImpl, reinterpret_cast<void *>(&hookInvoke));
    setStub(StubSingleShotImpl, reinterpret_cast<void *>(&hookSingleShot));
}

} // namespace pipit::recorder
