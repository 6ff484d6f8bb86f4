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
        static const QRegularExpression undefined("undefined (?:symbol|reference)[^:]*:? [`']?([^'\\n]+)'?");
        if (const auto m = undefined.match(text); m.hasMatch()) {
            messages << BuildMessage{
                {}, 0, 0, true, "There is no definition of " + m.captured(1).trimmed() + "."};
        } else if (text.contains("error") || text == "cancelled" || text.contains("could not be started")) {
            messages << BuildMessage{{}, 0, 0, true, text};
        }
    }
    return messages;
}

} // namespace pipit
