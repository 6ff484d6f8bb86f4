#include "recorder/hands/inputs.h"

#include "link/record.h"

#include <QtCore/QMimeData>
#include <QtGui/QContextMenuEvent>
#include <QtGui/QDropEvent>
#include <QtGui/QKeyEvent>
#include <QtGui/QMouseEvent>
#include <QtGui/QWheelEvent>
#include <QtWidgets/QApplication>
#include <QtWidgets/QWidget>

#include <algorithm>

namespace pipit::recorder
{

namespace
{

std::uint32_t modifiersOf(const QInputEvent *e)
{
    return (std::uint32_t(e->modifiers().toInt()) >> link::qtModifierShift & link::inputModifiers)
           << link::inputModifierShift;
}

std::uint32_t pair(QPoint p)
{
    return std::uint16_t(p.x()) | std::uint32_t(std::uint16_t(p.y())) << 16;
}

// Whether the key is a character that somebody types, and not a command.
bool isTyped(const QKeyEvent *e)
{
    constexpr int firstNamed = 0x01000000;
    return e->key() > Qt::Key_Space && e->key() < firstNamed &&
           !(e->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
}

} // namespace

bool describeInput(const QEvent *event, std::uint32_t *value, std::uint32_t *what)
{
    switch (event->type()) {
    case QEvent::MouseButtonPress:
    case QEvent::MouseButtonRelease:
    case QEvent::MouseButtonDblClick:
    case QEvent::MouseMove: {
        const auto *e = static_cast<const QMouseEvent *>(event);
        const auto buttons = event->type() == QEvent::MouseMove ? int(e->buttons()) : int(e->button());
        *value = std::uint16_t(buttons) | modifiersOf(e);
        *what = pair(e->position().toPoint());
        return true;
    }
    case QEvent::KeyPress:
    case QEvent::KeyRelease:
    case QEvent::ShortcutOverride: {
        const auto *e = static_cast<const QKeyEvent *>(event);
        const bool typed = isTyped(e);
        *value =
            modifiersOf(e) | (e->isAutoRepeat() ? link::InputRepeated : 0) | (typed ? link::InputIsTyped : 0);
        *what = typed ? 0 : std::uint32_t(e->key());
        return true;
    }
    case QEvent::Wheel: {
        const auto *e = static_cast<const QWheelEvent *>(event);
        *value = modifiersOf(e);
        *what = pair(e->angleDelta());
        return true;
    }
    case QEvent::ContextMenu: {
        const auto *e = static_cast<const QContextMenuEvent *>(event);
        *value = modifiersOf(e) | (e->reason() == QContextMenuEvent::Keyboard ? link::InputByKeyboard : 0);
        *what = pair(e->pos());
        return true;
    }
    default:
        return false;
    }
}

Offer offered(QObject *window, const QEvent *event)
{
    const auto *drop = static_cast<const QDropEvent *>(event); // a drag that enters is one
    const QWidgetList tops = QApplication::topLevelWidgets();
    const auto top =
        std::find_if(tops.begin(), tops.end(), [&](const QWidget *w) { return w->windowHandle() == window; });
    if (top == tops.end() || !drop->mimeData())
        return {};
    const QWidget *under = (*top)->childAt(drop->position().toPoint());
    return {under ? under : *top, drop->mimeData()->formats().join(QStringLiteral(", ")).toStdString()};
}

} // namespace pipit::recorder
