#include "core/moves/other.h"

#include "core/base/files.h"
#include "core/code/reader.h"
#include "core/moves/elsewhere.h"
#include "core/moves/helpers.h"
#include "core/moves/other_place.h"
#include "core/moves/rewrite.h"
#include "core/moves/surroundings.h"
#include "core/userfiles/cpp_scan.h"

#include <QDir>
#include <QFileInfo>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>

#include <algorithm>

namespace pipit
{

namespace
{

// Of what stands first on a line; -1 where there is no such line.
int offsetOfLine(const QString &text, int line)
{
    qsizetype at = 0;
    for (int n = 1; n < line; ++n) {
        at = text.indexOf('\n', at) + 1;
        if (at == 0)
            return -1;
    }
    while (at < text.size() && text[at] == ' ')
        ++at;
    return int(at);
}

class OtherPlanner
{
public:
    OtherPlanner(const QString &folder, const QString &wanted, const QSet<int> &trusted,
                 const std::atomic<bool> &cancel)
        : folder_(QDir(folder).absolutePath()), wanted_(wanted), trusted_(trusted), reader_(cancel)
    {
    }

    Result<OtherMove> plan()
    {
        auto place = findOtherPlace(folder_, wanted_);
        if (!place)
            return place.problem();
        place_ = std::move(*place);
        text_ = place_.text;
        move_.file = QDir(folder_).relativeFilePath(place_.file);
        return place_.line ? planAtLine() : planFunction();
    }

private:
    Result<CodeUnit> read(const QStringList &functions, int at, const QString &text)
    {
        CodeQuestion q;
        q.file = place_.file;
        q.arguments = place_.arguments;
        q.own = {folder_ + '/'};
        q.functions = functions;
        q.at = at;
        q.texts = {{place_.file, text}};
        return reader_.read(q);
    }

    Outcome compiles(const CodeUnit &unit) const
    {
        for (const CodeMessage &m : unit.messages)
            if (m.error)
                return Problem{"It does not compile: " + m.text, m.file, "Fix it first", m.line};
        return Done{};
    }

    Result<OtherMove> planAtLine()
    {
        const int at = offsetOfLine(text_, place_.line);
        if (at < 0)
            return Problem{QStringLiteral("There is no line %1").arg(place_.line), place_.file,
                           "Name the line that a lambda or a function begins on"};
        auto unit = read({}, at, text_);
        if (!unit)
            return unit.problem();
        if (auto ok = compiles(*unit); !ok)
            return ok.problem();
        if (const auto lambda = lambdaAt(*unit, text_, place_.line))
            return planLambda(*lambda);
        const CodeFunction *f = functionAt(*unit, text_, place_.line);
        if (!f)
            return Problem{QStringLiteral("There is no function at line %1").arg(place_.line), place_.file,
                           "Name the line that a lambda or a function begins on"};
        place_.function = unit->decls[f->decl].qualified;
        return planFunction();
    }

    Result<OtherMove> planLambda(const OtherLambda &asItStands)
    {
        // As deep as a function of the file, so that it can become one.
        const CodeNode *body = asItStands.node->child("body");
        if (text_.mid(body->begin, body->end - body->begin).contains("R\"")) {
            move_.refused.append(
                {move_.file, place_.line, "it has a raw string, and its lines cannot be moved"});
            return move_;
        }
        const Dedented flat = dedented(text_, *body);
        const qsizetype at = asItStands.node->begin;
        text_ = flat.text;
        auto unit = read({}, int(at), text_);
        if (!unit)
            return unit.problem();
        const auto lambda = lambdaAt(*unit, text_, lineAt(text_, at));
        if (!lambda)
            return Problem{"The lambda was not found again", place_.file, {}, place_.line};
        const LambdaNeeds needs = needsOf(*lambda, *unit, text_);
        CodeFunction f = *lambda->around;
        f.begin = lambda->node->begin;
        f.name = int(text_.indexOf(']', f.begin));
        f.body = *lambda->node->child("body");
        f.parameters.clear();
        for (const CodeNode &c : lambda->node->children)
            if (c.role == "parameter")
                f.parameters.append({c.decl, c.begin, c.end});
        bool answers = false;
        f.body.each([&](const CodeNode &n) {
            answers = answers || (n.is("return") && !n.children.isEmpty());
            return !n.is("lambda");
        });
        if (answers || !needs.why.isEmpty()) {
            move_.refused.append(
                {move_.file, place_.line, answers ? QString("it returns a value") : needs.why});
            return move_;
        }
        const InPlace how{freshName(needs.name), needs.owner, needs.captures,
                          needs.inObject ? "connect" : "QObject::connect"};
        // Bytes, as the reader counts them.
        self_ =
            unit->decls[f.decl].qualified + " lambda " + QString::number(text_.left(f.begin).toUtf8().size());
        return cut(*unit, f, how, {needs.captured, needs.borrowed}, flat.by);
    }

    QString freshName(const QString &wanted) const
    {
        const QString base = wanted.isEmpty() ? QStringLiteral("line%1").arg(place_.line) : wanted;
        QString name = base;
        for (int n = 2; text_.contains(QRegularExpression("\\b" + name + "(?:Work|Pool|Input|Result)\\b",
                                                          QRegularExpression::CaseInsensitiveOption));
             ++n)
            name = base + QString::number(n);
        return name;
    }

    Result<OtherMove> planFunction()
    {
        self_ = place_.function;
        auto unit = read({self_}, -1, text_);
        if (!unit)
            return unit.problem();
        if (auto ok = compiles(*unit); !ok)
            return ok.problem();
        const CodeFunction *f = unit->function(self_);
        if (!f)
            return Problem{self_ + " was not found", place_.file, "Check whether it is behind an #if"};
        const CodeRecord *r = unit->record(unit->decls[f->decl].record);
        if (!r || !r->is("QObject"))
            return Problem{
                self_ + " is not a member function of a QObject", place_.file,
                "Name a member function, such as Window::load, or a lambda's line, such as window.cpp:42"};
        if (unit->type(unit->decls[f->decl].returns) &&
            unit->type(unit->decls[f->decl].returns)->form != CodeType::Void)
            return Problem{self_ + " returns a value", place_.file,
                           "Only a function without a return value can end later"};
        const InPlace how{freshName(self_.section("::", -1))};
        const Dedented flat = dedented(text_, f->body);
        if (flat.by == 0)
            return cut(*unit, *f, how, {}, 0);
        text_ = flat.text; // within its class it is deeper than a function of the file
        unit = read({self_}, -1, text_);
        f = unit ? unit->function(self_) : nullptr;
        if (!f)
            return unit ? Problem{self_ + " was not found again", place_.file, {}} : unit.problem();
        return cut(*unit, *f, how, {}, flat.by);
    }

    struct Captured {
        QSet<int> all, borrowed;
    };

    Result<OtherMove> cut(const CodeUnit &unit, const CodeFunction &f, const InPlace &how,
                          const Captured &captured, int by)
    {
        const Effects effects(unit);
        const Surroundings around = surroundingsOf(unit, self_, {codeOnly(place_.others)}, {});
        CutQuestion question{unit,          effects,           f,     text_,          trusted_,
                             around.shared, around.heard,      false, around.callers, {},
                             captured.all,  captured.borrowed, true};
        const Project none;
        Handler self;
        self.name = self_.contains(" lambda ") ? QString() : self_.section("::", -1);
        self.file = move_.file;
        const OtherCode elsewhere(none, UserFiles(folder_), folder_, self, self_.section("::", -2, -2));
        question.restless = elsewhere.restless();
        // A lambda is called by its signal only; a function perhaps by others, who go on with what it leaves.
        for (const Elsewhere &e : self.name.isEmpty() ? QList<Elsewhere>() : elsewhere.calls())
            move_.refused.append({e.file, e.line, e.reason});
        for (const Effect &e : effects.of(f.body))
            if (trusted_.contains(lineAt(text_, std::max(e.at, 0))))
                answered_.insert(e.what);
        const Cut cut = cutForBackground(question);
        for (const PlacedStatement &s : cut.statements)
            move_.lines.append(
                {lineAt(text_, s.node->begin),
                 0,
                 text_.mid(s.node->begin, s.node->end - s.node->begin).section('\n', 0, 0).trimmed(),
                 s.place,
                 {},
                 s.reason});
        for (const Refusal &r : cut.refused)
            move_.refused.append({move_.file, lineAt(text_, std::max(r.at, 0)), r.reason});
        const int head = lineAt(text_, f.begin);
        if (cut.takesInTurn && move_.refused.isEmpty())
            move_.refused.append(
                {move_.file, head,
                 "it reads what its last run shows, so it would have to wait for its turn in the queue"});
        const QString className =
            unit.record(unit.decls[f.decl].record) ? unit.record(unit.decls[f.decl].record)->name : QString();
        const auto helpers =
            freeHelpers({unit, effects, cut, className, QFileInfo(place_.file).fileName(), {}, text_, {}});
        if (!helpers && move_.refused.isEmpty())
            move_.refused.append({move_.file, helpers.problem().line, helpers.problem().what});
        if (!move_.refused.isEmpty())
            return move_;
        move_.sentences = cut.notes + helpers->sentences;
        return compose(f, rewriteInPlace(question, cut, how), how, helpers->edits, by);
    }

    Result<OtherMove> compose(const CodeFunction &f, const Rewritten &made, const InPlace &how,
                              QList<FileEdit> edits, int by)
    {
        const int head = lineAt(text_, f.begin);
        edits.append({{},
                      f.body.begin,
                      text_.mid(f.body.begin, f.body.end - f.body.begin),
                      indented(made.functions, by)});
        edits.append({{}, topLevelBefore(text_, f.begin), {}, made.structs});
        QStringList includes = made.includes;
        includes.sort();
        includes.removeDuplicates();
        QString lines;
        static const QRegularExpression modules("#include\\s*<(?:Qt\\w+/)?Qt(?:Core|Gui|Widgets)>");
        const bool module = text_.contains(modules);
        for (const QString &each : std::as_const(includes))
            if (!(module && each.startsWith('Q')) &&
                !text_.contains(QRegularExpression("#include\\s*[<\"](?:\\w+/)?" + each + "(?:\\.h)?[>\"]")))
                lines += "#include <" + each + ">\n";
        const qsizetype include = text_.left(f.begin).lastIndexOf("#include");
        edits.append({{}, include < 0 ? 0 : text_.indexOf('\n', include) + 1, {}, lines});
        // Later places first, so that the offsets hold; of two at one place the later one stands behind.
        std::stable_sort(edits.begin(), edits.end(),
                         [](const FileEdit &a, const FileEdit &b) { return a.offset > b.offset; });
        QString after = text_;
        for (const FileEdit &e : std::as_const(edits))
            after.replace(e.offset, e.removed.size(), e.inserted);
        return verified(after, how.name + "Work", head);
    }

    Result<OtherMove> verified(const QString &after, const QString &work, int head)
    {
        auto unit = read({"(anonymous namespace)::" + work}, -1, after);
        if (!unit)
            return unit.problem();
        for (const CodeMessage &m : unit->messages)
            if (m.error) {
                move_.refused.append({move_.file, head, "the moved code would not compile: " + m.text});
                return move_;
            }
        const CodeFunction *w = nullptr;
        for (const CodeFunction &each : unit->functions)
            if (unit->decls[each.decl].qualified.endsWith("(anonymous namespace)::" + work))
                w = &each;
        const Effects effects(*unit);
        if (!w)
            move_.refused.append({move_.file, head, "the moved code cannot be read"});
        else
            for (const Effect &e : effects.of(w->body))
                if (!answered_.contains(e.what) && e.kind != Effect::ReadsShared &&
                    e.kind != Effect::WritesShared)
                    move_.refused.append({move_.file, head, e.what + ", on the other thread"});
        return move_.refused.isEmpty() ? diff(after) : Result<OtherMove>(move_);
    }

    Result<OtherMove> diff(const QString &after)
    {
        QTemporaryDir dir;
        const QString now = dir.path() + "/after";
        if (auto ok = writeFile(now, after.toUtf8()); !ok)
            return ok.problem();
        QProcess process;
        process.start("diff",
                      {"-u", "--label", "a/" + move_.file, "--label", "b/" + move_.file, place_.file, now});
        if (!process.waitForFinished(10'000) || process.exitCode() > 1)
            return Problem{"The change could not be written: " + process.errorString(), "diff", {}};
        move_.diff = QString::fromUtf8(process.readAllStandardOutput());
        return move_;
    }

    QString folder_, wanted_;
    QSet<int> trusted_;
    QSet<QString> answered_; // what these lines do
    CodeReader reader_;
    OtherPlace place_;
    QString text_; // the file's, with the lambda's body as deep as a function's
    QString self_; // as MemberUse calls it
    OtherMove move_;
};

} // namespace

bool hasCompileCommands(const QString &folder)
{
    return !commandsFileIn(folder).isEmpty();
}

Result<OtherMove> planOtherMove(const QString &folder, const QString &function, const QSet<int> &trusted,
                                const std::atomic<bool> &cancel)
{
    return OtherPlanner(folder, function, trusted, cancel).plan();
}

} // namespace pipit
