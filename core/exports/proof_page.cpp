#include "core/exports/proof_page.h"

#include "core/base/duration_text.h"
#include "core/exports/page.h"
#include "core/runs/recording.h"

#include <QCollator>
#include <QDir>
#include <QFileInfo>

#include <algorithm>
#include <cmath>

namespace pipit
{

namespace
{

constexpr double width = 960, left = 190, right = 20;

// Logarithmic: from 0.1 ms to 10 s.
double xOf(std::int64_t ns)
{
    const double decades = std::log10(std::clamp(double(ns), 1e5, 1e10)) - 5;
    return left + decades / 5 * (width - left - right);
}

QString rules(double height)
{
    QString all;
    for (const auto &[ns, words] :
         {std::pair(1'000'000, "1 ms"), std::pair(10'000'000, "10 ms"), std::pair(50'000'000, "50 ms"),
          std::pair(200'000'000, "200 ms"), std::pair(1'000'000'000, "1 s")})
        all += QStringLiteral("<line class=\"rule\" x1=\"%1\" x2=\"%1\" y1=\"0\" y2=\"%2\"/>"
                              "<text x=\"%1\" y=\"%3\" text-anchor=\"middle\">%4</text>")
                   .arg(xOf(ns), 0, 'f', 1)
                   .arg(height)
                   .arg(height + 12)
                   .arg(words);
    return all;
}

QString drawing(double height, const QString &label, const QString &inside)
{
    return QStringLiteral("<svg viewBox=\"0 0 %1 %2\" role=\"img\" aria-label=\"%3\">%4</svg>")
        .arg(width)
        .arg(height + 16)
        .arg(escaped(label), inside);
}

QString dots(const Spread &values, double y, const char *side)
{
    QString all;
    if (values.median() <= 0)
        return all;
    for (const std::int64_t v : values.values())
        all += QStringLiteral("<circle class=\"%1\" cx=\"%2\" cy=\"%3\" r=\"4\" fill-opacity=\"0.55\"/>")
                   .arg(QLatin1String(side))
                   .arg(xOf(v), 0, 'f', 1)
                   .arg(y);
    return all +
           QStringLiteral("<line class=\"%1\" x1=\"%2\" x2=\"%2\" y1=\"%3\" y2=\"%4\" stroke-width=\"2\"/>")
               .arg(QLatin1String(side))
               .arg(xOf(values.median()), 0, 'f', 1)
               .arg(y - 8)
               .arg(y + 8);
}

// A dot for each run, a stroke for the median.
QString runsPlot(const Comparison &c)
{
    QString all;
    double y = 14;
    for (const Figure &f : c.figures) {
        if (!f.isTime || f.before.empty() || f.after.empty())
            continue;
        all += QStringLiteral("<text x=\"0\" y=\"%1\">%2</text>").arg(y + 10).arg(escaped(f.words));
        all += dots(f.before, y, "before") + dots(f.after, y + 14, "after");
        y += 40;
    }
    return drawing(y, "Every run, before and after", rules(y) + all);
}

QString steps(const Spread &waits, double height, const char *side)
{
    QString points;
    const double n = waits.count();
    for (int i = 0; i < waits.count(); ++i) {
        const double x = xOf(waits.values()[std::size_t(i)]);
        points += QStringLiteral("%1,%2 %1,%3 ")
                      .arg(x, 0, 'f', 1)
                      .arg(height - i / n * height, 0, 'f', 1)
                      .arg(height - (i + 1) / n * height, 0, 'f', 1);
    }
    return QStringLiteral("<polyline class=\"%1\" points=\"%2\"/>").arg(QLatin1String(side), points);
}

// Which part of the inputs waited at most so long.
QString inputsPlot(const Comparison &c)
{
    constexpr double height = 140;
    QString all = rules(height);
    for (const auto &[part, words] : {std::pair(0.5, "half"), std::pair(1.0, "all")})
        all += QStringLiteral("<text x=\"0\" y=\"%1\">%2 of the inputs</text>")
                   .arg(std::max(10.0, height - part * height + 4))
                   .arg(words);
    return drawing(height, "How long inputs waited",
                   all + steps(c.inputsBefore, height, "before") + steps(c.inputsAfter, height, "after"));
}

QString changeWords(Change change)
{
    switch (change) {
    case Change::Better:
        return "<span class=\"good\">better</span>";
    case Change::Worse:
        return "<span class=\"bad\">worse</span>";
    case Change::Same:
        return "<span class=\"faint\">no difference</span>";
    case Change::Unknown:
        break;
    }
    return "<span class=\"faint\">not known</span>";
}

QString figuresTable(const Comparison &c)
{
    const auto range = [](const Figure &f, const Spread &s) {
        return s.empty()               ? QStringLiteral("not known")
               : s.least() == s.most() ? f.text(s.median())
                                       : QStringLiteral("%1 <span class=\"faint\">(%2 – %3)</span>")
                                             .arg(f.text(s.median()), f.text(s.least()), f.text(s.most()));
    };
    QString rows;
    for (const Figure &f : c.figures) {
        const auto ratio = c.comparable ? f.ratio() : std::nullopt;
        rows += "<tr><td>" + escaped(f.words) + "</td><td class=\"n\">" + range(f, f.before) +
                "</td><td class=\"n\">" + range(f, f.after) + "</td><td class=\"n\">" +
                (ratio ? QStringLiteral("× %1").arg(*ratio, 0, 'g', 2) : QString()) + "</td><td>" +
                (c.comparable ? changeWords(f.change) : QString()) + "</td></tr>";
    }
    return "<table><tr><th></th><th class=\"n\">before, median (range)</th><th class=\"n\">after</th>"
           "<th class=\"n\">ratio</th><th></th></tr>" +
           rows + "</table>";
}

QString sideOf(const QString &which, const std::vector<ComparedRun> &runs)
{
    if (runs.empty())
        return {};
    const RunInfo &i = runs.front().info;
    return "<tr><th>" + which + "</th><td>" + escaped(i.project.isEmpty() ? i.program : i.project) + ", " +
           counted(std::int64_t(runs.size()), "run", "runs") + ", built " +
           (i.flavour.isEmpty() ? QStringLiteral("in an unknown way") : escaped(i.flavour)) + ", play " +
           (i.play.isEmpty() ? QStringLiteral("none") : escaped(i.play)) + "</td></tr>";
}

bool isRecording(const QString &path)
{
    return QFileInfo(path).isFile() || QFileInfo::exists(path + "/pipit");
}

} // namespace

Result<std::vector<ComparedRun>> runsIn(const QString &path, std::chrono::milliseconds budget)
{
    QStringList folders;
    if (isRecording(path))
        folders << path;
    else
        for (const QString &name : QDir(path).entryList(QDir::Dirs | QDir::NoDotAndDotDot))
            if (QFileInfo::exists(path + '/' + name + "/pipit"))
                folders << path + '/' + name;
    QCollator byNumber;
    byNumber.setNumericMode(true);
    std::sort(folders.begin(), folders.end(), byNumber);
    if (folders.isEmpty()) // says best what is wrong with it
        folders << path;
    std::vector<ComparedRun> runs;
    for (const QString &f : folders) {
        auto r = Recording::open(f);
        if (!r)
            return r.problem();
        runs.push_back({(*r)->info, figuresOf((*r)->trace, (*r)->handlers, (*r)->info, budget)});
    }
    return runs;
}

QString proofPage(const Comparison &c, const std::vector<ComparedRun> &before,
                  const std::vector<ComparedRun> &after)
{
    const QString title =
        "Before and after: " + escaped(c.play.isEmpty() ? QStringLiteral("no play") : c.play);
    QString body = "<h1>" + title + "</h1><p class=\"big\">" +
                   escaped(c.comparable ? c.verdict : "Not comparable. " + c.reason) + "</p><table>" +
                   sideOf("Before", before) + sideOf("After", after) + "</table><h2>Figures</h2>" +
                   figuresTable(c);
    body += "<h2>Every run</h2><p class=\"faint\">Grey before, green after. One dot for each run, a line for "
            "the median. The scale is logarithmic.</p>" +
            runsPlot(c);
    if (!c.inputsBefore.empty() && !c.inputsAfter.empty())
        body += "<h2>How long inputs waited</h2><p class=\"faint\">The share of all inputs in all runs that "
                "waited at most this long.</p>" +
                inputsPlot(c);
    body += "<p class=\"faint\">The Mann-Whitney test on the runs decides about differences: two-sided, at 5 "
            "%. With fewer than four runs on a side, only figures that differ by a factor of two and by 10 "
            "ms in every run count as different. A difference under 2 ms or 10 % does not count.</p>";
    return pageOf(title, body);
}

} // namespace pipit
