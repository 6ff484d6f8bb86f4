// One function again, and parting at a pause.
#include "core/moves/back.h"
#include "core/moves/planner.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

// One function again; what was made for the parts goes.
Result<Move> Planner::back()
{
    Project &p = move_.edit.after;
    if (const QString why = handler_.isQueued() ? tie(q_, handler_) : QString(); !why.isEmpty()) {
        const QString other = why.section(' ', 0, 0);
        move_.offers.append({{}, {}, {other}, other + " can move back in the same step.", true});
        return refusedFor({why + ", or move back together", {}, {}, 0});
    }
    const QString job = jobName(handler_);
    p.connections.removeIf([&](const Connection &c) {
        if (c.names(job))
            move_.sentences << QStringLiteral("Connection removed: %1 %2.").arg(c.id, c.brief());
        return c.names(job);
    });
    shaped();
    const auto header = files_.text(q_.project.windowFor(handler_).file + ".h");
    if (!header)
        return header.problem();
    const PutBack made = putBack(handler_, text_, class_, *header);
    if (!made.what.isEmpty())
        return refusedFor({made.what, {}, {}, made.line});
    QList<Definition> old;
    for (const HandlerFunction &f : handler_.functions())
        if (const auto d = definitionOf(text_, f.isFree() ? QString() : class_, f.name))
            old << *d;
    move_.newText = text_.mid(old[0].begin, old[0].headBegin - old[0].begin) + made.function;
    for (const Definition &d : old) {
        const QString whole = text_.mid(d.begin, d.bodyClose + 1 - d.begin);
        move_.oldText += (move_.oldText.isEmpty() ? "" : "\n\n") + whole;
        const bool first = &d == &old.first();
        // The empty line before it goes along.
        const qsizetype at = first ? d.begin : std::max<qsizetype>(0, d.begin - 2);
        const QString gap = first || text_.mid(at, 2) != "\n\n" ? QString() : QString("\n\n");
        move_.edit.files.append(
            {handler_.file, d.begin - gap.size(), gap + whole, first ? move_.newText : QString()});
    }
    if (auto ok = structsGone(); !ok)
        return ok.problem();
    order();
    move_.sentences << "One function again, on the event loop.";
    return verified();
}

Outcome Planner::structsGone()
{
    const QString file = q_.project.windowFor(handler_).file + ".h";
    auto text = files_.text(file);
    if (!text)
        return text.problem();
    for (const QString &type : handler_.ownTypes()) {
        const QRegularExpression form(
            "^// What \\w+ (?:works on|comes to|keeps from one step to the next)\\.\\nstruct " + type +
                " \\{\\n(?:[^}]*\\n)?\\};\\n\\n?",
            QRegularExpression::MultilineOption);
        const auto m = form.match(*text);
        if (!m.hasMatch())
            continue;
        // Behind the class it came with the empty line before it.
        const bool behind =
            text->left(m.capturedStart()).contains(QRegularExpression("\\bclass " + class_ + "\\b")) &&
            text->mid(m.capturedStart() - 2, 2) == "\n\n";
        const QString gap = behind ? QString("\n\n") : QString();
        const QString gone = behind ? m.captured().trimmed() : m.captured();
        move_.edit.files.append({file, m.capturedStart() - gap.size(), gap + gone, {}});
    }
    return Done{};
}

// Parted at a sleep: what follows it becomes a handler of a timer that is started in its place.
Result<Move> Planner::pause(const CodeUnit &unit, const Effects &effects, const CodeFunction &f,
                            const Definition &d, const Pause &p)
{
    for (const CodeNode &s : f.body.children) {
        // While it slept nothing could change; during a pause all can.
        for (const Effect &e : s.begin > p.sleep->begin ? effects.of(s) : QList<Effect>())
            if (e.kind != Effect::WritesWidget && !q_.trusted.contains(lineAt(text_, e.at)))
                move_.refused.append({handler_.file, lineAt(text_, e.at),
                                      e.what + " after the pause, and it may change until then"});
        const Stage stage = s.begin > p.sleep->begin   ? Stage::Show
                            : s.begin < p.sleep->begin ? Stage::Take
                                                       : Stage::Work;
        const QString text = text_.mid(s.begin, s.end - s.begin).section('\n', 0, 0).trimmed();
        const int line = lineAt(text_, s.begin);
        move_.lines.append({line, line - lineAt(text_, d.begin), text, stage, {}, {}});
    }
    for (const int decl : p.usedLater)
        if (const CodeDecl *v = unit.decl(decl))
            move_.refused.append(
                {handler_.file, lineAt(text_, p.sleep->begin),
                 v->name + " is created before the pause and used after it: keep it in a member"});
    if (!move_.refused.isEmpty())
        return move_;
    const PausedHandler made = partAtPause(p, q_.project, handler_, class_, text_, d);
    move_.edit.after = made.after;
    move_.oldText = text_.mid(d.begin, d.bodyClose + 1 - d.begin);
    move_.newText = made.text;
    move_.sentences = made.sentences;
    move_.edit.files.append({handler_.file, d.begin, move_.oldText, move_.newText});
    return verified(class_ + "::" + handler_.name);
}

} // namespace pipit
