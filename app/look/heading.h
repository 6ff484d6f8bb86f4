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

} // namespace pipit::app
