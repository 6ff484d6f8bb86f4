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

QByteArray slotName(const QObject *receiver, int method)
{
    const QMetaMethod m = receiver->metaObject()->method(method);
    return m.isValid() ? QByteArray(m.enclosingMetaObject()->className()) + "::" + m.methodSignature()
                       : QByteArray();
}

bool isMadeByProgram(const QObject *receiver, int method)
{
    const QMetaMethod m = receiver->metaObject()->method(method);
    return connectedByProgram(receiver, method) ||
           (m.isValid() && !inToolkit(reinterpret_cast<std::uint64_t>(m.enclosingMetaObject())));
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

QByteArray lineOf(const Wire &w)
{
    const auto *extra = w.receiver ? QObjectPrivate::get(w.receiver)->extraData : nullptr;
    const QByteArray name = extra ? extra->objectName.valueBypassingBindings().toUtf8() : QByteArray();
    const QByteArrayList fields{w.signal,
                                QByteArray::number(quint64(quintptr(w.receiver)), 16),
                                w.receiver ? w.receiver->metaObject()->className() : "",
                                QByteArray(name).replace('\t', ' ').replace('\n', ' '),
                                w.slot,
                                QByteArray::number(w.type),
                                QByteArray::number(quint64(w.serial), 16),
                                w.own ? "1" : "0",
                                threadOf(w.sender, w.receiver)};
    return fields.join('\t');
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
               QMetaObjectPrivate::signal(sender->metaObject(), signal).methodSignature(),
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
        all += lineOf(w).toStdString() + '\n';
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
