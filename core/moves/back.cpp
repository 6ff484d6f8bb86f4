#include "core/moves/back.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

using Match = QRegularExpressionMatch;

QRegularExpression form(const QString &pattern)
{
    return QRegularExpression(pattern, QRegularExpression::MultilineOption);
}

// Parts of a list, at its own level of brackets.
QStringList parts(const QString &list)
{
    QStringList out;
    int depth = 0;
    bool quoted = false;
    QString one;
    for (qsizetype i = 0; i < list.size(); ++i) {
        const QChar c = list[i];
        quoted = quoted != (c == '"' && (i == 0 || list[i - 1] != '\\'));
        depth += quoted                              ? 0
                 : QStringLiteral("([{").contains(c) ? 1
                 : QStringLiteral(")]}").contains(c) ? -1
                                                     : 0;
        if (c == ',' && depth == 0 && !quoted) {
            out << one.trimmed();
            one.clear();
        } else {
            one += c;
        }
    }
    if (!one.trimmed().isEmpty())
        out << one.trimmed();
    return out;
}

class Merger
{
public:
    Merger(const Handler &h, const QString &text, const QString &className, const QString &header)
        : h_(h), text_(text), class_(className), header_(header)
    {
    }

    PutBack merged()
    {
        QString whole;
        QList<Definition> defs;
        for (const HandlerFunction &f : h_.functions()) {
            const auto d = definitionOf(text_, f.isFree() ? QString() : class_, f.name);
            if (!d)
                return {{}, f.name + " was not found", 0};
            defs << *d;
        }
        const QString first = body(defs[0]);
        QString second = body(defs[1]), third = body(defs.last());
        if (h_.batches)
            withoutBatches(second, third, body(defs[2]));
        dropConstants(first, second);
        dropConstants(first, third);
        dropConstants(second, third);
        whole = h_.shape == Shape::Steps ? steps(first, second, third)
                                         : background(first, second, third, defs[1]);
        static const QRegularExpression left(
            "\\b(promise|outcome|input\\.\\w+|result\\.\\w+|state\\.\\w+|= input|= state)\\b");
        if (const Match m = left.match(codeOnly(whole)); m.hasMatch())
            return {{},
                    QStringLiteral("its functions use %1 in an unexpected way").arg(m.captured(1)),
                    lineAt(text_, std::max<qsizetype>(0, text_.indexOf(m.captured(1), defs[1].begin)))};
        if (const PutBack lost = lostFrom(defs, whole); !lost.what.isEmpty())
            return lost;
        QString head = text_.mid(defs[0].headBegin, defs[0].bodyOpen - defs[0].headBegin);
        const qsizetype name = head.indexOf(class_ + "::");
        head = "void " + head.mid(name);
        head.replace(h_.functions().first().name, h_.name);
        whole.replace(form("\\n{3,}"), "\n\n");
        return {head.trimmed() + "\n{\n" + whole + '}', {}, 0};
    }

private:
    // What a person wrote for a cancelled run, which one function never has; and texts, and what is called of
    // widgets and members, that stand nowhere in what would come out.
    PutBack lostFrom(const QList<Definition> &defs, const QString &whole) const
    {
        static const QRegularExpression text(R"("(?:[^"\\\n]|\\.)*")"), call("\\b\\w+->\\w+(?=\\()");
        for (const Definition &d : defs) {
            const QString function = text_.mid(d.bodyOpen, d.bodyClose - d.bodyOpen);
            const auto lost = [&](qsizetype at, const QString &what) {
                return PutBack{{},
                               what + " would be lost: a single function has no place for it",
                               lineAt(text_, d.bodyOpen + at)};
            };
            if (const Match m = cancelledBlock().match(function); m.hasMatch()) {
                qsizetype at = m.capturedStart(1);
                for (const QString &line : m.captured(1).split('\n')) {
                    const QString said = line.trimmed();
                    if (!said.isEmpty() && said != "return;" && said != "}" && !whole.contains(said))
                        return lost(at, said);
                    at += line.size() + 1;
                }
            }
            for (const QRegularExpression *form : {&text, &call})
                for (auto it = form->globalMatch(form == &call ? codeOnly(function) : function);
                     it.hasNext();) {
                    const Match m = it.next();
                    if (!whole.contains(m.captured()))
                        return lost(m.capturedStart(), m.captured());
                }
        }
        return {};
    }

    static const QRegularExpression &cancelledBlock()
    {
        static const QRegularExpression block = form(
            "^[ \\t]*if \\(outcome\\.cancelled\\)(?: \\{\\n((?:.*\\n)*?)[ \\t]*\\}|\\n[ \\t]*return;)\\n");
        return block;
    }

    QString body(const Definition &d) const
    {
        QString b = text_.mid(d.bodyOpen + 1, d.bodyClose - d.bodyOpen - 1);
        return b.startsWith('\n') ? b.mid(1) : b;
    }

    // What was added while it worked is added in the end, before the rest is shown: then it is told as ever.
    void withoutBatches(QString &work, QString &show, QString add) const
    {
        drop(work, "^[ \\t]*QElapsedTimer batch;\\n[ \\t]*batch\\.start\\(\\);\\n");
        drop(work, "^[ \\t]*if \\(batch\\.hasExpired\\(\\d+\\)\\) \\{\\n(?:[^\\n]*\\n)*?[ "
                   "\\t]*batch\\.start\\(\\);\\n[ \\t]*\\}\\n");
        add.replace(form("\\bsome\\."), "result.");
        const Match value =
            form("^[ \\t]*(?:const " + h_.result + " &result = )?outcome\\.value\\(\\);[^\\n]*\\n")
                .match(show);
        show.insert(value.hasMatch() ? value.capturedEnd() : show.size(), add);
    }

    // Constants were written down in each part that uses them.
    static void dropConstants(const QString &of, QString &from)
    {
        static const QRegularExpression constant =
            form("^    (?:const )?auto \\w+ = \\[[^\\n]*\\{\\n(?:        [^\\n]*\\n|\\n)*    \\};\\n|"
                 "^    (?:const )?auto \\w+ = \\[[^\\n]*\\};\\n|"
                 "^    (?:static )?(?:const|constexpr)\\b[^;]*;[^\\n]*\\n");
        for (auto it = constant.globalMatch(of); it.hasNext();)
            if (const QString text = it.next().captured();
                !text.contains("input") && !text.contains("outcome"))
                from.remove(text);
    }

    static void drop(QString &from, const QString &pattern) { from.remove(form(pattern)); }

    // Takes the last return out of a body; what it gives.
    static QString lastReturn(QString &body)
    {
        static const QRegularExpression last("[ \\t]*return\\b([^;]*);\\s*\\z");
        const Match m = last.match(body);
        if (!m.hasMatch())
            return {};
        body.truncate(m.capturedStart());
        return m.captured(1).trimmed();
    }

    static QStringList valuesOf(const QString &given, const QString &type)
    {
        if (given == "true" || given.isEmpty())
            return {};
        if (given.startsWith(type + '{') && given.endsWith('}'))
            return parts(given.mid(type.size() + 1).chopped(1));
        if (given.startsWith('{') && given.endsWith('}'))
            return parts(given.mid(1).chopped(1));
        return {given};
    }

    // The names that a part gives to what it was handed, taken out of it.
    static QStringList namesIn(QString &body, const QString &from, QStringList *fields = nullptr)
    {
        QStringList names;
        if (const Match m = form("^[ \\t]*(?:const )?auto &?\\[([^\\]]*)\\] = " + from + ";\\n").match(body);
            m.hasMatch()) {
            names = parts(m.captured(1));
            body.remove(m.capturedStart(), m.capturedLength());
            return names;
        }
        const QRegularExpression one =
            form("^[ \\t]*(?:const )?[\\w:<>, ]+[ &*]+(\\w+) = " + from + "(?:\\.(\\w+))?;\\n");
        for (Match m = one.match(body); m.hasMatch(); m = one.match(body)) {
            names << m.captured(1);
            if (fields)
                *fields << m.captured(2);
            body.remove(m.capturedStart(), m.capturedLength());
        }
        return names;
    }

    static QString named(const QStringList &names, const QStringList &values, const char *how)
    {
        return named(names, values, QStringList(names.size(), QLatin1String(how)));
    }
    static QString named(const QStringList &names, const QStringList &values, const QStringList &how)
    {
        QString out;
        for (qsizetype i = 0; i < names.size() && i < values.size(); ++i)
            if (names[i] != values[i])
                out += "    " + how.value(i, "auto ") + names[i] + " = " + values[i] + ";\n";
        return out;
    }

    Match structOf(const QString &type) const
    {
        return form("^struct " + QRegularExpression::escape(type) + " \\{\\n((?:[^}]*\\n)?)\\};")
            .match(header_);
    }

    // The types of what a struct in the header holds, in their order; of what is no struct, itself: what is
    // kept from step to step may be of another type than what it begins with.
    QStringList typesOf(const QString &type) const
    {
        const Match m = structOf(type);
        if (!m.hasMatch())
            return {type + ' '};
        static const QRegularExpression field("^\\s*(.+?)(\\s|\\*)\\w+(?: = [^;]*|\\{\\})?;");
        QStringList types;
        for (const QString &line : m.captured(1).split('\n', Qt::SkipEmptyParts))
            if (const Match f = field.match(line); f.hasMatch())
                types << f.captured(1).trimmed() + (f.captured(2) == "*" ? " *" : " ");
        return types;
    }

    // What a struct in the header holds, in order.
    QStringList fieldsOf(const QString &type) const
    {
        const Match m = structOf(type);
        static const QRegularExpression field("(\\w+)(?: = [^;]*|\\{\\})?;");
        QStringList names;
        for (const QString &line : m.captured(1).split('\n', Qt::SkipEmptyParts))
            if (const Match f = field.match(line); f.hasMatch())
                names << f.captured(1);
        return names;
    }

    // What was said at its turn, where it left before the work.
    void saidAtOnce(QString &take, QString &work, QString &show) const
    {
        const QRegularExpression early =
            form("^([ \\t]*)" + h_.input +
                 " early;\\n[ \\t]*early\\.instead = \\[=\\] \\{((?:.|\\n)*?)\\};\\n"
                 "[ \\t]*return early;");
        for (Match m = early.match(take); m.hasMatch(); m = early.match(take)) {
            QString said = m.captured(2);
            if (said.startsWith('\n'))
                said = said.trimmed().replace("\n    ", "\n");
            take.replace(m.capturedStart(), m.capturedLength(),
                         m.captured(1) + said.trimmed() + '\n' + m.captured(1) + "return;");
        }
        drop(work, "^[ \\t]*if \\(input\\.instead\\) \\{\\n[^\\n]*\\n[^\\n]*\\n[ \\t]*\\}\\n");
        drop(work, "^[ \\t]*const std::function<void\\(\\)> &instead = input\\.instead;\\n");
        drop(show, "^[ \\t]*if \\(outcome\\.value\\(\\)\\.instead\\)\\n[^\\n]*\\n");
    }

    QString background(QString take, QString work, QString show, const Definition &workHead)
    {
        QStringList given = valuesOf(lastReturn(take), h_.input);
        take.replace(form("\\breturn (?:\\{\\}|false);"), "return;");
        saidAtOnce(take, work, show);
        // What it had to itself comes last.
        static const QRegularExpression had = form("^[ \\t]*[\\w:<>, ]+ &(\\w+) = \\*input\\.\\w+;\\n");
        for (Match m = had.match(work); m.hasMatch(); m = had.match(work)) {
            given.removeOne('&' + m.captured(1));
            work.remove(m.capturedStart(), m.capturedLength());
        }
        QStringList names = namesIn(work, "input");
        if (names.isEmpty() && given.size() == 1)
            if (const Match m = form("&(\\w+)\\)\\s*$").match(workHead.head.trimmed()); m.hasMatch())
                names << m.captured(1);
        drop(work, "^[ \\t]*Q_UNUSED\\(promise\\)\\n");
        drop(work, "^[ \\t]*using (\\w+) = " + class_ + "::\\1;\\n");
        drop(work, "^[ \\t]*if \\(promise\\.isCanceled\\(\\)\\)\\n[ \\t]*return(?: \\{\\})?;\\n");
        drop(work, "^[ \\t]*promise\\.setProgress\\w+\\(.*\\);\\n");
        drop(work, " promise\\.setProgress\\w+\\([^;]*\\);");
        drop(work, "^[ \\t]*" + h_.result + " result;\\n");
        show = withoutOutcome(show, work);
        QString results = lastReturn(work);
        QStringList fields;
        const QStringList shown = namesIn(show, "outcome\\.value\\(\\)") + namesIn(show, "result", &fields);
        work.replace(form("^([ \\t]*)result\\.stopped = true;\\n[ \\t]*return result;"), "\\1return;");
        drop(work, "^[ \\t]*result\\.(\\w+) = \\1;\\n");
        drop(work, "^[ \\t]*result\\.\\w+ = \\w+;\\n");
        work.replace(form("^([ \\t]*)result\\.(\\w+) = (.*;)$"), "\\1const auto \\2 = \\3");
        QStringList values = results == "result" ? QStringList() : valuesOf(results, h_.result);
        if (const QStringList all = fieldsOf(h_.result);
            fields.size() == shown.size() && all.size() == values.size()) {
            const QStringList given = std::exchange(values, {});
            for (const QString &f : std::as_const(fields))
                values << given.value(all.indexOf(f));
        }
        const QRegularExpression first = form("^[ \\t]*[^\\n]*( // at its turn)\\n");
        for (Match m = first.match(show); m.hasMatch(); m = first.match(show)) {
            take += m.captured().remove(m.captured(1));
            show.remove(m.capturedStart(), m.capturedLength());
        }
        for (qsizetype i = names.size() - 1; i >= 0; --i)
            if (!QString(work + show).contains(QRegularExpression("\\b" + names[i] + "\\b")) &&
                i < given.size()) {
                names.removeAt(i);
                given.removeAt(i);
            }
        return take + named(names, given, "const auto ") + work + named(shown, values, "const auto ") + show;
    }

    static bool isInBrackets(const QString &text)
    {
        int depth = 0;
        bool quoted = false;
        for (qsizetype i = 0; i < text.size(); ++i) {
            quoted = quoted != (text[i] == '"' && (i == 0 || text[i - 1] != '\\'));
            depth += quoted ? 0 : text[i] == '(' ? 1 : text[i] == ')' ? -1 : 0;
            if (depth == 0 && i + 1 < text.size())
                return false;
        }
        return text.startsWith('(');
    }

    // Statements that were done with each value of a list stand where the values were found.
    static void rowsAgain(QString &show, QString &work)
    {
        // Several in braces, or one without.
        const QRegularExpression rows =
            form("^    for \\(const ([^:]*?)(\\w+|\\[[^\\]]*\\]) : result\\.(\\w+)\\)"
                 "(?: \\{\\n((?:        [^\\n]*\\n|\\n)*)    \\}\\n|\\n(        [^\\n]*\\n))");
        for (Match m = rows.match(show); m.hasMatch(); m = rows.match(show)) {
            const QString list = m.captured(2);
            const QStringList names =
                list.startsWith('[') ? parts(list.mid(1).chopped(1)) : QStringList{list};
            const QRegularExpression found = form("^([ \\t]*)result\\." + m.captured(3) +
                                                  "(?: << |\\.emplaceBack)((?:.|\\n)*?);(?= \\}|$)");
            for (Match f = found.match(work); f.hasMatch(); f = found.match(work)) {
                QString given = f.captured(2);
                if (isInBrackets(given))
                    given = given.mid(1).chopped(1);
                const QStringList values = names.size() > 1 ? parts(given) : QStringList{given};
                QString all = (m.captured(4) + m.captured(5)).chopped(1).mid(8);
                all.replace("\n        ", '\n' + f.captured(1));
                for (qsizetype i = 0; i < names.size() && i < values.size(); ++i)
                    all = named(all, names[i], values[i]);
                work.replace(f.capturedStart(), f.capturedLength(), f.captured(1) + all);
            }
            show.remove(m.capturedStart(), m.capturedLength());
        }
    }

    // The value in the place of its name; in brackets where it is part of something.
    static QString named(const QString &code, const QString &name, const QString &value)
    {
        static const QRegularExpression plain("^[\\w.:]+(\\(.*\\))?$");
        const QRegularExpression use("(?<![\\w.>])" + name + "\\b");
        QString out;
        qsizetype at = 0;
        for (auto it = use.globalMatch(code); it.hasNext();) {
            const Match m = it.next();
            const QChar after = m.capturedEnd() < code.size() ? code[m.capturedEnd()] : QChar();
            const bool whole = (after == ',' || after == ')') && m.capturedStart() > 0 &&
                               (code[m.capturedStart() - 1] == '(' || code[m.capturedStart() - 1] == ' ');
            out += code.mid(at, m.capturedStart() - at) +
                   (whole || plain.match(value).hasMatch() ? value : '(' + value + ')');
            at = m.capturedEnd();
        }
        return out + code.mid(at);
    }

    // What the result tells widgets is told where it was found out.
    QString withoutOutcome(QString show, QString &work) const
    {
        show.remove(cancelledBlock());
        drop(show, "^[ \\t]*outcome\\.value\\(\\);.*\\n");
        drop(show, "^[ \\t]*const " + h_.result + " &result = outcome\\.value\\(\\);\\n");
        drop(show, "^[ \\t]*if \\(result\\.stopped\\)\\n[ \\t]*return;\\n");
        drop(show, "^[ \\t]*\\w+ \\*(\\w+) = result\\.\\w+;\\n[ \\t]*if \\(!\\1\\)\\n[ \\t]*return;.*\\n");
        const QRegularExpression
            set = form("^[ \\t]*if \\(result\\.(\\w+)\\)\\n[ \\t]*(.*)\\(\\*result\\.\\1\\);\\n"),
            added = form("^[ \\t]*for \\(const .*line : result\\.(\\w+)\\)\\n[ \\t]*(.*)\\(line\\);\\n"),
            member = form("^[ \\t]*(\\w+) = result\\.\\w+;\\n");
        for (Match m = set.match(show); m.hasMatch(); m = set.match(show)) {
            work.replace(
                form("std::min\\(result\\." + m.captured(1) + "\\.value_or\\(\\w+\\) \\+ 1, \\w+\\)"),
                m.captured(2).section("set", 0, -2) + "value() + 1");
            work.replace(form("\\bresult\\." + m.captured(1) + " = (.*?);( \\}[^\\n]*)?$"),
                         m.captured(2) + "(\\1);\\2");
            show.remove(m.capturedStart(), m.capturedLength());
        }
        for (Match m = added.match(show); m.hasMatch(); m = added.match(show)) {
            work.replace(form("\\bresult\\." + m.captured(1) + " << (.*?);( \\}[^\\n]*)?$"),
                         m.captured(2) + "(\\1);\\2");
            show.remove(m.capturedStart(), m.capturedLength());
        }
        rowsAgain(show, work);
        for (Match m = member.match(show); m.hasMatch(); m = member.match(show))
            show.remove(m.capturedStart(), m.capturedLength());
        return show;
    }

    QString steps(QString begin, QString step, QString end) const
    {
        const QStringList given = valuesOf(lastReturn(begin), h_.state);
        begin.replace(form("\\breturn \\{\\};"), "return;");
        const QStringList names = namesIn(step, "state");
        namesIn(end, "state");
        for (QString *each : {&step, &end})
            drop(*each, "^[ \\t]*Q_UNUSED\\(state\\)\\n");
        drop(end, "^[ \\t]*if \\(state\\.stopped\\)\\n[ \\t]*return;\\n");
        QString condition = "true";
        const QRegularExpression rounds = form("^[ \\t]*if \\(!\\((.*)\\)\\)\\n[ \\t]*return false;\\n"),
                                 each = form("^[ \\t]*if \\((next >= .*)\\)\\n[ \\t]*return false;\\n");
        QString before;
        if (const Match m = rounds.match(step); m.hasMatch()) {
            condition = m.captured(1);
            before = step.left(m.capturedStart());
            step.remove(0, m.capturedEnd());
        } else if (const Match e = each.match(step); e.hasMatch()) {
            condition = "!(" + e.captured(1) + ')';
            before = step.left(e.capturedStart());
            step.remove(0, e.capturedEnd());
        }
        lastReturn(step);
        step.replace(form("^([ \\t]*)state\\.stopped = true;\\n[ \\t]*return false;"), "\\1return;");
        step.replace(form("\\breturn false;"), "break;");
        step.replace(form("\\breturn true;"), "continue;");
        QString inside;
        for (const QString &line : step.split('\n'))
            inside += (line.trimmed().isEmpty() ? QString() : "    " + line) + '\n';
        while (inside.endsWith("\n\n"))
            inside.chop(1);
        QStringList all = given;
        if (all.size() > names.size())
            all.resize(names.size());
        return begin + named(names, all, typesOf(h_.state)) + before + "    while (" + condition + ") {\n" +
               inside + "    }\n" + end;
    }

    const Handler &h_;
    const QString &text_, &class_, &header_;
};

} // namespace

PutBack putBack(const Handler &handler, const QString &text, const QString &className, const QString &header)
{
    return Merger(handler, text, className, header).merged();
}

} // namespace pipit
