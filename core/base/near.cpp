#include "core/base/near.h"

#include "link/near.h"

namespace pipit
{

namespace
{

std::u16string_view units(const QString &text)
{
    return {QStringView(text).utf16(), std::size_t(text.size())};
}

} // namespace

QString nearestName(const QString &name, const QStringList &candidates)
{
    QString best;
    int least = std::max(2, int(name.size()) / 3) + 1;
    if (name.size() > 200)
        return {};
    const QString wanted = name.toLower();
    for (const QString &c : candidates) {
        if (c.size() > 200)
            continue;
        const QString each = c.toLower();
        if (const int d = link::nameDistance(units(wanted), units(each)); d < least) {
            least = d;
            best = c;
        }
    }
    return best;
}

} // namespace pipit
