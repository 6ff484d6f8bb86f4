// What stands on a widget, for those that have no name: "Board" of a button, "Passengers" of a group.
#pragma once

#include <QtCore/QString>

QT_BEGIN_NAMESPACE
class QObject;
QT_END_NAMESPACE

namespace pipit::recorder
{

// Off: captions are texts as well, and texts are masked. Set once, before anything is recorded.
extern bool captionsAllowed;

// Empty when there is none, or when it may not be read here: only on the object's own thread. At most 40
// characters, without the mark of a shortcut. What a field or document holds is never a caption.
QString captionOf(const QObject *object);

} // namespace pipit::recorder
