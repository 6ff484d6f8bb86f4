#include "core/pace/unseen.h"

#include "core/base/duration_text.h"

#include <QEvent>
#include <QSet>

#include <map>

namespace pipit
{

namespace
{

constexpr int mostValues = 3;
constexpr std::int64_t lateAfter = 200'000'000; // ns from being set to being seen
constexpr std::int64_t patience = 500'000'000;  // a widget in sight is painted by then

struct Setting {
    std::int64_t time = 0;
    QString value;
    std::uint64_t place = 0;
};

using Subject = std::pair<std::uint32_t, QString>; // object, what

// What is seen of a widget. "enabled" and "disabled" set the same.
std::optional<std::pair<QString, QString>> readTouch(const QString &text)
{
    const qsizetype cut = text.indexOf('\t');
    const QString what = text.left(cut);
    QString value = cut < 0 ? QString() : text.mid(cut + 1);
    if (what == "disabled")
        return std::pair(QStringLiteral("enabled"), value == "true" ? QString("false") : QString("true"));
    if (what == "text" || what == "value" || what == "title" || what == "enabled")
        return std::pair(what, value);
    return std::nullopt;
}

std::map<Subject, std::vector<Setting>> settingsIn(const TraceModel &trace, std::uint16_t thread,
                                                   TimeRange range)
{
    std::map<Subject, std::vector<Setting>> all;
    std::uint32_t low = 0, high = trace.factCount();
    while (low < high) { // facts come in the order of their times
        const std::uint32_t middle = low + (high - low) / 2;
        trace.fact(middle).time < range.from ? void(low = middle + 1) : void(high = middle);
    }
    for (; low < trace.factCount(); ++low) {
        const FactRow &f = trace.fact(low);
        if (f.time > range.to)
            break;
        if (f.fact != link::Fact::Touched || !f.object || f.thread != thread)
            continue;
        if (const auto touch = readTouch(trace.factText(f)))
            all[{f.object, touch->first}].push_back({f.time, touch->second, f.other});
    }
    return all;
}

// When each of the widgets was painted, from the stretch's beginning on: those in it and the first after it.
std::map<std::uint32_t, std::vector<std::int64_t>>
paintsOf(const TraceModel &trace, std::uint16_t thread, TimeRange range, const QSet<std::uint32_t> &widgets)
{
    std::map<std::uint32_t, std::vector<std::int64_t>> paints;
    const ThreadRows &rows = trace.rows(thread);
    int missing = int(widgets.size());
    for (std::uint32_t i = rows.firstFrom(range.from); i < rows.count() && missing > 0; ++i) {
        if (rows.kind(i) != SpanKind::Dispatch)
            continue;
        const Span s = rows.at(i);
        if (s.start > range.to + patience)
            break;
        if (s.what != QEvent::Paint || !widgets.contains(s.object))
            continue;
        auto &of = paints[s.object];
        const bool was = !of.empty() && of.back() >= range.to;
        of.push_back(s.start);
        missing -= !was && s.start >= range.to;
    }
    return paints;
}

} // namespace

std::vector<Unseen> unseenIn(const TraceModel &trace, std::uint16_t thread, TimeRange stretch, bool *settled)
{
    if (settled)
        *settled = trace.now() > stretch.to + patience;
    const auto settings = settingsIn(trace, thread, stretch);
    QSet<std::uint32_t> widgets;
    for (const auto &[subject, set] : settings)
        if (set.size() > 1 || stretch.to - set.front().time >= lateAfter)
            widgets.insert(subject.first);
    std::vector<Unseen> all;
    if (widgets.isEmpty())
        return all;
    const auto paints = paintsOf(trace, thread, stretch, widgets);
    for (const auto &[subject, set] : settings) {
        const auto of = paints.find(subject.first);
        if (of == paints.end())
            continue;
        const QString widget = trace.object(subject.first).text();
        for (std::size_t i = 0; i < set.size(); ++i) {
            const auto paint = std::lower_bound(of->second.begin(), of->second.end(), set[i].time);
            if (paint == of->second.end())
                break;
            const bool seen = i + 1 == set.size() || set[i + 1].time >= *paint;
            if (seen && *paint - set[i].time >= lateAfter)
                all.push_back({widget,
                               subject.second,
                               {set[i].value},
                               1,
                               true,
                               set[i].time,
                               *paint,
                               set[i].value,
                               set[i].place});
            if (seen || set[i].value == set[i + 1].value)
                continue;
            std::size_t last = i + 1;
            while (last + 1 < set.size() && set[last + 1].time < *paint)
                ++last;
            Unseen u{widget, subject.second,  {},          int(last - i), false, set[i].time,
                     *paint, set[last].value, set[i].place};
            for (std::size_t v = i; v < last && v < i + mostValues; ++v)
                u.values << set[v].value;
            all.push_back(std::move(u));
            i = last - 1;
        }
    }
    std::stable_sort(all.begin(), all.end(), [](const Unseen &a, const Unseen &b) { return a.set < b.set; });
    return all;
}

QString Unseen::sentence() const
{
    const auto quoted = [](const QString &text) { return '"' + text + '"'; };
    const QString later = durationText(painted - set);
    if (what == "enabled" && late)
        return QStringLiteral("%1 was %2, and painted that way %3 later.")
            .arg(widget, values.value(0) == "true" ? "enabled" : "disabled", later);
    if (what == "enabled")
        return QStringLiteral(
                   "%1 was %2 and then %3 again before it was painted, %4 later. It was never seen.")
            .arg(widget, values.value(0) == "true" ? "enabled" : "disabled",
                 shown == "true" ? "enabled" : "disabled", later);
    QString s = widget;
    if (values.value(0).isEmpty())
        s += QStringLiteral("'s %1 was set").arg(what);
    else
        s += QStringLiteral("'s %1 was set to %2").arg(what, what == "value" ? values[0] : quoted(values[0]));
    if (late)
        return s + QStringLiteral(" and painted %1 later.").arg(later);
    if (count > 1)
        s += QStringLiteral(" and %1 more times").arg(count - 1);
    s += QStringLiteral(" and never seen: it was painted %1 later").arg(later);
    if (!shown.isEmpty())
        s += QStringLiteral(" and said %1 by then").arg(what == "value" ? shown : quoted(shown));
    return s + '.';
}

} // namespace pipit
