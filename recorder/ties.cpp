#include "recorder/ties.h"

#include "link/control.h"
#include "recorder/control.h"
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/patch.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QEvent>
#include <QtCore/QJsonObject>

#include <array>
#include <atomic>
#include <pthread.h>

namespace pipit::recorder
{

using link::Kind;
using link::Tie;

namespace
{

thread_local std::uint64_t threadToken = 0;

using Word = std::uintptr_t;

// push %r15; push %r14; push %r13
constexpr unsigned char startTimerEntry[] = {0x41, 0x57, 0x41, 0x56, 0x41, 0x55};
// push %r15; push %r14; mov %edx,%r14d
constexpr unsigned char basicTimerEntry[] = {0x41, 0x57, 0x41, 0x56, 0x41, 0x89, 0xd6};
// mov 0x8(%rdi),%rax; mov 0x58(%rax),%rdx
constexpr unsigned char loopExitEntry[] = {0x48, 0x8b, 0x47, 0x08, 0x48, 0x8b, 0x50, 0x58};

int (*realStartTimer)(QObject *, int, int) = nullptr;
void (*realBasicStart)(int *, int, int, QObject *) = nullptr;
void (*realLoopExit)(QObject *, int) = nullptr;

int hookStartTimer(QObject *object, int interval, int type)
{
    const int id = realStartTimer(object, interval, type);
    if (id > 0)
        began(Tie::Timer, std::uint64_t(id), object);
    return id;
}

// A basic timer holds nothing but its id.
void hookBasicStart(int *timer, int interval, int type, QObject *object)
{
    realBasicStart(timer, interval, type, object);
    if (*timer > 0)
        began(Tie::Timer, std::uint64_t(*timer), object);
}

void hookLoopExit(QObject *loop, int code)
{
    began(Tie::LoopEnd, reinterpret_cast<std::uint64_t>(loop));
    realLoopExit(loop, code);
}

struct NewThread {
    void *(*start)(void *);
    void *argument;
    std::uint64_t token;
};

void *runThread(void *given)
{
    const NewThread is = *static_cast<NewThread *>(given);
    delete static_cast<NewThread *>(given);
    threadToken = is.token;
    return is.start(is.argument);
}

int hookThread(pthread_t *thread, const pthread_attr_t *attributes, void *(*start)(void *), void *argument)
{
    static const auto real =
        reinterpret_cast<int (*)(pthread_t *, const pthread_attr_t *, void *(*)(void *), void *)>(
            realFunction(StubThreadCreate));
    if (!ThreadLog::existing())
        return real(thread, attributes, start, argument);
    auto *is = new NewThread{start, argument, freshToken()};
    began(Tie::Thread, is->token);
    const int failed = real(thread, attributes, &runThread, is);
    if (failed)
        delete is;
    return failed;
}

// Functions that start what an object stands for. They take no more than six words.
// Where the object is: the first word; the second, behind room for a value that is returned; the first, which
// is made by the call; or what is returned.
enum class Stands { First, Second, Made, Returned };
struct Start {
    StubId stub;
    Stands object;
    Word (*ours)(Word, Word, Word, Word, Word, Word);
};
extern const std::array<Start, 19> starts;

// Its address may be another's once it is gone, so that is recorded too.
void objectBegan(Word address)
{
    const auto *object = reinterpret_cast<const QObject *>(address);
    rememberUntilDeath(object, true);
    began(Tie::Object, address, object);
}

template <int n> Word hookBegin(Word a, Word b, Word c, Word d, Word e, Word f)
{
    static const auto real = reinterpret_cast<decltype(Start::ours)>(realFunction(starts[n].stub));
    const bool own = fromProgram(reinterpret_cast<std::uint64_t>(__builtin_return_address(0)));
    if (!own)
        return real(a, b, c, d, e, f);
    const Stands object = starts[n].object;
    if (object == Stands::First || object == Stands::Second)
        objectBegan(object == Stands::First ? a : b);
    const Word result = real(a, b, c, d, e, f);
    if (object == Stands::Made || (object == Stands::Returned && result))
        objectBegan(object == Stands::Made ? a : result);
    return result;
}

const std::array<Start, 19> starts{{
    {StubProcessStart, Stands::First, &hookBegin<0>},
    {StubProcessStartSet, Stands::First, &hookBegin<1>},
    {StubProcessCommand, Stands::First, &hookBegin<2>},
    {StubWatcherPath, Stands::First, &hookBegin<3>},
    {StubWatcherPaths, Stands::Second, &hookBegin<4>},
    {StubFutureWatcher, Stands::First, &hookBegin<5>},
    {StubAnimationStart, Stands::First, &hookBegin<6>},
    {StubTimeLineStart, Stands::First, &hookBegin<7>},
    {StubLocalConnect, Stands::First, &hookBegin<8>},
    {StubLocalConnectTo, Stands::First, &hookBegin<9>},
    {StubLocalListen, Stands::First, &hookBegin<10>},
    {StubTcpListen, Stands::First, &hookBegin<11>},
    {StubNetworkGet, Stands::Returned, &hookBegin<12>},
    {StubNetworkPost, Stands::Returned, &hookBegin<13>},
    {StubNetworkPostDevice, Stands::Returned, &hookBegin<14>},
    {StubNetworkPut, Stands::Returned, &hookBegin<15>},
    {StubNetworkHead, Stands::Returned, &hookBegin<16>},
    {StubCallWatcher, Stands::Made, &hookBegin<17>},
    {StubMenuPopup, Stands::First, &hookBegin<18>},
}};

} // namespace

void began(Tie tie, std::uint64_t token, const QObject *object)
{
    if (ThreadLog *log = ThreadLog::current())
        log->mark(Kind::Began, std::uint32_t(tie), token, object ? log->object(object) : 0);
}

void cameOf(ThreadLog *log, Tie tie, std::uint64_t token)
{
    log->markAfterwards(Kind::CameOf, std::uint32_t(tie), token);
}

void tellConnecting(const QObject *socket, void **values)
{
    constexpr int lookingForHost = 1; // QAbstractSocket::HostLookupState
    if (values && values[1] && *static_cast<const int *>(values[1]) == lookingForHost) {
        rememberUntilDeath(socket, true);
        began(Tie::Object, reinterpret_cast<std::uint64_t>(socket), socket);
    }
}

std::uint64_t freshToken()
{
    static std::atomic<std::uint64_t> last{0};
    return ++last;
}

std::uint64_t tokenOfThread()
{
    return threadToken;
}

void tellCauseOf(ThreadLog *log, QObject *receiver, QEvent *event)
{
    if (event->type() == QEvent::Timer && realStartTimer)
        cameOf(log, Tie::Timer, std::uint64_t(static_cast<QTimerEvent *>(event)->timerId()));
    else if ((event->type() == QEvent::Paint || event->type() == QEvent::UpdateRequest) && log->isMain())
        tellPaint(log, receiver, event);
}

void installTies()
{
    const char *core = "libQt6Core.so";
    realStartTimer = reinterpret_cast<decltype(realStartTimer)>(patchExported(
        core, "_ZN7QObject10startTimerEiN2Qt9TimerTypeE", {startTimerEntry, sizeof startTimerEntry},
        reinterpret_cast<const void *>(&hookStartTimer)));
    realBasicStart = reinterpret_cast<decltype(realBasicStart)>(patchExported(
        core, "_ZN11QBasicTimer5startEiN2Qt9TimerTypeEP7QObject", {basicTimerEntry, sizeof basicTimerEntry},
        reinterpret_cast<const void *>(&hookBasicStart)));
    realLoopExit = reinterpret_cast<decltype(realLoopExit)>(
        patchExported(core, "_ZN10QEventLoop4exitEi", {loopExitEntry, sizeof loopExitEntry},
                      reinterpret_cast<const void *>(&hookLoopExit)));
    if (!realStartTimer || !realBasicStart || !realLoopExit)
        notifyPipit(
            link::tells::limit,
            {{QStringLiteral("what"), QStringLiteral("ties")},
             {QStringLiteral("text"),
              QStringLiteral("What started timers or ended loops is unknown: the program ran other threads "
                             "before it made its application object, or this build of Qt begins its "
                             "functions in a way the recorder does not know.")}});
    setStub(StubThreadCreate, reinterpret_cast<void *>(&hookThread));
    for (const Start &s : starts)
        setStub(s.stub, reinterpret_cast<void *>(s.ours));
}

} // namespace pipit::recorder
