// A small heading over a part of a page.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/tokens.h"

#include <QLabel>

namespace pipit::app
{

inline QLabel *heading(const QString &text)
{
    auto *l = new QLabel(text);
    l->setFont(smallFont());
    l->setContentsMargins(padding, 0, padding, 0);
    l->setFixedHeight(drawerTab);
    return l;
}

inline QWidget *hairline(bool upright)
{
    auto *hair = new QFrame;
    hair->setObjectName("hair");
    upright ? hair->setFixedWidth(1) : hair->setFixedHeight(1);
    return hair;
}

} // namespace pipit::app
