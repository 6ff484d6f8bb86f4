#include "core/edits/rename.h"

#include "core/catalog/catalog.h"
#include "core/findings/names.h"
#include "core/project/condition.h"
#include "core/project/references.h"
#include "core/project/selector.h"
#include "core/userfiles/cpp_scan.h"

#include <QDir>
#include <QDirIterator>
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
            for (const HandlerFunction &f : h.functions())
                all.insert(f.name, after.function(f.part));
            all.insert(jobName(h), jobName(after));
        }
    return all;
}

class CodeRenamer
{
public:
    CodeRenamer(Workspace &w, const Names &names, const WordVerdicts &verdicts)
        : w_(w), p_(w.project()), names_(inCode(p_, names)), verdicts_(verdicts)
    {
        for (const WindowNode &n : p_.windows) {
            classes_ << n.className << n.className + "Base";
            through_ << n.root.name;
        }
    }
    Outcome run(RenamePlan &plan)
    {
        const QDir dir(w_.place().folder);
        for (const QString &f : sources())
            if (auto ok = file(f, plan); !ok)
                return ok;
        QStringList plays; // wherever they stand in the folder
        QDirIterator it(dir.path(), {"*.play"}, QDir::Files, QDirIterator::Subdirectories);
        while (it.hasNext() && plays.size() < 500)
            plays << dir.relativeFilePath(it.next());
        plays.sort();
        for (const QString &f : std::as_const(plays))
            if (auto ok = play(f, plan); !ok)
                return ok;
        return Done{};
    }
    QStringList sources() const
    {
        return QDir(w_.place().folder).entryList({"*.cpp", "*.h"}, QDir::Files, QDir::Name);
    }
    // Where one of the names stands as a word, outside comments and texts.
    QList<CodeWord> words(const QString &file, const QString &text, const QString &code) const;

private:
    // A definition that declares the name for itself: from where to where.
    struct Hidden {
        qsizetype from, to;
        QString name;
    };

    Outcome file(const QString &name, RenamePlan &plan);
    Outcome play(const QString &name, RenamePlan &plan);
    void texts(const QString &file, const QString &text, const QString &code, QMap<qsizetype, QString> &found,
               QStringList &notes) const;
    bool isMember(const QString &code, qsizetype at, bool otherWindow, QString *why) const;
    bool isOfAnother(const QString &name, const QString &base) const;
    QList<Hidden> hiddenIn(const QList<CodeWord> &words, const QString &text, const QString &code,
                           QStringList *notes) const;
    static bool declares(const QString &code, qsizetype at, qsizetype end);
    void put(RenamePlan &plan, const QString &file, const QString &text,
             const QMap<qsizetype, QString> &found) const;

    Workspace &w_;
    const Project &p_;
    Names names_;
    WordVerdicts verdicts_;
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

bool CodeRenamer::isMember(const QString &code, qsizetype at, bool otherWindow, QString *why) const
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
    const qsizetype first = plan.places.size();
    for (auto it = lines.constEnd(); it != lines.constBegin();) { // from the end, so that offsets hold
        --it;
        qsizetype end = text.indexOf('\n', it.key());
        end = end < 0 ? text.size() : end;
        const QString before = text.mid(it.key(), end - it.key());
        plan.edit.files.append({file, it.key(), before, it.value()});
        plan.places.insert(first, {file, lineAt(text, it.key()), before.trimmed(), it.value().trimmed()});
    }
}

QList<CodeWord> CodeRenamer::words(const QString &file, const QString &text, const QString &code) const
{
    static const QRegularExpression word("[A-Za-z_]\\w*");
    QList<CodeWord> all;
    for (auto it = word.globalMatch(code); it.hasNext();) {
        const auto m = it.next();
        const qsizetype at = m.capturedStart();
        if (names_.contains(m.captured()))
            all.append({file, at, lineAt(text, at), int(at - (at ? text.lastIndexOf('\n', at - 1) + 1 : 0)),
                        m.captured()});
    }
    return all;
}

// The definitions that declare one of the names for themselves.
QList<CodeRenamer::Hidden> CodeRenamer::hiddenIn(const QList<CodeWord> &words, const QString &text,
                                                 const QString &code, QStringList *notes) const
{
    const QList<Definition> definitions = definitionsIn(text);
    QList<Hidden> hidden;
    for (const CodeWord &w : words) {
        const bool scoped = w.offset >= 2 && code.mid(w.offset - 2, 2) == "::";
        if (scoped || !declares(code, w.offset, w.offset + w.name.size()) ||
            verdicts_.value({w.file, w.offset}, false))
            continue;
        Hidden h{w.offset, w.offset + w.name.size(), w.name};
        for (const Definition &d : definitions)
            if (d.headBegin <= w.offset && w.offset <= d.bodyClose) {
                h.from = d.headBegin;
                h.to = d.bodyClose;
                break;
            }
        hidden.append(h);
        *notes << QStringLiteral("%1:%2 declares its own %3, which is not renamed.")
                      .arg(w.file)
                      .arg(w.line)
                      .arg(w.name);
    }
    return hidden;
}

Outcome CodeRenamer::file(const QString &name, RenamePlan &plan)
{
    auto text = w_.files().text(name);
    if (!text)
        return text.problem();
    const QString code = codeOnly(*text), base = name.section('.', 0, 0);
    const QList<CodeWord> all = words(name, *text, code);
    const QList<Hidden> hidden = hiddenIn(all, *text, code, &plan.notes);
    QMap<qsizetype, QString> found;
    for (const CodeWord &w : all) {
        const bool covered = std::any_of(hidden.begin(), hidden.end(), [&](const Hidden &h) {
            return h.name == w.name && w.offset >= h.from && w.offset <= h.to;
        });
        QString why;
        bool follows = !covered && isMember(code, w.offset, isOfAnother(w.name, base), &why);
        if (const auto said = verdicts_.constFind({name, w.offset}); said != verdicts_.constEnd()) {
            why = follows ? "is a different one" : why;
            follows = *said;
        }
        if (follows)
            found.insert(w.offset, names_.value(w.name));
        else if (!covered)
            plan.notes << QStringLiteral("%1:%2: this %3 %4, so it is not renamed.")
                              .arg(name)
                              .arg(w.line)
                              .arg(w.name, why);
    }
    texts(name, *text, code, found, plan.notes);
    put(plan, name, *text, found);
    return Done{};
}

// A name in a text: where an object is looked for by it, it follows; anywhere else it is told.
void CodeRenamer::texts(const QString &file, const QString &text, const QString &code,
                        QMap<qsizetype, QString> &found, QStringList &notes) const
{
    static const QRegularExpression quoted("\"([A-Za-z_]\\w*)\""),
        lookup("findChild(?:ren)?\\s*<[^<>]*>\\s*\\(\\s*(?:\\w+\\(\\s*)?$");
    for (auto it = quoted.globalMatch(text); it.hasNext();) {
        const auto m = it.next();
        const qsizetype at = m.capturedStart(), line = text.lastIndexOf('\n', at) + 1;
        if (!names_.contains(m.captured(1)) || text.mid(line, at - line).contains("//"))
            continue;
        if (lookup.match(code.mid(std::max<qsizetype>(0, at - 160), std::min<qsizetype>(160, at))).hasMatch())
            found.insert(m.capturedStart(1), names_.value(m.captured(1)));
        else
            notes << QStringLiteral("%1:%2: the text \"%3\" is not renamed.")
                         .arg(file)
                         .arg(lineAt(text, at))
                         .arg(m.captured(1));
    }
}

// Whether it belongs to another window than the one whose file this is.
bool CodeRenamer::isOfAnother(const QString &name, const QString &base) const
{
    const int at = p_.windowOf(name);
    for (int i = 0; i < p_.windows.size(); ++i)
        if (at >= 0 && i != at && p_.windows[i].file == base)
            return true;
    return false;
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

using Pairs = QList<std::pair<QString, QString>>;

QStringList allNames(const Project &p)
{
    QStringList all = p.objectNames();
    for (const Handler &h : p.handlers) {
        all.removeAll(jobName(h));
        all << h.name;
    }
    return all;
}

Result<Pairs> onePair(const QStringList &all, const QString &from, const QString &to)
{
    if (!all.contains(from)) {
        const QString near = nearestName(from, all);
        return Problem{QStringLiteral("There is no '%1' to rename").arg(from.left(60)),
                       {},
                       near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
    }
    if (from == to)
        return Problem{"It already has this name", {}, "Write another"};
    return Pairs{{from, to}};
}

Result<Pairs> pairsThatFit(const QStringList &all, const QString &pattern, const QString &replacement)
{
    const QRegularExpression form(QRegularExpression::anchoredPattern(pattern));
    if (!form.isValid() || pattern.size() > 500)
        return Problem{
            QStringLiteral("'%1' is not a regular expression: %2").arg(pattern.left(60), form.errorString()),
            {},
            "Write for example b(\\d+), and key_$1 as the replacement"};
    QString with = replacement;
    with.replace(QRegularExpression("\\$(\\d)"), "\\\\1");
    Pairs pairs;
    for (const QString &name : all)
        if (form.match(name).hasMatch()) {
            QString to = name;
            to.replace(form, with);
            if (to != name)
                pairs.append({name, to});
        }
    if (pairs.isEmpty())
        return Problem{QStringLiteral("No name matches '%1'").arg(pattern.left(60)),
                       {},
                       "See 'pipit show' for the names"};
    return pairs;
}

Outcome checkNames(const Project &p, const Pairs &pairs)
{
    QSet<QString> olds, news;
    for (const auto &[from, to] : pairs)
        olds.insert(from);
    for (const auto &[from, to] : pairs) {
        if (news.contains(to))
            return Problem{
                QStringLiteral("Two objects would be named '%1'").arg(to), {}, "Use another replacement"};
        news.insert(to);
        if (!isIdentifier(to))
            return Problem{
                QStringLiteral("'%1' is not a C++ name").arg(to.left(60)), {}, "Use letters, digits and _"};
        if (!olds.contains(to))
            if (auto ok = checkNewName(p, to); !ok)
                return ok;
    }
    return Done{};
}

Result<Pairs> pairsOf(const Project &p, const RenameRequest &r)
{
    const QStringList all = allNames(p);
    auto pairs = r.all ? pairsThatFit(all, r.from, r.to) : onePair(all, r.from, r.to);
    if (pairs)
        if (auto ok = checkNames(p, *pairs); !ok)
            return ok.problem();
    return pairs;
}

Names namesOf(const Pairs &pairs)
{
    Names names;
    for (const auto &[from, to] : pairs)
        names.insert(from, to);
    return names;
}

// Selectors that fitted an old name and do not fit the new one: what they connect is another set now.
QStringList selectorNotes(const Project &before, const Project &after, const Pairs &pairs)
{
    QStringList notes;
    for (const Connection &c : before.connections) {
        auto s = c.select.isEmpty() ? Result<Selector>(Problem{}) : Selector::parse(c.select);
        if (!s)
            continue;
        const auto names = [&](const Project &p) {
            QSet<QString> all;
            for (const SelectorMatch &m : s->matches(p))
                all.insert(m.name);
            return all;
        };
        const QSet<QString> were = names(before), are = names(after);
        for (const auto &[from, to] : pairs) {
            if (were.contains(from) && !are.contains(to))
                notes << QStringLiteral("%1 (%2) does not match %3 any more.").arg(c.select, c.id, to);
            if (!were.contains(from) && are.contains(to))
                notes << QStringLiteral("%1 (%2) now matches %3, too.").arg(c.select, c.id, to);
        }
    }
    return notes;
}

} // namespace

Result<RenamePlan> planRename(Workspace &w, const RenameRequest &request, const WordVerdicts &verdicts)
{
    const Project &p = w.project();
    auto pairs = pairsOf(p, request);
    if (!pairs)
        return pairs.problem();
    RenamePlan plan;
    plan.names = *pairs;
    QStringList gone;
    for (const auto &[from, to] : *pairs)
        gone << from;
    for (const auto &[from, to] : *pairs)
        plan.notes << newNameNotes(p, to, gone);
    const auto &[first, second] = pairs->first();
    plan.edit = {pairs->size() == 1 ? "rename " + first + " to " + second
                                    : QStringLiteral("rename %1 things").arg(pairs->size()),
                 {},
                 p,
                 {}};
    plan.edit.madeFrom = w.stamp();
    const Names names = namesOf(*pairs);
    inModel(plan.edit.after, names);
    plan.notes << selectorNotes(p, plan.edit.after, *pairs);
    CodeRenamer code(w, names, verdicts);
    if (auto ok = code.run(plan); !ok)
        return ok.problem();
    return plan;
}

Result<QList<CodeWord>> wordsToRename(Workspace &w, const RenameRequest &request)
{
    auto pairs = pairsOf(w.project(), request);
    if (!pairs)
        return pairs.problem();
    const CodeRenamer code(w, namesOf(*pairs), {});
    QList<CodeWord> all;
    for (const QString &f : code.sources()) {
        auto text = w.files().text(f);
        if (!text)
            return text.problem();
        all << code.words(f, *text, codeOnly(*text));
    }
    return all;
}

} // namespace pipit
