#include "core/moves/other.h"

#include "core/base/files.h"
#include "core/code/reader.h"
#include "core/moves/rewrite.h"
#include "core/moves/surroundings.h"
#include "core/userfiles/cpp_scan.h"

#include <QDir>
#include <QDirIterator>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>

namespace pipit
{

namespace
{

QString commandsFile(const QString &folder)
{
    for (const char *name : {"/compile_commands.json", "/build/compile_commands.json"})
        if (QFileInfo::exists(folder + QLatin1String(name)))
            return folder + QLatin1String(name);
    return {};
}

struct Compiled {
    QString file; // absolute
    QStringList arguments;
};

// What a compiler is told, without what it writes and for whom.
QStringList argumentsOf(QStringList words, const QString &file)
{
    QStringList kept;
    for (qsizetype i = 1; i < words.size(); ++i) {
        const QString &w = words[i];
        if (w == "-o" || w == "-MF" || w == "-MT" || w == "-MQ") {
            ++i;
            continue;
        }
        if (w == "-c" || w == "-MD" || w == "-MMD" || w == "-Winvalid-pch" || w == "-Werror" ||
            QFileInfo(w).fileName() == QFileInfo(file).fileName())
            continue;
        kept << w;
    }
    return kept;
}

class OtherPlanner
{
public:
    OtherPlanner(const QString &folder, const QString &function, const QSet<int> &trusted,
                 const std::atomic<bool> &cancel)
        : folder_(QDir(folder).absolutePath()), function_(function), trusted_(trusted), reader_(cancel)
    {
    }

    Result<OtherMove> plan()
    {
        if (auto ok = find(); !ok)
            return ok.problem();
        auto unit = read({function_}, {});
        if (!unit)
            return unit.problem();
        for (const CodeMessage &m : unit->messages)
            if (m.error)
                return Problem{"It does not compile as it stands: " + m.text, m.file, "Mend it first",
                               m.line};
        const CodeFunction *f = unit->function(function_);
        if (!f)
            return Problem{function_ + " was not found by who reads code", compiled_.file,
                           "Look whether it stands behind an #if"};
        const CodeRecord *r = unit->record(unit->decls[f->decl].record);
        if (!r || !r->is("QObject"))
            return Problem{function_ + " is no function of a QObject", compiled_.file,
                           "Name a member function, as in Window::load"};
        if (unit->type(unit->decls[f->decl].returns) &&
            unit->type(unit->decls[f->decl].returns)->form != CodeType::Void)
            return Problem{function_ + " answers at once, with a value", compiled_.file,
                           "Only a function that returns nothing can end later"};
        return cut(*unit, *f);
    }

private:
    Outcome find()
    {
        const QString commands = commandsFile(folder_);
        auto bytes = readFile(commands);
        if (!bytes)
            return bytes.problem();
        const QString name =
            QRegularExpression::escape(function_).replace("\\:\\:", "\\s*::\\s*").replace("::", "\\s*::\\s*");
        const QRegularExpression form("\\b" + name + "\\s*\\(");
        for (const auto &v : QJsonDocument::fromJson(*bytes).array()) {
            const QJsonObject o = v.toObject();
            const QString file = QDir(o["directory"].toString()).absoluteFilePath(o["file"].toString());
            auto text = readFile(file);
            if (!text)
                continue;
            if (!form.match(codeOnly(QString::fromUtf8(*text))).hasMatch()) {
                others_ += QString::fromUtf8(*text);
                continue;
            }
            QStringList words = QProcess::splitCommand(o["command"].toString());
            if (o.contains("arguments")) {
                words.clear();
                for (const auto &w : o["arguments"].toArray())
                    words << w.toString();
            }
            if (!compiled_.file.isEmpty()) {
                others_ += QString::fromUtf8(*text);
                continue;
            }
            compiled_ = {file, argumentsOf(words, file)};
            compiled_.arguments << "-working-directory" << o["directory"].toString();
            text_ = QString::fromUtf8(*text);
        }
        if (compiled_.file.isEmpty())
            return Problem{function_ + " is in none of the files that are compiled", commands,
                           "Name it with its class, as in Window::load"};
        return Done{};
    }

    Result<CodeUnit> read(const QStringList &functions, const QHash<QString, QString> &texts)
    {
        CodeQuestion q;
        q.file = compiled_.file;
        q.arguments = compiled_.arguments;
        q.own = {folder_ + '/'};
        q.functions = functions;
        q.texts = texts;
        return reader_.read(q);
    }

    Result<OtherMove> cut(const CodeUnit &unit, const CodeFunction &f)
    {
        const Effects effects(unit);
        const Surroundings around = surroundingsOf(unit, f, {codeOnly(others_)}, {});
        const CutQuestion question{unit,  effects,        f,  text_, trusted_, around.shared, around.heard,
                                   false, around.callers, {}, true};
        const Cut cut = cutForBackground(question);
        move_.file = QDir(folder_).relativeFilePath(compiled_.file);
        for (const PlacedStatement &s : cut.statements)
            move_.lines.append(
                {lineAt(text_, s.node->begin),
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
                 "what it reads is what its last run shows, so it would have to wait for its turn"});
        if (!cut.freed.isEmpty() && move_.refused.isEmpty())
            move_.refused.append(
                {move_.file, head, "it calls functions of the object that would have to be plain ones"});
        if (!move_.refused.isEmpty())
            return move_;
        move_.sentences = cut.notes;
        const QString name = function_.section("::", -1);
        const Rewritten made = rewriteInPlace(question, cut, name);
        return compose(f, made, head);
    }

    Result<OtherMove> compose(const CodeFunction &f, const Rewritten &made, int head)
    {
        // What stands above the function stays above it.
        const auto d = definitionOf(text_, function_.section("::", -2, -2), function_.section("::", -1));
        const qsizetype from = d ? d->begin : f.begin;
        QString after = text_;
        after.replace(f.begin, f.body.end - f.begin, made.functions);
        after.insert(from, made.structs);
        QStringList includes = made.includes;
        includes.sort();
        includes.removeDuplicates();
        QString lines;
        for (const QString &each : std::as_const(includes))
            if (!text_.contains(QRegularExpression("#include\\s*[<\"](?:\\w+/)?" + each + "(?:\\.h)?[>\"]")))
                lines += "#include <" + each + ">\n";
        const qsizetype include = text_.left(from).lastIndexOf("#include");
        const qsizetype at = include < 0 ? 0 : text_.indexOf('\n', include) + 1;
        after.insert(at, lines);
        const QString work = function_.section("::", -1) + "Work";
        auto unit = read({"(anonymous namespace)::" + work}, {{compiled_.file, after}});
        if (!unit)
            return unit.problem();
        for (const CodeMessage &m : unit->messages)
            if (m.error) {
                move_.refused.append({move_.file, head, "what would come out does not compile: " + m.text});
                return move_;
            }
        const CodeFunction *w = unit->function("(anonymous namespace)::" + work);
        const Effects effects(*unit);
        if (!w)
            move_.refused.append({move_.file, head, "what would come out cannot be read"});
        else if (trusted_.isEmpty())
            for (const Effect &e : effects.of(w->body))
                if (e.kind != Effect::ReadsShared && e.kind != Effect::WritesShared)
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
        process.start(
            "diff", {"-u", "--label", "a/" + move_.file, "--label", "b/" + move_.file, compiled_.file, now});
        if (!process.waitForFinished(10'000) || process.exitCode() > 1)
            return Problem{"The change could not be written down: " + process.errorString(), "diff", {}};
        move_.diff = QString::fromUtf8(process.readAllStandardOutput());
        return move_;
    }

    QString folder_, function_;
    QSet<int> trusted_;
    CodeReader reader_;
    Compiled compiled_;
    QString text_, others_;
    OtherMove move_;
};

} // namespace

bool hasCompileCommands(const QString &folder)
{
    return !commandsFile(folder).isEmpty();
}

Result<OtherMove> planOtherMove(const QString &folder, const QString &function, const QSet<int> &trusted,
                                const std::atomic<bool> &cancel)
{
    return OtherPlanner(folder, function, trusted, cancel).plan();
}

} // namespace pipit
