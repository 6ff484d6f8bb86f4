#include "core/moves/other_place.h"

#include "core/base/files.h"
#include "core/userfiles/cpp_scan.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QRegularExpression>

#include <algorithm>
#include <functional>

namespace pipit
{

namespace
{

// Of what a compiler is told what says how the code reads; another compiler knows no more of it.
QStringList argumentsOf(const QStringList &words)
{
    static const QStringList withNext = {"-I", "-isystem", "-iquote",  "-idirafter", "-D",
                                         "-U", "-include", "-imacros", "-isysroot",  "--sysroot",
                                         "-x", "-F",       "-target"},
                             starts = {"-I",         "-isystem", "-iquote",  "-idirafter", "-D",
                                       "-U",         "-std=",    "--std=",   "-nostd",     "-stdlib=",
                                       "--sysroot=", "-F",       "--target="},
                             whole = {"-ansi",         "-pthread",      "-m32",
                                      "-m64",          "-fPIC",         "-fpic",
                                      "-fPIE",         "-fpie",         "-fno-rtti",
                                      "-frtti",        "-fexceptions",  "-fno-exceptions",
                                      "-fchar8_t",     "-fno-char8_t",  "-funsigned-char",
                                      "-fsigned-char", "-fshort-enums", "-fms-extensions"};
    QStringList kept;
    for (qsizetype i = 1; i < words.size(); ++i) {
        const QString &w = words[i];
        if (withNext.contains(w) && i + 1 < words.size()) {
            kept << w << words[++i];
        } else if (whole.contains(w) || std::any_of(starts.begin(), starts.end(), [&](const QString &s) {
                       return w.startsWith(s) && w.size() > s.size();
                   })) {
            kept << w;
        }
    }
    return kept;
}

QStringList wordsOf(const QJsonObject &command)
{
    if (!command.contains("arguments"))
        return QProcess::splitCommand(command["command"].toString());
    QStringList words;
    for (const auto &w : command["arguments"].toArray())
        words << w.toString();
    return words;
}

// Whether it is the file, or may hold the function, that is wanted.
class Wanted
{
public:
    explicit Wanted(const QString &wanted)
    {
        static const QRegularExpression place("^(.+):(\\d{1,7})$");
        if (const auto m = place.match(wanted); m.hasMatch() && !m.captured(1).endsWith(':')) {
            file_ = m.captured(1);
            line = m.captured(2).toInt();
            return;
        }
        function = wanted;
        const QString name =
            QRegularExpression::escape(wanted).replace("\\:\\:", "\\s*::\\s*").replace("::", "\\s*::\\s*");
        form_.setPattern("\\b" + name + "\\s*\\(");
        // Defined within its class, it goes by its own name.
        inline_.setPattern("\\b(?:class|struct)\\s+" +
                           QRegularExpression::escape(wanted.section("::", -2, -2)) + "\\b[^;{]*\\{");
        name_.setPattern("\\b" + QRegularExpression::escape(wanted.section("::", -1)) +
                         "\\s*\\([^;{}]*\\)[^;{}]*\\{");
    }
    bool fits(const QString &file, const QString &text) const
    {
        if (line)
            return file == file_ || file.endsWith('/' + file_);
        const QString code = codeOnly(text);
        return form_.match(code).hasMatch() ||
               (function.contains("::") && inline_.match(code).hasMatch() && name_.match(code).hasMatch());
    }
    QString function;
    int line = 0;

private:
    QString file_;
    QRegularExpression form_, inline_, name_;
};

bool covers(const QString &text, int begin, int end, int line)
{
    return begin >= 0 && lineAt(text, begin) <= line && line <= lineAt(text, std::max(begin, end - 1));
}

QList<const CodeNode *> argumentsIn(const CodeNode &call)
{
    QList<const CodeNode *> all;
    call.eachArgument([&](const CodeNode &c, QChar) { all << &c; });
    return all;
}

// "ui->loadButton_" and "&QPushButton::clicked" become loadButtonClicked.
QString nameFrom(const QString &sender, const QString &signal)
{
    static const QRegularExpression last("([A-Za-z]\\w*?)_*\\W*$");
    QString name = last.match(sender).captured(1), what = last.match(signal).captured(1);
    if (name.startsWith("m_") && name.size() > 2)
        name.remove(0, 2);
    if (name.isEmpty() || what.isEmpty())
        return {};
    name[0] = name[0].toLower();
    what[0] = what[0].toUpper();
    return name + what;
}

} // namespace

QString commandsFileIn(const QString &folder)
{
    const QString name = "/compile_commands.json";
    for (const QString &place : {folder, folder + "/build"})
        if (QFileInfo::exists(place + name))
            return place + name;
    QFileInfo newest;
    for (const QFileInfo &each : QDir(folder).entryInfoList(QDir::Dirs | QDir::NoDotAndDotDot)) {
        const QFileInfo file(each.filePath() + name);
        if (file.exists() && (newest.filePath().isEmpty() || file.lastModified() > newest.lastModified()))
            newest = file;
    }
    return newest.filePath();
}

QString compiledFolderAround(const QString &file)
{
    constexpr int most = 12;
    QDir dir = QFileInfo(file).absoluteDir();
    for (int up = 0; up < most && dir.exists(); ++up) {
        if (!commandsFileIn(dir.path()).isEmpty())
            return dir.path();
        if (!dir.cdUp())
            break;
    }
    return {};
}

Result<OtherPlace> findOtherPlace(const QString &folder, const QString &wanted)
{
    const QString commands = commandsFileIn(folder);
    const auto bytes = readFile(commands);
    if (!bytes)
        return bytes.problem();
    const Wanted it(wanted);
    OtherPlace place;
    place.function = it.function;
    place.line = it.line;
    for (const auto &v : QJsonDocument::fromJson(*bytes).array()) {
        const QJsonObject o = v.toObject();
        const QString file =
            QDir::cleanPath(QDir(o["directory"].toString()).absoluteFilePath(o["file"].toString()));
        const auto text = readFile(file);
        if (!text)
            continue;
        if (!place.file.isEmpty() || !it.fits(file, QString::fromUtf8(*text))) {
            place.others += QString::fromUtf8(*text);
            continue;
        }
        place.file = file;
        place.arguments = argumentsOf(wordsOf(o));
        place.arguments << "-working-directory" << o["directory"].toString();
        place.text = QString::fromUtf8(*text);
    }
    if (place.file.isEmpty())
        return Problem{wanted + (it.line ? ": compile_commands.json does not have this file"
                                         : " is in none of the files of compile_commands.json"),
                       commands,
                       "Name it with its class, such as Window::load, or its line, such as window.cpp:42"};
    return place;
}

std::optional<OtherLambda> lambdaAt(const CodeUnit &unit, const QString &text, int line)
{
    std::optional<OtherLambda> found;
    bool begins = false;
    for (const CodeFunction &f : unit.functions) {
        if (f.file < 0 || f.file != unit.functions.first().file)
            continue;
        const std::function<void(const CodeNode &, const CodeNode *)> look = [&](const CodeNode &n,
                                                                                 const CodeNode *call) {
            if (n.is("lambda") && covers(text, n.begin, n.end, line)) {
                const bool here = lineAt(text, n.begin) == line;
                if (!found || here || !begins)
                    found = OtherLambda{&f, &n, call};
                begins = begins || here;
            }
            const bool calls = n.is("call") || n.is("method");
            for (const CodeNode &c : n.children)
                look(c, calls ? &n : call);
        };
        look(f.body, nullptr);
    }
    return found;
}

const CodeFunction *functionAt(const CodeUnit &unit, const QString &text, int line)
{
    for (const CodeFunction &f : unit.functions)
        if (f.file == unit.functions.first().file && covers(text, f.begin, f.body.end, line))
            return &f;
    return nullptr;
}

LambdaNeeds needsOf(const OtherLambda &l, const CodeUnit &unit, const QString &text)
{
    LambdaNeeds needs;
    const qsizetype close = text.indexOf(']', l.node->begin);
    needs.captures = text.mid(l.node->begin + 1, close - l.node->begin - 1).trimmed();
    bool self = false;
    for (const CodeNode &c : l.node->children)
        if (c.is("capture") && c.onThis) {
            self = true;
        } else if (c.is("capture")) {
            needs.captured.insert(c.decl);
            if (c.how == "reference")
                needs.borrowed.insert(c.decl);
        }
    const CodeDecl *around = unit.decl(l.around->decl);
    const CodeRecord *record = around ? unit.record(around->record) : nullptr;
    needs.inObject = record && record->is("QObject");
    static const QRegularExpression made("\\w\\s*=|\\*\\s*this");
    if (needs.captures.contains(made))
        needs.why = "its capture list creates a variable, which lives from call to call";
    const QList<const CodeNode *> arguments = l.call ? argumentsIn(*l.call) : QList<const CodeNode *>();
    const qsizetype at = arguments.indexOf(l.node);
    const auto textOf = [&](qsizetype i) {
        const CodeNode &n = *arguments[i];
        return n.begin < 0 ? QString() : text.mid(n.begin, n.end - n.begin).trimmed();
    };
    if (at >= 2)
        needs.name = nameFrom(textOf(0), textOf(1));
    if (self && needs.inObject) {
        needs.owner = "this";
        return needs;
    }
    // The object that the connection belongs to, or else the sender.
    static const QRegularExpression plain("^&?[A-Za-z_]\\w*$");
    const bool all = needs.captures.startsWith('&') && !needs.captures.startsWith("&&") &&
                     (needs.captures == "&" || needs.captures.startsWith("&,"));
    for (const qsizetype i : {at >= 3 ? at - 1 : qsizetype(-1), at >= 2 ? qsizetype(0) : qsizetype(-1)}) {
        if (i < 0 || !plain.match(textOf(i)).hasMatch())
            continue;
        const QString name = textOf(i).mid(textOf(i).startsWith('&') ? 1 : 0);
        const bool listed =
            QRegularExpression("(?:^|[,&\\s])" + name + "\\s*(?:,|$)").match(needs.captures).hasMatch();
        const bool byValue = needs.captures.startsWith('=') && !textOf(i).startsWith('&');
        if (name != "this" && (all || listed || byValue)) {
            needs.owner = textOf(i);
            return needs;
        }
    }
    if (needs.why.isEmpty())
        needs.why = "its object is unknown: pass a context object to connect(), which the lambda captures";
    return needs;
}

Dedented dedented(const QString &text, const CodeNode &body)
{
    Dedented out{text, 0};
    QString inner = text.mid(body.begin, body.end - body.begin);
    const qsizetype line = text.lastIndexOf('\n', body.begin) + 1;
    if (!inner.contains('\n')) {
        while (line + out.by < text.size() && text[line + out.by] == ' ')
            ++out.by;
        inner = "{\n    " + inner.mid(1).chopped(1).trimmed() + "\n}";
    } else {
        static const QRegularExpression first("\\n( *)\\S");
        out.by = std::max(0, int(first.match(inner).capturedLength(1)) - 4);
        inner.replace(QRegularExpression(QStringLiteral("\\n {1,%1}").arg(std::max(1, out.by))), "\n");
        if (out.by == 0)
            inner = text.mid(body.begin, body.end - body.begin);
    }
    out.text.replace(body.begin, body.end - body.begin, inner);
    return out;
}

QString indented(const QString &body, int by)
{
    QStringList lines = body.split('\n');
    for (qsizetype i = 1; i < lines.size(); ++i)
        if (!lines[i].trimmed().isEmpty())
            lines[i].prepend(QString(by, ' '));
    return lines.join('\n');
}

qsizetype topLevelBefore(const QString &text, qsizetype at)
{
    const QString code = codeOnly(text);
    qsizetype begin = 0; // of what is going on at the top level
    int depth = 0;
    static const QRegularExpression opens("(?:^|[\\s;}])namespace(?:\\s+[\\w:]+)?\\s*$");
    for (qsizetype i = 0; i < at && i < code.size(); ++i) {
        const QChar c = code[i];
        if (c == '{') {
            if (depth == 0 && opens.match(code.mid(begin, i - begin)).hasMatch())
                begin = i + 1;
            else
                ++depth;
        } else if (c == '}') {
            depth = std::max(0, depth - 1);
            if (depth == 0)
                begin = i + 1;
        } else if (depth == 0 && c == ';') {
            begin = i + 1;
        }
    }
    while (begin < at && code[begin].isSpace())
        ++begin;
    // Comments above it belong to it.
    static const QRegularExpression comments("(?:^[ \\t]*//[^\\n]*\\n)+\\z",
                                             QRegularExpression::MultilineOption);
    const qsizetype line = text.lastIndexOf('\n', begin) + 1;
    if (const auto m = comments.match(text.left(line)); m.hasMatch())
        return m.capturedStart();
    return line;
}

} // namespace pipit
