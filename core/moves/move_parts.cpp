// The header, the project and the words of a move.
#include "core/moves/neighbours.h"
#include "core/moves/planner.h"

#include <QRegularExpression>

namespace pipit
{

// Behind the semicolon; `inside` is behind its first brace. -1 where it does not end.
static qsizetype endOfClass(const QString &text, qsizetype inside)
{
    const QString code = codeOnly(text);
    int depth = 1;
    for (qsizetype i = inside; i < code.size(); ++i) {
        depth += code[i] == '{' ? 1 : code[i] == '}' ? -1 : 0;
        if (depth == 0)
            return code.indexOf(';', i) < 0 ? -1 : code.indexOf(';', i) + 1;
    }
    return -1;
}

// The structs stand before the class, with the headers that they need.
Outcome Planner::header(const Rewritten &made)
{
    if (made.structs.isEmpty())
        return Done{};
    const QString file = q_.project.windowFor(handler_).file + ".h";
    auto text = files_.text(file);
    if (!text)
        return text.problem();
    static const QRegularExpression comment("(?:^[ \\t]*//[^\\n]*\\n)+\\z",
                                            QRegularExpression::MultilineOption);
    const QRegularExpression head("^class\\s+" + class_ + "\\b[^;]*?\\{",
                                  QRegularExpression::MultilineOption);
    const auto m = head.match(*text);
    if (!m.hasMatch())
        return Problem{"The class " + class_ + " was not found in its header", file,
                       "Keep its declaration in " + file};
    qsizetype at = m.capturedStart();
    if (const auto above = comment.match(text->left(at)); above.hasMatch())
        at = above.capturedStart();
    const qsizetype behind = made.afterClass ? endOfClass(*text, m.capturedEnd()) : -1;
    if (behind >= 0)
        move_.edit.files.append({file, behind, {}, "\n\n" + made.structs.trimmed()});
    else
        move_.edit.files.append({file, at, {}, made.structs.trimmed() + "\n\n"});
    QStringList missing;
    for (const QString &each : made.includes) {
        const QRegularExpression there("#include\\s*[<\"](?:\\w+/)?" + each + "(?:\\.h)?[>\"]");
        if (!text->contains(there) && !missing.contains(each))
            missing << each;
    }
    missing.sort();
    QString lines;
    for (const QString &each : std::as_const(missing))
        lines += "#include <" + each + ">\n";
    static const QRegularExpression last("(?:#include[^\\n]*\\n)(?!(?:[\\s\\S]*?)#include[^\\n]*\\n)");
    // After the includes at its top, before the class.
    const qsizetype include = text->left(at).lastIndexOf("#include");
    const qsizetype end = include < 0 ? -1 : text->indexOf('\n', include);
    if (!lines.isEmpty() && end >= 0)
        move_.edit.files.append({file, end + 1, {}, '\n' + lines});
    return Done{};
}

void Planner::wire(const Cut &cut, const Rewritten &made)
{
    Project &p = move_.edit.after;
    Handler *h = shaped();
    h->input = made.input;
    h->state = made.state;
    h->result = made.result;
    h->declines = cut.declines;
    h->batches = made.batches;
    h->again = !q_.again.isEmpty() ? q_.again : cut.takesInTurn ? "turn" : "queue";
    h->queue = q_.queue;
    if (q_.workers > 0)
        h->workers = q_.workers;
    const QString job = jobName(*h);
    const auto connect = [&](const QString &from, const QString &signal, const QString &to,
                             const QString &slot) {
        Connection c;
        c.id = p.newId("c");
        c.from = from;
        c.signal = signal;
        c.targetKind = Connection::Target::Slot;
        c.to = to;
        c.toMember = slot;
        p.connections.append(c);
    };
    for (const QString &bar : made.bars)
        if (p.widget(bar)) {
            connect(job, "progressValueChanged", bar, "setValue");
            move_.sentences << bar + " shows the progress during the work.";
        }
    for (const QString &label : made.labels)
        if (p.widget(label)) {
            connect(job, "progressTextChanged", label, "setText");
            move_.sentences << label + " describes the progress during the work.";
        }
    if (!q_.cancelButton.isEmpty()) {
        connect(q_.cancelButton, "clicked", job, q_.shape == Shape::Steps ? "stop" : "cancel");
        move_.sentences << q_.cancelButton + " cancels it.";
    }
    move_.sentences << againSentence(*h);
}

void Planner::describe(const Cut &cut)
{
    int counts[3] = {};
    const auto d = definitionOf(text_, class_, handler_.name);
    const int beginning = lineAt(text_, d ? d->begin : 0);
    for (const PlacedStatement &s : cut.statements) {
        const bool steps = q_.shape == Shape::Steps;
        const Part parts[] = {steps ? Part::Begin : Part::Take, steps ? Part::Step : Part::Work,
                              steps ? Part::End : Part::Show};
        MovedLine m;
        m.line = lineAt(text_, s.node->begin);
        m.at = m.line - beginning;
        m.text = text_.mid(s.node->begin, s.node->end - s.node->begin).section('\n', 0, 0).trimmed();
        m.place = s.place;
        m.goesTo = functionName(handler_.name, parts[int(s.place)]);
        m.reason = s.reason;
        ++counts[int(s.place)];
        move_.lines << m;
    }
    if (!cut.refused.isEmpty())
        return;
    const auto say = [&](int n, const char *one, const char *many) {
        if (n > 0)
            move_.sentences << QStringLiteral("%1 %2").arg(n).arg(n == 1 ? one : many);
    };
    if (q_.shape == Shape::Steps) {
        say(counts[0], "statement begins it.", "statements begin it.");
        move_.sentences << "The loop runs in rounds of 8 ms, and other events run in between.";
        say(counts[2], "statement ends it.", "statements end it.");
        move_.sentences += cut.notes;
        return;
    }
    say(counts[0], "statement reads or sets widgets before the work, on the event loop.",
        "statements read or set widgets before the work, on the event loop.");
    say(counts[1], "statement is the work, on a thread.", "statements are the work, on a thread.");
    say(counts[2], "statement shows the result, on the event loop.",
        "statements show the result, on the event loop.");
    for (const Deferred &d : cut.deferred)
        if (!(d.list && cut.batches))
            move_.sentences << QStringLiteral("%1 is %2 when the result is shown.")
                                   .arg(d.widget, d.list ? "added to" : "set");
    move_.sentences += cut.notes + alsoAddedTo(cut, text_, class_, handler_.name);
}

} // namespace pipit
