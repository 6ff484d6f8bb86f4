// The connections of an object, read from where the tool-kit keeps them, as it reads them when it emits.
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
const char *threadOf(const Wire &w)
{
    if (!w.sender || !w.receiver)
        return "";
    const QThreadData *from = QObjectPrivate::get(w.sender)->threadData.loadAcquire(),
                      *to = QObjectPrivate::get(w.receiver)->threadData.loadAcquire();
    if (from == to)
        return "same";
    const QThread *thread = to->thread.loadAcquire();
    return !thread                ? "loop" // not made by the tool-kit: nothing is known of it
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
                                threadOf(w)};
    return fields.join('\t');
}

std::string wiresOf(ThreadLog *log, const QObject *sender)
{
    std::string all;
    QObjectPrivate *d = QObjectPrivate::get(const_cast<QObject *>(sender));
    if (d->wasDeleted || !d->connections.loadRelaxed())
        return all;
    // While it is counted as used, what another thread disconnects stays to be read. The object is this
    // thread's, so that it lives on.
    struct Used {
        explicit Used(QObjectPrivate::ConnectionData *d) : data(d) { data->ref.ref(); }
        ~Used() { data->ref.deref(); }
        Used(const Used &) = delete;
        Used &operator=(const Used &) = delete;
        QObjectPrivate::ConnectionData *const data;
    } const used(d->connections.loadAcquire());
    const QObjectPrivate::SignalVector *signals_ = used.data->signalVector.loadAcquire();
    for (int i = 0; signals_ && i < signals_->count(); ++i)
        for (const auto *c = signals_->at(i).first.loadAcquire(); c;
             c = c->nextConnectionList.loadRelaxed()) {
            const QObject *receiver = c->receiver.loadRelaxed();
            if (!receiver)
                continue;
            Wire w{sender,
                   QMetaObjectPrivate::signal(sender->metaObject(), i).methodSignature(),
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
        }
    return all;
}

QByteArray whyNotByName(const QObject *sender, const char *signal, const QObject *receiver,
                        const char *member)
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
    return {};
}

} // namespace pipit::recorder
