// Which spans marked what to be painted, and which of that a paint event covers.
//
// Threads: the main one.
#pragma once

#include "recorder/acts.h"

namespace pipit::recorder
{

// As `Acts` has them.
bool markedToPaint(void *manager, QObject *widget, const MarkedArea &area, std::uint64_t span);
void paintsNow(void *manager);
void paintedNow(void *manager);
int markedBy(QObject *receiver, QEvent *event, std::uint64_t *spans, int most);

} // namespace pipit::recorder
