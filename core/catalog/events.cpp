// The events that a handler can be connected to.
#include "core/catalog/catalog.h"

#include <QHash>

namespace pipit
{

namespace
{

const char swallowed[] = "The widget never sees it, and it goes no further.";
const char unseen[] = "The widget's own part of it does not happen.";

EventEntry entry(const char *words, const char *type, const char *cls, const char *sentence,
                 const char *handled = unseen, bool viewport = false)
{
    return {words, QLatin1String("QEvent::") + type, cls, sentence, handled, viewport};
}

QList<EventEntry> inputEvents()
{
    return {
        entry("key press", "KeyPress", "QKeyEvent",
              "A key goes down while this widget has the focus; again and again while it is held.",
              swallowed),
        entry("key release", "KeyRelease", "QKeyEvent", "A key comes up while this widget has the focus.",
              swallowed),
        entry("shortcut check", "ShortcutOverride", "QKeyEvent",
              "A key that may be a shortcut goes down; handled keeps it from being one.",
              "The key comes as a key press instead of as a shortcut."),
        entry("mouse press", "MouseButtonPress", "QMouseEvent", "A mouse button goes down over this widget.",
              swallowed, true),
        entry("mouse release", "MouseButtonRelease", "QMouseEvent",
              "A mouse button that was pressed here comes up, wherever the pointer is by then.", swallowed,
              true),
        entry("double click", "MouseButtonDblClick", "QMouseEvent",
              "The second press of a double click, instead of a mouse press.", swallowed, true),
        entry("mouse move", "MouseMove", "QMouseEvent",
              "The pointer moves with a button held; without one only where mouse tracking is on.", swallowed,
              true),
        entry("mouse enter", "Enter", "QEnterEvent", "The pointer comes onto this widget."),
        entry("mouse leave", "Leave", "QEvent", "The pointer leaves this widget."),
        entry("wheel", "Wheel", "QWheelEvent", "The wheel turns over this widget.", swallowed, true),
        entry("context menu", "ContextMenu", "QContextMenuEvent",
              "A menu is asked for, by right click or by the menu key.", swallowed, true),
        entry("tool tip", "ToolTip", "QHelpEvent", "The pointer rests here for a moment.", unseen, true),
        entry("touch begin", "TouchBegin", "QTouchEvent",
              "A finger touches this widget, where it takes touch.",
              "The moves and the end of the touch come here too.", true),
        entry("touch update", "TouchUpdate", "QTouchEvent", "A finger moves on this widget.", swallowed,
              true),
        entry("touch end", "TouchEnd", "QTouchEvent", "The last finger leaves.", swallowed, true),
    };
}

QList<EventEntry> dragEvents()
{
    return {
        entry("drag enter", "DragEnter", "QDragEnterEvent",
              "Something that is dragged comes onto this widget; handled means it may be dropped here.",
              "The drag is accepted; otherwise no move and no drop follow.", true),
        entry("drag move", "DragMove", "QDragMoveEvent",
              "Something that is dragged moves over this widget, again and again.",
              "A drop is possible at this place.", true),
        entry("drag leave", "DragLeave", "QDragLeaveEvent",
              "Something that is dragged leaves this widget without being dropped.", unseen, true),
        entry("drop", "Drop", "QDropEvent",
              "Something is let go over this widget; what is accepted is told to where it came from.",
              "The drop is accepted; otherwise the drag ends as refused.", true),
    };
}

QList<EventEntry> windowEvents()
{
    return {
        entry("focus in", "FocusIn", "QFocusEvent", "This widget gets the keyboard."),
        entry("focus out", "FocusOut", "QFocusEvent", "This widget loses the keyboard."),
        entry("show", "Show", "QShowEvent", "This widget is about to be seen."),
        entry("hide", "Hide", "QHideEvent", "This widget is no longer seen."),
        entry("close", "Close", "QCloseEvent",
              "The window is asked to close, by a person or by code; handled means refused.",
              "The window stays open."),
        entry("resize", "Resize", "QResizeEvent", "This widget has a new size.", unseen, true),
        entry("move", "Move", "QMoveEvent", "This widget has a new place in its parent."),
        entry("window activate", "WindowActivate", "QEvent",
              "The window came to the front and has the keyboard."),
        entry("window deactivate", "WindowDeactivate", "QEvent", "Another window has the keyboard."),
        entry("window state change", "WindowStateChange", "QWindowStateChangeEvent",
              "The window was made as large as the screen, small, or as before."),
        entry("enabled change", "EnabledChange", "QEvent", "This widget became enabled or disabled."),
        entry("language change", "LanguageChange", "QEvent", "A translation was installed or removed."),
        entry("palette change", "PaletteChange", "QEvent", "This widget's colours changed."),
        entry("font change", "FontChange", "QEvent", "This widget's font changed."),
        entry("style change", "StyleChange", "QEvent", "This widget is drawn by another style."),
        entry("layout direction change", "LayoutDirectionChange", "QEvent",
              "Text and layout run the other way from now on."),
        entry("paint", "Paint", "QPaintEvent", "This widget is to be painted; handled means you painted it.",
              unseen, true),
        entry("file open", "FileOpen", "QFileOpenEvent",
              "The desktop asks the running program to open a file; it comes to the application."),
        entry("timer", "Timer", "QTimerEvent", "A timer that this widget itself started by number is due."),
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
        {"QWheelEvent", "how far it turned (angleDelta, pixelDelta), the place (position), modifiers"},
        {"QContextMenuEvent", "the place (pos, globalPos), whether mouse or keyboard asked (reason)"},
        {"QHelpEvent", "the place (pos, globalPos)"},
        {"QTouchEvent", "the fingers' places (points)"},
        {"QDragEnterEvent",
         "what is dragged (mimeData), the place (position), what may be done (possibleActions)"},
        {"QDragMoveEvent",
         "what is dragged (mimeData), the place (position), where the answer holds (answerRect)"},
        {"QDropEvent", "what was dropped (mimeData), the place (position), what is to be done (dropAction)"},
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
