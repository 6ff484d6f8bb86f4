#include "recorder/facts.h"

#include "link/facts.h"
#include "link/ties.h"
#include "recorder/acts.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QThread>
#include <QtCore/private/qhooks_p.h>
#include <QtCore/private/qobject_p.h>
#include <QtCore/private/qthread_p.h>

#include <algorithm>
#include <mutex>
#include <string>
#include <unordered_map>

namespace pipit::recorder
{

using link::Fact;
using link::Kind;

constinit std::mutex deathWaits;

namespace
{

// Looking may take a hundredth of the time; what was not taken for long may be taken at once, so that a
// person's inputs find all told.
constexpr std::uint64_t share = 100, mostSaved = 30'000'000; // ns
constexpr std::uint64_t least = 3'000'000;                   // ns between two looks
constexpr std::uint64_t cheap = 600'000;                     // ns: a look that may come before an input
constexpr std::chrono::microseconds mostAtOnce{3000};

// The main thread's.
bool happened = true;
std::uint64_t saved = mostSaved, savedAt = 0, lastCost = 0; // ns
struct WiresTold {
    std::size_t inShort = 0;
    std::uint32_t seenIn = 0; // round
};
std::unordered_map<const QObject *, WiresTold> wiresTold;
std::uint32_t rounds = 0;

// What the program connected, on any thread: objects that no window need reach.
std::mutex sendersMutex;
std::unordered_map<const QObject *, bool>
    senders; // guarded by sendersMutex; true: what it stands for was started
std::atomic<bool> maybeSender[4096];
QHooks::RemoveQObjectCallback deathBefore = nullptr;

std::atomic<bool> &mayBe(const QObject *o)
{
    const auto at = reinterpret_cast<std::uintptr_t>(o);
    return maybeSender[(at >> 4 ^ at >> 16) & 4095];
}

// What was posted to it and will never come: calls, results, and events of the program's own.
void tellNeverCame(QObject *object)
{
    QThreadData *data = QObjectPrivate::get(object)->threadData.loadAcquire();
    ThreadLog *log = data ? ThreadLog::existing() : nullptr;
    if (!log || !data->postEventList.mutex.tryLock())
        return;
    struct Lost {
        const QEvent *event;
        int type;
    };
    constexpr std::size_t most = 64;
    Lost lost[most];
    std::size_t count = 0;
    for (const QPostEvent &posted : std::as_const(data->postEventList))
        if (posted.receiver == object && posted.event && count < most) {
            const int type = posted.event->type();
            if (type == QEvent::MetaCall || type == QEvent::FutureCallOut || type >= QEvent::User)
                lost[count++] = {posted.event, type};
        }
    data->postEventList.mutex.unlock();
    for (std::size_t i = 0; i < count; ++i) {
        const std::string type = std::to_string(lost[i].type);
        log->text(Kind::Fact, std::uint32_t(Fact::NeverCame), type.data(), type.size(),
                  reinterpret_cast<std::uint64_t>(object), reinterpret_cast<std::uint64_t>(lost[i].event));
    }
}

void tellDeath(QObject *object)
{
    if (QObjectPrivate::get(object)->postedEvents.loadRelaxed() > 0)
        tellNeverCame(object);
    if (mayBe(object).load(std::memory_order_relaxed)) {
        bool was = false, started = false;
        {
            const std::lock_guard lock(sendersMutex);
            const auto it = senders.find(object);
            was = it != senders.end();
            started = was && it->second;
            if (was)
                senders.erase(it);
        }
        ThreadLog *log = was ? ThreadLog::existing() : nullptr;
        if (log && log->isMain())
            wiresTold.erase(object);
        if (log && started)
            log->mark(Kind::Began, std::uint32_t(link::Tie::ObjectGone),
                      reinterpret_cast<std::uint64_t>(object));
        if (log)
            log->text(Kind::Fact, std::uint32_t(Fact::State), "gone", 4,
                      reinterpret_cast<std::uint64_t>(object));
    }
}

void onDeath(QObject *object)
{
    if (isRecording()) { // in a forked child the locks may be held by nobody
        {
            const std::lock_guard wait(deathWaits);
        }
        tellDeath(object);
    }
    if (deathBefore)
        deathBefore(object);
}

void tell(ThreadLog *log, Fact fact, const QObject *object, std::uint64_t other, const char *text,
          std::size_t bytes)
{
    log->text(Kind::Fact, std::uint32_t(fact), text, bytes, log->object(object), other);
}

void tellState(const QObject *object, const std::string &text)
{
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return;
    if (text == "gone") { // its memory may be another's
        wiresTold.erase(object);
        log->text(Kind::Fact, std::uint32_t(Fact::State), text.data(), text.size(),
                  reinterpret_cast<std::uint64_t>(object));
    } else {
        log->objectAnew(object);
        tell(log, Fact::State, object, 0, text.data(), text.size());
    }
}

void tellWires(const QObject *sender)
{
    static const bool leftOut = isLeftOut("wires");
    ThreadLog *log = leftOut ? nullptr : ThreadLog::current();
    if (!log)
        return;
    const std::size_t now = wiresInShort(sender);
    const auto it = wiresTold.try_emplace(sender).first;
    it->second.seenIn = rounds;
    if (it->second.inShort == now)
        return;
    it->second.inShort = now;
    const std::string wires = wiresOf(log, sender);
    tell(log, Fact::Wires, sender, 0, wires.data(), wires.size());
}

std::vector<const QObject *> sendersHere()
{
    const QThread *here = QThread::currentThread();
    std::vector<const QObject *> all;
    const std::lock_guard lock(sendersMutex);
    for (const auto &[o, started] : senders)
        if (o->thread() == here && !o->parent()) // others are in a tree
            all.push_back(o);
    return all;
}

} // namespace

void somethingHappened()
{
    happened = true;
}

// When there is time for a look again.
static std::uint64_t nextLook()
{
    if (!savedAt)
        return 0;
    const std::uint64_t enough = savedAt + (saved >= lastCost ? 0 : (lastCost - saved) * share);
    return std::max(savedAt + least, enough);
}

std::uint32_t sweepDue()
{
    static const bool leftOut = isLeftOut("objects");
    if (!happened || !acts || !acts->look || leftOut)
        return link::NoTimeout;
    const std::uint64_t t = now(), next = nextLook();
    return t >= next ? 0 : std::uint32_t((next - t) / 1'000'000 + 1);
}

void sweep()
{
    ThreadLog *log = ThreadLog::current();
    if (!log || !acts || !acts->look || !QCoreApplication::instance() || QCoreApplication::closingDown())
        return;
    happened = false;
    const std::uint64_t begun = now(), before = link::processorTime();
    const Looked looked = acts->look({sendersHere(), &tellState, &tellWires, mostAtOnce});
    if (looked.all) {
        const std::string text = std::to_string(looked.reached);
        log->text(Kind::Fact, std::uint32_t(Fact::Swept), text.data(), text.size());
        // What was not seen is not there any more, or has no connections left.
        std::erase_if(wiresTold, [](const auto &w) { return w.second.seenIn != rounds; });
        ++rounds;
    } else {
        happened = true; // there is more to look at
    }
    const std::uint64_t ended = now();
    saved = std::min(mostSaved, saved + (savedAt ? (begun - savedAt) / share : 0));
    savedAt = ended;
    lastCost = link::processorTime() - before; // on a busy machine the clock would count others' time, too
    saved -= std::min(saved, lastCost);
}

void sweepBeforeInput()
{
    if (savedAt && lastCost < cheap && sweepDue() == 0)
        sweep();
}

QByteArray shortened(const QString &text)
{
    if (!textsMayBeTold)
        return {};
    return text.left(200).toUtf8().replace('\t', ' ').replace('\n', ' ');
}

void rememberUntilDeath(const QObject *object, bool started)
{
    if (!object)
        return;
    mayBe(object) = true;
    const std::lock_guard lock(sendersMutex);
    bool &is = senders[object];
    is = is || started;
}

void tellTouched(const QObject *object, std::uint64_t place, const QByteArray &what)
{
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return;
    if (log->isMain())
        somethingHappened();
    if (place)
        log->code(place);
    tell(log, Fact::Touched, object, place, what.constData(), std::size_t(what.size()));
}

void tellOffered(const QObject *object, const std::string &types)
{
    static const QObject *last = nullptr; // a drag moves on
    ThreadLog *log = object == last ? nullptr : ThreadLog::current();
    if (!log)
        return;
    last = object;
    tell(log, Fact::Offered, object, 0, types.data(), types.size());
}

// The places around the connect, behind what a line tells.
std::string callersText(ThreadLog *log, const Wire &wire)
{
    std::string text;
    for (const std::uint64_t caller : wire.callers) {
        text += '\t' + (caller ? QByteArray::number(qulonglong(caller), 16) : QByteArray()).toStdString();
        if (caller)
            log->code(caller);
    }
    return text;
}

void tellConnected(const Wire &wire, std::uint64_t place)
{
    rememberUntilDeath(wire.sender);
    rememberUntilDeath(wire.receiver);
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return;
    if (log->isMain())
        somethingHappened();
    log->code(place);
    log->object(wire.receiver); // so that its end can be told
    std::string line;
    addLine(line, wire);
    line += callersText(log, wire);
    tell(log, Fact::Connected, wire.sender, place, line.data(), line.size());
}

void tellNotConnected(const Wire &wire, std::uint64_t place, const QByteArray &reason)
{
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return;
    log->code(place);
    std::string whole;
    addLine(whole, wire);
    QByteArrayList fields = QByteArray::fromStdString(whole).split('\t').mid(0, 6);
    fields << QByteArray(reason).replace('\t', ' ').replace('\n', ' ');
    const QByteArray line = fields.join('\t') + QByteArray::fromStdString(callersText(log, wire));
    tell(log, Fact::NotConnected, wire.sender, place, line.constData(), std::size_t(line.size()));
}

void installFacts()
{
    deathBefore = reinterpret_cast<QHooks::RemoveQObjectCallback>(qtHookData[QHooks::RemoveQObject]);
    qtHookData[QHooks::RemoveQObject] = reinterpret_cast<quintptr>(&onDeath);
}

} // namespace pipit::recorder
