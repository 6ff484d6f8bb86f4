#include "core/base/command_words.h"
#include "core/base/duration_text.h"
#include "core/base/files.h"
#include "core/base/json_rows.h"
#include "core/base/near.h"
#include "tests/support/registered.h"

#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

using namespace pipit;

class BaseTest : public QObject
{
    Q_OBJECT
    QTemporaryDir dir_;

private slots:
    void longAnswersAreJson();
    void commandsAreTakenApart_data();
    void commandsAreTakenApart();
    void aReplacedFileIsNeverMissing();
    void whatCannotBeReplacedOrCopiedIsTold();
    void damagedObjectsAreTold();
    void theNearestNameIsFound();
};

// Who has the old one open keeps it; who opens it anew gets the new one.
void BaseTest::aReplacedFileIsNeverMissing()
{
    const QString path = dir_.path() + "/program", made = path + ".part";
    QVERIFY(writeFile(path, "old") && writeFile(made, "new"));
    QFile open(path);
    QVERIFY(open.open(QIODevice::ReadOnly));
    QVERIFY(replaceFile(made, path));
    QCOMPARE(open.readAll(), QByteArray("old"));
    QCOMPARE(*readFile(path), QByteArray("new"));
    QVERIFY(!QFile::exists(made));
}

void BaseTest::whatCannotBeReplacedOrCopiedIsTold()
{
    const QString path = dir_.path() + "/there";
    QVERIFY(writeFile(path, "there"));
    auto replaced = replaceFile(dir_.path() + "/nothing", path);
    QVERIFY(!replaced && replaced.problem().where == path && !replaced.problem().remedy.isEmpty());
    QCOMPARE(*readFile(path), QByteArray("there"));
    QVERIFY(!copyFile(dir_.path() + "/nothing", dir_.path() + "/copy"));
    QVERIFY(!copyFile(path, path)); // where something stands already
    QVERIFY(copyFile(path, dir_.path() + "/copy"));
}

void BaseTest::damagedObjectsAreTold()
{
    const QString path = dir_.path() + "/o.json";
    for (const char *bad : {"", "{ \"half\": ", "[1, 2]", "3"}) {
        QVERIFY(writeFile(path, bad));
        auto o = readJsonObject(path);
        QVERIFY2(!o && o.problem().where == path, bad);
    }
    QVERIFY(writeFile(path, "{\"n\": 7}"));
    QCOMPARE((*readJsonObject(path))["n"].toInt(), 7);
}

void BaseTest::theNearestNameIsFound()
{
    const QStringList names = {"boardButton", "statusLabel", "gateTimer"};
    QCOMPARE(nearestName("boradButton", names), QString("boardButton"));
    QCOMPARE(nearestName("STATUSLABEL", names), QString("statusLabel"));
    QCOMPARE(nearestName("entirelyElse", names), QString());
    QCOMPARE(nearestName(QString(10'000, 'x'), names), QString());
}

// As a shell takes it apart: held against one.
void BaseTest::commandsAreTakenApart_data()
{
    QTest::addColumn<QString>("command");
    for (const char *command :
         {"a b", "  a   b ", "a 'b c' d", "a \"b c\" d", "a '' \"\" b", "a'b c'd", "a\\ b c", "\"a \\\" b\"",
          "\"a \\\\ b\"", "'a \\ b'", "\"a 'b' c\"", "'a \"b\" c'", "x=\"1 2\"3", "\"\\n\"", "\\'a\\'"})
        QTest::newRow(command) << QString(command);
}

void BaseTest::commandsAreTakenApart()
{
    QFETCH(QString, command);
    const auto words = commandWords(command);
    QVERIFY(words);
    QProcess shell;
    shell.start("/bin/sh", {"-c", "for w in " + command + "; do printf '<%s>' \"$w\"; done"});
    QVERIFY(shell.waitForFinished());
    QString mine;
    for (const QString &w : *words)
        mine += '<' + w + '>';
    QCOMPARE(mine, QString::fromUtf8(shell.readAllStandardOutput()));
    QVERIFY(!commandWords(command + " 'open"));
    QVERIFY(!commandWords(command + " \"open"));
}

void BaseTest::longAnswersAreJson()
{
    QTemporaryDir dir;
    const QString strange = QStringLiteral("a \"quote\" \\ back\nline\ttab \u0001 é 船 😀 /");
    FILE *f = std::fopen(QFile::encodeName(dir.filePath("rows")).constData(), "w");
    QVERIFY(f);
    {
        JsonRows out(f);
        for (int i = 0; i < 5000; ++i) { // more than is sent at once
            out.beginRow();
            out.key("inner");
            out.beginObject();
            out.key("flag").flag(i % 2);
            out.key("none").null();
            out.endObject();
            out.key("number").number(-1'000'000'000'000 + i);
            out.key("ready").ready("[1,2]");
            out.key("text").text(i ? strange : QString());
            out.endRow();
        }
    }
    std::fclose(f);
    const QByteArray written = *readFile(dir.filePath("rows"));
    QCOMPARE(written.count('\n'), 5000); // a row a line
    QJsonParseError error;
    const QJsonArray rows = QJsonDocument::fromJson(written, &error).array();
    QCOMPARE(error.error, QJsonParseError::NoError);
    QCOMPARE(rows.size(), 5000);
    QVERIFY(rows[0]["text"].isNull());
    QCOMPARE(rows[7]["text"].toString(), strange);
    QCOMPARE(rows[7]["number"].toInteger(), -999'999'999'993);
    QCOMPARE(rows[7]["inner"]["flag"].toBool(), true);
    QCOMPARE(rows[7]["ready"][1].toInt(), 2);
    QCOMPARE(QJsonDocument(rows[7].toObject()).toJson(QJsonDocument::Compact),
             written.split('\n')[7].trimmed().chopped(1)); // as the toolkit writes it
}

PIPIT_TEST(BaseTest)
#include "base_test.moc"
