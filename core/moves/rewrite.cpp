#include "core/moves/rewrite.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

QString capital(QString name)
{
    if (!name.isEmpty())
        name[0] = name[0].toUpper();
    return name;
}

bool isPlainType(const QString &type)
{
    static const QStringList plain = {"int",         "bool",       "double", "float", "qint64",
                                      "quint64",     "qsizetype",  "uint",   "char",  "QString",
                                      "QStringList", "QByteArray", "long",   "qreal", "unsigned int"};
    return plain.contains(type);
}

class Writer
{
public:
    Writer(const CutQuestion &q, const Cut &cut, QString name)
        : q_(q), cut_(cut), name_(std::move(name)), self_(*q.unit.decl(q.function.decl))
    {
        const CodeRecord *r = q.unit.record(self_.record);
        class_ = r ? r->name : QString();
        out_.input = handedType(cut.input, capital(name_) + "Input", false);
        out_.result = handedType(cut.result, capital(name_) + "Result", tells());
    }

    Rewritten write(int comment)
    {
        out_.structs = structText(out_.input, cut_.input, "// What " + name_ + " works on.\n", false) +
                       structText(out_.result, cut_.result, "// What " + name_ + " comes to.\n", true);
        const QString head = q_.text.mid(comment, q_.function.begin - comment);
        out_.functions = head + take() + "\n\n" + work() + "\n\n" + show();
        for (const Deferred &d : cut_.deferred) {
            if (d.progress)
                out_.bars << d.widget;
            if (!d.label.isEmpty())
                out_.labels << d.label;
        }
        out_.bars.removeDuplicates();
        out_.labels.removeDuplicates();
        return out_;
    }

private:
    bool tells() const { return !cut_.deferred.isEmpty() || cut_.stops; }
    bool isStruct(const QString &type) const
    {
        return type == capital(name_) + "Input" || type == capital(name_) + "Result";
    }

    QString handedType(const QList<Handed> &all, const QString &own, bool more) const
    {
        const qsizetype n = all.size() + (own.endsWith("Input") ? cut_.gathered.size() : 0);
        if (n == 0 && !more)
            return "void";
        if (n == 1 && !more) {
            const QString type = all.isEmpty() ? listOf(cut_.gathered.first().type) : all.first().type;
            if (isPlainType(type))
                return type;
        }
        return own;
    }

    static QString listOf(const QString &type)
    {
        return type == "QString" ? QString("QStringList") : "QList<" + type + '>';
    }

    static QString field(const QString &type, const QString &name, const QString &remark = {})
    {
        static const QStringList numbers = {
            "int",       "double", "float",     "qint64",     "quint64",      "qsizetype",
            "uint",      "char",   "long",      "qreal",      "unsigned int", "unsigned long",
            "long long", "short",  "qlonglong", "qulonglong", "size_t",       "std::size_t"};
        const QString value = type == "bool" ? " = false" : numbers.contains(type) ? " = 0" : QString();
        return "    " + type + ' ' + name + value + ';' + (remark.isEmpty() ? QString() : " // " + remark) +
               '\n';
    }

    QString structText(const QString &type, const QList<Handed> &all, const QString &comment, bool result)
    {
        const auto uses = [this](const QString &t) {
            static const QRegularExpression words("\\b(Q[A-Z]\\w+)|std::(\\w+)");
            for (auto it = words.globalMatch(t); it.hasNext();) {
                const auto m = it.next();
                if (!m.captured(1).isEmpty())
                    out_.includes << m.captured(1);
                else if (QStringList{"optional", "vector", "map", "set", "string", "pair", "array",
                                     "unordered_map", "deque", "list", "variant", "chrono", "complex"}
                             .contains(m.captured(2)))
                    out_.includes << (m.captured(2) == "pair" ? QString("utility") : m.captured(2));
            }
        };
        if (!isStruct(type))
            return {};
        QString text = comment + "struct " + type + " {\n";
        for (const Handed &h : all) {
            text += field(h.type, h.field);
            uses(h.type);
        }
        if (!result)
            for (const Gathering &g : cut_.gathered) {
                text += field(listOf(g.type), g.name);
                uses(listOf(g.type));
            }
        if (result) {
            for (const Deferred &d : cut_.deferred) {
                const QString t = d.list ? listOf(d.type) : "std::optional<" + d.type + '>';
                text += field(t, d.field, d.list ? QString() : QString("where it is to be set"));
                uses(t);
            }
            if (cut_.stops)
                text += field("bool", "stopped", "it ended early");
        }
        return text + "};\n\n";
    }

    // The text of a range with the changes in it.
    static QString changed(const QString &text, int begin, int end, QList<TextChange> changes)
    {
        changes.removeIf([&](const TextChange &c) { return c.begin < begin || c.end > end; });
        std::stable_sort(changes.begin(), changes.end(),
                         [](const TextChange &a, const TextChange &b) { return a.begin < b.begin; });
        QString out;
        int at = begin;
        for (const TextChange &c : std::as_const(changes)) {
            if (c.begin < at)
                continue;
            out += text.mid(at, c.begin - at);
            const bool empties = c.text.isEmpty() && c.end > c.begin;
            at = c.end;
            if (empties && out.mid(out.lastIndexOf('\n') + 1).trimmed().isEmpty() && at < end &&
                text[at] == '\n') {
                out.truncate(out.lastIndexOf('\n') + 1);
                ++at;
            }
            out += c.text;
        }
        return out + text.mid(at, end - at);
    }

    // Where the line goes on after a statement with nothing but a comment, it belongs to the statement.
    int lineEnd(int after) const
    {
        int i = after;
        while (i < q_.text.size() && (q_.text[i] == ' ' || q_.text[i] == '\t'))
            ++i;
        if (q_.text.mid(i, 2) == "//")
            while (i < q_.text.size() && q_.text[i] != '\n')
                ++i;
        return i < q_.text.size() && q_.text[i] == '\n' ? i + 1 : after;
    }

    // The statements that go to a place, with what stands above each.
    QString lines(Stage place, const QList<TextChange> &changes, bool early = false) const
    {
        QString out;
        int from = q_.function.body.begin + 1;
        if (from < q_.text.size() && q_.text[from] == '\n')
            ++from;
        for (const PlacedStatement &s : cut_.statements) {
            const int end = lineEnd(s.node->end);
            if (s.place == place && s.early == early) {
                QString text = changed(q_.text, from, end, changes);
                if (out.isEmpty())
                    while (text.startsWith('\n'))
                        text.remove(0, 1);
                out += text;
                if (!out.endsWith('\n'))
                    out += '\n';
            } else if (!early && isNeeded(s, place)) {
                out += changed(q_.text, from, end, {});
            }
            from = end;
        }
        if (place == Stage::Show) {
            const QString rest = q_.text.mid(from, q_.function.body.end - 1 - from);
            if (!rest.trimmed().isEmpty())
                out += rest + (rest.endsWith('\n') ? "" : "\n");
        }
        return out;
    }

    // Constants are written down wherever they are used.
    bool isNeeded(const PlacedStatement &s, Stage place) const
    {
        if (!s.node->is("declare"))
            return false;
        for (const CodeNode &v : s.node->children) {
            const CodeDecl *d = q_.unit.decl(v.decl);
            if (!d || !d->fixed)
                return false;
        }
        bool used = false;
        for (const PlacedStatement &o : cut_.statements)
            if (o.place == place)
                for (const CodeNode &v : s.node->children)
                    used = used || q_.effects.locals(*o.node).reads.contains(v.decl);
        return used;
    }

    bool hasLambda(Stage place) const
    {
        bool found = false;
        for (const PlacedStatement &s : cut_.statements)
            if (s.place == place)
                s.node->each([&](const CodeNode &n) {
                    found = found || n.is("lambda");
                    return !found;
                });
        return found;
    }

    QString head(const QString &type, const QString &function) const
    {
        // The parameters as the person has them.
        const int open = int(q_.text.indexOf('(', q_.function.name));
        QString rest = q_.text.mid(open, q_.function.body.begin - open);
        return type + ' ' + class_ + "::" + function + rest;
    }

    QString take()
    {
        QList<TextChange> returns;
        for (const PlacedStatement &s : cut_.statements)
            if (s.place == Stage::Take)
                s.node->each([&](const CodeNode &n) {
                    if (n.is("return"))
                        returns.append(
                            {n.begin, n.end, out_.input == "void" ? "return false;" : "return {};"});
                    return !n.is("lambda");
                });
        QString body = lines(Stage::Take, returns);
        QList<const CodeNode *> loops;
        for (const Gathering &g : cut_.gathered)
            if (!loops.contains(g.loop))
                loops << g.loop;
        for (const CodeNode *loop : std::as_const(loops)) {
            QStringList inside;
            for (const Gathering &g : cut_.gathered)
                if (g.loop == loop) {
                    body += "    " + listOf(g.type) + ' ' + g.name + ";\n";
                    inside << g.name + " << " +
                                  q_.text.mid(g.expression->begin, g.expression->end - g.expression->begin) +
                                  ';';
                }
            const int close = int(q_.text.lastIndexOf(')', loop->child("body")->begin));
            const QString header = q_.text.mid(loop->begin, close + 1 - loop->begin);
            body += "    " + header + (inside.size() > 1 ? " {" : "") + "\n        " +
                    inside.join("\n        ") + '\n' + (inside.size() > 1 ? "    }\n" : "");
        }
        const bool early = std::any_of(cut_.statements.begin(), cut_.statements.end(),
                                       [](const PlacedStatement &s) { return s.early; });
        QStringList values;
        for (const Handed &h : cut_.input) {
            if (early && !h.value.isEmpty())
                body += "    const " + h.type + ' ' + h.name + " = " + h.value + ";\n";
            values << (h.value.isEmpty() || early ? h.name : h.value);
        }
        if (early)
            body += lines(Stage::Take, {}, true);
        for (const Gathering &g : cut_.gathered)
            values << g.name;
        if (isStruct(out_.input))
            body += "    return " + out_.input + '{' + values.join(", ") + "};\n";
        else if (!values.isEmpty())
            body += "    return " + values.first() + ";\n";
        else if (cut_.declines)
            body += "    return true;\n";
        const QString type = out_.input == "void" ? (cut_.declines ? "bool" : "void")
                             : cut_.declines      ? "std::optional<" + out_.input + '>'
                                                  : out_.input;
        return head(type, name_ + "Take").trimmed() + "\n{\n" + unusedArguments(Stage::Take) + body + '}';
    }

    // An argument that only what comes after the work, or nothing, uses is handed on, so it is used.
    QString unusedArguments(Stage) const
    {
        QString out;
        for (const CodeFunction::Parameter &p : q_.function.parameters) {
            const CodeDecl *d = q_.unit.decl(p.decl);
            bool used = std::any_of(cut_.input.begin(), cut_.input.end(), [&](const Handed &h) {
                return h.decl == p.decl || h.value.contains(d->name);
            });
            for (const PlacedStatement &s : cut_.statements)
                if (s.place == Stage::Take)
                    s.node->each([&](const CodeNode &n) {
                        used = used || n.decl == p.decl;
                        return !used;
                    });
            if (!used && d && !d->name.isEmpty())
                out += "    Q_UNUSED(" + d->name + ")\n";
        }
        return out;
    }

    // Lines that give what was handed over the names that the code has for it.
    QString unpacked(const QString &from, const QString &type, const QStringList &names,
                     const QStringList &fields, const QStringList &types, const QSet<QString> &written,
                     bool bindings) const
    {
        if (names.isEmpty())
            return {};
        if (!isStruct(type)) {
            if (written.contains(names.first()))
                return "    " + type + ' ' + names.first() + " = " + from + ";\n";
            return "    const " + type + (isNumber(type) ? " " : " &") + names.first() + " = " + from + ";\n";
        }
        if (bindings)
            return QString("    ") + (written.isEmpty() ? "const auto &[" : "auto [") + names.join(", ") +
                   "] = " + from + ";\n";
        QString out;
        for (qsizetype i = 0; i < names.size(); ++i)
            out += "    " +
                   (written.contains(names[i]) ? types[i] + ' '
                                               : "const " + types[i] + (isNumber(types[i]) ? " " : " &")) +
                   names[i] + " = " + from + '.' + fields[i] + ";\n";
        return out;
    }

    static bool isNumber(const QString &type)
    {
        return isPlainType(type) && !type.startsWith("QS") && !type.startsWith("QB");
    }

    QString work()
    {
        QList<TextChange> changes = cut_.changes;
        if (out_.result == "void")
            for (TextChange &c : changes)
                c.text.replace("return {};", "return;");
        QStringList names, fields, types;
        QSet<QString> written;
        for (const Handed &h : cut_.input) {
            names << h.name;
            fields << h.field;
            types << h.type;
            if (h.written)
                written.insert(h.name);
        }
        for (const Gathering &g : cut_.gathered) {
            names << g.name;
            fields << g.name;
            types << listOf(g.type);
        }
        QString parameter;
        QString body;
        if (out_.input != "void") {
            const bool direct = !isStruct(out_.input) && written.isEmpty();
            parameter = ", const " + out_.input + " &" + (direct ? names.first() : QString("input"));
            if (!direct)
                body += unpacked("input", out_.input, names, fields, types, written, !hasLambda(Stage::Work));
        }
        QString rest = lines(Stage::Work, changes);
        if (!rest.contains("promise"))
            body.prepend("    Q_UNUSED(promise)\n");
        if (tells())
            body += "    " + out_.result + " result;\n";
        body += rest;
        QStringList values;
        for (const Handed &h : cut_.result) {
            const QString value = h.value.isEmpty() ? h.name : h.value;
            if (tells())
                body += "    result." + h.field + " = " + value + ";\n";
            values << value;
        }
        if (tells())
            body += "    return result;\n";
        else if (isStruct(out_.result))
            body += "    return {" + values.join(", ") + "};\n";
        else if (!values.isEmpty())
            body += "    return " + values.first() + ";\n";
        return "// On a worker thread: from the input alone.\n" + out_.result + ' ' + name_ +
               "Work(QPromise<" + out_.result + "> &promise" + parameter + ")\n{\n" + body + '}';
    }

    // What makes the window usable again is done after a cancellation too.
    QString whenCancelled() const
    {
        QString restore;
        static const QRegularExpression form(
            "(set(Enabled|Disabled|Visible|Cursor)|unsetCursor|restoreOverrideCursor)\\b");
        for (const PlacedStatement &s : cut_.statements)
            if (s.place == Stage::Show && (s.node->is("method") || s.node->is("call"))) {
                const CodeDecl *d = q_.unit.decl(s.node->decl);
                const Locals l = q_.effects.locals(*s.node);
                if (d && form.match(d->name).hasMatch() && l.reads.isEmpty())
                    restore += "        " + q_.text.mid(s.node->begin, s.node->end - s.node->begin) + '\n';
            }
        if (restore.isEmpty())
            return "    if (outcome.cancelled)\n        return;\n";
        return "    if (outcome.cancelled) {\n" + restore + "        return;\n    }\n";
    }

    QSet<QString> writtenInShow() const
    {
        QSet<QString> names;
        for (const PlacedStatement &s : cut_.statements)
            if (s.place == Stage::Show)
                for (const int v : q_.effects.locals(*s.node).writes)
                    if (const CodeDecl *d = q_.unit.decl(v))
                        names.insert(d->name);
        return names;
    }

    QString show()
    {
        QString body = whenCancelled();
        QStringList names, fields, types;
        QString guards, members;
        QSet<int> assigned;
        for (const Handed &m : cut_.members)
            assigned.insert(m.decl);
        for (const Handed &h : cut_.result) {
            if (assigned.contains(h.decl) && h.decl >= 0) {
                members += "    " + h.name + " = result." + h.field + ";\n";
                continue;
            }
            if (h.guarded) {
                QString type = h.type.mid(9).chopped(1) + " *";
                guards += "    " + type + h.name + " = result." + h.field + ";\n    if (!" + h.name +
                          ")\n        return; // it is gone\n";
                continue;
            }
            names << h.name;
            fields << h.field;
            types << h.type;
        }
        const QString rest = lines(Stage::Show, cut_.showChanges);
        const bool named = tells() || !guards.isEmpty() || !members.isEmpty();
        const QSet<QString> written = writtenInShow() & QSet<QString>(names.begin(), names.end());
        if (out_.result == "void")
            body += "    outcome.value(); // throws what the work threw\n";
        else if (!isStruct(out_.result) && !members.isEmpty())
            members = "    " + cut_.members.first().name + " = outcome.value();\n";
        else if (!isStruct(out_.result))
            body += unpacked("outcome.value()", out_.result, names, fields, types, written, false);
        else if (named)
            body += "    const " + out_.result + " &result = outcome.value();\n" +
                    unpacked("result", out_.result, names, fields, types, written, false);
        else
            body += unpacked("outcome.value()", out_.result, names, fields, types, written,
                             !hasLambda(Stage::Show));
        body += members + told() + guards + rest;
        return "// On the loop.\nvoid " + class_ + "::" + name_ + "Show(const Outcome<" + out_.result +
               "> &outcome)\n{\n" + body + '}';
    }

    // Widgets that the work would have set.
    QString told() const
    {
        QString out;
        for (const Deferred &d : cut_.deferred) {
            const QString arrow = q_.text.mid(d.call->child("object")->end, 2) == "->" ? "->" : ".";
            if (d.list)
                out += "    for (const " + d.type + (isNumber(d.type) ? " " : " &") + "line : result." +
                       d.field + ")\n        " + d.widget + arrow + d.method + "(line);\n";
            else
                out += "    if (result." + d.field + ")\n        " + d.widget + arrow + d.method +
                       "(*result." + d.field + ");\n";
        }
        if (cut_.stops)
            out += "    if (result.stopped)\n        return;\n";
        return out;
    }

    const CutQuestion &q_;
    const Cut &cut_;
    QString name_, class_;
    const CodeDecl &self_;
    Rewritten out_;
};

} // namespace

Rewritten rewriteForBackground(const CutQuestion &question, const Cut &cut, const QString &name, int comment)
{
    return Writer(question, cut, name).write(comment);
}

} // namespace pipit
