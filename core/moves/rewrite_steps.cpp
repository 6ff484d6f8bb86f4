// A loop that goes on round by round.
#include "core/moves/writer.h"

namespace pipit
{

namespace
{

class StepsWriter : public CodeWriter
{
public:
    StepsWriter(const CutQuestion &q, const Cut &cut, QString name) : CodeWriter(q, cut, std::move(name))
    {
        for (const PlacedStatement &s : cut.statements)
            if (s.place == Stage::Work)
                loop_ = s.node;
        for (const Handed &h : cut.input)
            add(h.name, h.field, h.type, h.value.isEmpty() ? h.name : h.value);
        for (const Gathering &g : cut.gathered)
            add(g.name, g.name, gatheredType(g), g.name);
        if (const CodeNode *init = loop_->child("init"); init && init->is("declare"))
            for (const CodeNode &v : init->children) {
                const CodeDecl *d = q.unit.decl(v.decl);
                const CodeType *t = q.unit.type(d->type);
                add(d->name, d->name, t->name,
                    v.children.isEmpty() ? t->name + "()" : text(v.children.first()));
            }
        if (loop_->is("each"))
            eachFields();
        type_ = capital(name_) + "State";
    }

    Rewritten write(int comment)
    {
        out_.state = type_;
        QString fields;
        for (qsizetype i = 0; i < names_.size(); ++i) {
            fields += field(types_[i], fields_[i]);
            include(types_[i]);
        }
        if (cut_.stops)
            fields += field("bool", "stopped", "it ended early");
        out_.structs = "// What " + name_ + " keeps from one step to the next.\nstruct " + type_ + " {\n" +
                       fields + "};\n\n";
        out_.functions =
            q_.text.mid(comment, q_.function.begin - comment) + begin() + "\n\n" + step() + "\n\n" + end();
        return out_;
    }

private:
    QString text(const CodeNode &n) const { return q_.text.mid(n.begin, n.end - n.begin); }

    void add(const QString &name, const QString &field, const QString &type, const QString &value)
    {
        names_ << name;
        fields_ << field;
        types_ << type;
        values_ << value;
    }

    // for (x : all): the list and how far it has come.
    void eachFields()
    {
        const CodeNode &range = *loop_->child("range");
        const CodeType *t = q_.unit.type(range.type);
        QString values = text(range);
        for (const TextChange &c : cut_.changes)
            if (c.begin == range.begin && c.end == range.end)
                values = c.text;
        list_ = names_.contains(values) ? values : QString("rest");
        if (!names_.contains(values))
            add(list_, list_, t ? t->name : QString("QStringList"), values);
        add("next", "next", "qsizetype", "0");
    }

    QString names(const QSet<QString> &used) const
    {
        const bool lambdas = hasLambda(Stage::Work) || hasLambda(Stage::Show);
        if (names_.isEmpty() || used.isEmpty())
            return {};
        if (!lambdas)
            return "    auto &[" +
                   (names_ + (cut_.stops ? QStringList{"stopped"} : QStringList())).join(", ") +
                   "] = state;\n";
        QString out;
        for (qsizetype i = 0; i < names_.size(); ++i)
            if (used.contains(names_[i]))
                out += "    " + types_[i] + " &" + names_[i] + " = state." + fields_[i] + ";\n";
        return out;
    }

    QSet<QString> usedIn(const QString &code) const
    {
        QSet<QString> used;
        for (const QString &n : names_)
            if (code.contains(QRegularExpression("\\b" + n + "\\b")))
                used.insert(n);
        return used;
    }

    QString begin()
    {
        QList<TextChange> returns;
        for (const PlacedStatement &s : cut_.statements)
            if (s.place == Stage::Take)
                s.node->each([&](const CodeNode &n) {
                    if (n.is("return"))
                        returns.append({n.begin, n.end, "return {};"});
                    return !n.is("lambda");
                });
        const QString body = lines(Stage::Take, returns) + gathering();
        QStringList values = values_;
        if (cut_.stops)
            values << "false";
        const QString type = cut_.declines ? "std::optional<" + type_ + '>' : type_;
        return head(type, name_ + "Begin").trimmed() + "\n{\n" + unusedArguments() + body + "    return " +
               type_ + '{' + values.join(", ") + "};\n}";
    }

    QString step()
    {
        const CodeNode *condition = loop_->child("condition"), *round = loop_->child("step"),
                       *body = loop_->child("body");
        QString code;
        for (const PlacedStatement &s : cut_.statements)
            if (s.place == Stage::Take && isNeeded(s, Stage::Work))
                code += "    " + text(*s.node) + '\n';
        if (loop_->is("each"))
            code += "    if (next >= qsizetype(" + list_ + ".size()))\n        return false;\n    " +
                    text(*loop_->child("variable")) + " = " + list_ + "[next++];\n";
        else if (condition)
            code += "    if (!(" + changed(q_.text, condition->begin, condition->end, cut_.changes) +
                    "))\n        return false;\n";
        int from = body->begin, to = body->end;
        if (body->is("block")) {
            ++from;
            --to;
            if (q_.text[from] == '\n')
                ++from;
        }
        code += shallower(changed(q_.text, from, to, cut_.changes), body->is("block"));
        if (round)
            code += "    " + text(*round) + ";\n";
        code += "    return true;\n";
        return "// On the loop, again and again: one round. True: there is more.\nbool " + class_ +
               "::" + name_ + "Step(" + type_ + " &state)\n{\n" + unusedState(code) + names(usedIn(code)) +
               code + '}';
    }

    // The loop's own step inwards is gone.
    static QString shallower(const QString &code, bool block)
    {
        QString out;
        if (!block)
            return "    " + code.trimmed() + '\n';
        for (const QString &line : code.split('\n'))
            out += (line.startsWith("    ")    ? line.mid(4)
                    : line.trimmed().isEmpty() ? QString()
                                               : line) +
                   '\n';
        while (out.endsWith("\n\n"))
            out.chop(1);
        return out;
    }

    QString unusedState(const QString &code) const
    {
        return usedIn(code).isEmpty() && !code.contains("state") ? "    Q_UNUSED(state)\n" : "";
    }

    QString end()
    {
        QString code = lines(Stage::Show, cut_.showChanges);
        if (cut_.stops)
            code.prepend("    if (state.stopped)\n        return;\n");
        return "// On the loop, once there is no more.\nvoid " + class_ + "::" + name_ + "End(" + type_ +
               " &state)\n{\n" + unusedState(code) + names(usedIn(code)) + code + '}';
    }

    const CodeNode *loop_ = nullptr;
    QStringList names_, fields_, types_, values_;
    QString type_, list_;
};

} // namespace

Rewritten rewriteForSteps(const CutQuestion &question, const Cut &cut, const QString &name, int comment)
{
    return StepsWriter(question, cut, name).write(comment);
}

} // namespace pipit
