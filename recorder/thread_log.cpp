#include "recorder/thread_log.h"

#include "link/facts.h"
#include "recorder/acts.h"
#include "recorder/control.h"
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/ties.h"

#include <QtCore/QMetaMethod>
#include <QtCore/QThread>
#include <QtCore/private/qmetaobject_p.h>
#include <QtCore/private/qobject_p.h>

#include <cstring>
#include <sys/syscall.h>
#include <unistd.h>

namespace pipit::recorder
{

std::atomic<bool> *recordingSwitch = nullptr;
pid_t applicationThread = -1;
bool countsForClock = false;

using link::Kind;
using link::Record;

namespace
{
thread_local ThreadLog *threadLog = nullptr;
thread_local bool muted = false;
} // namespace

// Gives the ring back when its thread ends.
struct ThreadLogOwner {
    ~ThreadLogOwner()
    {
        muted = true;
        if (ThreadLog *log = std::exchange(threadLog, nullptr)) {
            if (isRecording())
                leaveRing(log->place_);
            delete log;
        }
    }
    static ThreadLog *make()
    {
        muted = true; // nothing that is needed to make the log is itself recorded
        const bool isMain = applicationThread == pid_t(syscall(SYS_gettid));
        ThreadLog *made = nullptr;
        std::size_t place = 0;
        if (link::RingHeader *ring = claimRing(isMain, &place))
            made = new ThreadLog(ring, place, isMain ? 8192 : 512);
        if (made)
            made->introduce(isMain);
        muted = made == nullptr;
        return made;
    }
};

ThreadLog *ThreadLog::existing()
{
    return isRecording() ? threadLog : nullptr;
}

ThreadLog *ThreadLog::current()
{
    if (!isRecording())
        return nullptr;
    if (threadLog)
        return threadLog;
    if (muted)
        return nullptr;
    static thread_local ThreadLogOwner owner;
    threadLog = ThreadLogOwner::make();
    return threadLog;
}

void muteThisThread()
{
    muted = true;
}
void unmuteThisThread()
{
    muted = false;
}

ThreadLog::ThreadLog(link::RingHeader *ring, std::size_t place, std::size_t objectSlots)
    : ring_(ring, link::cellsOfPlace(place), &wakePipit), place_(place), objectMask_(objectSlots - 1),
      objects_(std::make_unique<KnownObject[]>(objectSlots)), codes_(objectSlots), links_(objectSlots),
      keys_(objectSlots)
{
}

void ThreadLog::introduce(bool isMain)
{
    mark(Kind::ThreadRole, isMain ? 1 : 0);
    if (const std::uint64_t token = tokenOfThread())
        cameOf(this, link::Tie::Thread, token);
    const QThread *thread = isMain ? nullptr : QThread::currentThread();
    if (thread && !thread->objectName().isEmpty()) {
        const QByteArray name = thread->objectName().toUtf8();
        text(Kind::ThreadName, 0, name.constData(), std::size_t(name.size()));
    }
}

bool ThreadLog::put(const Record &s, const char *bytes, std::size_t size)
{
    if (!isRecording()) // a forked child leaves what its parent had begun
        return false;
    if (const std::uint64_t lost = ring_.lost(); lost != lostTold_) {
        Record l;
        l.time = s.time;
        l.kind = std::uint16_t(Kind::Lost);
        l.depth = depth_;
        l.words[0] = lost;
        if (ring_.write(l, nullptr, 0, false))
            lostTold_ = lost;
    }
    writing_ = true;
    std::atomic_signal_fence(std::memory_order_seq_cst);
    const bool written = ring_.write(s, bytes, size);
    std::atomic_signal_fence(std::memory_order_seq_cst);
    writing_ = false;
    return written;
}

void ThreadLog::begin(Kind kind, std::uint32_t value, std::uint64_t a, std::uint64_t b, std::uint64_t c,
                      std::uint64_t d)
{
    open(Record{moment(), std::uint16_t(kind), depth_, value, {a, b, c, d}});
}

void ThreadLog::beginAfterwards(Kind kind, std::uint32_t value, std::uint64_t a, std::uint64_t b,
                                std::uint64_t c)
{
    open(Record{momentAfterwards(), std::uint16_t(kind), depth_, value, {a, b, c, 0}});
}

void ThreadLog::open(const Record &s)
{
    put(s);
    opened_[depth_ & 255] = Kind(s.kind);
    numbers_[depth_ & 255] = ++begun_ << 16 | place_;
    ++depth_;
}

void ThreadLog::leaveSignal()
{
    if (depth_ > 0 && opened_[(depth_ - 1) & 255] == Kind::SignalBegin)
        end(Kind::SignalEnd, std::uint16_t(depth_ - 1));
}

void ThreadLog::end(Kind kind, std::uint16_t depth, std::uint32_t value, std::uint64_t a)
{
    depth_ = depth; // an exception may have left inner spans open
    put(Record{moment(), std::uint16_t(kind), depth_, value, {a, 0, 0, 0}});
}

bool ThreadLog::mark(Kind kind, std::uint32_t value, std::uint64_t a, std::uint64_t b, std::uint64_t c,
                     std::uint64_t d)
{
    return put(Record{moment(), std::uint16_t(kind), depth_, value, {a, b, c, d}});
}

bool ThreadLog::markAfterwards(Kind kind, std::uint32_t value, std::uint64_t a)
{
    return put(Record{momentAfterwards(), std::uint16_t(kind), depth_, value, {a, 0, 0, 0}});
}

bool ThreadLog::text(Kind kind, std::uint32_t value, const char *bytes, std::size_t size, std::uint64_t a,
                     std::uint64_t b)
{
    if (size > link::maxTextBytes) {
        size = link::maxTextBytes;
        while (size > 0 && (static_cast<unsigned char>(bytes[size]) & 0xC0) == 0x80)
            --size;
    }
    return put(Record{moment(), std::uint16_t(kind), depth_, value, {a, b, 0, size}}, bytes, size);
}

ThreadLog::KnownObject &ThreadLog::knownFor(const QObject *o)
{
    const auto address = reinterpret_cast<std::uint64_t>(o);
    return objects_[(address >> 4 ^ address >> 17) & objectMask_];
}

std::uint64_t ThreadLog::object(const QObject *o)
{
    const auto address = reinterpret_cast<std::uint64_t>(o);
    if (!o)
        return 0;
    const QMetaObject *mo = o->metaObject();
    const auto *extra = QObjectPrivate::get(o)->extraData;
    const void *name = extra ? extra->objectName.valueBypassingBindings().constData() : nullptr;
    KnownObject &known = knownFor(o);
    if (known.object == o && known.metaObject == mo && known.name == name)
        return address;
    known = {o, mo, name, false};
    std::string words = mo->className();
    words += '\n';
    const auto add = [&words](const QString &text) {
        const QByteArray bytes = text.toUtf8();
        words.append(bytes.constData(), std::size_t(bytes.size()));
    };
    if (extra)
        add(extra->objectName.valueBypassingBindings());
    if (acts && words.back() == '\n')
        if (const QString caption = acts->captionOf(o); !caption.isEmpty()) {
            words += '\n';
            add(caption);
        }
    known.isCalled = words.back() != '\n';
    if (!text(Kind::ObjectName, 0, words.data(), words.size(), address))
        known = {};
    else if (mo != &QThread::staticMetaObject && mo->inherits(&QThread::staticMetaObject) &&
             std::strncmp(mo->className(), "Q", 1) != 0)
        text(Kind::Fact, std::uint32_t(link::Fact::IsThread), "", 0, address);
    return address;
}

std::uint64_t ThreadLog::objectAnew(const QObject *o)
{
    KnownObject &known = knownFor(o);
    if (known.object == o && !known.isCalled && acts && !acts->captionOf(o).isEmpty())
        known = {};
    return object(o);
}

std::string methodText(const QMetaObject *of, int localIndex)
{
    const QMetaMethod m = of->method(of->methodOffset() + localIndex);
    return std::string(of->className()) + '\n' + m.methodSignature().toStdString();
}

std::uint64_t methodKey(const QMetaObject *of, int localIndex)
{
    return reinterpret_cast<std::uint64_t>(of) << 8 | std::uint64_t(localIndex & 0xff);
}

std::uint64_t ThreadLog::method(const QMetaObject *of, int index, bool isSignalIndex, MethodNature *nature)
{
    const int tagged = isSignalIndex ? index : index | 1 << 24;
    const auto h = reinterpret_cast<std::uint64_t>(of) >> 5;
    KnownMethod &known = methods_[(h + std::uint64_t(tagged) * 31) & 511];
    if (known.of != of || known.index != tagged) {
        const QMetaMethod m = isSignalIndex ? QMetaObjectPrivate::signal(of, index) : of->method(index);
        const QMetaObject *owner = m.enclosingMetaObject();
        if (!owner) { // a class half destroyed
            if (nature)
                *nature = MethodNature::Inner;
            return 0;
        }
        const int local = m.methodIndex() - owner->methodOffset();
        known.of = of;
        known.index = tagged;
        known.key = methodKey(owner, local);
        known.nature = MethodNature::Program;
        if (!isSignalIndex && (m.methodType() == QMetaMethod::Signal || m.name().startsWith("_q_")))
            known.nature = MethodNature::Inner;
        else if (!isSignalIndex && inToolkit(reinterpret_cast<std::uint64_t>(owner)))
            known.nature = MethodNature::Toolkit;
        if (known.nature != MethodNature::Inner && keys_.add(known.key)) {
            const std::string words = methodText(owner, local);
            if (words == "QAbstractSocket\nstateChanged(QAbstractSocket::SocketState)")
                socketState.store(known.key, std::memory_order_relaxed);
            if (!text(Kind::SignalName, 0, words.data(), words.size(), known.key)) {
                keys_.remove(known.key);
                known.of = nullptr;
            }
        }
    }
    if (nature)
        *nature = known.nature;
    return known.key;
}

std::uint64_t ThreadLog::code(std::uint64_t address)
{
    if (!codes_.add(address))
        return address;
    pipit_module module;
    std::string path;
    std::uint64_t offset = address;
    if (pipit_module_at(address, &module)) {
        path = module.file;
        offset = address - module.base;
        if (path.empty()) { // the program itself
            char self[4096];
            const ssize_t n = readlink("/proc/self/exe", self, sizeof self);
            if (n > 0)
                path.assign(self, std::size_t(n));
        }
    }
    if (!text(Kind::CodePlace, 0, path.data(), path.size(), address, offset))
        codes_.remove(address);
    return address;
}

void ThreadLog::link(const LinkInfo &info)
{
    if (links_.has(info.serial))
        return;
    const std::uint64_t before = ring_.lost();
    if (!info.signalText.empty() && !keys_.has(info.signalKey) &&
        text(Kind::SignalName, 0, info.signalText.data(), info.signalText.size(), info.signalKey))
        keys_.add(info.signalKey);
    code(info.code);
    code(info.place);
    code(info.outerPlace);
    code(info.outermostPlace);
    mark(Kind::LinkPlace, 0, info.serial, info.place, info.outerPlace, info.outermostPlace);
    if (info.first || info.fourth) {
        for (const std::uint64_t word : {info.first, info.fourth})
            if (isCode(word))
                code(word);
        mark(Kind::LinkWords, 0, info.serial, info.first, info.second, info.fourth);
    }
    if (mark(Kind::Link, info.value(), info.serial, info.sender, info.signalKey, info.code) &&
        ring_.lost() == before)
        links_.add(info.serial);
}

} // namespace pipit::recorder
