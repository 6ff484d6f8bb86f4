#include "recorder/hands/menus.h"

#include "recorder/hands/hands.h"
#include "recorder/hands/reach.h"

#include <QtCore/QSet>
#include <QtCore/QThread>
#include <QtGui/QAction>
#include <QtWidgets/QAbstractButton>
#include <QtWidgets/QApplication>
#include <QtWidgets/QMenu>
#include <QtWidgets/QMenuBar>
#include <QtWidgets/QToolBar>

namespace pipit::recorder
{

namespace
{

constexpr int deepest = 12;       // menus in menus
constexpr int opensWithin = 2000; // ms
constexpr int answersWithin = 5000;

// The widget that shows an action at this moment, and where; null while a menu must be opened first.
struct Shown {
    QWidget *in = nullptr;
    QRect place;
    QAction *opener = nullptr; // of the menu that it is in
};

Shown shownAt(QAction *action)
{
    Shown s;
    for (QObject *o : action->associatedObjects()) {
        if (auto *bar = qobject_cast<QToolBar *>(o)) {
            if (QWidget *button = bar->widgetForAction(action); button && button->isVisible())
                return {button, button->rect(), nullptr};
        } else if (auto *menu = qobject_cast<QMenu *>(o)) {
            if (menu->isVisible())
                return {menu, menu->actionGeometry(action), nullptr};
            s.opener = menu->menuAction();
        } else if (auto *bar = qobject_cast<QMenuBar *>(o)) {
            if (bar->isVisible())
                return {bar, bar->actionGeometry(action), nullptr};
        } else if (auto *button = qobject_cast<QAbstractButton *>(o)) {
            if (button->isVisible())
                return {button, button->rect(), nullptr};
        }
    }
    return s;
}

QString whyNot(const QAction *action, const QString &target)
{
    if (!action->isVisible())
        return QStringLiteral("%1 is hidden").arg(target);
    if (!action->isEnabled())
        return QStringLiteral("%1 is disabled").arg(target);
    return {};
}

// The next thing to click on the way to an action: it, or what opens the menu that it is in.
QJsonObject nextStep(const QString &target)
{
    QAction *action = findAction(target);
    if (!action)
        return {{QStringLiteral("none"), true}};
    if (const QString why = whyNot(action, target); !why.isEmpty())
        return error(why);
    QAction *next = action;
    Shown s = shownAt(next);
    for (int depth = 0; !s.in && s.opener && depth < deepest; ++depth) {
        next = s.opener;
        s = shownAt(next);
    }
    if (!s.in) {
        const QString keys = action->shortcut().toString();
        return error(
            QStringLiteral("%1 is in no menu or bar that is shown%2")
                .arg(target, keys.isEmpty() ? QString() : QStringLiteral("; press %1 instead").arg(keys)));
    }
    QWidget *top = s.in->window();
    if (!top->windowHandle())
        return error(QStringLiteral("%1 is in a window that is not shown").arg(target));
    const QPoint local = s.in->mapTo(top, s.place.center()), origin = top->mapToGlobal(QPoint(0, 0));
    return {{QStringLiteral("x"), local.x()},
            {QStringLiteral("y"), local.y()},
            {QStringLiteral("ox"), origin.x()},
            {QStringLiteral("oy"), origin.y()},
            {QStringLiteral("window"), QString::number(quintptr(top->windowHandle()))},
            {QStringLiteral("there"), next == action},
            {QStringLiteral("at"), QString::number(quintptr(next))}};
}

} // namespace

QAction *findAction(const QString &target)
{
    QList<QAction *> all;
    QSet<QAction *> seen;
    for (QWidget *w : QApplication::allWidgets())
        for (QAction *a : w->actions() + w->findChildren<QAction *>(Qt::FindDirectChildrenOnly))
            if (!seen.contains(a)) {
                seen.insert(a);
                all << a;
            }
    for (QAction *a : std::as_const(all))
        if (!target.isEmpty() && a->objectName() == target)
            return a;
    for (QAction *a : std::as_const(all))
        if (QStringLiteral("QAction \"%1\"").arg(withoutMnemonic(a->text())) == target)
            return a;
    return nullptr;
}

QJsonObject clickAction(const QString &target, bool *isAction)
{
    QString last;
    *isAction = true;
    for (int waited = 0; waited < opensWithin;) {
        const QJsonObject step = onIdle([target] { return nextStep(target); }, answersWithin);
        if (step.contains(QLatin1String("none")))
            *isAction = false;
        if (!*isAction || step.contains(QLatin1String("error")))
            return step;
        if (step[QLatin1String("at")].toString() == last) { // the menu is about to open
            QThread::msleep(20);
            waited += 20;
            continue;
        }
        last = step[QLatin1String("at")].toString();
        Target t;
        t.window =
            reinterpret_cast<QWindow *>(quintptr(step[QLatin1String("window")].toString().toULongLong()));
        t.centre = QPointF(step[QLatin1String("x")].toDouble(), step[QLatin1String("y")].toDouble());
        t.origin = QPointF(step[QLatin1String("ox")].toDouble(), step[QLatin1String("oy")].toDouble());
        postMove(t);
        postClick(t, Click::Plain);
        if (step[QLatin1String("there")].toBool())
            return posted(t);
    }
    return error(QStringLiteral("the menu of %1 did not open").arg(target));
}

} // namespace pipit::recorder
