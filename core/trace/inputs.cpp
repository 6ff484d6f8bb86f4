#include "core/trace/inputs.h"

#include "link/record.h"

#include <QEvent>
#include <QMetaEnum>
#include <QStringList>

namespace pipit
{

bool isDescribed(int type)
{
    return isInputEvent(type) || type == QEvent::MouseMove || type == QEvent::ShortcutOverride ||
           type == QEvent::ContextMenu;
}

std::optional<InputInfo> inputOf(const TraceModel &trace, const Span &s)
{
    if (s.kind != SpanKind::Dispatch || !isDescribed(int(s.what)))
        return std::nullopt;
    return trace.rows(s.thread).input(s.id.row());
}

static QStringList modifierWords(const InputInfo &input)
{
    QStringList words;
    const int held = int(input.modifiers) << link::qtModifierShift;
    if (held & Qt::ControlModifier)
        words << QStringLiteral("Ctrl");
    if (held & Qt::AltModifier)
        words << QStringLiteral("Alt");
    if (held & Qt::ShiftModifier)
        words << QStringLiteral("Shift");
    if (held & Qt::MetaModifier)
        words << QStringLiteral("Meta");
    return words;
}

QString keyWords(const InputInfo &input)
{
    if (input.typed)
        return QStringLiteral("a character");
    QStringList words = modifierWords(input);
    const char *name = QMetaEnum::fromType<Qt::Key>().valueToKey(input.key);
    const QString key = name ? QString::fromLatin1(name).mid(4) : QStringLiteral("key %1").arg(input.key);
    if (key == "Control" || key == "Alt" || key == "Shift" || key == "Meta")
        return key == "Control" ? QStringLiteral("Ctrl") : key; // alone: that it is held says no more
    return (words << key).join('+');
}

QString buttonWords(const InputInfo &input)
{
    QStringList words;
    const auto is = [&](Qt::MouseButton b) { return input.button & b; };
    if (is(Qt::LeftButton))
        words << QStringLiteral("left");
    if (is(Qt::RightButton))
        words << QStringLiteral("right");
    if (is(Qt::MiddleButton))
        words << QStringLiteral("middle");
    for (int i = 3; i < 16; ++i)
        if (input.button >> i & 1)
            words << QStringLiteral("button %1").arg(i + 1);
    return words.join(" and ");
}

QString inputWords(int type, const InputInfo &input)
{
    const QString held = modifierWords(input).join('+');
    QStringList words;
    switch (type) {
    case QEvent::KeyPress:
    case QEvent::KeyRelease:
    case QEvent::ShortcutOverride:
        return keyWords(input) + (input.repeated ? ", repeated" : "");
    case QEvent::Wheel:
        words << (input.y > 0   ? QStringLiteral("up")
                  : input.y < 0 ? QStringLiteral("down")
                  : input.x > 0 ? QStringLiteral("left")
                                : QStringLiteral("right"));
        break;
    case QEvent::ContextMenu:
        words << (input.byKeyboard ? QStringLiteral("by the keyboard")
                                   : QStringLiteral("at %1, %2").arg(input.x).arg(input.y));
        break;
    default:
        if (const QString button = buttonWords(input); !button.isEmpty())
            words << button + (type == QEvent::MouseMove ? " held" : "");
        words << QStringLiteral("at %1, %2").arg(input.x).arg(input.y);
    }
    if (!held.isEmpty())
        words << "with " + held;
    return words.join(", ");
}

} // namespace pipit
