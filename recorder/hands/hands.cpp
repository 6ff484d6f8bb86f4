#include "recorder/hands/hands.h"

#include "link/clock.h"
#include "recorder/hands/reach.h"
#include "recorder/hands/states.h"

#include <QtCore/QAbstractEventDispatcher>
#include <QtCore/QCoreApplication>
#include <QtCore/QJsonArray>
#include <QtCore/QThread>
#include <QtGui/QInputDevice>
#include <QtGui/QPointingDevice>
#include <QtGui/qpa/qwindowsysteminterface.h>
#include <QtWidgets/QWidget>

#include <condition_variable>
#include <mutex>

namespace pipit::recorder
{

namespace
{

using Clock = std::chrono::steady_clock;

// A question for the main loop, answered when it is idle. Guarded by `mutex`.
struct Question {
    std::function<QJsonObject()> ask;
    QJsonObject answer;
    bool answered = false, patient = false; // patient: "not met" is not yet an answer
};

std::mutex mutex;
std::condition_variable answeredSignal;
std::shared_ptr<Question> question;
std::atomic<bool> questionWaits{false};
std::atomic<bool> watching{false};
std::atomic<bool> dirty{true};
std::atomic<std::uint64_t> servedAt{0}; // when the main loop last polled
Snapshot snapshot;                      // guarded by `mutex`
QPointer<QWidget> clickedLast;          // guarded by `mutex`; what a click not yet worked off will focus

bool onMainThread()
{
    const QCoreApplication *app = QCoreApplication::instance();
    return app && app->thread() == QThread::currentThread();
}

void wakeMainLoop()
{
    if (const QCoreApplication *app = QCoreApplication::instance())
        if (auto *dispatcher = QAbstractEventDispatcher::instance(app->thread()))
            dispatcher->wakeUp();
}

} // namespace

QJsonObject error(const QString &text)
{
    return {{QStringLiteral("error"), text}};
}

QJsonObject onIdle(std::function<QJsonObject()> ask, int timeoutMs, int withinMs)
{
    auto mine = std::make_shared<Question>();
    mine->ask = std::move(ask);
    std::unique_lock lock(mutex);
    question = mine;
    // Once patience is over there is time for a last look: a loop that waits is not busy.
    constexpr int lastLookMs = 1000;
    const auto begin = Clock::now();
    const auto deadline =
        begin + std::chrono::milliseconds(std::max(timeoutMs, withinMs > 0 ? withinMs + lastLookMs : 0));
    const auto patience = begin + std::chrono::milliseconds(withinMs);
    mine->patient = withinMs > 0;
    questionWaits = true;
    while (!mine->answered && Clock::now() < deadline) {
        const bool wakes = mine->answer.isEmpty(); // once it was asked, the loop comes by itself
        if (wakes)
            wakeMainLoop();
        if (mine->patient && Clock::now() >= patience) {
            mine->patient = false;
            wakeMainLoop(); // for the last look
        }
        const auto next = wakes           ? Clock::now() + std::chrono::milliseconds(20)
                          : mine->patient ? patience
                                          : deadline;
        answeredSignal.wait_until(lock, std::min(deadline, next), [&] { return mine->answered; });
    }
    if (mine->answered)
        return mine->answer;
    question.reset();
    questionWaits = false;
    const double since = double(link::monotonic() - servedAt.load()) / 1e6;
    return error(QStringLiteral("the loop is busy since %1 ms").arg(since, 0, 'f', 0));
}

QJsonObject notFound(const QString &target)
{
    std::unique_lock lock(mutex);
    return notFound(target, snapshot);
}

bool isWidget(const QString &name)
{
    std::unique_lock lock(mutex);
    return snapshot.find(name).has_value();
}

QJsonObject notFound(const QString &target, const Snapshot &in)
{
    QJsonArray near;
    for (const QString &name : in.nearest(target))
        near.append(name);
    QJsonObject answer = error(QStringLiteral("no visible widget is called %1").arg(target));
    answer[QStringLiteral("near")] = near;
    return answer;
}

std::optional<Target> findTarget(const QString &name, QJsonObject *why)
{
    const auto deadline = Clock::now() + std::chrono::milliseconds(2000);
    for (;;) {
        std::optional<Target> t;
        {
            std::unique_lock lock(mutex);
            t = snapshot.find(name);
        }
        if (t && t->hindrance.isEmpty())
            return t;
        if (Clock::now() > deadline) {
            *why = t ? error(name + u' ' + t->hindrance) : notFound(name);
            return std::nullopt;
        }
        dirty = true;
        wakeMainLoop();
        QThread::msleep(10);
    }
}

void (*tellPosting)() = nullptr;
static std::atomic<bool> postingToldOf{false}; // this request

void newRequest()
{
    postingToldOf = false;
}

ulong stampNow()
{
    if (tellPosting && !postingToldOf.exchange(true))
        tellPosting();
    return ulong(link::monotonic() / 1'000'000);
}

QJsonObject posted(const Target &t)
{
    return {{QStringLiteral("posted_ns"), double(link::monotonic())},
            {QStringLiteral("x"), t.centre.x()},
            {QStringLiteral("y"), t.centre.y()}};
}

void willFocus(const QPointer<QWidget> &widget)
{
    std::unique_lock lock(mutex);
    clickedLast = widget;
}

bool willHaveFocus(const Target &t)
{
    std::unique_lock lock(mutex);
    return clickedLast ? clickedLast == t.widget : t.hasFocus;
}

void geometryChanged()
{
    if (watching.load(std::memory_order_relaxed))
        dirty.store(true, std::memory_order_relaxed);
}

void startWatching()
{
    watching = true;
    dirty = true;
    wakeMainLoop();
}

bool worksBeforeWait()
{
    return ((watching.load(std::memory_order_relaxed) && dirty.load(std::memory_order_relaxed)) ||
            questionWaits.load(std::memory_order_relaxed)) &&
           onMainThread();
}

// What is asked may run the program's own code, a model's for one: no lock is held meanwhile.
static void answerQuestion()
{
    std::shared_ptr<Question> asked;
    {
        std::unique_lock lock(mutex);
        asked = question;
    }
    if (!asked)
        return;
    const QJsonObject answer = asked->ask();
    std::unique_lock lock(mutex);
    if (question != asked) // nobody waits for it any more
        return;
    asked->answer = answer;
    if (asked->patient && !answer[QLatin1String("met")].toBool(true))
        return;
    asked->answered = true;
    question.reset();
    questionWaits = false;
    answeredSignal.notify_all();
}

void beforeWait(bool reallyWaits)
{
    servedAt = link::monotonic();
    if (watching && dirty.exchange(false)) {
        // Made here, on the main thread, where the toolkit may make its default devices.
        QPointingDevice::primaryPointingDevice();
        QInputDevice::primaryKeyboard();
        Snapshot fresh = Snapshot::take();
        std::unique_lock lock(mutex);
        snapshot = std::move(fresh);
        if (QWindowSystemInterface::windowSystemEventsQueued() == 0)
            clickedLast.clear();
    }
    static int passes = 0; // passes of a loop that never idles
    if (!questionWaits || QWindowSystemInterface::windowSystemEventsQueued() > 0)
        return;
    if (!reallyWaits && ++passes < 4)
        return;
    passes = 0;
    answerQuestion();
}

void loopServed()
{
    if (watching.load(std::memory_order_relaxed) && onMainThread())
        servedAt = link::monotonic();
}

QJsonObject waitForWindow(int timeoutMs)
{
    startWatching();
    const auto deadline = Clock::now() + std::chrono::milliseconds(timeoutMs);
    while (Clock::now() < deadline) {
        {
            std::unique_lock lock(mutex);
            if (!snapshot.empty())
                return {{QStringLiteral("windows"), snapshot.windowCount()}};
        }
        dirty = true;
        wakeMainLoop();
        QThread::msleep(5);
    }
    return error(QStringLiteral("no window opened within %1 ms").arg(timeoutMs));
}

QJsonObject expectState(const QString &target, const QJsonObject &want, int withinMs, int timeoutMs)
{
    return onIdle([target, want] { return compareState(target, want); }, timeoutMs, withinMs);
}

QJsonObject waitIdle(int timeoutMs)
{
    return onIdle(
        [] {
            return QJsonObject{{QStringLiteral("time_ns"), double(link::monotonic())}};
        },
        timeoutMs);
}

QJsonObject listTargets()
{
    QJsonArray names;
    std::unique_lock lock(mutex);
    for (const QString &n : snapshot.names())
        names.append(n);
    return {{QStringLiteral("targets"), names}};
}

} // namespace pipit::recorder
