#include "core/base/duration_text.h"

namespace pipit
{

QString durationText(std::int64_t ns)
{
    if (ns < 1000)
        return QString::number(ns) + " ns";
    if (ns < 99'500)
        return QString::number(double(ns) / 1000, 'f', ns < 9'950 ? 1 : 0) + QStringLiteral(" µs");
    const double ms = double(ns) / 1e6;
    const auto digits = [](double v) { return v >= 99.95 ? 0 : v >= 9.995 ? 1 : 2; };
    if (ms >= 999.5) {
        const double s = ms / 1000;
        return QString::number(s, 'f', digits(s)) + " s";
    }
    return QString::number(ms, 'f', digits(ms)) + " ms";
}

QString counted(std::int64_t n, const QString &one, const QString &many)
{
    return QStringLiteral("%1 %2").arg(n).arg(n == 1 ? one : many);
}

} // namespace pipit
