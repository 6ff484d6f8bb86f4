#include "core/moves/writer.h"

namespace pipit
{

namespace
{

class Writer : public CodeWriter
{
public:
    Writer(const CutQuestion &q, const Cut &cut, QString name) : CodeWriter(q, cut, std::move(name))
    {
        out_.input = handedType(cut.input, capital(name_) + "Input", false);
        out_.result = handedType(cut.result, capital(name_) + "Result", tells());
    }

    Rewritten write(int comment)
    {
        out_.structs = structText(out_.input, cut_.input, "// What " + name_ + " works on.\n", false) +
                       structText(out_.result, cut_.result, "// What " + name_ + " comes to.\n", true);
        out_.afterClass = out_.structs.contains(QRegularExpression("\\b" + class_ + "::"));
        const QString head = q_.text.mid(comment, q_.function.begin - comment);
        out_.batches = cut_.batches;
        out_.functions = head + take() + "\n\n" + work() + "\n\n" + add() + show();
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
    bool tells() const { return !cut_.deferred.isEmpty() || cut_.stops || leaves(); }
    bool leaves() const { return !cut_.leaves.isEmpty(); }

    QString handedType(const QList<Handed> &all, const QString &own, bool more) const
    {
        const qsizetype n = all.size() + (own.endsWith("Input") ? cut_.gathered.size() : 0);
        if (own.endsWith("Input") && leaves())
            return own;
        if (n == 0 && !more)
            return "void";
        if (std::any_of(all.begin(), all.end(), [](const Handed &h) { return h.owned; }))
            return own;
        if (n == 1 && !more) {
            const QString type = all.isEmpty() ? gatheredType(cut_.gathered.first()) : all.first().type;
            if (isPlainType(type))
                return type;
        }
        return own;
    }

    QString structText(const QString &type, const QList<Handed> &all, const QString &comment, bool result)
    {
        if (!isStruct(type))
            return {};
        QString text = comment + "struct " + type + " {\n";
        for (const Handed &h : all)
            if (!h.owned) {
                text += field(h.type, h.field);
                include(h.type);
            }
        if (!result)
            for (const Gathering &g : cut_.gathered) {
                text += field(gatheredType(g), g.name);
                include(gatheredType(g));
            }
        for (const Handed &h : all)
            if (h.owned) {
                text += "    " + h.type + " *" + h.field + " = nullptr; // " +
                        (h.asked ? "asked while it works\n" : "the work has it to itself\n");
                include(h.type);
            }
        if (result) {
            for (const Deferred &d : cut_.deferred) {
                const QString t = d.list ? listOf(d.type) : "std::optional<" + d.type + '>';
                text += field(t, d.field, d.list ? QString() : QString("where it is to be set"));
                include(t);
            }
            if (cut_.stops)
                text += field("bool", "stopped", "it ended early");
        }
        if (leaves()) {
            text += "    std::function<void()> instead = nullptr; // of the work: what is said at its turn\n";
            out_.includes << "functional";
        }
        return text + "};\n\n";
    }

    QString take()
    {
        QList<TextChange> returns;
        for (const PlacedStatement &s : cut_.statements)
            if (s.place == Stage::Take && s.leavesAtTurn) {
                for (const TextChange &c : cut_.leaves)
                    if (c.begin >= s.node->begin && c.end <= s.node->end)
                        returns.append({c.begin, c.end, QString(c.text).replace("@Input@", out_.input)});
            } else if (s.place == Stage::Take)
                s.node->each([&](const CodeNode &n) {
                    if (n.is("return"))
                        returns.append(
                            {n.begin, n.end, out_.input == "void" ? "return false;" : "return {};"});
                    return !n.is("lambda");
                });
        QString body = lines(Stage::Take, returns);
        body += gathering();
        const bool early = std::any_of(cut_.statements.begin(), cut_.statements.end(),
                                       [](const PlacedStatement &s) { return s.early; });
        QStringList values, owned;
        for (const Handed &h : cut_.input) {
            if (h.owned) {
                owned << h.value;
                continue;
            }
            if (early && !h.value.isEmpty())
                body += "    const " + h.type + ' ' + h.name + " = " + h.value + ";\n";
            values << (h.value.isEmpty() || early ? h.name : h.value);
        }
        if (early)
            body += lines(Stage::Take, {}, true);
        for (const Gathering &g : cut_.gathered)
            values << g.name;
        values << owned;
        if (isStruct(out_.input))
            body += "    return " + out_.input + '{' + values.join(", ") + "};\n";
        else if (!values.isEmpty())
            body += "    return " + values.first() + ";\n";
        else if (cut_.declines)
            body += "    return true;\n";
        const QString type = out_.input == "void" ? (cut_.declines ? "bool" : "void")
                             : cut_.declines      ? "std::optional<" + out_.input + '>'
                                                  : out_.input;
        return head(type, name_ + "Take").trimmed() + "\n{\n" + unusedArguments() + body + '}';
    }

    QString work()
    {
        QList<TextChange> changes = cut_.changes;
        if (out_.result == "void")
            for (TextChange &c : changes)
                c.text.replace("return {};", "return;");
        for (TextChange &c : changes)
            c.text.replace("@Result@", out_.result);
        QStringList names, fields, types;
        QSet<QString> written;
        QString owned;
        for (const Handed &h : cut_.input) {
            if (h.owned) {
                owned += "    " + h.type + " &" + h.name + " = *input." + h.field + ";\n";
                continue;
            }
            names << h.name;
            fields << h.field;
            types << h.type;
            if (h.written)
                written.insert(h.name);
        }
        for (const Gathering &g : cut_.gathered) {
            names << g.name;
            fields << g.name;
            types << gatheredType(g);
        }
        QString parameter;
        QString body;
        if (out_.input != "void") {
            if (leaves() && !names.isEmpty()) {
                names << "instead"; // of a binding all are named
                fields << "instead";
                types << "std::function<void()>";
            }
            const bool direct = !isStruct(out_.input) && written.isEmpty();
            parameter = ", const " + out_.input + " &" + (direct ? names.first() : QString("input"));
            if (!direct)
                body += unpacked("input", out_.input, names, fields, types, written,
                                 !hasLambda(Stage::Work) && owned.isEmpty());
            body += owned;
        }
        QString rest = lines(Stage::Work, changes);
        body.prepend(ownTypes(rest));
        if (!rest.contains("promise"))
            body.prepend("    Q_UNUSED(promise)\n");
        if (tells())
            body += "    " + out_.result + " result;\n";
        if (leaves())
            body += "    if (input.instead) {\n        result.instead = input.instead;\n        return "
                    "result;\n    }\n";
        if (cut_.batches) {
            body += "    QElapsedTimer batch;\n    batch.start();\n";
            include("QElapsedTimer");
        }
        if (rest.contains("std::min(result."))
            out_.includes << "algorithm";
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

    // Types of the class's own, by the names that the code has for them.
    QString ownTypes(const QString &code) const
    {
        QStringList names;
        for (const CodeRecord &r : q_.unit.records)
            if (r.own && r.name.startsWith(class_ + "::"))
                names << r.name.mid(class_.size() + 2);
        for (const CodeType &t : q_.unit.types)
            if (t.record < 0 && t.name.startsWith(class_ + "::") && !t.name.contains('<'))
                names << t.name.mid(class_.size() + 2);
        names.sort();
        names.removeDuplicates();
        QString out;
        for (const QString &name : std::as_const(names))
            if (!name.contains("::") && code.contains(QRegularExpression("(?<!::)\\b" + name + "\\b")))
                out += "    using " + name + " = " + class_ + "::" + name + ";\n";
        return out;
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
        if (leaves())
            body += "    if (outcome.value().instead)\n        return outcome.value().instead();\n";
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
        const bool alone = std::all_of(cut_.statements.begin(), cut_.statements.end(), [this](const auto &s) {
            return !s.atTurn || q_.effects.locals(*s.node).reads.isEmpty();
        });
        if (alone)
            body += atTurn();
        const bool named = tells() || !guards.isEmpty() || !members.isEmpty();
        const QSet<QString> written = writtenInShow() & QSet<QString>(names.begin(), names.end());
        const QString sets = told(false);
        const bool unused =
            cut_.batches && names.isEmpty() && guards.isEmpty() && members.isEmpty() && sets.isEmpty();
        if (out_.result == "void" || unused)
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
        body += members + (alone ? QString() : atTurn()) + sets + guards + rest;
        return "// On the loop.\nvoid " + class_ + "::" + name_ + "Show(const Outcome<" + out_.result +
               "> &outcome)\n{\n" + body + '}';
    }

    // What comes in batches.
    QString add() const
    {
        if (!cut_.batches)
            return {};
        return "// On the loop, while it works and in the end: what has come since.\nvoid " + class_ +
               "::" + name_ + "Add(const " + out_.result + " &some)\n{\n" + told(true) + "}\n\n";
    }

    static QString eachOf(const Deferred &d)
    {
        if (d.names.size() > 1)
            return "auto &[" + d.names.join(", ") + ']';
        return d.type + (isNumber(d.type) ? " " : " &") + (d.names.isEmpty() ? "made" : d.names.first());
    }

    // Widgets that the work would have set.
    QString told(bool added) const
    {
        const QString from = added ? "some." : "result.";
        QString out;
        for (const Deferred &d : cut_.deferred) {
            if (cut_.batches && d.list != added)
                continue;
            if (!d.replay.isEmpty()) {
                const bool one = !d.replay.contains('\n');
                out += "    for (const " + eachOf(d) + " : " + from + d.field +
                       (one ? ")\n        " : ") {\n        ") + d.replay + (one ? "\n" : "\n    }\n");
                continue;
            }
            if (d.list)
                out += "    for (const " + d.type + (isNumber(d.type) ? " " : " &") + "line : " + from +
                       d.field + ")\n        " + d.widget + d.arrow + d.method + "(line);\n";
            else
                out += "    if (result." + d.field + ")\n        " + d.widget + d.arrow + d.method +
                       "(*result." + d.field + ");\n";
        }
        if (cut_.stops && !added)
            out += "    if (result.stopped)\n        return;\n";
        return out;
    }
};

} // namespace

Rewritten rewriteForBackground(const CutQuestion &question, const Cut &cut, const QString &name, int comment)
{
    return Writer(question, cut, name).write(comment);
}

} // namespace pipit
