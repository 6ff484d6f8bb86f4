// Pictures of a program's windows: what they show, as pixels, or as PNG where they are kept.
//
// Threads: values; functions of their arguments.
#pragma once

#include "core/base/result.h"

#include <QByteArray>
#include <QJsonObject>

#include <cstdint>
#include <vector>

namespace pipit
{

struct WindowPicture {
    std::uint64_t address = 0; // of the window's widget, as facts name it
    std::int64_t time = 0;     // when it was taken, CLOCK_MONOTONIC ns
    int width = 0, height = 0; // pixels
    double ratio = 1;          // pixels to one of the window's own
    QByteArray pixels;         // four bytes each: blue, green, red, alpha; a line after the other

    QByteArray png() const; // empty where it holds nothing that is one
};

// From the recorder's answer, whose files are in the folder; a file that is not what it says is left out.
std::vector<WindowPicture> picturesIn(const QJsonObject &answer, const QString &folder);

} // namespace pipit
