#include "core/build/clangd.h"

#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/build/compiler.h"
#include "core/build/scratch.h"

#include <QDeadlineTimer>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QRegularExpression>
#include <QSet>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QUrl>

namespace pipit
{

namespace
{

// One language server over pipes: requests with numbers, answers in any order.
class Server
{
public:
    Server(const std::atomic<bool> &cancel, std::chrono::seconds patience)
        : cancel_(cancel), deadline_(patience)
    {
    }
    ~Server()
    {
        if (process_.state() == QProcess::NotRunning)
            return;
        if (!died_ && !cancel_) {
            send({{"id", ++number_}, {"method", "shutdown"}});
            notify("exit", {});
            if (process_.waitForFinished(1000))
                return;
        }
        process_.kill();
        process_.waitForFinished(2000);
    }

    Outcome start(const QString &program, const QString &folder)
    {
        process_.setStandardErrorFile(QProcess::nullDevice());
        process_.setWorkingDirectory(folder);
        process_.start(program, {"--compile-commands-dir=" + folder, "--enable-config=0",
                                 "--background-index=0", "--clang-tidy=0", "--log=error", "-j=2"});
        if (!process_.waitForStarted(5000))
            return Problem{"clangd could not be started: " + process_.errorString(), program, remedy};
        const QJsonObject root{{"processId", QJsonValue::Null},
                               {"rootUri", QUrl::fromLocalFile(folder).toString()},
                               {"capabilities", QJsonObject{}}};
        auto ready = request("initialize", root);
        if (!ready)
            return ready.problem();
        notify("initialized", QJsonObject{});
        return Done{};
    }

    void notify(const QString &method, const QJsonValue &params)
    {
        send({{"method", method}, {"params", params}});
    }

    Result<QJsonValue> request(const QString &method, const QJsonValue &params)
    {
        const int mine = ++number_;
        send({{"id", mine}, {"method", method}, {"params", params}});
        for (;;) {
            auto message = receive();
            if (!message)
                return message.problem();
            if (message->value("id").toInt(-1) == mine && !message->contains("method"))
                return message->value("result");
        }
    }

private:
    static constexpr const char *remedy =
        "The names were looked for in the text alone; look at the lines before you rename";

    void send(QJsonObject message)
    {
        message.insert("jsonrpc", "2.0");
        const QByteArray body = QJsonDocument(message).toJson(QJsonDocument::Compact);
        process_.write("Content-Length: " + QByteArray::number(body.size()) + "\r\n\r\n" + body);
    }

    // The next whole message.
    Result<QJsonObject> receive()
    {
        for (;;) {
            if (const qsizetype head = read_.indexOf("\r\n\r\n"); head >= 0) {
                static const QRegularExpression form("Content-Length: *(\\d{1,9})");
                const auto m = form.match(QString::fromLatin1(read_.left(head)));
                const qsizetype size = m.captured(1).toLongLong();
                if (!m.hasMatch())
                    return lost("it does not speak the protocol");
                if (read_.size() >= head + 4 + size) {
                    const QByteArray body = read_.mid(head + 4, size);
                    read_.remove(0, head + 4 + size);
                    return QJsonDocument::fromJson(body).object();
                }
            }
            if (cancel_)
                return lost("it was cancelled");
            if (deadline_.hasExpired())
                return lost("it took too long");
            if (!process_.waitForReadyRead(100) && process_.state() == QProcess::NotRunning)
                return lost("it ended");
            read_ += process_.readAllStandardOutput();
        }
    }

    Problem lost(const QString &why)
    {
        died_ = true;
        return {"clangd did not answer: " + why, {}, remedy};
    }

    const std::atomic<bool> &cancel_;
    QDeadlineTimer deadline_;
    QProcess process_;
    QByteArray read_;
    int number_ = 0;
    bool died_ = false;
};

// A compilation database: the only flags that clangd hears of.
QByteArray flagsFor(const QString &folder, const QStringList &names)
{
    QStringList flags = gcc().flags();
    flags.removeAll("-fdiagnostics-format=json"); // of another compiler
    flags.removeAll("-Winvalid-pch");
    QJsonArray all;
    for (const QString &n : names) {
        QJsonArray words{"clang++"};
        for (const QString &f : std::as_const(flags))
            words.append(f);
        if (n.endsWith(".h"))
            for (const char *w : {"-x", "c++-header"})
                words.append(QLatin1String(w));
        for (const QString &w : {QString("-I"), folder, folder + '/' + n})
            words.append(w);
        all.append(QJsonObject{{"directory", folder}, {"file", folder + '/' + n}, {"arguments", words}});
    }
    return QJsonDocument(all).toJson();
}

// A field or function of one of the windows, or a function of a handler that stands alone. The form of
// such names is that of clang's "unified symbol resolution": c:@S@FerryDeskBase@FI@boardButton.
bool isOurs(const QString &usr, const QString &name, const QSet<QString> &classes)
{
    static const QRegularExpression member("^c:@S@(\\w+)@(?:FI|F|S)@(\\w+)"), alone("^c:@F@(\\w+)");
    if (const auto m = member.match(usr); m.hasMatch())
        return classes.contains(m.captured(1)) && m.captured(2) == name;
    const auto m = alone.match(usr);
    return m.hasMatch() && m.captured(1) == name;
}

} // namespace

QString clangdProgram()
{
    const QString named = qEnvironmentVariable("PIPIT_CLANGD");
    if (named == "none")
        return {};
    return named.isEmpty() ? QStandardPaths::findExecutable("clangd") : named;
}

Result<WordVerdicts> askClangd(const ProjectPlace &place, const Project &project, UserFiles &files,
                               const QList<CodeWord> &words, const std::atomic<bool> &cancel,
                               std::chrono::seconds patience)
{
    WordVerdicts verdicts;
    const QString program = clangdProgram();
    if (program.isEmpty())
        return Problem{"clangd is not installed", {}, "Install it, or look at the lines before you rename"};
    QStringList names;
    for (const CodeWord &w : words)
        if (!names.contains(w.file))
            names << w.file;
    if (names.isEmpty())
        return verdicts;
    const QTemporaryDir dir;
    const QString folder = dir.path();
    if (auto ok = layOut(folder, place, project, files); !ok)
        return ok.problem();
    if (auto ok = writeFile(folder + "/compile_commands.json", flagsFor(folder, names)); !ok)
        return ok.problem();
    Server server(cancel, patience);
    if (auto ok = server.start(program, folder); !ok)
        return ok.problem();
    const auto uri = [&](const QString &file) { return QUrl::fromLocalFile(folder + '/' + file).toString(); };
    for (const QString &n : std::as_const(names)) {
        auto text = files.text(n);
        if (!text)
            return text.problem();
        server.notify("textDocument/didOpen", QJsonObject{{"textDocument", QJsonObject{{"uri", uri(n)},
                                                                                       {"languageId", "cpp"},
                                                                                       {"version", 1},
                                                                                       {"text", *text}}}});
    }
    QSet<QString> classes;
    for (const WindowNode &w : project.windows)
        classes << w.className << w.className + "Base";
    for (const CodeWord &w : words) {
        auto answer = server.request(
            "textDocument/symbolInfo",
            QJsonObject{{"textDocument", QJsonObject{{"uri", uri(w.file)}}},
                        {"position", QJsonObject{{"line", w.line - 1}, {"character", w.column}}}});
        if (!answer)
            return answer.problem();
        const QJsonArray symbols = answer->toArray();
        if (symbols.isEmpty())
            continue; // behind an #if, or in code that does not compile
        bool ours = false;
        for (const auto &s : symbols)
            ours = ours || isOurs(s.toObject()["usr"].toString(), w.name, classes);
        verdicts.insert({w.file, w.offset}, ours);
    }
    return verdicts;
}

} // namespace pipit
