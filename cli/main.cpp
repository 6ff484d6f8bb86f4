#include "cli/verbs.h"
#include "core/base/files.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QJsonDocument>

#include <cstdio>
#include <unistd.h>

namespace pipit::cli
{

int fail(const Problem &problem)
{
    std::fprintf(stderr, "pipit: %s\n", problem.text().toUtf8().constData());
    return cannot;
}

void print(const QString &text)
{
    std::printf("%s\n", text.toUtf8().constData());
}

void printJson(const QJsonArray &rows)
{
    // One row a line, so that a long answer streams and diffs well.
    std::printf("[");
    for (qsizetype i = 0; i < rows.size(); ++i)
        std::printf("%s%s", i ? ",\n " : "",
                    QJsonDocument(rows[i].toObject()).toJson(QJsonDocument::Compact).constData());
    std::printf("]\n");
}

void printJson(const QJsonObject &object)
{
    std::printf("%s\n", QJsonDocument(object).toJson(QJsonDocument::Compact).constData());
}

} // namespace pipit::cli

namespace
{

// Without a verb, or with a project or recording to open, the window is started in our place.
int startWindow(char **argv)
{
    const QByteArray path = (QCoreApplication::applicationDirPath() + "/pipit-window").toUtf8();
    execv(path.constData(), argv);
    return pipit::cli::fail(
        {"pipit-window could not be started", QString::fromUtf8(path), "Install Pipit again"});
}

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    pipit::tellFilesTooLarge();
    QCoreApplication::setApplicationName("pipit");
    pipit::cli::Registry registry;
    pipit::cli::addProjectVerbs(registry);
    pipit::cli::addComposingVerbs(registry);
    pipit::cli::addCatalogVerb(registry);
    pipit::cli::addWiringVerbs(registry);
    pipit::cli::addShapeVerb(registry);
    pipit::cli::addRunVerbs(registry);
    pipit::cli::addRecordingVerbs(registry);
    pipit::cli::addPaceVerbs(registry);
    pipit::cli::addWhyVerbs(registry);
    pipit::cli::addExportVerbs(registry);
    const QString only = argc == 2 ? QString::fromLocal8Bit(argv[1]) : QString();
    const bool opens = argc == 2 && !only.startsWith('-') && !registry.has(only) && QFileInfo::exists(only);
    if (argc == 1 || opens)
        return startWindow(argv);
    return registry.run(argc, argv);
}
