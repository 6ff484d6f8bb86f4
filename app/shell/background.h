// Work off the event loop: `work` runs on a pool thread, `then` on the loop with what it returned.
//
// Threads: call on the loop. `then` is not called when its owner is gone by then.
#pragma once

#include <QCoreApplication>
#include <QPointer>
#include <QThreadPool>

#include <memory>

namespace pipit::app
{

template <class Work, class Then> void inBackground(QObject *owner, Work work, Then then)
{
    QPointer<QObject> guard(owner);
    QThreadPool::globalInstance()->start([guard, work = std::move(work), then = std::move(then)]() mutable {
        auto result = std::make_shared<decltype(work())>(work());
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [guard, result, then = std::move(then)]() mutable {
                if (guard)
                    then(std::move(*result));
            },
            Qt::QueuedConnection);
    });
}

} // namespace pipit::app
