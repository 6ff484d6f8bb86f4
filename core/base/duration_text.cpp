#include "core/base/duration_text.h"

namespace pipit
{

QString durationText(std::int64_t ns)
{
    const double ms = double(ns) / 1e6;
    const auto digits = [](double v) { return v >= 99.95 ? 0 : v >= 9.995 ? 1 : 2; };
    if (ms >= 999.5) {
        const double s = ms / 1000;
        return QString::number(s, 'f', digits(s)) + " s";
    }
    return QString::number(ms, 'f', digits(ms)) + " ms";
}

} // namespace pipit
