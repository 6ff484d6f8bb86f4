#include "core/userfiles/merge.h"

#include <QHash>
#include <QStringList>

#include <algorithm>
#include <vector>

namespace pipit
{

namespace
{

constexpr int mostChanges = 4000; // lines; beyond that two texts count as wholly different

// With their line ends, so that the pieces put together are the text again.
QStringList linesOf(const QString &text)
{
    QStringList lines;
    for (qsizetype at = 0; at < text.size();) {
        const qsizetype end = text.indexOf('\n', at);
        const qsizetype next = end < 0 ? text.size() : end + 1;
        lines << text.mid(at, next - at);
        at = next;
    }
    return lines;
}

// Which line of `b` each line of `a` still is; -1: none. E. W. Myers, "An O(ND) Difference Algorithm and
// Its Variations", 1986, the greedy form.
std::vector<int> kept(const QStringList &a, const QStringList &b)
{
    const int n = int(a.size()), m = int(b.size());
    std::vector<int> same(std::size_t(n), -1);
    std::vector<std::vector<int>> steps;
    const int most = std::min(n + m, mostChanges);
    std::vector<int> reach(std::size_t(2 * most + 2), 0);
    int found = -1;
    for (int d = 0; d <= most && found < 0; ++d) {
        for (int k = -d; k <= d; k += 2) {
            const auto at = [&](int diagonal) -> int & { return reach[std::size_t(diagonal + most)]; };
            int x = k == -d || (k != d && at(k - 1) < at(k + 1)) ? at(k + 1) : at(k - 1) + 1;
            int y = x - k;
            while (x < n && y < m && a[x] == b[y])
                ++x, ++y;
            at(k) = x;
            if (x >= n && y >= m) {
                found = d;
                break;
            }
        }
        steps.push_back(reach);
    }
    if (found < 0)
        return same;
    int x = n, y = m;
    for (int d = found; d >= 0; --d) {
        const auto at = [&](int diagonal) {
            return d ? steps[std::size_t(d - 1)][std::size_t(diagonal + most)] : 0;
        };
        const int k = x - y;
        const int before = d == 0 ? 0 : k == -d || (k != d && at(k - 1) < at(k + 1)) ? k + 1 : k - 1;
        const int fromX = d == 0 ? 0 : at(before), fromY = d == 0 ? 0 : fromX - before;
        while (x > fromX && y > fromY && x > 0 && y > 0 && a[x - 1] == b[y - 1]) {
            same[std::size_t(x - 1)] = y - 1;
            --x, --y;
        }
        x = fromX;
        y = fromY;
    }
    return same;
}

// What one side made of a few lines: the range of them that it replaced, and by what.
struct Replaced {
    int from = 0, to = 0;
    QStringList by;
};

Replaced replacedIn(const QStringList &base, const QStringList &side)
{
    const auto least = std::min(base.size(), side.size());
    qsizetype head = 0, tail = 0;
    while (head < least && base[head] == side[head])
        ++head;
    while (tail < least - head && base[base.size() - 1 - tail] == side[side.size() - 1 - tail])
        ++tail;
    return {int(head), int(base.size() - tail), side.mid(head, side.size() - tail - head)};
}

// Changes of neighbouring lines that still do not touch each other; null when they do.
QString besideEachOther(const QStringList &base, const QStringList &mine, const QStringList &theirs)
{
    Replaced first = replacedIn(base, mine), second = replacedIn(base, theirs);
    if (second.to <= first.from)
        std::swap(first, second);
    if (first.to > second.from || first.from == second.from)
        return {};
    return (base.mid(0, first.from) + first.by + base.mid(first.to, second.from - first.to) + second.by +
            base.mid(second.to))
        .join(QString());
}

QString joined(const QStringList &lines, int from, int to)
{
    return lines.mid(from, to - from).join(QString());
}

} // namespace

bool Merge::clean() const
{
    return clashes() == 0;
}

int Merge::clashes() const
{
    return int(std::count_if(pieces.begin(), pieces.end(), [](const MergePiece &p) { return p.clash; }));
}

QString Merge::text(const QList<bool> &keepMine) const
{
    QString out;
    int clash = 0;
    for (const MergePiece &p : pieces)
        out += !p.clash ? p.text : keepMine.value(clash++, true) ? p.mine : p.theirs;
    return out;
}

Merge merge(const QString &base, const QString &mine, const QString &theirs)
{
    const QStringList b = linesOf(base), m = linesOf(mine), t = linesOf(theirs);
    const std::vector<int> inMine = kept(b, m), inTheirs = kept(b, t);
    Merge result;
    const auto agree = [&](const QString &text) {
        if (text.isEmpty())
            return;
        if (result.pieces.isEmpty() || result.pieces.last().clash)
            result.pieces.append(MergePiece());
        result.pieces.last().text += text;
    };
    int at = 0, atMine = 0, atTheirs = 0;
    const int n = int(b.size());
    while (true) {
        // On to the next line that stands in all three.
        int next = at;
        while (next < n && (inMine[std::size_t(next)] < atMine || inTheirs[std::size_t(next)] < atTheirs))
            ++next;
        const int toMine = next < n ? inMine[std::size_t(next)] : int(m.size());
        const int toTheirs = next < n ? inTheirs[std::size_t(next)] : int(t.size());
        const QString was = joined(b, at, next), my = joined(m, atMine, toMine),
                      their = joined(t, atTheirs, toTheirs);
        if (my == their || their == was)
            agree(my);
        else if (my == was)
            agree(their);
        else if (was.isEmpty())
            agree(their + my);
        else if (const QString both = besideEachOther(b.mid(at, next - at), m.mid(atMine, toMine - atMine),
                                                      t.mid(atTheirs, toTheirs - atTheirs));
                 !both.isNull())
            agree(both);
        else
            result.pieces.append(MergePiece{{}, true, my, their, atMine + 1});
        if (next >= n)
            return result;
        agree(b[next]);
        at = next + 1;
        atMine = toMine + 1;
        atTheirs = toTheirs + 1;
    }
}

} // namespace pipit
