#include "cli/verbs.h"

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

QString q(const std::string &s)
{
    return QString::fromStdString(s);
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
        {"The window could not be started", QString::fromUtf8(path), "Install Pipit again"});
}

bool isVerb(const CLI::App &app, const std::string &word)
{
    const auto verbs = app.get_subcommands([](const CLI::App *) { return true; });
    return std::any_of(verbs.begin(), verbs.end(), [&](const CLI::App *a) { return a->get_name() == word; });
}

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QCoreApplication::setApplicationName("pipit");
    pipit::cli::Registry registry;
    registry.app.name("pipit");
    registry.app.set_version_flag("--version", PIPIT_VERSION);
    registry.app.require_subcommand(0, 1);
    pipit::cli::addProjectVerbs(registry);
    pipit::cli::addWiringVerbs(registry);
    pipit::cli::addRunVerbs(registry);
    pipit::cli::addRecordingVerbs(registry);
    const bool opens = argc == 2 && argv[1][0] != '-' && !isVerb(registry.app, argv[1]) &&
                       QFileInfo::exists(QString::fromLocal8Bit(argv[1]));
    if (argc == 1 || opens)
        return startWindow(argv);
    try {
        registry.app.parse(argc, argv);
    } catch (const CLI::ParseError &e) {
        return registry.app.exit(e) == 0 ? pipit::cli::fine : pipit::cli::cannot;
    }
    return registry.chosen ? registry.chosen() : pipit::cli::cannot;
}
