#include "core/sentences/sentence.h"

#include "core/catalog/catalog.h"
#include "core/project/selector.h"

#include <QRegularExpression>
#include <tuple>

namespace pipit
{

namespace
{

QString scopeWords(Connection::Scope s)
{
    return s == Connection::Scope::Window        ? "in the window"
           : s == Connection::Scope::Application ? "in the application"
                                                 : "";
}

// Where a word stands outside quotes and parentheses; -1: nowhere.
qsizetype outside(const QString &text, const QString &word)
{
    int depth = 0;
    bool quoted = false;
    for (qsizetype i = 0; i < text.size(); ++i) {
        if (text[i] == '"')
            quoted = !quoted;
        else if (!quoted && (text[i] == '(' || text[i] == '['))
            ++depth;
        else if (!quoted && (text[i] == ')' || text[i] == ']'))
            --depth;
        if (!quoted && depth == 0 && QStringView(text).mid(i).startsWith(word))
            return i;
    }
    return -1;
}

QString shortened(const QString &text)
{
    return text.size() > 60 ? text.left(59) + "…" : text;
}

// "ticketField" and "returnPressed" → "ticketFieldReturnPressed".
QString handlerFor(const QString &source, const QString &what)
{
    QString name;
    static const QRegularExpression word("[A-Za-z][A-Za-z0-9]*");
    for (auto it = word.globalMatch(source + ' ' + what.section('(', 0, 0)); it.hasNext();) {
        const QString w = it.next().captured();
        name += name.isEmpty() ? w.left(1).toLower() + w.mid(1) : w.left(1).toUpper() + w.mid(1);
    }
    return name.isEmpty() ? "handler" : name.left(60);
}

std::pair<QString, QString> dividedOccasion(const QString &text);

// What this sentence lacks, said with its own names.
Problem withoutVerb(const QString &text)
{
    if (text.isEmpty())
        return {"The sentence is empty", {}, "Name a widget, what happens to it, 'calls', and a handler"};
    if (text.contains(" calls ") || text.contains(" opens "))
        return {QStringLiteral("A quote or a bracket is not closed in '%1'").arg(shortened(text)),
                {},
                "Close it"};
    for (const QString &word : text.split(' ').mid(1))
        if (const QString near = nearestName(word, {"calls", "opens"});
            !near.isEmpty() && word.size() > 3 && word.size() < 8)
            return {
                QStringLiteral("'%1' is not understood here").arg(shortened(word)), {}, "Nearest: " + near};
    const auto [source, what] = dividedOccasion(text);
    if (what.isEmpty())
        return {QStringLiteral("'%1' has no signal or event").arg(shortened(text)),
                {},
                QStringLiteral("Add a signal or an event, 'calls' and a handler: %1.… calls …")
                    .arg(shortened(text))};
    return {QStringLiteral("'%1' has no target").arg(shortened(text)),
            {},
            QStringLiteral("Add 'calls' and a handler's name: %1.%2 calls %3")
                .arg(shortened(source), shortened(what), handlerFor(source, what))};
}

bool takeSuffix(QString &text, const QString &suffix)
{
    if (!text.endsWith(' ' + suffix))
        return false;
    text = text.chopped(suffix.size() + 1).trimmed();
    return true;
}

// A selector is divided at its end: by an event's words, else before the last word.
std::pair<QString, QString> dividedSelector(const QString &text)
{
    QString longest;
    for (const EventEntry &e : catalogEvents())
        if (e.words.size() > longest.size() && text.endsWith(e.words, Qt::CaseInsensitive) &&
            QStringLiteral(" .").contains(text.chopped(e.words.size()).right(1)))
            longest = e.words;
    static const QRegularExpression lastWord("(?:\\.|\\s)\\s*(\\w+(?:\\([^()]*\\))?)$"), end("[\\s.]+$");
    qsizetype at = text.size() - longest.size();
    if (longest.isEmpty()) {
        const auto m = lastWord.match(text);
        if (!m.hasMatch())
            return {};
        at = m.capturedStart(1);
    }
    return {text.left(at).remove(end), text.mid(at)};
}

// "ticketField · key press", "ticketField.key press", "ticketField key press": who, and what happens.
std::pair<QString, QString> dividedOccasion(const QString &text)
{
    static const QRegularExpression plain(
        "^([A-Za-z]\\w*(?:\\.(?:viewport|selection|[A-Z]\\w*))?)\\s*(?:\\.|\\s)\\s*(\\S.*)$");
    if (const qsizetype dot = outside(text, "·"); dot > 0)
        return {text.left(dot).trimmed(), text.mid(dot + 1).simplified()};
    const auto m = plain.match(text);
    const QString what = m.captured(2).simplified(),
                  next = what.section(QRegularExpression("[\\s.#\\[:]"), 0, 0);
    const bool selector = !m.hasMatch() || looksLikeSelector(m.captured(2)) || Catalog::get().has(next);
    return selector ? dividedSelector(text) : std::pair{m.captured(1), what};
}

// "ticketField · key press (key Escape) afterwards".
Outcome parseOccasion(QString text, ConnectRequest &r)
{
    text = text.trimmed();
    r.after = takeSuffix(text, "afterwards");
    if (takeSuffix(text, "in the window"))
        r.scope = Connection::Scope::Window;
    else if (takeSuffix(text, "in the application"))
        r.scope = Connection::Scope::Application;
    r.after = r.after || takeSuffix(text, "afterwards");
    static const QRegularExpression condition("^(.*\\S)\\s+\\(((?:[^\"()]|\"[^\"]*\")*)\\)$");
    if (const auto m = condition.match(text); m.hasMatch()) {
        text = m.captured(1);
        r.when = m.captured(2).trimmed();
    }
    std::tie(r.source, r.what) = dividedOccasion(text);
    if (r.source.isEmpty() || r.what.isEmpty())
        return Problem{QStringLiteral("'%1' has no widget with a signal or event").arg(shortened(text)),
                       {},
                       "Name a widget and its signal or event before 'calls'"};
    return Done{};
}

Outcome parseClause(const QString &clause, ConnectRequest &r)
{
    static const QRegularExpression as("^as (?:an? )?(.+)$");
    if (clause == "with the source") {
        r.withSource = true;
        return Done{};
    }
    if (clause == "switched off") {
        r.enabled = false;
        return Done{};
    }
    if (clause.startsWith("accepting ")) {
        r.drop = clause.mid(10).simplified();
        if (!QStringList{"copy", "move", "copy or move"}.contains(r.drop))
            return Problem{QStringLiteral("A drop cannot accept '%1'").arg(r.drop.left(60)),
                           {},
                           "Write accepting copy, accepting move, or accepting copy or move"};
        return Done{};
    }
    if (const auto m = as.match(clause); m.hasMatch()) {
        r.convert = m.captured(1).simplified();
        return Done{};
    }
    auto pacing = Pacing::parse(clause);
    if (!pacing)
        return pacing.problem();
    r.pacing = *pacing;
    return Done{};
}

} // namespace

QString phraseFor(const Connection &c)
{
    return c.what() + (c.targetKind == Connection::Target::Open ? " opens " : " calls ") + c.target();
}

QString markFor(const Connection &c)
{
    QStringList marks;
    if (!c.when.isEmpty())
        marks << c.when;
    if (c.after)
        marks << "afterwards";
    if (c.scope != Connection::Scope::Widget)
        marks << scopeWords(c.scope);
    if (!c.convert.isEmpty())
        marks << "as " + c.convert;
    if (!c.drop.isEmpty())
        marks << "accepting " + c.drop;
    if (c.pacing.kind != PacingKind::AtOnce)
        marks << c.pacing.text();
    if (!c.enabled)
        marks << "switched off";
    return marks.join(", ");
}

QString sentenceFor(const Connection &c)
{
    QString s = c.subject() + " · " + c.what();
    if (!c.when.isEmpty())
        s += " (" + c.when + ')';
    if (c.after)
        s += " afterwards";
    if (c.scope != Connection::Scope::Widget)
        s += ' ' + scopeWords(c.scope);
    s += (c.targetKind == Connection::Target::Open ? " opens " : " calls ") + c.target();
    if (!c.convert.isEmpty())
        s += ", as " + c.convert;
    if (!c.drop.isEmpty())
        s += ", accepting " + c.drop;
    if (c.pacing.kind != PacingKind::AtOnce)
        s += ", " + c.pacing.text();
    return c.enabled ? s : s + ", switched off";
}

bool readAlike(const Connection &a, const Connection &b)
{
    const auto all = [](const Connection &c) {
        return std::tie(c.from, c.select, c.part, c.sourceKind, c.signal, c.event, c.when, c.after, c.scope,
                        c.targetKind, c.to, c.toMember, c.convert, c.drop, c.pacing, c.enabled);
    };
    return all(a) == all(b);
}

Result<ConnectRequest> parseSentence(const QString &whole)
{
    if (whole.size() > 20'000)
        return Problem{"This is too long to be a connection", {}, "Write a shorter sentence"};
    const QString text = whole.simplified();
    qsizetype verb = outside(text, " calls ");
    const qsizetype opens = outside(text, " opens ");
    ConnectRequest r;
    r.opens = verb < 0 && opens > 0;
    verb = r.opens ? opens : verb;
    if (verb < 0)
        return withoutVerb(text);
    if (auto ok = parseOccasion(text.left(verb), r); !ok)
        return ok.problem();
    QStringList parts = text.mid(verb + 7).split(',');
    static const QRegularExpression target(
        "^([A-Za-z*][\\w*]*)(?:\\s*(?:·|\\.|\\s)\\s*(\\w+(?:\\([^()]*\\))?))?$");
    const auto m = target.match(parts.takeFirst().trimmed());
    if (!m.hasMatch())
        return Problem{QStringLiteral("'%1' is neither a handler nor a slot")
                           .arg(shortened(text.mid(verb + 7).section(',', 0, 0))),
                       {},
                       "Write a handler's name, or a widget and its slot: " + handlerFor(r.source, r.what)};
    r.target = m.captured(1) + (m.captured(2).isEmpty() ? QString() : '.' + m.captured(2));
    for (const QString &clause : std::as_const(parts))
        if (auto ok = parseClause(clause.simplified(), r); !ok)
            return ok.problem();
    return r;
}

} // namespace pipit
