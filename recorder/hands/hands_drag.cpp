// The pointer moved without a click: hovering, and dragging from one widget to another.
#include "recorder/hands/hands.h"
#include "recorder/hands/reach.h"

#include <QtCore/QThread>
#include <QtGui/QGuiApplication>
#include <QtGui/qpa/qwindowsysteminterface.h>
#include <QtWidgets/QAbstractItemView>

namespace pipit::recorder
{

namespace
{

constexpr int steps = 12;       // places that a drag passes; each must be another than the one before
constexpr int stepTime = 25;    // ms, so that the program can answer each move as it does a person's
constexpr int settleTime = 150; // ms over the goal before the button is let go

void move(const Target &from, const QPointF &global, Qt::MouseButtons buttons, Qt::MouseButton button,
          QEvent::Type type)
{
    QWindowSystemInterface::handleMouseEvent(from.window, stampNow(), global - from.origin, global, buttons,
                                             button, type, Qt::NoModifier);
}

} // namespace

std::optional<Target> findTarget(const QString &name, int row, QJsonObject *why)
{
    auto t = findTarget(name, why);
    if (!t || row <= 0)
        return t;
    const QJsonObject place = onIdle(
        [widget = t->widget, name, row]() -> QJsonObject {
            auto *view = qobject_cast<QAbstractItemView *>(widget.data());
            if (!view || !view->model())
                return error(QStringLiteral("%1 has no rows").arg(name));
            if (row > view->model()->rowCount(view->rootIndex()))
                return error(QStringLiteral("%1 has %2 rows, so there is no row %3")
                                 .arg(name)
                                 .arg(view->model()->rowCount(view->rootIndex()))
                                 .arg(row));
            const QModelIndex index = view->model()->index(row - 1, 0, view->rootIndex());
            view->scrollTo(index);
            const QPoint at = view->viewport()->mapTo(view->window(), view->visualRect(index).center());
            return {{QStringLiteral("x"), at.x()}, {QStringLiteral("y"), at.y()}};
        },
        5000);
    if (place.contains(QLatin1String("error"))) {
        *why = place;
        return std::nullopt;
    }
    t->centre = QPointF(place[QLatin1String("x")].toDouble(), place[QLatin1String("y")].toDouble());
    return t;
}

QJsonObject hoverOver(const QString &target, int row, const QPointF &offset)
{
    QJsonObject why;
    auto t = findTarget(target, row, &why);
    if (!t)
        return why;
    if (!offset.isNull())
        t->centre = t->corner + offset;
    // In two steps, so that a widget that tracks the pointer sees it move.
    for (const QPointF &before : {QPointF(3, 2), QPointF(0, 0)})
        move(*t, t->origin + t->centre - before, Qt::NoButton, Qt::NoButton, QEvent::MouseMove);
    return posted(*t);
}

QJsonObject dragTo(const QString &source, int row, const QString &goal, int goalRow)
{
    const QString platform = QGuiApplication::platformName();
    if (platform == QLatin1String("offscreen") || platform == QLatin1String("minimal"))
        return error(
            QStringLiteral("the %1 platform ends every drag at once; play this on a display, for example "
                           "under Xvfb")
                .arg(platform));
    QJsonObject why;
    const auto from = findTarget(source, row, &why);
    const auto to = from ? findTarget(goal, goalRow, &why) : std::nullopt;
    if (!to)
        return why;
    const QPointF begin = from->origin + from->centre, end = to->origin + to->centre;
    move(*from, begin, Qt::LeftButton, Qt::LeftButton, QEvent::MouseButtonPress);
    for (int i = 1; i <= steps; ++i) {
        QThread::msleep(stepTime);
        move(*from, begin + (end - begin) * i / steps, Qt::LeftButton, Qt::NoButton, QEvent::MouseMove);
    }
    // A last small move over the goal: the first one there may only have entered it.
    QThread::msleep(stepTime);
    move(*from, end + QPointF(1, 1), Qt::LeftButton, Qt::NoButton, QEvent::MouseMove);
    QThread::msleep(settleTime);
    move(*from, end + QPointF(1, 1), Qt::NoButton, Qt::LeftButton, QEvent::MouseButtonRelease);
    return posted(*to);
}

} // namespace pipit::recorder
