// Clicks, keys and the wheel.
#include "recorder/hands/hands.h"
#include "recorder/hands/menus.h"
#include "recorder/hands/reach.h"

#include <QtCore/QCoreApplication>
#include <QtGui/QKeySequence>
#include <QtGui/qpa/qwindowsysteminterface.h>
#include <QtWidgets/QApplication>
#include <QtWidgets/QScrollArea>

#include <atomic>

namespace pipit::recorder
{

namespace
{

using W = QWindowSystemInterface;

constexpr int freeLoop = 40; // ms: longer than a loop takes to answer that has nothing to do

std::atomic<int> waiting{0}; // input that waits for the loop

void postKey(QWindow *window, ulong stamp, int key, Qt::KeyboardModifiers modifiers, const QString &text)
{
    W::handleKeyEvent(window, stamp, QEvent::KeyPress, key, modifiers, text);
    W::handleKeyEvent(window, stamp, QEvent::KeyRelease, key, modifiers, text);
}

bool isBusy(const QJsonObject &answer)
{
    return answer[QLatin1String("error")].toString().startsWith(QLatin1String("the loop is busy"));
}

// On the main thread: brings it into view, and looks whether something else would be hit instead.
QJsonObject lookAt(const QPointer<QWidget> &widget, const QString &name)
{
    if (!widget)
        return error(QStringLiteral("%1 is gone").arg(name));
    for (QWidget *above = widget->parentWidget(); above; above = above->parentWidget())
        if (auto *area = qobject_cast<QScrollArea *>(above))
            area->ensureWidgetVisible(widget);
    QWidget *top = widget->window();
    const QPoint at = widget->mapTo(top, hitPoint(widget));
    QWidget *hit = top->childAt(at);
    if (!hit)
        hit = top;
    if (hit != widget && !widget->isAncestorOf(hit)) {
        const QString by = hit->objectName().isEmpty() ? QString::fromLatin1(hit->metaObject()->className())
                                                       : hit->objectName();
        return error(hit->isAncestorOf(widget) && !top->rect().contains(at)
                         ? QStringLiteral("%1 lies outside its window").arg(name)
                         : QStringLiteral("%1 is covered by %2").arg(name, by));
    }
    return {{QStringLiteral("x"), at.x()}, {QStringLiteral("y"), at.y()}};
}

// Where it is now, if the loop is free to say so; a busy loop leaves it where it was last seen.
std::optional<Target> reachable(const QString &target, int row, QJsonObject *why)
{
    auto t = findTarget(target, row, why);
    if (!t || row > 0)
        return t;
    const QJsonObject look =
        onIdle([widget = t->widget, target] { return lookAt(widget, target); }, freeLoop);
    if (isBusy(look))
        return t;
    if (look.contains(QLatin1String("error"))) {
        *why = look;
        return std::nullopt;
    }
    t->centre = QPointF(look[QLatin1String("x")].toDouble(), look[QLatin1String("y")].toDouble());
    return t;
}

// Keys go where the focus is. A text field gets it by a click, as from a person; anything else is given
// it directly, because a click would do more than focus it. Null answer: what comes next reaches it.
QJsonObject focusOn(const Target &t, const QString &name)
{
    if (willHaveFocus(t))
        return {};
    if (t.takesText) {
        postClick(t, Click::Plain);
        return {};
    }
    const auto give = [widget = t.widget, name]() -> QJsonObject {
        if (!widget)
            return error(QStringLiteral("%1 is gone").arg(name));
        widget->activateWindow();
        widget->setFocus(Qt::OtherFocusReason);
        const QWidget *now = QApplication::focusWidget();
        const bool has = now && (now == widget || widget->isAncestorOf(now) || widget->focusProxy() == now);
        return has ? QJsonObject()
                   : error(QStringLiteral("%1 does not take the focus, so no key reaches it").arg(name));
    };
    const QJsonObject given = onIdle(give, freeLoop);
    if (!isBusy(given))
        return given;
    ++waiting; // until the loop comes to it, all other input waits behind
    QMetaObject::invokeMethod(
        QCoreApplication::instance(),
        [give] {
            (void)give();
            --waiting;
        },
        Qt::QueuedConnection);
    return {};
}

} // namespace

void inOrder(std::function<void()> input)
{
    if (waiting == 0) {
        input();
        return;
    }
    ++waiting;
    QMetaObject::invokeMethod(
        QCoreApplication::instance(),
        [input = std::move(input)] {
            input();
            --waiting;
        },
        Qt::QueuedConnection);
}

void postMove(const Target &t)
{
    for (const QPointF &before : {QPointF(3, 2), QPointF(0, 0)})
        W::handleMouseEvent(t.window, stampNow(), t.centre - before, t.centre + t.origin - before,
                            Qt::NoButton, Qt::NoButton, QEvent::MouseMove, Qt::NoModifier);
}

void postClick(const Target &t, Click how)
{
    const ulong stamp = stampNow();
    if (how != Click::Release)
        willFocus(t.widget);
    inOrder([t, how, stamp] {
        const QPointF local = t.centre, global = local + t.origin;
        const Qt::MouseButton button = how == Click::Context ? Qt::RightButton : Qt::LeftButton;
        const auto press = [&] {
            W::handleMouseEvent(t.window, stamp, local, global, button, button, QEvent::MouseButtonPress,
                                Qt::NoModifier);
        };
        const auto release = [&] {
            W::handleMouseEvent(t.window, stamp, local, global, Qt::NoButton, button,
                                QEvent::MouseButtonRelease, Qt::NoModifier);
        };
        if (how != Click::Release)
            press();
        if (how != Click::Hold)
            release();
        if (how == Click::Double) {
            press();
            release();
        }
    });
}

QJsonObject clickOn(const QString &target, int row, Click how)
{
    QJsonObject why;
    if (how == Click::Plain && !isWidget(target)) {
        bool isAction = false;
        if (const QJsonObject done = clickAction(target, &isAction); isAction)
            return done;
    }
    const auto t = reachable(target, row, &why);
    if (!t)
        return why;
    postClick(*t, how);
    return posted(*t);
}

QJsonObject turnWheel(const QString &target, int row, int steps)
{
    QJsonObject why;
    const auto t = reachable(target, row, &why);
    if (!t)
        return why;
    const ulong stamp = stampNow();
    inOrder([t = *t, stamp, steps] {
        for (int i = 0; i < std::abs(steps); ++i)
            W::handleWheelEvent(t.window, stamp, t.centre, t.centre + t.origin, QPoint(),
                                QPoint(0, steps > 0 ? 120 : -120), Qt::NoModifier);
    });
    return posted(*t);
}

QJsonObject typeInto(const QString &target, const QString &text)
{
    QJsonObject why;
    const auto t = findTarget(target, &why);
    if (!t)
        return why;
    if (const QJsonObject no = focusOn(*t, target); !no.isEmpty())
        return no;
    const ulong stamp = stampNow();
    inOrder([window = t->window, stamp, text] {
        for (const QChar c : text) {
            const bool upper = c.isUpper();
            const int key = c.toUpper().unicode() < 0x80 ? c.toUpper().unicode() : 0;
            postKey(window, stamp, key, upper ? Qt::ShiftModifier : Qt::NoModifier, QString(c));
        }
    });
    return posted(*t);
}

QJsonObject pressKey(const QString &target, const QString &key)
{
    const auto sequence = QKeySequence::fromString(key, QKeySequence::PortableText);
    if (sequence.isEmpty() || sequence[0].key() == Qt::Key_unknown)
        return error(QStringLiteral("%1 is no key; write for example Return, Space, F5 or Ctrl+S").arg(key));
    QJsonObject why;
    const auto t = findTarget(target, &why);
    if (!t)
        return why;
    if (const QJsonObject no = focusOn(*t, target); !no.isEmpty())
        return no;
    const QKeyCombination combination = sequence[0];
    QString text;
    if (combination.key() == Qt::Key_Return || combination.key() == Qt::Key_Enter)
        text = QStringLiteral("\r");
    else if (combination.key() == Qt::Key_Tab)
        text = QStringLiteral("\t");
    else if (combination.key() < 0x80 && !(combination.keyboardModifiers() & Qt::ControlModifier))
        text = QString(QChar(char16_t(combination.key()))).toLower();
    inOrder([window = t->window, stamp = stampNow(), combination, text] {
        postKey(window, stamp, combination.key(), combination.keyboardModifiers(), text);
    });
    return posted(*t);
}

} // namespace pipit::recorder
