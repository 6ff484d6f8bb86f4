// How far two names are apart, for "did you mean": insertions, deletions, changes and swapped
// neighbours count one each; upper and lower case are the same. Shared, so that the recorder and
// Pipit offer the same names.
#pragma once

#include <QtCore/QList>
#include <QtCore/QString>

#include <algorithm>

namespace pipit::link
{

inline int nameDistance(const QString &first, const QString &second)
{
    const QString a = first.toLower(), b = second.toLower();
    QList<int> twoAgo(b.size() + 1), before(b.size() + 1), row(b.size() + 1);
    for (int j = 0; j <= b.size(); ++j)
        row[j] = j;
    for (int i = 1; i <= a.size(); ++i) {
        twoAgo = before;
        before = row;
        row[0] = i;
        for (int j = 1; j <= b.size(); ++j) {
            const int change = before[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1);
            row[j] = std::min({change, before[j] + 1, row[j - 1] + 1});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                row[j] = std::min(row[j], twoAgo[j - 2] + 1);
        }
    }
    return row.last();
}

} // namespace pipit::link
