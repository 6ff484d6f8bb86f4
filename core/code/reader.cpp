#include "core/code/reader.h"

#include "core/base/files.h"

#include <QCoreApplication>
#include <QDeadlineTimer>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include <algorithm>

namespace pipit
{

namespace
{

constexpr const char *remedy = "Do it by hand, or say which code it was";

QString program()
{
    return QCoreApplication::applicationDirPath() + "/pipit-reader";
}

// From bytes of a file to QChars of its text.
class Offsets
{
public:
    explicit Offsets(const QByteArray &bytes)
    {
        if (std::all_of(bytes.begin(), bytes.end(), [](char c) { return uchar(c) < 0x80; }))
            return;
        chars_.reserve(bytes.size() + 1);
        int at = 0;
        for (const char c : bytes) {
            const auto b = uchar(c);
            chars_ << at;
            // A character counts at its first byte; beyond the first plane it is two.
            at += (b & 0xC0) == 0x80 ? 0 : b >= 0xF0 ? 2 : 1;
        }
        chars_ << at;
    }
    int operator()(int byte) const
    {
        return byte < 0 || chars_.isEmpty() ? byte : chars_.value(byte, chars_.last());
    }

private:
    QList<int> chars_;
};

QStringList textsOf(const QJsonValue &list)
{
    QStringList out;
    for (const auto &v : list.toArray())
        out << v.toString();
    return out;
}

QList<int> numbersOf(const QJsonValue &list)
{
    QList<int> out;
    for (const auto &v : list.toArray())
        out << v.toInt();
    return out;
}

CodeNode nodeOf(const QJsonObject &o, const Offsets &offsets)
{
    CodeNode n;
    n.kind = o["k"].toString();
    n.role = o["r"].toString();
    n.op = o["o"].toString();
    n.how = o["x"].toString();
    n.passes = o["p"].toString();
    n.begin = offsets(o["b"].toInt(-1));
    n.end = offsets(o["e"].toInt(-1));
    n.decl = o["d"].toInt(-1);
    n.type = o["t"].toInt(-1);
    n.macro = o["m"].toBool();
    n.onThis = o["this"].toBool();
    n.named = o["named"].toBool();
    for (const auto &c : o["c"].toArray())
        n.children << nodeOf(c.toObject(), offsets);
    return n;
}

CodeType typeOf(const QJsonObject &o)
{
    static const QHash<QString, CodeType::Form> forms = {
        {"value", CodeType::Value},       {"pointer", CodeType::Pointer}, {"array", CodeType::Array},
        {"function", CodeType::Function}, {"void", CodeType::Void},       {"unknown", CodeType::Unknown}};
    return {o["name"].toString(),
            o["canonical"].toString(),
            forms.value(o["form"].toString(), CodeType::Unknown),
            o["record"].toInt(-1),
            o["reference"].toBool(),
            o["const"].toBool(),
            o["pointsToConst"].toBool(),
            o["number"].toBool(),
            o["here"].toBool(),
            numbersOf(o["holds"])};
}

CodeDecl declOf(const QJsonObject &o)
{
    static const QHash<QString, CodeDecl::Kind> kinds = {
        {"local", CodeDecl::Local},   {"parameter", CodeDecl::Parameter},  {"static", CodeDecl::Static},
        {"global", CodeDecl::Global}, {"field", CodeDecl::Field},          {"constant", CodeDecl::Constant},
        {"method", CodeDecl::Method}, {"function", CodeDecl::FreeFunction}};
    CodeDecl d;
    d.name = o["name"].toString();
    d.qualified = o["qualified"].toString();
    d.kind = kinds.value(o["kind"].toString(), CodeDecl::Other);
    d.own = o["own"].toBool();
    d.type = o["type"].toInt(-1);
    d.returns = o["returns"].toInt(-1);
    d.record = o["class"].toInt(-1);
    d.file = o["file"].toInt(-1);
    d.at = o["at"].toInt(-1);
    d.fixed = o["fixed"].toBool() || (o["constexpr"].toBool() && !o.contains("body"));
    d.takes = numbersOf(o["takes"]);
    d.hasBody = o["body"].toBool();
    d.isConst = o["const"].toBool();
    d.isStatic = o["static"].toBool();
    d.isVirtual = o["virtual"].toBool();
    d.isSignal = o["signal"].toBool();
    d.isPublic = o["public"].toBool(true);
    return d;
}

class Unpacked
{
public:
    explicit Unpacked(const CodeQuestion &question) : question_(question) {}

    CodeUnit unit(const QJsonObject &answer)
    {
        CodeUnit u;
        for (const auto &v : answer["messages"].toArray()) {
            const QJsonObject m = v.toObject();
            u.messages.append({m["file"].toString(), m["text"].toString(), m["line"].toInt(),
                               m["column"].toInt(), m["error"].toBool()});
        }
        const QJsonObject o = answer["unit"].toObject();
        u.files = textsOf(o["files"]);
        for (const auto &t : o["types"].toArray())
            u.types << typeOf(t.toObject());
        for (const auto &v : o["records"].toArray()) {
            const QJsonObject r = v.toObject();
            u.records.append({r["name"].toString(), textsOf(r["bases"]), r["own"].toBool(),
                              r["here"].toBool(), r["copies"].toBool(), r["makes"].toBool(),
                              r["lambda"].toBool(), r["local"].toBool()});
        }
        for (const auto &d : o["decls"].toArray())
            u.decls << declOf(d.toObject());
        for (CodeDecl &d : u.decls)
            if (d.own && d.file >= 0)
                d.at = offsets(u.files.value(d.file))(d.at);
        for (const auto &v : o["uses"].toArray()) {
            const QJsonObject use = v.toObject();
            const int file = use["file"].toInt(-1);
            u.uses.append({use["function"].toString(), use["constructs"].toBool(), file,
                           offsets(u.files.value(file))(use["at"].toInt(-1)), numbersOf(use["used"]),
                           textsOf(use["heard"]), numbersOf(use["calls"]), textsOf(use["called"])});
        }
        for (const auto &f : o["functions"].toArray())
            u.functions << function(f.toObject(), u);
        return u;
    }

private:
    CodeFunction function(const QJsonObject &o, const CodeUnit &u)
    {
        CodeFunction f;
        f.decl = o["d"].toInt(-1);
        f.file = o["file"].toInt(-1);
        const Offsets &at = offsets(u.files.value(f.file));
        f.begin = at(o["begin"].toInt(-1));
        f.name = at(o["name"].toInt(-1));
        for (const auto &v : o["parameters"].toArray()) {
            const QJsonObject p = v.toObject();
            f.parameters.append({p["d"].toInt(-1), at(p["b"].toInt(-1)), at(p["e"].toInt(-1))});
        }
        f.body = nodeOf(o["body"].toObject(), at);
        for (const auto &i : o["inits"].toArray())
            f.inits << nodeOf(i.toObject(), at);
        return f;
    }

    const Offsets &offsets(const QString &file)
    {
        const auto found = known_.constFind(file);
        if (found != known_.constEnd())
            return *found;
        QByteArray bytes;
        if (const auto text = question_.texts.constFind(file); text != question_.texts.constEnd())
            bytes = text->toUtf8();
        else if (auto read = readFile(file))
            bytes = *read;
        return *known_.insert(file, Offsets(bytes));
    }

    const CodeQuestion &question_;
    QHash<QString, Offsets> known_;
};

QString textOfFile(const QString &file)
{
    const auto bytes = readFile(file);
    return bytes ? QString::fromUtf8(*bytes) : QString();
}

QByteArray lineOf(const CodeQuestion &q)
{
    QJsonObject o{{"file", q.file},
                  {"arguments", QJsonArray::fromStringList(q.arguments)},
                  {"own", QJsonArray::fromStringList(q.own)}};
    QJsonObject texts;
    for (auto it = q.texts.begin(); it != q.texts.end(); ++it)
        texts.insert(it.key(), it.value());
    o.insert("texts", texts);
    if (q.complete) {
        const QString before = (q.texts.contains(q.file) ? q.texts[q.file] : textOfFile(q.file)).left(q.at);
        o.insert(
            "complete",
            QJsonObject{{"line", qint64(before.count('\n') + 1)},
                        {"column", qint64(before.mid(before.lastIndexOf('\n') + 1).toUtf8().size() + 1)}});
    } else if (!q.words.isEmpty()) {
        // In bytes.
        const QString text = q.texts.contains(q.file) ? q.texts[q.file] : textOfFile(q.file);
        QJsonArray words;
        for (const int at : q.words)
            words.append(qint64(QStringView(text).left(at).toUtf8().size()));
        o.insert("words", words);
    } else if (!q.functions.isEmpty())
        o.insert("names", QJsonArray::fromStringList(q.functions));
    else if (q.at >= 0)
        o.insert("at", q.texts.contains(q.file) ? q.texts[q.file].left(q.at).toUtf8().size() : q.at);
    return QJsonDocument(o).toJson(QJsonDocument::Compact) + '\n';
}

} // namespace

CodeReader::CodeReader(const std::atomic<bool> &cancel, std::chrono::seconds patience)
    : cancel_(cancel), patience_(patience)
{
}

CodeReader::~CodeReader()
{
    if (process_.state() == QProcess::NotRunning)
        return;
    process_.closeWriteChannel();
    if (!process_.waitForFinished(200)) {
        process_.kill();
        process_.waitForFinished(2000);
    }
}

bool CodeReader::isThere()
{
    return QFileInfo(program()).isExecutable();
}

Outcome CodeReader::start()
{
    if (process_.state() == QProcess::Running)
        return Done{};
    process_.setStandardErrorFile(QProcess::nullDevice());
    process_.start(program(), QStringList());
    if (!process_.waitForStarted(5000))
        return Problem{"The program that reads code could not be started: " + process_.errorString(),
                       program(), "Install Pipit anew, with clang 14's libraries"};
    return Done{};
}

Result<QByteArray> CodeReader::ask(const QByteArray &line)
{
    QDeadlineTimer deadline(patience_);
    process_.write(line);
    while (!process_.canReadLine()) {
        const bool late = deadline.hasExpired();
        if (cancel_ || late) {
            process_.kill();
            process_.waitForFinished(2000);
            return Problem{cancel_
                               ? QString("Reading the code was cancelled")
                               : QStringLiteral("The code was not read within %1 s").arg(patience_.count()),
                           {},
                           cancel_ ? "" : remedy};
        }
        if (!process_.waitForReadyRead(50) && process_.state() == QProcess::NotRunning &&
            !process_.canReadLine())
            return Problem{"The program that reads code ended while it read", {}, remedy};
    }
    return process_.readLine();
}

Result<QJsonObject> CodeReader::answerTo(const CodeQuestion &question)
{
    const QByteArray line = lineOf(question);
    auto said = Result<QByteArray>(QByteArray());
    // What it died of may have been left over from what it had read before.
    for (int attempt = 0; attempt < 2; ++attempt) {
        const bool fresh = process_.state() != QProcess::Running;
        if (auto ok = start(); !ok)
            return ok.problem();
        said = ask(line);
        if (said || fresh || cancel_)
            break;
    }
    if (!said) {
        Problem p = said.problem();
        p.where = question.file;
        return p;
    }
    const QJsonObject answer = QJsonDocument::fromJson(*said).object();
    if (const QString problem = answer["problem"].toString(); !problem.isEmpty() || answer.isEmpty())
        return Problem{"The code could not be read: " + (problem.isEmpty() ? QString("no answer") : problem),
                       question.file, remedy};
    return answer;
}

Result<CodeUnit> CodeReader::read(const CodeQuestion &question)
{
    const auto answer = answerTo(question);
    return answer ? Result<CodeUnit>(Unpacked(question).unit(*answer)) : answer.problem();
}

Result<QList<CodeCompletion>> CodeReader::completions(const CodeQuestion &question)
{
    CodeQuestion asked = question;
    asked.complete = true;
    const auto answer = answerTo(asked);
    if (!answer)
        return answer.problem();
    QList<CodeCompletion> all;
    for (const auto &v : (*answer)["completions"].toArray())
        all.append({v.toObject()["word"].toString(), v.toObject()["type"].toString()});
    return all;
}

Result<QList<QStringList>> CodeReader::meanings(const CodeQuestion &question)
{
    const auto answer = answerTo(question);
    if (!answer)
        return answer.problem();
    QList<QStringList> all;
    for (const auto &each : (*answer)["meanings"].toArray())
        all << textsOf(each);
    return all;
}

} // namespace pipit
