#include "core/build/diagnostics.h"

#include <QDir>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QRegularExpression>

namespace pipit
{

namespace
{

QString relative(const QString &file, const QString &folder)
{
    const QString absolute = QDir::cleanPath(QDir(folder).absoluteFilePath(file));
    return absolute.startsWith(folder + '/') ? absolute.mid(folder.size() + 1) : absolute;
}

// The place in the user's files, if the message has one anywhere; the first place otherwise.
void place(const QJsonObject &message, const QString &folder, BuildMessage &out)
{
    const auto take = [&](const QJsonObject &o) {
        const QJsonObject caret = o["locations"].toArray().first().toObject()["caret"].toObject();
        const QString file = relative(caret["file"].toString(), folder);
        const bool user =
            !QDir::isAbsolutePath(file) && !file.startsWith("generated/") && !file.startsWith(".pipit/");
        if (out.file.isEmpty() || user) {
            out.file = file;
            out.line = caret["line"].toInt();
            out.column = caret["column"].toInt();
        }
        return user;
    };
    if (take(message))
        return;
    for (const auto &child : message["children"].toArray())
        if (take(child.toObject()))
            return;
}

// "ferry_desk.cpp:12:5: error: …", as clang++ writes it. A note that follows may name the place in the
// user's files that a message in a header belongs to.
bool takeText(const QString &line, const QString &folder, QList<BuildMessage> &messages)
{
    static const QRegularExpression form(
        "^([^:\\s][^:]*):(\\d+):(\\d+): (fatal error|error|warning|note): (.*)$");
    const auto m = form.match(line);
    if (!m.hasMatch())
        return false;
    const QString file = relative(m.captured(1), folder), kind = m.captured(4);
    const auto isUsers = [](const QString &f) {
        return !QDir::isAbsolutePath(f) && !f.startsWith("generated/") && !f.startsWith(".pipit/");
    };
    if (kind != "note") {
        messages << BuildMessage{file, m.captured(2).toInt(), m.captured(3).toInt(), kind != "warning",
                                 m.captured(5)};
    } else if (!messages.isEmpty() && isUsers(file) && !isUsers(messages.last().file)) {
        messages.last().file = file;
        messages.last().line = m.captured(2).toInt();
        messages.last().column = m.captured(3).toInt();
    }
    return true;
}

} // namespace

QList<BuildMessage> diagnosticsFrom(const QByteArray &printed, const QString &folder)
{
    QList<BuildMessage> messages;
    for (const QByteArray &line : printed.split('\n')) {
        if (line.startsWith('[')) {
            for (const auto &v : QJsonDocument::fromJson(line).array()) {
                const QJsonObject o = v.toObject();
                BuildMessage m;
                m.error = o["kind"].toString().contains("error");
                m.text = o["message"].toString();
                place(o, folder, m);
                messages << m;
            }
            continue;
        }
        const QString text = QString::fromUtf8(line).trimmed();
        if (takeText(text, folder, messages))
            continue;
        static const QRegularExpression summary(
            "^\\d+ (?:error|warning)s?(?: and \\d+ errors?)? generated\\.$");
        if (summary.match(text).hasMatch())
            continue;
        static const QRegularExpression undefined("undefined (?:symbol|reference)[^:]*:? [`']?([^'\\n]+)'?");
        if (const auto m = undefined.match(text); m.hasMatch()) {
            messages << BuildMessage{
                {}, 0, 0, true, "There is no definition of " + m.captured(1).trimmed() + "."};
        } else if (text.startsWith("clang: error: linker command failed") || text.startsWith("collect2:")) {
            continue; // what the linker said stands before it
        } else if (text.contains("error") || text == "cancelled" || text.contains("could not be started")) {
            messages << BuildMessage{{}, 0, 0, true, text};
        }
    }
    return messages;
}

} // namespace pipit
