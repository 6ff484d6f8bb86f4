#include "recorder/hands/captions.h"

#include <QtCore/QThread>
#include <QtGui/QAction>
#include <QtWidgets/QAbstractButton>
#include <QtWidgets/QApplication>
#include <QtWidgets/QDockWidget>
#include <QtWidgets/QGroupBox>
#include <QtWidgets/QLabel>
#include <QtWidgets/QMenu>
#include <QtWidgets/QTabWidget>

namespace pipit::recorder
{

bool captionsAllowed = true;

namespace
{

QString textOf(const QObject *o)
{
    if (const auto *button = qobject_cast<const QAbstractButton *>(o))
        return button->text();
    if (const auto *label = qobject_cast<const QLabel *>(o))
        return label->text();
    if (const auto *menu = qobject_cast<const QMenu *>(o))
        return menu->menuAction() ? menu->title() : QString(); // it may be half made
    if (const auto *group = qobject_cast<const QGroupBox *>(o))
        return group->title();
    if (const auto *action = qobject_cast<const QAction *>(o))
        return action->text();
    const auto *widget = qobject_cast<const QWidget *>(o);
    if (!widget)
        return {};
    if (widget->isWindow() || qobject_cast<const QDockWidget *>(o))
        return widget->windowTitle();
    const QWidget *stack = widget->parentWidget(); // a tab's page stands in a stack of pages
    const auto *tabs = stack ? qobject_cast<const QTabWidget *>(stack->parentWidget()) : nullptr;
    const int page = tabs ? tabs->indexOf(const_cast<QWidget *>(widget)) : -1;
    return page >= 0 ? tabs->tabText(page) : QString();
}

} // namespace

QString captionOf(const QObject *object)
{
    constexpr qsizetype most = 40;
    if (!captionsAllowed || object->thread() != QThread::currentThread() || !qApp ||
        !qobject_cast<QApplication *>(qApp) ||
        (!object->isWidgetType() && !qobject_cast<const QAction *>(object)))
        return {};
    QString text = textOf(object).left(400);
    if (Qt::mightBeRichText(text))
        return {};
    text = text.simplified();
    text.remove('&');
    return text.size() > most ? text.left(most - 1) + QChar(0x2026) : text;
}

} // namespace pipit::recorder
