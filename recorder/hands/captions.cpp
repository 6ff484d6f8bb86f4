#include "recorder/hands/captions.h"

#include <QtCore/QThread>
#include <QtGui/QAction>
#include <QtWidgets/QAbstractButton>
#include <QtWidgets/QAbstractItemView>
#include <QtWidgets/QAbstractSlider>
#include <QtWidgets/QAbstractSpinBox>
#include <QtWidgets/QApplication>
#include <QtWidgets/QComboBox>
#include <QtWidgets/QDockWidget>
#include <QtWidgets/QFormLayout>
#include <QtWidgets/QGroupBox>
#include <QtWidgets/QLabel>
#include <QtWidgets/QLineEdit>
#include <QtWidgets/QMenu>
#include <QtWidgets/QPlainTextEdit>
#include <QtWidgets/QProgressBar>
#include <QtWidgets/QTabWidget>
#include <QtWidgets/QTextEdit>
#include <QtWidgets/QToolButton>

namespace pipit::recorder
{

bool captionsAllowed = true;

namespace
{

// What stands on it.
QString textOn(const QObject *o)
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

// A person fills it in, or reads from it, and finds it by a label beside it.
bool isLabelled(const QWidget *w)
{
    return qobject_cast<const QLineEdit *>(w) || qobject_cast<const QComboBox *>(w) ||
           qobject_cast<const QAbstractSpinBox *>(w) || qobject_cast<const QAbstractSlider *>(w) ||
           qobject_cast<const QTextEdit *>(w) || qobject_cast<const QPlainTextEdit *>(w) ||
           qobject_cast<const QProgressBar *>(w) || qobject_cast<const QAbstractItemView *>(w);
}

QString ofField(QString label)
{
    label = label.trimmed();
    while (label.endsWith(QChar(':')))
        label.chop(1);
    return label;
}

// The label that lies left of it in the same row, or closely above, with nothing between them.
QString nearLabel(const QWidget *w, const QObjectList &siblings)
{
    constexpr int farthest = 60, closest = 16;
    const QWidget *left = nullptr, *above = nullptr;
    const QRect at = w->geometry();
    for (const QObject *o : siblings) {
        const auto *other = qobject_cast<const QWidget *>(o);
        if (!other || other == w || !other->isVisible() || other->isWindow())
            continue;
        const QRect is = other->geometry();
        const bool sameRow = is.top() <= at.center().y() && is.bottom() >= at.center().y();
        const bool sameColumn = is.left() <= at.center().x() && is.right() >= at.left();
        if (sameRow && is.right() <= at.left() && (!left || is.right() > left->geometry().right()))
            left = other;
        if (sameColumn && is.bottom() <= at.top() && (!above || is.bottom() > above->geometry().bottom()))
            above = other;
    }
    if (const auto *l = qobject_cast<const QLabel *>(left);
        l && at.left() - l->geometry().right() <= farthest)
        return ofField(l->text());
    if (const auto *l = qobject_cast<const QLabel *>(above);
        l && at.top() - l->geometry().bottom() <= closest)
        return ofField(l->text());
    return {};
}

// What stands for a widget on which nothing stands: its label, or what it is said to be for.
QString textFor(const QWidget *w)
{
    if (const auto *button = qobject_cast<const QToolButton *>(w); button && button->defaultAction())
        if (const QString text = button->defaultAction()->text(); !text.isEmpty())
            return text;
    constexpr qsizetype most = 200; // more siblings are not looked at
    const QWidget *parent = w->parentWidget();
    if (qobject_cast<const QComboBox *>(parent) || qobject_cast<const QAbstractSpinBox *>(parent))
        return textFor(parent); // the field in it
    const bool labelled = parent && isLabelled(w) && parent->children().size() <= most;
    if (labelled) {
        for (const QObject *o : parent->children())
            if (const auto *l = qobject_cast<const QLabel *>(o); l && l->buddy() == w)
                return ofField(l->text());
        if (const auto *form = qobject_cast<QFormLayout *>(parent->layout()))
            if (const auto *l = qobject_cast<QLabel *>(form->labelForField(const_cast<QWidget *>(w))))
                return ofField(l->text());
    }
    if (!w->accessibleName().isEmpty())
        return w->accessibleName();
    if (const auto *field = qobject_cast<const QLineEdit *>(w); field && !field->placeholderText().isEmpty())
        return field->placeholderText();
    if (labelled && w->isVisible())
        if (const QString near = nearLabel(w, parent->children()); !near.isEmpty())
            return near;
    return labelled || qobject_cast<const QAbstractButton *>(w) ? w->toolTip().section(QChar('\n'), 0, 0)
                                                                : QString();
}

QString textOf(const QObject *o)
{
    const QString on = textOn(o);
    const auto *widget = on.isEmpty() && o->isWidgetType() ? static_cast<const QWidget *>(o) : nullptr;
    return widget && !widget->isWindow() ? textFor(widget) : on;
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
