// Calls of handlers that are bound as functions: lambdas and member functions in connect(),
// functions given to invokeMethod() and to single-shot timers.
//
// The slot object is wrapped: the wrapper forwards call, compare and destroy and records the
// call. Connections that the toolkit makes inside itself are left alone.
#include "recorder/callers.h"
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QMetaMethod>
#include <QtCore/QTimer>
#include <QtCore/private/qmetaobject_p.h>
#include <QtCore/private/qobject_p.h>

#include <algorithm>

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

// A pointer to member function, as the compiler lays it out: an address, or 1 + an offset in the table of
// virtual functions; and what is added to the object first.
struct MemberPointer {
    std::uint64_t word = 0, adjust = 0;
    bool isVirtual() const { return word & 1; }
};

// The function that it stands for; a virtual one by the receiver's own table, as it is now.
std::uint64_t codeOf(const MemberPointer &member, const QObject *receiver)
{
    if (!member.isVirtual() || !receiver)
        return member.word;
    const auto *object = reinterpret_cast<const char *>(receiver) + member.adjust;
    const auto *table = *reinterpret_cast<const char *const *>(object);
    return *reinterpret_cast<const std::uint64_t *>(table + member.word - 1);
}

class WrappedSlot : public QSlotObjectBase
{
public:
    WrappedSlot(QSlotObjectBase *inner, LinkInfo info, MemberPointer member)
        : QSlotObjectBase(&impl), inner_(inner), info_(std::move(info)), member_(member)
    {
    }
    static std::uint64_t function() { return reinterpret_cast<std::uint64_t>(&impl); }
    std::uint64_t serial() const { return info_.serial; }

    // A virtual function is looked up now: when it was connected, the receiver may not have been whole.
    std::uint64_t tellLink(ThreadLog *log, const QObject *receiver) const
    {
        if (!member_.isVirtual()) {
            log->link(info_);
            return info_.code;
        }
        const std::uint64_t code = codeOf(member_, receiver);
        if (!log->knowsLink(info_.serial)) {
            LinkInfo info = info_;
            info.code = code;
            log->link(info);
        }
        return code;
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
        const std::uint64_t code = tellLink(log, receiver);
        const std::uint64_t object = log->object(receiver);
        OpenSpan span(log, Kind::CallEnd, object);
        log->begin(Kind::CallBegin, info_.value(), object, info_.serial, code, info_.sender);
        span.value = 1;
        inner->call(receiver, args);
        span.value = 0;
    }

    QSlotObjectBase *inner_;
    LinkInfo info_;
    MemberPointer member_;
};

std::uint64_t nextSerial()
{
    static std::atomic<std::uint64_t> serial{0};
    return ++serial;
}

// A slot object as it lies in memory: what it holds, a function or a lambda, follows its own function.
struct SlotLayout {
    int references;
    std::uint64_t impl;
    std::uint64_t held[4];
};

// Says what a slot object calls. Those made for a member function say so when they are asked whether
// theirs is the one that stands in them; of others the words are told as they are.
QSlotObjectBase *wrapped(QSlotObjectBase *slot, LinkInfo info, MemberPointer member)
{
    const auto *memory = reinterpret_cast<const SlotLayout *>(slot);
    info.code = memory->impl;
    info.first = memory->held[0]; // the smallest object reaches to here
    // What lies behind may be another's memory, but it is there to be read as far as its page goes.
    const auto readable = [&](int word) {
        constexpr std::uint64_t page = ~std::uint64_t(4095);
        return (reinterpret_cast<std::uint64_t>(&memory->held[0]) & page) ==
               ((reinterpret_cast<std::uint64_t>(&memory->held[word]) + 7) & page);
    };
    info.second = readable(1) ? memory->held[1] : 0;
    info.fourth = readable(3) ? memory->held[3] : 0;
    if (!member.word && readable(1)) {
        std::uint64_t held[] = {info.first, info.second};
        if (slot->compare(reinterpret_cast<void **>(held)))
            member = {info.first, info.second};
    }
    if (member.word) {
        info.code = member.word;
        info.codeIsFunction = true;
        info.first = info.second = info.fourth = 0;
    }
    return new WrappedSlot(slot, std::move(info), member);
}

// Unoptimised code calls connectImpl from a header template, which another may have called; the
// user's line is one or two frames further out.
void fillPlaces(LinkInfo &info, std::uint64_t place, void *callerFrame)
{
    info.place = place;
    const Frames outer = framesFrom(callerFrame);
    info.outerPlace = outer[0];
    info.outermostPlace = outer[1];
}

// The index of a signal by its pointer, in the class of `of` that has it, which `of` becomes; -1 for what
// is no signal.
int signalIndex(void **pointer, const QMetaObject *&of)
{
    int index = -1;
    void *args[] = {&index, pointer};
    for (; of; of = of->superClass()) {
        if (!of->d.static_metacall)
            continue;
        of->d.static_metacall(nullptr, QMetaObject::IndexOfMethod, 0, args);
        if (index >= 0 && index < QMetaObjectPrivate::get(of)->signalCount)
            return index;
        index = -1;
    }
    return -1;
}

void fillSignal(LinkInfo &info, void **signal, const QMetaObject *of)
{
    const int index = signalIndex(signal, of);
    if (index < 0)
        return;
    info.signalKey = methodKey(of, index);
    info.signalText = methodText(of, index);
}

// A signal that only passes another on is no handler.
bool isSignal(void **slot, const QObject *receiver)
{
    const QMetaObject *of = receiver->metaObject();
    return slot && signalIndex(slot, of) >= 0;
}

// A connection that the program asks for: what is told of it once it is known whether it was made.
class Made
{
public:
    Made(const QObject *sender, void **signal, const QObject *receiver, void **slot,
         const QSlotObjectBase *object, Qt::ConnectionType type, const QMetaObject *of, std::uint64_t place,
         void *callerFrame)
        : place_(place)
    {
        if (!fromProgram(place))
            return;
        known_ = true;
        if (const int index = of ? signalIndex(signal, of) : -1; index >= 0)
            wire_.signal = of->method(of->methodOffset() + index).methodSignature();
        if (const QMetaObject *to = receiver ? receiver->metaObject() : nullptr; to && slot)
            if (const int index = signalIndex(slot, to); index >= 0)
                wire_.slot = QByteArray(to->className()) +
                             "::" + to->method(to->methodOffset() + index).methodSignature();
        wire_.sender = sender;
        wire_.receiver = receiver;
        wire_.type = type & 3;
        wire_.callers = callersOf(place, callerFrame);
        unique_ = type & Qt::UniqueConnection;
        if (object && implOf(object) == WrappedSlot::function())
            wire_.serial = static_cast<const WrappedSlot *>(object)->serial();
    }
    void tell(bool made) const
    {
        if (!known_)
            return;
        if (made)
            return tellConnected(wire_, place_);
        tellNotConnected(wire_, place_,
                         !wire_.sender            ? "there is no sender"
                         : !wire_.receiver        ? "there is no receiver"
                         : wire_.signal.isEmpty() ? "what should be the signal is none of the sender's"
                         : unique_                ? "it is connected already"
                                                  : "");
    }

private:
    Wire wire_{};
    std::uint64_t place_;
    bool known_ = false, unique_ = false;
};

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
    if (sender && receiver && object && senderMeta && fromProgram(place) && !isSignal(slot, receiver)) {
        LinkInfo info;
        info.serial = nextSerial();
        info.sender = reinterpret_cast<std::uint64_t>(sender);
        fillPlaces(info, place, frame);
        info.kind = slot ? LinkKind::Member : LinkKind::Functor;
        fillSignal(info, signal, senderMeta);
        MemberPointer member;
        if (slot)
            member = {reinterpret_cast<std::uint64_t>(slot[0]), reinterpret_cast<std::uint64_t>(slot[1])};
        object = wrapped(object, std::move(info), member);
    }
    const Made made(sender, signal, receiver, slot, object, type, senderMeta, place, frame);
    const QMetaObject::Connection connection =
        real(sender, signal, receiver, slot, object, type, types, senderMeta);
    made.tell(bool(connection));
    return connection;
}

// One serial for each function that is given to one place in the code, so that one posted often is told
// once and two posted from there are told apart.
std::uint64_t serialOf(std::uint64_t place, const SlotLayout *slot)
{
    std::uint64_t mixed = place * 0x9e3779b97f4a7c15u;
    mixed = (mixed ^ slot->impl ^ mixed >> 29) * 0xbf58476d1ce4e5b9u;
    if (isCode(slot->held[0]))
        mixed = (mixed ^ slot->held[0] ^ mixed >> 32) * 0x94d049bb133111ebu;
    return (mixed ^ mixed >> 31) | std::uint64_t(1) << 63;
}

QSlotObjectBase *invoked(QSlotObjectBase *object, LinkKind kind, std::uint64_t place, void *frame)
{
    LinkInfo info;
    info.serial = serialOf(place, reinterpret_cast<const SlotLayout *>(object));
    fillPlaces(info, place, frame);
    info.kind = kind;
    return wrapped(object, std::move(info), {});
}

bool hookInvoke(QObject *receiver, QSlotObjectBase *object, Qt::ConnectionType type, void *ret)
{
    using Real = bool (*)(QObject *, QSlotObjectBase *, Qt::ConnectionType, void *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubInvokeImpl));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (receiver && object && fromProgram(place))
        object = invoked(object, LinkKind::Invoked, place, frame);
    return real(receiver, object, type, ret);
}

void hookSingleShot(int msec, Qt::TimerType type, const QObject *receiver, QSlotObjectBase *object)
{
    using Real = void (*)(int, Qt::TimerType, const QObject *, QSlotObjectBase *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubSingleShotImpl));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (object && fromProgram(place))
        object = invoked(object, LinkKind::SingleShot, place, frame);
    real(msec, type, receiver, object);
}

int hookLookupHost(const QString &name, const QObject *receiver, QSlotObjectBase *object, const char *member)
{
    using Real = int (*)(const QString &, const QObject *, QSlotObjectBase *, const char *);
    static const auto real = reinterpret_cast<Real>(realFunction(StubLookupHost));
    const auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    void *const frame = *static_cast<void **>(__builtin_frame_address(0));
    if (object && fromProgram(place))
        object = invoked(object, LinkKind::Invoked, place, frame);
    return real(name, receiver, object, member);
}

} // namespace

std::uint64_t implOf(const QSlotObjectBase *slot)
{
    return reinterpret_cast<const SlotLayout *>(slot)->impl;
}

std::uint64_t tellLinkOf(ThreadLog *log, const QSlotObjectBase *slot, const QObject *receiver)
{
    if (implOf(slot) != WrappedSlot::function())
        return 0;
    const auto *w = static_cast<const WrappedSlot *>(slot);
    w->tellLink(log, receiver);
    return w->serial();
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
    setStub(StubConnectImpl, reinterpret_cast<void *>(&hookConnect));
    setStub(StubInvokeImpl, reinterpret_cast<void *>(&hookInvoke));
    setStub(StubLookupHost, reinterpret_cast<void *>(&hookLookupHost));
    setStub(StubSingleShotImpl, reinterpret_cast<void *>(&hookSingleShot));
}

} // namespace pipit::recorder
