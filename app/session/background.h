// Work off the event loop: `work` runs on a pool thread, `then` on the loop with what it returned.
//
// Threads: call on the loop. `then` is not called when its owner is gone by then. What nobody waits
// for goes one at a time to a thread of lower priority, so that it does not slow the loop down on a
// machine with few processors.
#pragma once

#include <QCoreApplication>
#include <QPointer>
#include <QThreadPool>

#include <memory>

namespace pipit::app
{

// The way back to the loop for threads that may outlive whoever they report to: what is posted runs on
// the loop, or not at all once the owner is gone. Made on the loop; copies may be used on any thread.
class BackToLoop
{
public:
    explicit BackToLoop(QObject *owner) : owner_(owner) {}
    template <class Then> void operator()(Then then) const
    {
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [owner = owner_, then = std::move(then)]() mutable {
                if (owner)
                    then();
            },
            Qt::QueuedConnection);
    }

private:
    QPointer<QObject> owner_; // looked at on the loop only
};

QThreadPool *quietPool();
void lowerThreadPriority(); // of the calling thread, for good

template <class Work, class Then> void inBackground(QThreadPool *pool, QObject *owner, Work work, Then then)
{
    pool->start([back = BackToLoop(owner), work = std::move(work), then = std::move(then)]() mutable {
        auto result = std::make_shared<decltype(work())>(work());
        back([result, then = std::move(then)]() mutable { then(std::move(*result)); });
    });
}

template <class Work, class Then> void inBackground(QObject *owner, Work work, Then then)
{
    inBackground(QThreadPool::globalInstance(), owner, std::move(work), std::move(then));
}

template <class Work, class Then> void inQuiet(QObject *owner, Work work, Then then)
{
    inBackground(
        quietPool(), owner,
        [work = std::move(work)]() mutable {
            lowerThreadPriority();
            return work();
        },
        std::move(then));
}

} // namespace pipit::app
