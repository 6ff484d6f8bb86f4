#include "core/moves/move.h"

#include "core/codegen/stubs.h"
#include "core/userfiles/cpp_scan.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

struct Statement {
    QString text;
    qsizetype offset = 0;
};

// The statements of a body at its own level; a block stays whole.
QList<Statement> statementsOf(const QString &body, qsizetype base)
{
    QList<Statement> list;
    int depth = 0;
    qsizetype from = 0;
    bool inText = false, inComment = false;
    for (qsizetype i = 0; i < body.size(); ++i) {
        const QChar c = body[i];
        if (inComment) {
            inComment = c != '\n';
            continue;
        }
        if (!inText && c == '/' && i + 1 < body.size() && body[i + 1] == '/') {
            inComment = true;
            continue;
        }
        if (c == '"' && (i == 0 || body[i - 1] != '\\'))
            inText = !inText;
        if (inText)
            continue;
        depth += c == '{' || c == '(' ? 1 : c == '}' || c == ')' ? -1 : 0;
        const QString rest = c == '}' ? body.mid(i + 1, 40).trimmed() : QString();
        const bool blockEnd = c == '}' && depth == 0 && !rest.startsWith("else") &&
                              !rest.startsWith("while") &&
                              (rest.isEmpty() || !QStringLiteral(";,)").contains(rest[0]));
        if (depth == 0 && (c == ';' || blockEnd)) {
            qsizetype lead = from;
            while (lead < i && body[lead].isSpace())
                ++lead;
            list.append({body.mid(lead, i + 1 - lead), base + lead});
            from = i + 1;
        }
    }
    return list;
}

bool names(const QString &text, const QString &word)
{
    return text.contains(
        QRegularExpression(QStringLiteral("\\b%1\\b").arg(QRegularExpression::escape(word))));
}

// Where a statement belongs when its handler goes to the background.
MovedLine classify(const Project &p, const Handler &h, const Statement &s, bool &worked)
{
    MovedLine m;
    m.text = s.text.section('\n', 0, 0).trimmed();
    QString touched;
    for (const QString &name : p.objectNames())
        if (names(s.text, name))
            touched = name;
    static const QRegularExpression window(
        "\\b(this|setWindowTitle|close|update|repaint|QMessageBox|QApplication|qApp)\\b");
    if (touched.isEmpty() && window.match(s.text).hasMatch())
        touched = "the window";
    if (touched.isEmpty()) {
        m.goesTo = h.function(Part::Work);
        m.reason = "names no widget";
        worked = true;
        return m;
    }
    static const QRegularExpression reading(
        "=\\s*[^=].*(->|\\.)\\s*(text|value|currentText|currentIndex|isChecked|"
        "toPlainText|count|item|date|time|checkState)\\s*\\(");
    const bool reads = reading.match(s.text).hasMatch() && !s.text.contains('{');
    m.goesTo = h.function(worked ? Part::Show : Part::Take);
    m.reason = reads && !worked ? "reads " + touched
               : worked         ? "shows in " + touched
                                : "shows in " + touched + " before the work";
    return m;
}

QString counted(qsizetype n, const QString &goesTo, const QString &what)
{
    return QStringLiteral("%1 %2 %3 in %4.").arg(n).arg(n == 1 ? "statement" : "statements", what, goesTo);
}

void describe(Move &move, const Handler &h)
{
    const struct {
        Part part;
        const char *one, *many;
    } rows[] = {{Part::Take, "reads or prepares widgets and belongs", "read or prepare widgets and belong"},
                {Part::Work, "touches no widget and belongs", "touch no widget and belong"},
                {Part::Show, "shows the result and belongs", "show the result and belong"}};
    for (const auto &row : rows) {
        const qsizetype n = std::count_if(move.lines.begin(), move.lines.end(), [&](const MovedLine &m) {
            return m.goesTo == h.function(row.part);
        });
        if (n > 0)
            move.sentences << counted(n, h.function(row.part), n == 1 ? row.one : row.many);
    }
}

} // namespace

Result<Move> planMove(const Workspace &workspace, UserFiles &files, const QString &name, Shape shape)
{
    const Project &p = workspace.project();
    const Handler *old = p.handler(name);
    if (!old) {
        QStringList all;
        for (const Handler &h : p.handlers)
            all << h.name;
        const QString near = nearestName(name, all);
        return Problem{QStringLiteral("There is no handler '%1'").arg(name.left(60)),
                       {},
                       near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
    }
    if (shape == Shape::Steps)
        return Problem{"Moving a handler in steps onto a timer is not possible in this version",
                       {},
                       "Move it to the background"};
    if (old->shape == shape)
        return Problem{QStringLiteral("%1 already runs %2").arg(name, shapeSentence(shape)), {}, {}};
    if (old->kind == HandlerKind::Event)
        return Problem{
            QStringLiteral("%1 answers whether it handled its event, so it must run in one go").arg(name),
            {},
            "Let it start another handler's work"};
    auto text = files.text(old->file);
    if (!text)
        return text.problem();

    Move move;
    move.edit.text = QStringLiteral("run %1 %2").arg(name, shapeSentence(shape));
    move.edit.after = p;
    move.edit.madeFrom = workspace.stamp();
    Handler *h = move.edit.after.handler(name);
    h->shape = shape;
    const QString cls = p.windowFor(*h).className;
    QString kept;
    bool worked = false;
    qsizetype insertAt = -1;
    for (const HandlerFunction &f : old->functions()) {
        const auto d = definitionOf(*text, f.isFree() ? QString() : cls, f.name);
        if (!d)
            continue;
        const QString whole = text->mid(d->begin, d->bodyClose + 1 - d->begin);
        if (shape == Shape::Background)
            for (const Statement &s :
                 statementsOf(text->mid(d->bodyOpen + 1, d->bodyClose - d->bodyOpen - 1), d->bodyOpen + 1)) {
                MovedLine m = classify(p, *h, s, worked);
                m.line = lineAt(*text, s.offset);
                move.lines << m;
            }
        if (insertAt < 0)
            insertAt = d->begin;
        kept += (kept.isEmpty() ? "" : "\n\n") + whole;
        move.edit.files.append({old->file, d->begin, whole, {}});
    }
    describe(move, *h);
    move.newText = Stubs(move.edit.after).text(*h).trimmed();
    if (!kept.isEmpty()) {
        move.sentences
            << QStringLiteral("The old body stays in %1, switched off, for you to take from.").arg(old->file);
        QString told;
        for (const MovedLine &m : move.lines)
            told += QStringLiteral("//   %1  (%2, %3)\n").arg(m.text, m.goesTo, m.reason);
        move.newText +=
            QStringLiteral("\n\n#if 0 // %1 as it was %2. Take what you need, then delete this.\n")
                .arg(name, shapeSentence(old->shape)) +
            told + kept + "\n#endif";
    }
    if (move.edit.files.isEmpty()) {
        move.edit.files.append({old->file, text->size(), {}, '\n' + move.newText + '\n'});
    } else {
        // The first old function is replaced by all the new text; the others are taken out. Later
        // places first, so that the offsets hold.
        move.edit.files.first().inserted = move.newText;
        std::sort(move.edit.files.begin(), move.edit.files.end(),
                  [](const FileEdit &a, const FileEdit &b) { return a.offset > b.offset; });
    }
    return move;
}

} // namespace pipit
