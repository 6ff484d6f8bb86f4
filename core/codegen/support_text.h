// The support header that generated code brings along: uses only the tool-kit.
#pragma once

namespace pipit
{

// For every project.
inline constexpr char supportText[] = R"cpp(// Made by Pipit; edits here are overwritten.
#pragma once

#include <QtCore/QString>
#include <QtCore/QTimer>

#include <functional>
#include <memory>

namespace wiring
{

// Fires once it was started and left alone for that long.
inline QTimer *pause(QObject *owner, int ms)
{
    auto *timer = new QTimer(owner);
    timer->setSingleShot(true);
    timer->setInterval(ms);
    return timer;
}

} // namespace wiring
)cpp";

// For projects with handlers in the background; its headers are slow to compile.
inline constexpr char backgroundText[] = R"cpp(
#include <QtConcurrent/QtConcurrentRun>
#include <QtCore/QFutureWatcher>
#include <QtCore/QPromise>

#include <exception>
#include <optional>

// What work in the background came to: a result, an error, or a cancellation.
template <class T> struct Outcome {
    std::optional<T> result;
    QString error;
    bool cancelled = false;
};

namespace wiring
{

template <class T> Outcome<T> outcomeOf(QFuture<T> future)
{
    Outcome<T> outcome;
    try {
        future.waitForFinished();
        if (future.resultCount() > 0)
            outcome.result = future.result();
        else
            outcome.cancelled = true;
    } catch (const std::exception &e) {
        outcome.error = QString::fromUtf8(e.what());
    } catch (...) {
        outcome.error = QStringLiteral("the work ended with an unknown exception");
    }
    return outcome;
}

template <class T, class Work> void deliver(QPromise<T> &promise, Work &&work)
{
    try {
        T result = work();
        if (!promise.isCanceled())
            promise.addResult(std::move(result));
    } catch (...) {
        promise.setException(std::current_exception());
    }
}

// Waits for a job without caring what it came to.
template <class T> void join(QFutureWatcher<T> *job)
{
    try {
        job->waitForFinished();
    } catch (...) {
    }
}

} // namespace wiring
)cpp";

} // namespace pipit
