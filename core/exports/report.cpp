// A recording as one page to be read: no script, no picture from elsewhere, nothing fetched.
#include "core/exports/exports.h"

#include "core/base/duration_text.h"
#include "core/exports/page.h"
#include "core/pace/coverage.h"
#include "core/pace/stalls.h"
#include "core/trace/glance.h"
#include "core/trace/queries.h"
#include "core/why/live_wiring.h"

#include <algorithm>
#include <cmath>

namespace pipit
{

namespace
{

QString place(const QString &file, int line)
{
    return file.isEmpty() ? QStringLiteral("<i>not known</i>")
                          : escaped(QStringLiteral("%1:%2").arg(file.section('/', -1)).arg(line));
}

QString secondsFrom(const Recording &r, std::int64_t ns)
{
    return QStringLiteral("%1 s").arg(double(ns - r.trace.firstTime()) / 1e9, 0, 'f', 3);
}

// The longest turn of the main threads in each piece of the time, on a logarithmic scale from 0.1 ms to 10 s.
QString paceLine(const Recording &r)
{
    constexpr int width = 960, height = 120, pieces = 480;
    const std::vector<std::int64_t> longest = glanceOf(r.trace, pieces).longest;
    const auto y = [&](double ns) {
        return height - 10 - (std::log10(std::max(ns, 1e5)) - 5) / 5 * (height - 20);
    };
    QString points, over;
    for (int i = 0; i < pieces; ++i) {
        const double x = 60 + double(i) * (width - 70) / pieces;
        points +=
            QStringLiteral("%1,%2 ").arg(x, 0, 'f', 1).arg(y(double(longest[std::size_t(i)])), 0, 'f', 1);
        if (overBudget(longest[std::size_t(i)]))
            over += QStringLiteral("<circle class=\"over\" cx=\"%1\" cy=\"%2\" r=\"3\"/>")
                        .arg(x, 0, 'f', 1)
                        .arg(y(double(longest[std::size_t(i)])), 0, 'f', 1);
    }
    QString rules;
    for (const auto &[ns, words] : {std::pair(1e6, "1 ms"), std::pair(5e7, "50 ms"), std::pair(1e9, "1 s")})
        rules += QStringLiteral("<line class=\"rule\" x1=\"60\" x2=\"%1\" y1=\"%2\" y2=\"%2\"/><text x=\"4\" "
                                "y=\"%3\">%4</text>")
                     .arg(width - 10)
                     .arg(y(ns), 0, 'f', 1)
                     .arg(y(ns) + 4, 0, 'f', 1)
                     .arg(words);
    return QStringLiteral("<svg viewBox=\"0 0 %1 %2\" role=\"img\" aria-label=\"The longest turn of the loop "
                          "over the time\">")
               .arg(width)
               .arg(height) +
           rules + "<polyline class=\"line\" points=\"" + points + "\"/>" + over + "</svg>";
}

QString runOf(const Recording &r)
{
    const auto row = [](const QString &what, const QString &text) {
        return text.isEmpty() ? QString() : "<tr><th>" + what + "</th><td>" + escaped(text) + "</td></tr>";
    };
    QStringList program{r.info.program};
    program += r.info.arguments;
    return "<table>" + row("Program", program.join(' ')) + row("Project", r.info.project) +
           row("Built", r.info.flavour) + row("Play", r.info.play) + row("End", r.info.ending) +
           row("Time", durationText(r.trace.now() - r.trace.firstTime())) +
           row("Missing", coverageOf(r.trace, r.info, r.recordedTo, r.leftOut).missing.join("; ")) +
           row("Lost", r.trace.lost() ? QStringLiteral("%1 records").arg(r.trace.lost()) : QString()) +
           "</table>";
}

// The line in the program's source and those around it, where the recording carries them.
QString code(const Recording &r, const QString &file, int line)
{
    constexpr int around = 2;
    const auto piece = r.sources.around(file, line);
    if (!piece)
        return {};
    QString lines;
    for (int n = line - around; n <= line + around; ++n)
        if (const int i = n - piece->first; i >= 0 && i < piece->lines.size()) {
            const QString text = QStringLiteral("%1  %2").arg(n, 5).arg(piece->lines[i]);
            lines += (n == line ? "<b>" + escaped(text) + "</b>" : escaped(text)) + '\n';
        }
    return "<pre>" + lines + "</pre>";
}

QString stallsOf(Recording &r)
{
    const auto stalls = pipit::stallsOf(r.trace, r.handlers, stallBudget);
    if (stalls.empty())
        return "<p>" +
               escaped(coverageOf(r.trace, r.info, r.recordedTo, r.leftOut).deniedStalls(stallBudget)) +
               "</p>";
    QString rows;
    for (const Stall &s : stalls)
        rows += "<tr><td class=\"n\">" + secondsFrom(r, s.start) + "</td><td class=\"n bad\">" +
                durationText(s.duration) + "</td><td>" + escaped(s.sentence()) +
                (s.hot.known() ? "<br><span class=\"faint\">most often in " + escaped(s.hot.text()) +
                                     "</span>" + code(r, s.hot.file, s.hot.line)
                               : QString()) +
                "</td></tr>";
    return "<table><tr><th class=\"n\">at</th><th class=\"n\">for</th><th></th></tr>" + rows + "</table>";
}

QString handlersOf(const LiveBoard &board)
{
    std::vector<LiveHandler> all = board.handlers;
    std::stable_sort(all.begin(), all.end(), [](auto &a, auto &b) { return a.worst > b.worst; });
    QString rows;
    for (const LiveHandler &h : all)
        rows += "<tr><td>" + escaped(h.name) + "</td><td>" + place(h.file, h.line) + "</td><td>" +
                (h.onTimer        ? "on a timer"
                 : h.inBackground ? h.onLoop ? "both" : "in the background"
                                  : "on the loop") +
                "</td><td class=\"n\">" + QString::number(h.calls) + "</td><td class=\"n" +
                (h.onLoop && overBudget(h.worst) ? " bad" : "") + "\">" + durationText(h.worst) +
                "</td></tr>";
    return all.empty() ? QStringLiteral("<p>No handler ran.</p>")
                       : "<table><tr><th>handler</th><th>place</th><th>ran</th><th class=\"n\">calls</th>"
                         "<th class=\"n\">longest</th></tr>" +
                             rows + "</table>";
}

QString wiringOf(const LiveBoard &board)
{
    if (!board.known)
        return "<p class=\"faint\">This recording has no connections.</p>";
    QString rows;
    for (const LiveSentence &s : board.sentences) {
        const QString to = s.wire.handler.isEmpty() ? s.wire.receiver : s.wire.handler;
        rows +=
            QStringLiteral("<tr%1><td>").arg(s.wire.failed ? " class=\"bad\"" : "") +
            escaped(
                QStringLiteral("%1 · %2 calls %3").arg(s.wire.source, s.wire.signal.section('(', 0, 0), to)) +
            (s.wire.failed ? ", but the connect failed: " + escaped(s.wire.reason)
             : s.wire.gone ? ", no more"
                           : "") +
            "</td><td>" + place(s.wire.file, s.wire.line) + "</td><td class=\"n\">" +
            (s.calls ? QString::number(s.calls) : "<span class=\"faint\">never</span>") + "</td></tr>";
    }
    return "<table><tr><th>connection</th><th>connected at</th><th class=\"n\">called</th></tr>" + rows +
           "</table>";
}

QString waitsOf(Recording &r)
{
    auto waits = pipit::waitsOf(r.trace);
    std::stable_sort(waits.begin(), waits.end(), [](auto &a, auto &b) { return a.wait > b.wait; });
    QString rows;
    for (std::size_t i = 0; i < waits.size() && i < 20; ++i)
        rows += "<tr><td class=\"n\">" + secondsFrom(r, waits[i].posted) + "</td><td class=\"n" +
                (overBudget(waits[i].wait) ? " bad" : "") + "\">" + durationText(waits[i].wait) +
                "</td><td>" + escaped(waits[i].what) + "</td></tr>";
    return rows.isEmpty()
               ? QStringLiteral("<p>Nothing waited.</p>")
               : "<table><tr><th class=\"n\">posted</th><th class=\"n\">waited</th><th></th></tr>" + rows +
                     "</table>";
}

} // namespace

Outcome exportReport(Recording &r, QIODevice &to)
{
    LiveWiring wiring;
    const LiveBoard board = wiring.read(r.trace, r.handlers);
    const QString name = escaped(r.info.program.section('/', -1));
    const QString page = pageOf(
        name, "<h1>" + name + "</h1>" + runOf(r) + "<h2>Pace: the longest turn of the loop</h2>" +
                  paceLine(r) + "<h2>Stalls</h2>" + stallsOf(r) + "<h2>Handlers, the slowest first</h2>" +
                  handlersOf(board) + "<h2>What waited longest</h2>" + waitsOf(r) + "<h2>Connections</h2>" +
                  wiringOf(board));
    const QByteArray bytes = page.toUtf8();
    if (to.write(bytes) != bytes.size())
        return Problem{QStringLiteral("it could not be written: %1").arg(to.errorString()), {}, {}};
    return Done{};
}

} // namespace pipit
