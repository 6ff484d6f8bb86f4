// What a widget without a name is called by: what stands on it ("Board" of a button, "Passengers" of a
// group), or else stands for it: its action's text, its label (a buddy, a form's, one left of it or above),
// its accessible name, its placeholder, its tool tip.
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
