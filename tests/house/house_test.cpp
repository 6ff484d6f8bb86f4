// The house: what the documents say of the code's structure is what the build goes by.
#include "core/base/files.h"
#include "core/pace/stalls.h"
#include "link/control.h"
#include "link/record.h"
#include "tests/support/registered.h"

#include <QDirIterator>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>

using namespace pipit;

class HouseTest : public QObject
{
    Q_OBJECT
    static QString source(const QString &file)
    {
        auto bytes = readFile(QStringLiteral(PIPIT_SOURCE_DIR "/") + file);
        return bytes ? QString::fromUtf8(*bytes) : QString();
    }
    // Folder → the folders that it may include from.
    static QMap<QString, QStringList> rooms()
    {
        QMap<QString, QStringList> all;
        static const QRegularExpression line("^  \"([a-z/]+): ?([a-z/ ]*)\"$",
                                             QRegularExpression::MultilineOption);
        for (auto it = line.globalMatch(source("rooms.cmake")); it.hasNext();) {
            const auto m = it.next();
            all.insert(m.captured(1), m.captured(2).split(' ', Qt::SkipEmptyParts));
        }
        return all;
    }

private slots:
    void theTableIsTheList();
    void everyFolderIsInTheList();
    void noRoomReachesItself();
    void aWrongIncludeDoesNotBuild_data();
    void aWrongIncludeDoesNotBuild();
    void noTypeIsDefinedTwice();
    void linkNeedsLibcOnly();
    void controlMethodsAreDocumented();
    void oneTurnIsToldAsItIsRecorded();
};

void HouseTest::theTableIsTheList()
{
    QMap<QString, QStringList> told;
    static const QRegularExpression row("^\\| `([a-z/]+)` \\|([^|]*)\\|([^|]*)\\|",
                                        QRegularExpression::MultilineOption),
        name("`([a-z/]+)`");
    for (auto it = row.globalMatch(source("docs/architecture.md")); it.hasNext();) {
        const auto m = it.next();
        QStringList names;
        for (auto each = name.globalMatch(m.captured(3)); each.hasNext();)
            names << each.next().captured(1);
        told.insert(m.captured(1), names);
    }
    QVERIFY(told.size() > 20);
    QCOMPARE(told, rooms());
}

void HouseTest::everyFolderIsInTheList()
{
    QSet<QString> folders;
    for (const char *top : {"link", "recorder", "keeper", "reader", "core", "cli", "preview", "app"}) {
        QDirIterator files(QStringLiteral(PIPIT_SOURCE_DIR "/") + top, {"*.h", "*.cpp", "*.c"}, QDir::Files,
                           QDirIterator::Subdirectories);
        while (files.hasNext())
            folders.insert(QFileInfo(files.next()).path().mid(int(sizeof PIPIT_SOURCE_DIR)));
    }
    folders.remove("app"); // two short mains
    const QStringList listed = rooms().keys();
    QCOMPARE(folders, QSet<QString>(listed.begin(), listed.end()));
}

void HouseTest::noRoomReachesItself()
{
    const auto all = rooms();
    for (auto it = all.begin(); it != all.end(); ++it) {
        QSet<QString> seen;
        QStringList open = *it;
        while (!open.isEmpty()) {
            const QString next = open.takeLast();
            QVERIFY2(next != it.key(), qPrintable(it.key() + " reaches itself"));
            QVERIFY2(all.contains(next), qPrintable(next));
            if (!seen.contains(next)) {
                seen.insert(next);
                open += all.value(next);
            }
        }
    }
}

void HouseTest::aWrongIncludeDoesNotBuild_data()
{
    QTest::addColumn<QByteArray>("line");
    QTest::addColumn<bool>("allowed");
    QTest::newRow("a neighbour") << QByteArray("#include \"core/base/result.h\"\n") << true;
    QTest::newRow("itself") << QByteArray("#include \"core/project/model.h\"\n") << true;
    QTest::newRow("upwards") << QByteArray("#include \"core/codegen/generate.h\"\n") << false;
    QTest::newRow("inside a neighbour") << QByteArray("#include \"core/catalog/tool/x.h\"\n") << false;
    QTest::newRow("with spaces") << QByteArray("#  include  \"core/codegen/generate.h\"\n") << false;
    QTest::newRow("by way of the folder above")
        << QByteArray("#include \"../codegen/generate.h\"\n") << false;
    QTest::newRow("in angle brackets") << QByteArray("#include <core/codegen/generate.h>\n") << false;
}

void HouseTest::aWrongIncludeDoesNotBuild()
{
    QFETCH(QByteArray, line);
    QFETCH(bool, allowed);
    QTemporaryDir dir;
    const QString file = dir.path() + "/core/project/probe.cpp", stamp = dir.path() + "/stamp";
    QVERIFY(makeFolder(dir.path() + "/core/project") && writeFile(file, "// a probe\n" + line));
    QProcess cmake;
    cmake.start("cmake", {"-DFOLDER=core/project", "-DMAY_USE=" + rooms().value("core/project").join(';'),
                          "-DFILES=" + file, "-DSOURCE_DIR=" + dir.path(), "-DSTAMP=" + stamp, "-P",
                          PIPIT_SOURCE_DIR "/cmake/check_room.cmake"});
    QVERIFY(cmake.waitForFinished(30'000));
    QCOMPARE(cmake.exitCode() == 0, allowed);
    QCOMPARE(QFileInfo::exists(stamp), allowed);
    if (!allowed)
        QVERIFY(cmake.readAllStandardError().contains("core/project may include from"));
}

// Two different types of one name are one to the linker: `Place` once stood in two rooms, and the one was
// destroyed with the other's destructor.
void HouseTest::noTypeIsDefinedTwice()
{
    static const QRegularExpression space("^namespace (pipit[\\w:]*)$", QRegularExpression::MultilineOption),
        type("^(?:struct|class|enum class) (\\w+)(?!\\w*::)[^;]*$", QRegularExpression::MultilineOption);
    QHash<QString, QString> seen;
    QStringList twice;
    for (const QString &folder : rooms().keys())
        for (const QString &file : QDir(PIPIT_SOURCE_DIR "/" + folder).entryList({"*.h"}, QDir::Files)) {
            const QString text = source(folder + '/' + file), name = space.match(text).captured(1);
            for (auto it = type.globalMatch(text); it.hasNext();) {
                const QString full = name + "::" + it.next().captured(1);
                if (seen.contains(full))
                    twice << full + " in " + seen.value(full) + " and " + folder + '/' + file;
                seen.insert(full, folder + '/' + file);
            }
        }
    QVERIFY(seen.size() > 100);
    QCOMPARE(twice, QStringList());
}

void HouseTest::linkNeedsLibcOnly()
{
    for (const QString &file : QDir(PIPIT_SOURCE_DIR "/link").entryList({"*.h"}, QDir::Files))
        QVERIFY2(!source("link/" + file).contains("<Q"), qPrintable(file));
}

void HouseTest::controlMethodsAreDocumented()
{
    const QString page = source("docs/formats/control.md");
    QStringList missing;
    const auto look = [&](const char *name) {
        if (!page.contains(QRegularExpression(QStringLiteral("`%1[ `]").arg(QLatin1String(name)))))
            missing << QLatin1String(name);
    };
    for (const char *name : link::tells::all)
        look(name);
    for (const char *name : link::asks::all)
        look(name);
    QCOMPARE(missing, QStringList());
}

// docs/event-loop.md: its numbers are the same in picture and list, what it calls records are records, and
// what happens in a turn is there.
void HouseTest::oneTurnIsToldAsItIsRecorded()
{
    const QString text = source("docs/event-loop.md");
    const QString picture = text.section("```", 1, 1);
    static const QRegularExpression row("^\\| (\\d) \\|.*\\| ([^|]+) \\|$",
                                        QRegularExpression::MultilineOption),
        code("`(\\w+)`");
    QSet<QString> records;
    int rows = 0;
    for (auto it = row.globalMatch(text); it.hasNext(); ++rows) {
        const auto m = it.next();
        QVERIFY2(picture.contains(QRegularExpression("\\b" + m.captured(1) + " [a-z]")),
                 qPrintable(m.captured()));
        for (auto name = code.globalMatch(m.captured(2)); name.hasNext();)
            records.insert(name.next().captured(1));
    }
    QCOMPARE(rows, 9);
    QSet<QString> known;
    for (const link::KindInfo &k : link::kinds)
        if (k.kind >= link::Kind::DispatchBegin && k.kind <= link::Kind::Post)
            known.insert(k.name);
    QCOMPARE(records, known);
    QVERIFY(text.contains(QStringLiteral("Over %1 ms").arg(stallBudget.count())));
}

PIPIT_TEST(HouseTest)
#include "house_test.moc"
