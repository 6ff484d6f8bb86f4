// The connections of an object, read from where the toolkit keeps them, as it reads them when it emits.
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QMetaMethod>
#include <QtCore/QThread>
#include <QtCore/private/qmetaobject_p.h>
#include <QtCore/private/qobject_p.h>
#include <QtCore/private/qobject_p_p.h>
#include <QtCore/private/qthread_p.h>

#include <algorithm>
#include <charconv>
#include <unordered_map>

namespace pipit::recorder
{

namespace
{

// Whether the function behind a slot object is the program's own; asked for a few again and again.
bool isOfProgram(const QtPrivate::QSlotObjectBase *slot)
{
    static std::unordered_map<std::uint64_t, bool> known; // main thread
    const std::uint64_t function = implOf(slot);
    const auto it = known.find(function);
    if (it != known.end())
        return it->second;
    return known.emplace(function, !inToolkit(function)).first->second;
}

// What a method is called, asked for again and again: each is put together once. Main thread.
QByteArray signature(const QMetaMethod &m, bool withClass)
{
    static std::unordered_map<std::uint64_t, QByteArray> known[2];
    const QMetaObject *of = m.enclosingMetaObject();
    if (!of || !m.isValid())
        return {};
    const std::uint64_t key = reinterpret_cast<std::uint64_t>(of) << 12 ^ std::uint64_t(m.methodIndex());
    QByteArray &text = known[withClass][key];
    if (text.isEmpty())
        text = (withClass ? QByteArray(of->className()) + "::" : QByteArray()) + m.methodSignature();
    return text;
}

QByteArray slotName(const QObject *receiver, int method)
{
    return signature(receiver->metaObject()->method(method), true);
}

bool isMadeByProgram(const QObject *receiver, int method)
{
    static std::unordered_map<const QMetaObject *, bool> toolkits; // main thread
    if (connectedByProgram(receiver, method))
        return true;
    const QMetaMethod m = receiver->metaObject()->method(method);
    if (!m.isValid())
        return false;
    const QMetaObject *of = m.enclosingMetaObject();
    const auto it = toolkits.find(of);
    return !(it != toolkits.end()
                 ? it->second
                 : toolkits.emplace(of, inToolkit(reinterpret_cast<std::uint64_t>(of))).first->second);
}

// How the receiver's thread is: what is queued for it waits there.
const char *threadOf(const QObject *sender, const QObject *receiver)
{
    if (!sender || !receiver)
        return "";
    const QThreadData *from = QObjectPrivate::get(sender)->threadData.loadAcquire(),
                      *to = QObjectPrivate::get(receiver)->threadData.loadAcquire();
    if (from == to)
        return "same";
    const QThread *thread = to->thread.loadAcquire();
    return !thread                ? "loop" // not made by the toolkit: nothing is known of it
           : thread->isFinished() ? "ended"
           : !thread->isRunning() ? "unstarted"
           : to->loopLevel == 0 && to->eventLoops.isEmpty() ? "none"
                                                            : "loop";
}

} // namespace

static void addNumber(std::string &to, std::uint64_t number, int base)
{
    char digits[20];
    to.append(digits, std::to_chars(digits, digits + sizeof digits, number, base).ptr);
}

void addLine(std::string &to, const Wire &w)
{
    const auto add = [&to](const QByteArray &bytes) {
        to.append(bytes.constData(), std::size_t(bytes.size()));
    };
    add(w.signal);
    to += '\t';
    addNumber(to, reinterpret_cast<std::uintptr_t>(w.receiver), 16);
    to += '\t';
    to += w.receiver ? w.receiver->metaObject()->className() : "";
    to += '\t';
    const std::size_t name = to.size();
    if (const auto *extra = w.receiver ? QObjectPrivate::get(w.receiver)->extraData : nullptr)
        add(extra->objectName.valueBypassingBindings().toUtf8());
    std::replace_if(
        to.begin() + std::ptrdiff_t(name), to.end(), [](char c) { return c == '\t' || c == '\n'; }, ' ');
    to += '\t';
    add(w.slot);
    to += '\t';
    addNumber(to, std::uint64_t(w.type), 10);
    to += '\t';
    addNumber(to, w.serial, 16);
    to += w.own ? "\t1\t" : "\t0\t";
    to += threadOf(w.sender, w.receiver);
}

namespace
{

// While it is counted as used, what another thread disconnects stays to be read. The object is this thread's,
// so that it lives on; the receivers live as long as this does.
class Connections
{
public:
    explicit Connections(const QObject *sender)
    {
        QObjectPrivate *d = QObjectPrivate::get(const_cast<QObject *>(sender));
        if (d->wasDeleted || !d->connections.loadRelaxed())
            return;
        data_ = d->connections.loadAcquire();
        data_->ref.ref();
    }
    ~Connections()
    {
        if (data_)
            data_->ref.deref();
    }
    Connections(const Connections &) = delete;
    Connections &operator=(const Connections &) = delete;

    template <class Take> void each(Take &&take) const // signal, connection, receiver
    {
        const QObjectPrivate::SignalVector *lists = data_ ? data_->signalVector.loadAcquire() : nullptr;
        for (int i = 0; lists && i < lists->count(); ++i)
            for (const auto *c = lists->at(i).first.loadAcquire(); c; c = c->nextConnectionList.loadRelaxed())
                if (const QObject *receiver = c->receiver.loadRelaxed())
                    take(i, c, receiver);
    }

private:
    QObjectPrivate::ConnectionData *data_ = nullptr;
    const std::lock_guard<std::mutex> lock_{deathWaits};
};

} // namespace

std::size_t wiresInShort(const QObject *sender)
{
    std::size_t all = 0;
    Connections(sender).each([&](int, const QObjectPrivate::Connection *c, const QObject *receiver) {
        const auto mix = [&all](std::size_t v) { all = (all ^ v) * 0x9e3779b97f4a7c15u; };
        mix(reinterpret_cast<std::size_t>(c));
        mix(reinterpret_cast<std::size_t>(receiver) + c->id);
        mix(reinterpret_cast<std::size_t>(threadOf(sender, receiver)));
    });
    return all;
}

std::string wiresOf(ThreadLog *log, const QObject *sender)
{
    std::string all;
    Connections(sender).each([&](int signal, const QObjectPrivate::Connection *c, const QObject *receiver) {
        Wire w{sender,
               signature(QMetaObjectPrivate::signal(sender->metaObject(), signal), false),
               receiver,
               {},
               c->connectionType,
               0,
               false};
        if (c->isSlotObject) {
            w.serial = tellLinkOf(log, c->slotObj, receiver);
            w.own = w.serial || isOfProgram(c->slotObj);
        } else {
            w.slot = slotName(receiver, c->method());
            w.own = isMadeByProgram(receiver, c->method());
        }
        addLine(all, w);
        all += '\n';
    });
    return all;
}

WiresByRule wiresByRule(const QObject *sender, const QObject *receiver)
{
    WiresByRule all;
    const QByteArray rule = "on_" + sender->objectName().toUtf8() + '_';
    Connections(sender).each([&](int signal, const QObjectPrivate::Connection *c, const QObject *to) {
        if (to != receiver || c->isSlotObject)
            return;
        const QMetaMethod slot = to->metaObject()->method(c->method());
        if (slot.isValid() && slot.name().startsWith(rule))
            all.push_back(
                {c,
                 {sender, QMetaObjectPrivate::signal(sender->metaObject(), signal).methodSignature(), to,
                  QByteArray(slot.enclosingMetaObject()->className()) + "::" + slot.methodSignature(),
                  c->connectionType}});
    });
    return all;
}

QByteArray whyNotByName(const QObject *sender, const char *signal, const QObject *receiver,
                        const char *member, Qt::ConnectionType type)
{
    if (!sender)
        return "there is no sender";
    if (!receiver)
        return "there is no receiver";
    if (!signal || !*signal || !member || !*member)
        return "a name is missing";
    const QByteArray s = QMetaObject::normalizedSignature(signal + 1),
                     m = QMetaObject::normalizedSignature(member + 1);
    if (sender->metaObject()->indexOfSignal(s) < 0)
        return QByteArray("there is no signal ") + sender->metaObject()->className() + "::" + s;
    const bool toSlot = *member == '1';
    const QMetaObject *of = receiver->metaObject();
    if ((toSlot ? of->indexOfSlot(m) : of->indexOfSignal(m)) < 0 && of->indexOfMethod(m) < 0)
        return QByteArray("there is no ") + (toSlot ? "slot " : "signal ") + of->className() + "::" + m;
    if (!QMetaObject::checkConnectArgs(s, m))
        return "the arguments of " + s + " do not fit " + m;
    if (type & Qt::UniqueConnection)
        return "it is connected already";
    return {};
}

} // namespace pipit::recorder
