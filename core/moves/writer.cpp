#include "core/moves/writer.h"

namespace pipit
{

CodeWriter::CodeWriter(const CutQuestion &q, const Cut &cut, QString name)
    : q_(q), cut_(cut), name_(std::move(name)), self_(*q.unit.decl(q.function.decl))
{
    const CodeRecord *r = q.unit.record(self_.record);
    class_ = r ? r->name : QString();
}

QString CodeWriter::capital(QString name)
{
    if (!name.isEmpty())
        name[0] = name[0].toUpper();
    return name;
}

bool CodeWriter::isPlainType(const QString &type)
{
    static const QStringList plain = {"int",         "bool",       "double", "float", "qint64",
                                      "quint64",     "qsizetype",  "uint",   "char",  "QString",
                                      "QStringList", "QByteArray", "long",   "qreal", "unsigned int"};
    return plain.contains(type);
}

bool CodeWriter::isNumber(const QString &type)
{
    return isPlainType(type) && !type.startsWith("QS") && !type.startsWith("QB");
}

QString CodeWriter::listOf(const QString &type)
{
    return type == "QString" ? QString("QStringList") : "QList<" + type + '>';
}

QString CodeWriter::field(const QString &type, const QString &name, const QString &remark)
{
    static const QStringList numbers = {"int",          "double",        "float",      "qint64", "quint64",
                                        "qsizetype",    "uint",          "char",       "long",   "qreal",
                                        "unsigned int", "unsigned long", "long long",  "short",  "qlonglong",
                                        "qulonglong",   "size_t",        "std::size_t"};
    const QString value = type == "bool" ? " = false" : numbers.contains(type) ? " = 0" : QString();
    return "    " + type + ' ' + name + value + ';' + (remark.isEmpty() ? QString() : " // " + remark) + '\n';
}

// The headers that a type needs.
void CodeWriter::include(const QString &type)
{
    static const QRegularExpression words("\\b(Q[A-Z]\\w+)|std::(\\w+)");
    for (auto it = words.globalMatch(type); it.hasNext();) {
        const auto m = it.next();
        if (!m.captured(1).isEmpty())
            out_.includes << m.captured(1);
        else if (QStringList{"optional", "vector", "map", "set", "string", "pair", "array", "unordered_map",
                             "deque", "list", "variant", "chrono", "complex", "tuple", "atomic"}
                     .contains(m.captured(2)))
            out_.includes << (m.captured(2) == "pair" ? QString("utility") : m.captured(2));
    }
}

// The text of a range with the changes in it.
QString CodeWriter::changed(const QString &text, int begin, int end, QList<TextChange> changes)
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
int CodeWriter::lineEnd(int after) const
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
QString CodeWriter::lines(Stage place, const QList<TextChange> &changes, bool early) const
{
    QString out;
    int from = q_.function.body.begin + 1;
    if (from < q_.text.size() && q_.text[from] == '\n')
        ++from;
    for (const PlacedStatement &s : cut_.statements) {
        const int end = lineEnd(s.node->end);
        if (s.place == place && s.early == early && !s.atTurn && !isOnlyFor(s, place)) {
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

QString CodeWriter::atTurn() const
{
    QString out;
    for (const PlacedStatement &s : cut_.statements)
        if (s.atTurn)
            out +=
                "    " + changed(q_.text, s.node->begin, s.node->end, cut_.showChanges) + " // at its turn\n";
    return out;
}

// A constant that nothing here uses, but something elsewhere does.
bool CodeWriter::isOnlyFor(const PlacedStatement &s, Stage place) const
{
    if (!isConstants(s) || isNeeded(s, place))
        return false;
    for (const Handed &h : cut_.input)
        for (const CodeNode &v : s.node->children)
            if (place == Stage::Take && h.value.contains(q_.unit.decl(v.decl)->name))
                return false;
    for (const Stage other : {Stage::Take, Stage::Work, Stage::Show})
        if (other != place && isNeeded(s, other))
            return true;
    return false;
}

bool CodeWriter::isConstants(const PlacedStatement &s) const
{
    return s.node->is("declare") &&
           std::all_of(s.node->children.begin(), s.node->children.end(), [this](const CodeNode &v) {
               return q_.effects.isConstant(v.decl) || cut_.tellers.contains(v.decl);
           });
}

// Constants are written down wherever they are used.
bool CodeWriter::isNeeded(const PlacedStatement &s, Stage place) const
{
    if (!isConstants(s))
        return false;
    // In the work what they tell stands in place of the calls.
    if (place == Stage::Work && !q_.steps && cut_.tellers.contains(s.node->children.first().decl))
        return false;
    bool used = false;
    QSet<int> declares;
    for (const CodeNode &v : s.node->children)
        declares.insert(v.decl);
    for (const PlacedStatement &o : cut_.statements)
        if (o.place == place)
            o.node->each([&](const CodeNode &n) {
                used = used || (n.is("name") && declares.contains(n.decl));
                return !used;
            });
    return used;
}

bool CodeWriter::hasLambda(Stage place) const
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

QString CodeWriter::head(const QString &type, const QString &function) const
{
    // The parameters as the person has them.
    const int open = int(q_.text.indexOf('(', q_.function.name));
    if (open < 0 || open > q_.function.body.begin) // a lambda without arguments
        return type + ' ' + class_ + "::" + function + "()";
    QString rest = q_.text.mid(open, q_.function.body.begin - open);
    return type + ' ' + class_ + "::" + function + rest;
}

// An argument that only what comes after the work, or nothing, uses is handed on, so it is used.
QString CodeWriter::unusedArguments() const
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

// The type of all that was gathered: a list for each loop.
QString CodeWriter::gatheredType(const Gathering &g)
{
    QString type = listOf(g.type);
    for (qsizetype i = 1; i < g.loops.size(); ++i)
        type = "QList<" + type + '>';
    return type;
}

QString CodeWriter::gathering()
{
    QString body;
    QList<const Gathering *> done;
    for (const Gathering &first : cut_.gathered) {
        QList<const Gathering *> together;
        for (const Gathering &g : cut_.gathered)
            if (g.loops == first.loops && !done.contains(&g))
                together << &g;
        if (together.isEmpty())
            continue;
        done << together;
        for (const Gathering *g : std::as_const(together))
            body += "    " + gatheredType(*g) + ' ' + g->name + ";\n";
        body += gatheringLoops(together, 0, "    ");
    }
    return body;
}

// The loops once more, with nothing in them but what is gathered.
QString CodeWriter::gatheringLoops(const QList<const Gathering *> &all, qsizetype depth,
                                   const QString &indent) const
{
    const Gathering &first = *all.first();
    const bool innermost = depth + 1 == first.loops.size();
    QStringList inside;
    for (const Gathering *g : all)
        if (innermost && !g->before.isEmpty() && !inside.contains(g->before))
            inside << g->before;
    for (const Gathering *g : all) {
        const QString list = g->name + QString(".last()").repeated(depth);
        inside << list + " << " + (innermost ? g->text : innerType(*g, depth + 1) + "()") + ';';
    }
    const QString deeper = indent + "    ";
    const QString rest = innermost ? QString() : gatheringLoops(all, depth + 1, deeper);
    const bool braces = inside.size() > 1 || !rest.isEmpty();
    return indent + first.headers.value(depth) + (braces ? " {" : "") + '\n' + deeper +
           inside.join('\n' + deeper) + '\n' + rest + (braces ? indent + "}\n" : QString());
}

QString CodeWriter::innerType(const Gathering &g, qsizetype depth)
{
    QString type = listOf(g.type);
    for (qsizetype i = depth + 1; i < g.loops.size(); ++i)
        type = "QList<" + type + '>';
    return type;
}

// Lines that give what was handed over the names that the code has for it.
QString CodeWriter::unpacked(const QString &from, const QString &type, const QStringList &names,
                             const QStringList &fields, const QStringList &types,
                             const QSet<QString> &written, bool bindings) const
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

} // namespace pipit
