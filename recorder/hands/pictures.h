// What the program's windows show, copied from what they were painted into: nothing is painted for it, and
// nothing of the program runs.
//
// Threads: the recorder's own; the copies are made on the main thread while it has nothing to do.
#pragma once

#include <QtCore/QJsonObject>
#include <QtCore/QString>

namespace pipit::recorder
{

// Writes each visible window's picture into the folder, pixels of four bytes (blue, green, red, alpha), line
// by line. Answers {windows: [{address, file, width, height, ratio}]}. Windows that are painted elsewhere (by
// the graphics card) are not in it.
QJsonObject pictureWindows(const QString &folder, int timeoutMs);

} // namespace pipit::recorder
