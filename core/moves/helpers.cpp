#include "core/moves/helpers.h"

#include "core/userfiles/cpp_scan.h"

#include <QFileInfo>
#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

class Freeing
{
public:
    explicit Freeing(const HelperQuestion &q) : q_(q) {}

    Result<FreedHelpers> all()
    {
        if (q_.cut.freed.isEmpty())
            return out_;
        QList<int> ordered(q_.cut.freed.begin(), q_.cut.freed.end());
        std::sort(ordered.begin(), ordered.end());
        for (const int m : std::as_const(ordered))
            if (auto ok = one(m); !ok)
                return ok.problem();
        const qsizetype include = q_.source.lastIndexOf(
            QRegularExpression("^#include[^\\n]*\\n", QRegularExpression::MultilineOption));
        const qsizetype at = include < 0 ? 0 : q_.source.indexOf('\n', include) + 1;
        out_.edits.append({q_.file, at, {}, '\n' + forward_});
        return out_;
    }

private:
    Problem no(const CodeDecl &d, const CodeFunction *f, const QString &why) const
    {
        return {d.name + " would have to become a plain function, but " + why,
                {},
                {},
                f && isInSource(*f) ? lineAt(q_.source, f->name) : 0};
    }

    bool isInSource(const CodeFunction &f) const
    {
        return QFileInfo(q_.unit.files.value(f.file)).fileName() == q_.file;
    }

    Outcome one(int method)
    {
        const CodeDecl &d = q_.unit.decls[method];
        const CodeFunction *f = q_.unit.functionOf(method);
        if (!f)
            return no(d, f, "its body was not found");
        const bool inSource = isInSource(*f);
        if (!inSource && QFileInfo(q_.unit.files.value(f->file)).fileName() != q_.header)
            return no(d, f, "it is in another file");
        const QString &text = inSource ? q_.source : q_.headerText;
        const QString written = headOf(d, *f, text), head = withoutDefaults(written);
        const QString declared = inSource ? declaredIn(d) : QString();
        const bool optional = written != head || declared.contains('=');
        if (optional && !q_.cut.lends.value(method).isEmpty())
            return no(d, f, "it has default arguments, and would need members as arguments");
        const bool stays = q_.cut.stays.contains(method);
        static const QRegularExpression scoped("::\\s*$");
        if (stays && inSource && !q_.source.left(f->name).contains(scoped))
            return no(d, f, "it is defined within its class");
        if (stays && std::any_of(f->parameters.begin(), f->parameters.end(), [this](const auto &p) {
                return q_.unit.decl(p.decl) && q_.unit.decl(p.decl)->name.isEmpty();
            }))
            return no(d, f, "one of its arguments has no name");
        const Outcome done = inSource ? inTheSource(d, *f, head, stays) : inTheHeader(d, *f, head, stays);
        if (!done)
            return done;
        forward_ += (declared.contains('=') ? withArguments(head, declared) : written) + ";\n";
        QStringList lent;
        for (const int field : q_.cut.lends.value(method))
            lent << q_.unit.decl(field)->name;
        out_.sentences << d.name +
                              (lent.isEmpty() ? " uses nothing of the window and"
                                              : " is told " + lent.join(" and ") + ", and") +
                              (stays ? " becomes a plain function, and the method calls it."
                                     : " becomes a plain function.");
        return Done{};
    }

    // "static double cost(int n, double rate)"
    QString headOf(const CodeDecl &d, const CodeFunction &f, const QString &text) const
    {
        QString head = text.mid(f.begin, f.body.begin - f.begin);
        static const QRegularExpression words("\\b(inline|constexpr|override|noexcept|final)\\b\\s*"),
            constant("\\)\\s*const\\b[^)]*$");
        head.remove(QRegularExpression("\\b" + q_.className + "\\s*::\\s*(?=" + d.name + "\\b)"));
        head.remove(words);
        if (const auto m = constant.match(head); m.hasMatch())
            head.replace(m.capturedStart(), m.capturedLength(), ")");
        head = head.trimmed();
        QStringList more;
        for (const int field : q_.cut.lends.value(f.decl))
            more << parameter(field, f);
        if (!more.isEmpty()) {
            const qsizetype close = head.lastIndexOf(')');
            const bool alone =
                head.mid(head.indexOf('(') + 1, close - head.indexOf('(') - 1).trimmed().isEmpty();
            head.insert(close, (alone ? "" : ", ") + more.join(", "));
        }
        return "static " + head;
    }

    // What may be left out is said once, where it is declared.
    static QString withoutDefaults(const QString &head)
    {
        QString out;
        int depth = 0;
        bool skips = false;
        for (const QChar c : head) {
            depth += c == '(' || c == '{' || c == '<' ? 1 : c == ')' || c == '}' || c == '>' ? -1 : 0;
            if (c == '=' && depth == 1)
                skips = true;
            else if (skips && ((c == ',' && depth == 1) || depth == 0))
                skips = false;
            if (skips)
                continue;
            if ((c == ',' || c == ')') && out.endsWith(' '))
                out.chop(1);
            out += c;
        }
        return out;
    }

    // The arguments of a method, as its declaration in the header has them.
    QString declaredIn(const CodeDecl &d) const
    {
        const QRegularExpression form("\\b" + d.name + "\\s*\\(([^;{}]*)\\)[^;{}()]*;");
        const auto m = form.match(q_.headerText);
        return m.hasMatch() ? m.captured(1) : QString();
    }

    static QString withArguments(const QString &head, const QString &arguments)
    {
        const qsizetype open = head.indexOf('('), close = head.lastIndexOf(')');
        return head.left(open + 1) + arguments + head.mid(close);
    }

    QString parameter(int field, const CodeFunction &f) const
    {
        const CodeDecl &d = *q_.unit.decl(field);
        const CodeType &t = *q_.unit.type(d.type);
        const QList<Effect> effects = q_.effects.of(f.body);
        const bool written = std::any_of(effects.begin(), effects.end(), [&](const Effect &e) {
            return e.kind == Effect::WritesShared && e.decl == field;
        });
        if (written)
            return t.name + " &" + d.name;
        return t.number ? t.name + ' ' + d.name : "const " + t.name + " &" + d.name;
    }

    // Members go by their names; methods that become functions are handed what they use.
    QString bodyOf(const CodeFunction &f, const QString &text) const
    {
        QList<std::pair<int, std::pair<int, QString>>> changes;
        f.body.each([&](const CodeNode &n) {
            const bool self = !n.children.isEmpty() && n.children.first().is("this");
            if (n.is("member") && self && n.begin >= 0)
                changes.append({n.begin, {n.end, q_.unit.decl(n.decl)->name}});
            if (!n.is("method") || !(self || n.onThis) || !q_.cut.freed.contains(n.decl) || n.begin < 0)
                return true;
            const QString call = text.mid(n.begin, n.end - n.begin);
            const QString name = q_.unit.decl(n.decl)->name;
            if (self)
                changes.append({n.begin, {n.begin + int(call.indexOf(name)), QString()}});
            QStringList lent;
            for (const int field : q_.cut.lends.value(n.decl))
                lent << q_.unit.decl(field)->name;
            const int close = n.begin + int(call.lastIndexOf(')'));
            const qsizetype open = call.indexOf('(') + 1;
            const bool alone = call.mid(open, close - n.begin - open).trimmed().isEmpty();
            if (!lent.isEmpty())
                changes.append({close, {close, (alone ? "" : ", ") + lent.join(", ")}});
            return true;
        });
        std::stable_sort(changes.begin(), changes.end(),
                         [](const auto &a, const auto &b) { return a.first > b.first; });
        QString body = text.mid(f.body.begin, f.body.end - f.body.begin);
        for (const auto &[begin, rest] : std::as_const(changes))
            body.replace(begin - f.body.begin, rest.first - begin, rest.second);
        return body;
    }

    QString forwarding(const CodeDecl &d, const CodeFunction &f) const
    {
        QStringList values;
        for (const CodeFunction::Parameter &p : f.parameters)
            values << q_.unit.decl(p.decl)->name;
        for (const int field : q_.cut.lends.value(f.decl))
            values << q_.unit.decl(field)->name;
        const CodeType *t = q_.unit.type(d.returns);
        return QString("{\n    ") + (t && t->form == CodeType::Void ? "" : "return ") + "::" + d.name + '(' +
               values.join(", ") + ");\n}";
    }

    Outcome inTheSource(const CodeDecl &d, const CodeFunction &f, const QString &head, bool stays)
    {
        const QString whole = q_.source.mid(f.begin, f.body.end - f.begin),
                      method = q_.source.mid(f.begin, f.body.begin - f.begin);
        const QString plain = head + '\n' + bodyOf(f, q_.source);
        out_.edits.append(
            {q_.file, f.begin, whole, stays ? plain + "\n\n" + method + forwarding(d, f) : plain});
        if (stays)
            return Done{};
        const QRegularExpression form("(?:^|(?<=[;}]))[^\\n;{}#]*\\b" + d.name +
                                          "\\s*\\(([^;{}]*)\\)[^;{}()]*;(?:[ \\t]*(?://[^\\n]*)?\\n)?",
                                      QRegularExpression::MultilineOption);
        auto it = form.globalMatch(q_.headerText);
        if (!it.hasNext())
            return no(d, &f, "its declaration was not found in " + q_.header);
        const auto where = it.next();
        if (it.hasNext())
            return no(d, &f, "its declaration in " + q_.header + " is not a plain one");
        // Among others on its line it leaves the line's end.
        QString gone = where.captured();
        const qsizetype before = where.capturedStart() - 1;
        if (before >= 0 && q_.headerText[before] != '\n' && gone.endsWith('\n'))
            gone.truncate(gone.lastIndexOf(';') + 1);
        out_.edits.append({q_.header, where.capturedStart(), gone, {}});
        return Done{};
    }

    // Defined where it is declared: the function comes into the source file.
    Outcome inTheHeader(const CodeDecl &d, const CodeFunction &f, const QString &head, bool stays)
    {
        const QString whole = q_.headerText.mid(f.begin, f.body.end - f.begin);
        QString declaration = q_.headerText.mid(f.begin, f.body.begin - f.begin).trimmed();
        QString body = bodyOf(f, q_.headerText);
        // As deep as it stood there.
        const qsizetype line = q_.headerText.lastIndexOf('\n', f.begin) + 1;
        body.replace('\n' + QString(f.begin - line, ' '), "\n");
        out_.functions += head + '\n' + body + "\n\n";
        if (!stays) {
            const bool alone = q_.headerText.mid(line, f.begin - line).trimmed().isEmpty() &&
                               q_.headerText.mid(f.body.end, 1) == "\n";
            out_.edits.append(
                alone ? FileEdit{q_.header, line, q_.headerText.mid(line, f.body.end + 1 - line), {}}
                      : FileEdit{q_.header, f.begin, whole, {}});
            return Done{};
        }
        out_.edits.append({q_.header, f.begin, whole, declaration + ';'});
        static const QRegularExpression words("\\b(inline|override|final)\\b\\s*");
        QString method = withoutDefaults(declaration.remove(words));
        method.replace(QRegularExpression("\\b" + d.name + "\\s*\\("), q_.className + "::" + d.name + '(');
        out_.functions += method + '\n' + forwarding(d, f) + "\n\n";
        return Done{};
    }

    const HelperQuestion &q_;
    QString forward_;
    FreedHelpers out_;
};

} // namespace

Result<FreedHelpers> freeHelpers(const HelperQuestion &question)
{
    return Freeing(question).all();
}

} // namespace pipit
