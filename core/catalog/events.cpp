// The events that a handler can be connected to.
#include "core/catalog/catalog.h"

#include <QHash>

namespace pipit
{

namespace
{

const char swallowed[] = "The widget and its parents do not get the event.";
const char unseen[] = "The widget's own handling is skipped.";

EventEntry entry(const char *words, const char *type, const char *cls, const char *sentence,
                 const char *handled = unseen, bool viewport = false)
{
    return {words, QLatin1String("QEvent::") + type, cls, sentence, handled, viewport};
}

QList<EventEntry> inputEvents()
{
    return {
        entry("key press", "KeyPress", "QKeyEvent",
              "A key is pressed while this widget has the focus. It repeats while the key is held.",
              swallowed),
        entry("key release", "KeyRelease", "QKeyEvent", "A key is released while this widget has the focus.",
              swallowed),
        entry("shortcut check", "ShortcutOverride", "QKeyEvent",
              "A key that may be a shortcut is pressed. Return true to prevent the shortcut.",
              "The key arrives as a key press and triggers no shortcut."),
        entry("mouse press", "MouseButtonPress", "QMouseEvent", "A mouse button is pressed over this widget.",
              swallowed, true),
        entry("mouse release", "MouseButtonRelease", "QMouseEvent",
              "A mouse button that was pressed here is released, wherever the pointer is.", swallowed, true),
        entry("double click", "MouseButtonDblClick", "QMouseEvent",
              "The second press of a double click. It replaces the mouse press.", swallowed, true),
        entry("mouse move", "MouseMove", "QMouseEvent",
              "The pointer moves while a button is held. With mouse tracking, also without a button.",
              swallowed, true),
        entry("mouse enter", "Enter", "QEnterEvent", "The pointer enters this widget."),
        entry("mouse leave", "Leave", "QEvent", "The pointer leaves this widget."),
        entry("wheel", "Wheel", "QWheelEvent", "The mouse wheel turns over this widget.", swallowed, true),
        entry("context menu", "ContextMenu", "QContextMenuEvent",
              "A right click or the menu key requests a menu.", swallowed, true),
        entry("tool tip", "ToolTip", "QHelpEvent", "The pointer rests over this widget.", unseen, true),
        entry("touch begin", "TouchBegin", "QTouchEvent",
              "A finger touches this widget, if the widget accepts touch.",
              "The widget gets the touch's updates and end too.", true),
        entry("touch update", "TouchUpdate", "QTouchEvent", "A finger moves on this widget.", swallowed,
              true),
        entry("touch end", "TouchEnd", "QTouchEvent", "The last finger is lifted.", swallowed, true),
    };
}

QList<EventEntry> dragEvents()
{
    return {
        entry("drag enter", "DragEnter", "QDragEnterEvent",
              "A drag enters this widget. Return true to allow a drop.",
              "The drag is accepted. Otherwise no drag move and no drop follow.", true),
        entry("drag move", "DragMove", "QDragMoveEvent", "A drag moves over this widget. It repeats.",
              "A drop is possible at this position.", true),
        entry("drag leave", "DragLeave", "QDragLeaveEvent", "A drag leaves this widget without a drop.",
              unseen, true),
        entry("drop", "Drop", "QDropEvent",
              "A drag is dropped on this widget. The drag's source learns the accepted action.",
              "The drop is accepted. Otherwise the drag ends as refused.", true),
    };
}

QList<EventEntry> windowEvents()
{
    return {
        entry("focus in", "FocusIn", "QFocusEvent", "This widget gets the keyboard focus."),
        entry("focus out", "FocusOut", "QFocusEvent", "This widget loses the keyboard focus."),
        entry("show", "Show", "QShowEvent", "This widget is about to become visible."),
        entry("hide", "Hide", "QHideEvent", "This widget is no longer visible."),
        entry("close", "Close", "QCloseEvent", "A person or code closes the window. Return true to refuse.",
              "The window stays open."),
        entry("resize", "Resize", "QResizeEvent", "This widget has a new size.", unseen, true),
        entry("move", "Move", "QMoveEvent", "This widget has a new position in its parent."),
        entry("window activate", "WindowActivate", "QEvent", "The window became the active window."),
        entry("window deactivate", "WindowDeactivate", "QEvent", "Another window became the active window."),
        entry("window state change", "WindowStateChange", "QWindowStateChangeEvent",
              "The window was maximized, minimized, made full screen, or restored."),
        entry("enabled change", "EnabledChange", "QEvent", "This widget became enabled or disabled."),
        entry("language change", "LanguageChange", "QEvent", "A translation was installed or removed."),
        entry("palette change", "PaletteChange", "QEvent", "This widget's colours changed."),
        entry("font change", "FontChange", "QEvent", "This widget's font changed."),
        entry("style change", "StyleChange", "QEvent", "This widget has a new style."),
        entry("layout direction change", "LayoutDirectionChange", "QEvent",
              "The direction of text and layout changed."),
        entry("paint", "Paint", "QPaintEvent", "This widget must be painted. Return true if you painted it.",
              unseen, true),
        entry("file open", "FileOpen", "QFileOpenEvent",
              "The desktop asks the program to open a file. The application object gets the event."),
        entry("timer", "Timer", "QTimerEvent", "A timer that this widget started with startTimer() is due."),
    };
}

} // namespace

QString EventEntry::carries() const
{
    static const QHash<QString, QString> all = {
        {"QKeyEvent",
         "the key (key), the text that it types (text), modifiers, whether it repeats (isAutoRepeat)"},
        {"QMouseEvent",
         "the place (position, globalPosition), the button, those that are held (buttons), modifiers"},
        {"QEnterEvent", "the place (position, globalPosition)"},
        {"QWheelEvent", "how far it turned (angleDelta, pixelDelta), the position, modifiers"},
        {"QContextMenuEvent", "the position (pos, globalPos), mouse or keyboard (reason)"},
        {"QHelpEvent", "the place (pos, globalPos)"},
        {"QTouchEvent", "the fingers' places (points)"},
        {"QDragEnterEvent",
         "the dragged data (mimeData), the position, the allowed actions (possibleActions)"},
        {"QDragMoveEvent", "the dragged data (mimeData), the position, the area of the answer (answerRect)"},
        {"QDropEvent", "the dropped data (mimeData), the position, the action (dropAction)"},
        {"QFocusEvent", "why (reason: mouse, tab, shortcut, other)"},
        {"QResizeEvent", "the new size (size) and the one before (oldSize)"},
        {"QMoveEvent", "the new place (pos) and the one before (oldPos)"},
        {"QWindowStateChangeEvent", "the state before (oldState)"},
        {"QPaintEvent", "what is to be painted (region, rect)"},
        {"QFileOpenEvent", "the file (file, url)"},
        {"QTimerEvent", "which timer it is (timerId)"},
    };
    return all.value(cppClass);
}

QString callbackOf(const EventEntry &event, const QString &className)
{
    return QStringLiteral("bool handler(%1 *source, %2 *event)").arg(className, event.cppClass);
}

QString callbackOf(const SignalEntry &signal)
{
    const QStringList types = signal.types();
    QStringList arguments;
    for (qsizetype i = 0; i < types.size(); ++i) {
        const QString name = i < signal.arguments.size() && !signal.arguments[i].isEmpty()
                                 ? signal.arguments[i]
                             : types.size() == 1 ? QStringLiteral("value")
                                                 : QStringLiteral("value%1").arg(i + 1);
        const bool joined = types[i].endsWith('*') || types[i].endsWith('&');
        arguments << types[i] + (joined ? "" : " ") + name;
    }
    return QStringLiteral("void handler(%1)").arg(arguments.join(", "));
}

QList<EventEntry> catalogEvents()
{
    return inputEvents() + dragEvents() + windowEvents();
}

} // namespace pipit
