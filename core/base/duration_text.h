// Durations and counts as a person reads them.
//
// Threads: any.
#pragma once

#include <QString>

#include <cstdint>

namespace pipit
{

// Nanoseconds with three significant digits and a unit: "0.24 ms", "702 ms", "1.34 s".
QString durationText(std::int64_t ns);
// "1 input", "3 inputs".
QString counted(std::int64_t n, const QString &one, const QString &many);

} // namespace pipit
