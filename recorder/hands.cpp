#include "recorder/hands.h"

#include "recorder/reach.h"
#include "recorder/thread_log.h"

#include <QtCore/QAbstractEventDispatcher>
#include <QtCore/QCoreApplication>
#include <QtCore/QJsonArray>
#include <QtCore/QThread>
#include <QtCore/QTimer>
#include <QtGui/QInputDevice>
#include <QtGui/QKeySequence>
#include <QtGui/QPointingDevice>
#include <QtGui/qpa/qwindowsysteminterface.h>
#include <QtWidgets/QApplication>
#include <QtWidgets/QWidget>

#include <condition_variable>
#include <functional>
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
    bool answered = false;
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

QJsonObject onIdle(std::function<QJsonObject()> ask, int timeoutMs)
{
    auto mine = std::make_shared<Question>();
    mine->ask = std::move(ask);
    std::unique_lock lock(mutex);
    question = mine;
    questionWaits = true;
    const auto deadline = Clock::now() + std::chrono::milliseconds(timeoutMs);
    while (!mine->answered && Clock::now() < deadline) {
        wakeMainLoop();
        answeredSignal.wait_until(lock, std::min(deadline, Clock::now() + std::chrono::milliseconds(20)),
                                  [&] { return mine->answered; });
    }
    if (mine->answered)
        return mine->answer;
    question.reset();
    questionWaits = false;
    const double since = double(now() - servedAt.load()) / 1e6;
    return error(QStringLiteral("the loop is busy since %1 ms").arg(since, 0, 'f', 0));
}

QJsonObject notFound(const QString &target)
{
    QJsonArray near;
    std::unique_lock lock(mutex);
    for (const QString &name : snapshot.nearest(target))
        near.append(name);
    lock.unlock();
    QJsonObject answer = error(QStringLiteral("no visible widget is called %1").arg(target));
    answer[QStringLiteral("near")] = near;
    return answer;
}

std::optional<Target> findTarget(const QString &name)
{
    const auto deadline = Clock::now() + std::chrono::milliseconds(2000);
    for (;;) {
        {
            std::unique_lock lock(mutex);
            if (auto t = snapshot.find(name))
                return t;
        }
        if (Clock::now() > deadline)
            return std::nullopt;
        dirty = true;
        wakeMainLoop();
        QThread::msleep(10);
    }
}

ulong stampNow()
{
    return ulong(now() / 1'000'000);
}

QJsonObject posted(const Target &t)
{
    return {{QStringLiteral("posted_ns"), double(now())},
            {QStringLiteral("x"), t.centre.x()},
            {QStringLiteral("y"), t.centre.y()}};
}

namespace
{

void postClick(const Target &t)
{
    const QPointF local = t.centre, global = local + t.origin;
    const ulong stamp = stampNow();
    using W = QWindowSystemInterface;
    {
        std::unique_lock lock(mutex);
        clickedLast = t.widget;
    }
    W::handleMouseEvent(t.window, stamp, local, global, Qt::LeftButton, Qt::LeftButton,
                        QEvent::MouseButtonPress, Qt::NoModifier);
    W::handleMouseEvent(t.window, stamp, local, global, Qt::NoButton, Qt::LeftButton,
                        QEvent::MouseButtonRelease, Qt::NoModifier);
}

void postKey(QWindow *window, int key, Qt::KeyboardModifiers modifiers, const QString &text)
{
    const ulong stamp = stampNow();
    QWindowSystemInterface::handleKeyEvent(window, stamp, QEvent::KeyPress, key, modifiers, text);
    QWindowSystemInterface::handleKeyEvent(window, stamp, QEvent::KeyRelease, key, modifiers, text);
}

// Keys go where the focus is: a text field gets it by a click, as a person would; anything else
// is given it directly, because a click would do more than focus it.
void focusOn(const Target &t)
{
    {
        std::unique_lock lock(mutex);
        if (clickedLast ? clickedLast == t.widget : t.hasFocus)
            return;
    }
    if (t.takesText) {
        postClick(t);
        return;
    }
    QMetaObject::invokeMethod(
        QCoreApplication::instance(),
        [widget = t.widget] {
            if (widget)
                widget->setFocus(Qt::OtherFocusReason);
        },
        Qt::QueuedConnection);
}

} // namespace

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

void beforeWait(bool reallyWaits)
{
    if (!watching.load(std::memory_order_relaxed) && !questionWaits.load(std::memory_order_relaxed))
        return;
    if (!onMainThread())
        return;
    servedAt = now();
    if (watching && dirty.exchange(false)) {
        // Made here, on the main thread, where the tool-kit may make its default devices.
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
    std::unique_lock lock(mutex);
    if (!question)
        return;
    question->answer = question->ask();
    question->answered = true;
    question.reset();
    questionWaits = false;
    answeredSignal.notify_all();
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

QJsonObject clickOn(const QString &target, int row)
{
    QJsonObject why;
    const auto t = findTarget(target, row, &why);
    if (!t)
        return why;
    postClick(*t);
    return posted(*t);
}

QJsonObject typeInto(const QString &target, const QString &text)
{
    const auto t = findTarget(target);
    if (!t)
        return notFound(target);
    focusOn(*t);
    for (const QChar c : text) {
        const bool upper = c.isUpper();
        const int key = c.toUpper().unicode() < 0x80 ? c.toUpper().unicode() : 0;
        postKey(t->window, key, upper ? Qt::ShiftModifier : Qt::NoModifier, QString(c));
    }
    return posted(*t);
}

QJsonObject pressKey(const QString &target, const QString &key)
{
    const auto sequence = QKeySequence::fromString(key, QKeySequence::PortableText);
    if (sequence.isEmpty() || sequence[0].key() == Qt::Key_unknown)
        return error(QStringLiteral("%1 is no key; write for example Return, Space, F5 or Ctrl+S").arg(key));
    const auto t = findTarget(target);
    if (!t)
        return notFound(target);
    focusOn(*t);
    const QKeyCombination combination = sequence[0];
    QString text;
    if (combination.key() == Qt::Key_Return || combination.key() == Qt::Key_Enter)
        text = QStringLiteral("\r");
    else if (combination.key() == Qt::Key_Tab)
        text = QStringLiteral("\t");
    else if (combination.key() < 0x80 && !(combination.keyboardModifiers() & Qt::ControlModifier))
        text = QString(QChar(char16_t(combination.key()))).toLower();
    postKey(t->window, combination.key(), combination.keyboardModifiers(), text);
    return posted(*t);
}

QJsonObject readText(const QString &target, int timeoutMs)
{
    if (!findTarget(target))
        return notFound(target);
    return onIdle(
        [target]() -> QJsonObject {
            const auto text = currentText(target);
            if (!text)
                return error(QStringLiteral("%1 is gone, or has no text").arg(target));
            return {{QStringLiteral("text"), *text}};
        },
        timeoutMs);
}

QJsonObject waitIdle(int timeoutMs)
{
    return onIdle([] { return QJsonObject{{QStringLiteral("time_ns"), double(now())}}; }, timeoutMs);
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
