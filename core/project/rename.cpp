#include "core/project/rename.h"

#include "core/catalog/catalog.h"
#include "core/project/condition.h"
#include "core/project/names.h"
#include "core/project/references.h"
#include "core/userfiles/cpp_scan.h"

#include <QDir>
#include <QRegularExpression>
#include <QSet>

namespace pipit
{

namespace
{

using Names = QHash<QString, QString>;

void renameWidget(WidgetNode &w, const Names &names)
{
    if (const auto it = names.constFind(w.name); it != names.constEnd())
        w.name = *it;
    for (qsizetype i = 0; i < w.children.size(); ++i)
        renameWidget(w.children[i], names);
}

QString inCondition(const QString &when, const QString &event, const Names &names)
{
    if (when.isEmpty())
        return when;
    auto c = parseCondition(when, event);
    if (!c)
        return when;
    for (ConditionTerm &t : c->terms)
        t.object = names.value(t.object, t.object);
    return conditionText(*c);
}

// "#board" in a selector is a name; one with * means more than that and stays.
QString inSelector(QString select, const Names &names)
{
    for (auto it = names.begin(); it != names.end(); ++it)
        select.replace(QRegularExpression('#' + it.key() + "(?![\\w*])"), '#' + it.value());
    return select;
}

void inModel(Project &p, const Names &names)
{
    for (WindowNode &w : p.windows) {
        renameWidget(w.root, names);
        for (TimerNode &t : w.timers)
            t.name = names.value(t.name, t.name);
        for (ObjectNode &o : w.objects)
            o.name = names.value(o.name, o.name);
    }
    for (Connection &c : p.connections) {
        c.from = names.value(c.from, c.from);
        c.to = names.value(c.to, c.to);
        c.select = inSelector(c.select, names);
        const EventEntry *event = Catalog::get().event(c.event);
        c.when = inCondition(c.when, event ? event->cppClass : QString(), names);
    }
    for (Handler &h : p.handlers)
        h.name = names.value(h.name, h.name);
    // Through names that cannot clash, so that a and b can change places.
    for (auto it = names.begin(); it != names.end(); ++it)
        renameReferences(p, it.key(), "pipit__" + it.value());
    for (auto it = names.begin(); it != names.end(); ++it)
        renameReferences(p, "pipit__" + it.value(), it.value());
}

// What the user's code calls by each name: a handler in the background is three functions and a job.
Names inCode(const Project &p, const Names &names)
{
    Names all = names;
    for (const Handler &h : p.handlers)
        if (const QString to = names.value(h.name); !to.isEmpty() && h.shape != Shape::OneGo) {
            Handler after = h;
            after.name = to;
            for (qsizetype i = 0; i < h.functions().size(); ++i)
                all.insert(h.functions()[i], after.functions()[i]);
            all.insert(jobName(h), jobName(after));
        }
    return all;
}

class CodeRenamer
{
public:
    CodeRenamer(Workspace &w, const Names &names) : w_(w), p_(w.project()), names_(inCode(p_, names))
    {
        for (const WindowNode &n : p_.windows) {
            classes_ << n.className << n.className + "Base";
            through_ << n.root.name;
        }
    }
    Outcome run(RenamePlan &plan)
    {
        const QDir dir(w_.place().folder);
        for (const QString &f : dir.entryList({"*.cpp", "*.h"}, QDir::Files, QDir::Name))
            if (auto ok = file(f, plan); !ok)
                return ok;
        for (const QString &f : QDir(dir.filePath("plays")).entryList({"*.play"}, QDir::Files, QDir::Name))
            if (auto ok = play("plays/" + f, plan); !ok)
                return ok;
        return Done{};
    }

private:
    // A definition that declares the name for itself: from where to where.
    struct Hidden {
        qsizetype from, to;
        QString name;
    };

    Outcome file(const QString &name, RenamePlan &plan);
    Outcome play(const QString &name, RenamePlan &plan);
    bool isMember(const QString &code, qsizetype at, const QString &name, bool otherWindow,
                  QString *why) const;
    static bool declares(const QString &code, qsizetype at, qsizetype end);
    void put(RenamePlan &plan, const QString &file, const QString &text,
             const QMap<qsizetype, QString> &found) const;

    Workspace &w_;
    const Project &p_;
    Names names_;
    QStringList classes_, through_;
};

QString wordBefore(const QString &code, qsizetype at, qsizetype *begin)
{
    qsizetype end = at;
    while (end > 0 && code[end - 1].isSpace())
        --end;
    qsizetype from = end;
    while (from > 0 && (code[from - 1].isLetterOrNumber() || code[from - 1] == '_'))
        --from;
    *begin = from;
    return code.mid(from, end - from);
}

// "QString name", "auto *name", "int name =": a declaration of its own.
bool CodeRenamer::declares(const QString &code, qsizetype at, qsizetype end)
{
    qsizetype i = at;
    while (i > 0 && (code[i - 1].isSpace() || code[i - 1] == '*' || code[i - 1] == '&'))
        --i;
    qsizetype from = 0;
    const QString before = wordBefore(code, i, &from);
    static const QSet<QString> none = {"return", "else",      "case", "delete", "throw", "new", "emit",
                                       "Q_EMIT", "co_return", "do",   "not",    "and",   "or"};
    const bool template_ = i > 0 && code[i - 1] == '>' && (i < 2 || code[i - 2] != '-');
    if (!template_ && (before.isEmpty() || none.contains(before) || before[0].isDigit()))
        return false;
    if (!template_ && i == at)
        return false; // nothing between: part of another word
    qsizetype next = end;
    while (next < code.size() && code[next].isSpace())
        ++next;
    const QChar c = next < code.size() ? code[next] : QChar();
    const bool star = code.mid(i, at - i).contains('*') || code.mid(i, at - i).contains('&');
    if (c == '=' && next + 1 < code.size() && code[next + 1] == '=')
        return false;
    return (c == '=' || c == ';' || c == ',' || c == ')' || c == ':' || c == '{') &&
           (!star || c != ')' || template_ || before[0].isUpper());
}

bool CodeRenamer::isMember(const QString &code, qsizetype at, const QString &, bool otherWindow,
                           QString *why) const
{
    qsizetype i = at;
    while (i > 0 && code[i - 1].isSpace())
        --i;
    qsizetype from = 0;
    if (i >= 2 && code.mid(i - 2, 2) == "::") {
        const QString scope = wordBefore(code, i - 2, &from);
        *why = "is of " + scope;
        return classes_.contains(scope);
    }
    const bool arrow = i >= 2 && code.mid(i - 2, 2) == "->", dot = i >= 1 && code[i - 1] == '.';
    if (arrow || dot) {
        const QString who = wordBefore(code, arrow ? i - 2 : i - 1, &from);
        *why = "belongs to " + (who.isEmpty() ? QString("something else") : who);
        return who == "this" || who == "w" || through_.contains(who);
    }
    *why = "is in another window's file";
    return !otherWindow;
}

void CodeRenamer::put(RenamePlan &plan, const QString &file, const QString &text,
                      const QMap<qsizetype, QString> &found) const
{
    QMap<qsizetype, QString> lines; // beginning of a line → its new text
    static const QRegularExpression word("\\G\\w+");
    for (auto it = found.constEnd(); it != found.constBegin();) {
        --it;
        const qsizetype begin = text.lastIndexOf('\n', it.key() > 0 ? it.key() - 1 : 0) + 1;
        qsizetype end = text.indexOf('\n', it.key());
        end = end < 0 ? text.size() : end;
        const QString before = lines.value(begin, text.mid(begin, end - begin));
        QString after = before;
        const auto m = word.match(text, it.key());
        after.replace(it.key() - begin, m.capturedLength(), it.value());
        lines.insert(begin, after);
    }
    for (auto it = lines.constEnd(); it != lines.constBegin();) { // from the end, so that offsets hold
        --it;
        qsizetype end = text.indexOf('\n', it.key());
        end = end < 0 ? text.size() : end;
        const QString before = text.mid(it.key(), end - it.key());
        plan.edit.files.append({file, it.key(), before, it.value()});
        plan.places.prepend({file, lineAt(text, it.key()), before.trimmed(), it.value().trimmed()});
    }
}

Outcome CodeRenamer::file(const QString &name, RenamePlan &plan)
{
    auto text = w_.files().text(name);
    if (!text)
        return text.problem();
    const QString code = codeOnly(*text);
    const QString base = name.section('.', 0, 0);
    static const QRegularExpression word("[A-Za-z_]\\w*");
    const QList<Definition> definitions = definitionsIn(*text);
    QList<Hidden> hidden;
    struct Match {
        qsizetype at;
        QString name;
    };
    QList<Match> matches;
    for (auto it = word.globalMatch(code); it.hasNext();) {
        const auto m = it.next();
        const QString n = m.captured();
        if (!names_.contains(n))
            continue;
        const bool own = m.capturedStart() >= 2 && code.mid(m.capturedStart() - 2, 2) == "::";
        if (!own && declares(code, m.capturedStart(), m.capturedEnd())) {
            qsizetype from = m.capturedStart(), to = m.capturedEnd();
            for (const Definition &d : definitions)
                if (d.headBegin <= from && from <= d.bodyClose) {
                    from = d.headBegin;
                    to = d.bodyClose;
                    break;
                }
            hidden.append({from, to, n});
            plan.notes << QStringLiteral("%1:%2 declares a %3 of its own, which is left alone.")
                              .arg(name)
                              .arg(lineAt(*text, m.capturedStart()))
                              .arg(n);
            continue;
        }
        matches.append({m.capturedStart(), n});
    }
    QMap<qsizetype, QString> found;
    for (const Match &m : std::as_const(matches)) {
        const bool covered = std::any_of(hidden.begin(), hidden.end(), [&](const Hidden &h) {
            return h.name == m.name && m.at >= h.from && m.at <= h.to;
        });
        if (covered)
            continue;
        const int at = p_.windowOf(m.name);
        bool other = false;
        for (int i = 0; i < p_.windows.size(); ++i)
            other = other || (at >= 0 && i != at && p_.windows[i].file == base);
        QString why;
        if (isMember(code, m.at, m.name, other, &why))
            found.insert(m.at, names_.value(m.name));
        else
            plan.notes << QStringLiteral("%1:%2: this %3 %4, so it is left alone.")
                              .arg(name)
                              .arg(lineAt(*text, m.at))
                              .arg(m.name, why);
    }
    put(plan, name, *text, found);
    return Done{};
}

Outcome CodeRenamer::play(const QString &name, RenamePlan &plan)
{
    auto text = w_.files().text(name);
    if (!text)
        return text.problem();
    static const QRegularExpression subject("^[ \\t]*(?:handler[ \\t]+)?([A-Za-z_]\\w*)",
                                            QRegularExpression::MultilineOption);
    QMap<qsizetype, QString> found;
    for (auto it = subject.globalMatch(*text); it.hasNext();) {
        const auto m = it.next();
        if (names_.contains(m.captured(1)))
            found.insert(m.capturedStart(1), names_.value(m.captured(1)));
    }
    put(plan, name, *text, found);
    return Done{};
}

Result<RenamePlan> plan(Workspace &w, const QList<std::pair<QString, QString>> &pairs)
{
    RenamePlan plan;
    plan.names = pairs;
    Names names;
    QSet<QString> olds, news;
    const Project &p = w.project();
    for (const auto &[from, to] : pairs)
        olds.insert(from);
    for (const auto &[from, to] : pairs) {
        if (news.contains(to))
            return Problem{
                QStringLiteral("Two things would be named '%1'").arg(to), {}, "Use another replacement"};
        news.insert(to);
        if (!olds.contains(to))
            if (auto ok = checkNewName(p, to); !ok)
                return ok.problem();
        if (!isIdentifier(to))
            return Problem{
                QStringLiteral("'%1' is no C++ name").arg(to.left(60)), {}, "Use letters, digits and _"};
        names.insert(from, to);
        if (hidesMember(to, p.windows.first().root.className))
            plan.notes << QStringLiteral("%1 hides a function of the window's class.").arg(to);
    }
    const auto [first, second] = pairs.first();
    plan.edit = {pairs.size() == 1 ? "rename " + first + " to " + second
                                   : QStringLiteral("rename %1 things").arg(pairs.size()),
                 {},
                 p,
                 {}};
    inModel(plan.edit.after, names);
    CodeRenamer code(w, names);
    if (auto ok = code.run(plan); !ok)
        return ok.problem();
    return plan;
}

QStringList allNames(const Project &p)
{
    QStringList all = p.objectNames();
    for (const Handler &h : p.handlers) {
        all.removeAll(jobName(h));
        all << h.name;
    }
    return all;
}

} // namespace

Result<RenamePlan> planRename(Workspace &w, const QString &from, const QString &to)
{
    const QStringList all = allNames(w.project());
    if (!all.contains(from)) {
        const QString near = nearestName(from, all);
        return Problem{QStringLiteral("There is no '%1' to rename").arg(from.left(60)),
                       {},
                       near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
    }
    if (from == to)
        return Problem{"That is its name already", {}, "Write another"};
    return plan(w, {{from, to}});
}

Result<RenamePlan> planRenames(Workspace &w, const QString &pattern, const QString &replacement)
{
    const QRegularExpression form(QRegularExpression::anchoredPattern(pattern));
    if (!form.isValid() || pattern.size() > 500)
        return Problem{
            QStringLiteral("'%1' is no regular expression: %2").arg(pattern.left(60), form.errorString()),
            {},
            "Write for example b(\\d+), and key_$1 as the replacement"};
    QString with = replacement;
    with.replace(QRegularExpression("\\$(\\d)"), "\\\\1");
    QList<std::pair<QString, QString>> pairs;
    for (const QString &name : allNames(w.project()))
        if (form.match(name).hasMatch()) {
            QString to = name;
            to.replace(form, with);
            if (to != name)
                pairs.append({name, to});
        }
    if (pairs.isEmpty())
        return Problem{
            QStringLiteral("No name fits '%1'").arg(pattern.left(60)), {}, "See 'pipit show' for the names"};
    return plan(w, pairs);
}

} // namespace pipit
