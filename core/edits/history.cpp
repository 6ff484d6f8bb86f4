#include "core/edits/history.h"

#include "core/base/files.h"
#include "core/store/store.h"

#include <QJsonArray>
#include <QJsonDocument>

namespace pipit
{

namespace
{

constexpr qsizetype mostBytes = 1'000'000, mostSteps = 40;

QString fileOf(const ProjectPlace &place)
{
    return place.folder + "/.pipit/history.json";
}

QJsonObject encode(const FileEdit &f)
{
    return {{"file", f.file},         {"offset", qint64(f.offset)}, {"removed", f.removed},
            {"inserted", f.inserted}, {"before", f.before},         {"after", f.after},
            {"made", f.made}};
}

FileEdit decode(const QJsonObject &o)
{
    return {o["file"].toString(),    qsizetype(o["offset"].toInteger()),
            o["removed"].toString(), o["inserted"].toString(),
            o["before"].toString(),  o["after"].toString(),
            o["made"].toBool()};
}

} // namespace

Outcome keepHistory(const ProjectPlace &place, const QList<Edit> &steps, const Project &now)
{
    QJsonArray kept;
    qsizetype bytes = 0;
    for (qsizetype i = steps.size(); i-- > 0 && kept.size() < mostSteps;) {
        const QByteArray before = projectBytes(steps[i].before);
        bytes += before.size();
        QJsonArray files;
        for (const FileEdit &f : steps[i].files) {
            files.append(encode(f));
            bytes += f.inserted.size() + f.removed.size();
        }
        if (bytes > mostBytes)
            break;
        kept.prepend(
            QJsonObject{{"text", steps[i].text}, {"project", QString::fromUtf8(before)}, {"files", files}});
    }
    if (auto ok = makeFolder(place.folder + "/.pipit"); !ok)
        return ok;
    (void)bool(writeFileIfChanged(place.folder + "/.pipit/.gitignore", "*\n"));
    const QJsonObject all{{"version", 1}, {"now", QString::fromUtf8(projectBytes(now))}, {"steps", kept}};
    return writeFile(fileOf(place), QJsonDocument(all).toJson(QJsonDocument::Compact));
}

QList<Edit> loadHistory(const ProjectPlace &place, const Project &now)
{
    QList<Edit> steps;
    auto file = readJsonObject(fileOf(place));
    if (!file || (*file)["now"].toString().toUtf8() != projectBytes(now))
        return steps;
    Project after = now;
    const QJsonArray kept = (*file)["steps"].toArray();
    for (qsizetype i = kept.size(); i-- > 0;) {
        const QJsonObject o = kept[i].toObject();
        auto before = parseProject(o["project"].toString().toUtf8(), place.file);
        if (!before)
            return steps;
        Edit e{o["text"].toString(), *before, after, {}};
        for (const auto &f : o["files"].toArray())
            e.files.append(decode(f.toObject()));
        steps.prepend(e);
        after = *before;
    }
    return steps;
}

} // namespace pipit
