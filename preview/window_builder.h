// Builds a window of a project with real widgets, as the generated code does, but never with the
// user's classes: those stand as their bases.
//
// Threads: the loop's thread only.
#pragma once

#include "core/project/model.h"

#include <QWidget>

#include <memory>

namespace pipit::preview
{

struct Look {
    double fontScale = 1;
    bool dark = false;
    bool rightToLeft = false;
    bool longer = false; // pseudo-text: every text 40 % longer, with accents
    QString style;       // empty: the default one
};

struct Built {
    std::unique_ptr<QWidget> window;
    QStringList problems; // properties that the toolkit would not take
};

Built build(const Project &project, int window, const Look &look);
// The same text, 40 % longer and with accents, to see where words would be cut off.
QString pseudoText(const QString &text);

} // namespace pipit::preview
