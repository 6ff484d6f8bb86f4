// How far two names are apart, for "did you mean": insertions, deletions, changes and swapped
// neighbours count one each. Shared, so that the recorder and Pipit offer the same names; both give
// names in lower case.
#pragma once

#include <algorithm>
#include <string_view>
#include <vector>

namespace pipit::link
{

inline int nameDistance(std::u16string_view a, std::u16string_view b)
{
    std::vector<int> twoAgo(b.size() + 1), before(b.size() + 1), row(b.size() + 1);
    for (std::size_t j = 0; j <= b.size(); ++j)
        row[j] = int(j);
    for (std::size_t i = 1; i <= a.size(); ++i) {
        std::swap(twoAgo, before);
        std::swap(before, row);
        row[0] = int(i);
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const int change = before[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1);
            row[j] = std::min({change, before[j] + 1, row[j - 1] + 1});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                row[j] = std::min(row[j], twoAgo[j - 2] + 1);
        }
    }
    return row.back();
}

} // namespace pipit::link
