#include "recorder/hands/timers.h"

#include "recorder/hands/reach.h"

#include <QtCore/QThread>
#include <QtCore/QTimer>
#include <QtWidgets/QApplication>
#include <QtWidgets/QWidget>

namespace pipit::recorder
{

namespace
{

QSet<QTimer *> timersCalled(const QString &name)
{
    QSet<QTimer *> found;
    QObjectList roots{QCoreApplication::instance()};
    for (QWidget *w : QApplication::topLevelWidgets())
        roots << w;
    for (const QObject *root : roots)
        for (QTimer *t : root->findChildren<QTimer *>(name))
            if (t->thread() == QThread::currentThread())
                found.insert(t);
    return found;
}

} // namespace

QJsonObject setInterval(const QString &name, int milliseconds, int timeoutMs)
{
    if (name.isEmpty() || milliseconds < 1)
        return error(QStringLiteral("A timer's name and an interval of at least 1 ms are needed"));
    return onIdle(
        [name, milliseconds]() -> QJsonObject {
            const QSet<QTimer *> found = timersCalled(name);
            if (found.size() != 1)
                return error(found.isEmpty()
                                 ? QStringLiteral("There is no timer called %1").arg(name)
                                 : QStringLiteral("%1 timers are called %2").arg(found.size()).arg(name));
            QTimer *timer = *found.begin();
            const int was = timer->interval();
            timer->setInterval(milliseconds);
            return {{QStringLiteral("was"), was}, {QStringLiteral("now"), milliseconds}};
        },
        timeoutMs);
}

} // namespace pipit::recorder
