// Event types in words. The numbers and the toolkit's spelling come from its own meta-object.
#include "core/trace/model.h"

#include <QEvent>
#include <QMetaEnum>

namespace pipit
{

QString eventName(int type)
{
    const char *key = QMetaEnum::fromType<QEvent::Type>().valueToKey(type);
    return key ? QString::fromLatin1(key) : QStringLiteral("event %1").arg(type);
}

QString eventWords(int type)
{
    switch (type) {
    case QEvent::MouseButtonPress:
        return "mouse press";
    case QEvent::MouseButtonRelease:
        return "mouse release";
    case QEvent::MouseButtonDblClick:
        return "double click";
    case QEvent::MetaCall:
        return "queued call";
    case QEvent::UpdateRequest:
        return "repaint";
    case QEvent::ShortcutOverride:
        return "shortcut check";
    case QEvent::DeferredDelete:
        return "delete later";
    default:
        break;
    }
    // "KeyPress" → "key press"
    const QString name = eventName(type);
    QString words;
    for (const QChar c : name) {
        if (c.isUpper() && !words.isEmpty())
            words += ' ';
        words += c.toLower();
    }
    return words;
}

bool isInputEvent(int type)
{
    switch (type) {
    case QEvent::MouseButtonPress:
    case QEvent::MouseButtonRelease:
    case QEvent::MouseButtonDblClick:
    case QEvent::KeyPress:
    case QEvent::KeyRelease:
    case QEvent::Wheel:
    case QEvent::TouchBegin:
    case QEvent::TouchUpdate:
    case QEvent::TouchEnd:
        return true;
    default:
        return false;
    }
}

} // namespace pipit
