// The documented schema and the files that Pipit reads and writes agree.
#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QRandomGenerator>

#include <rapidjson/document.h>
#include <rapidjson/schema.h>
#include <rapidjson/stringbuffer.h>

using namespace pipit;
using namespace pipit::tests;

class SchemaTest : public QObject
{
    Q_OBJECT
private:
    rapidjson::Document schema_;
    // What the schema says against a file; empty when it fits.
    QString complaint(const QByteArray &bytes)
    {
        rapidjson::Document d;
        if (d.Parse(bytes.constData()).HasParseError())
            return "no JSON";
        rapidjson::SchemaDocument document(schema_);
        rapidjson::SchemaValidator v(document);
        if (d.Accept(v))
            return {};
        rapidjson::StringBuffer b;
        v.GetInvalidDocumentPointer().StringifyUriFragment(b);
        return QString::fromUtf8(b.GetString()) + ' ' + v.GetInvalidSchemaKeyword();
    }

private slots:
    void initTestCase();
    void theDemoFits();
    void whatIsWrittenFits();
    void bothRefuseTheSame_data();
    void bothRefuseTheSame();
};

void SchemaTest::initTestCase()
{
    auto bytes = readFile(PIPIT_SOURCE_DIR "/docs/formats/project.schema.json");
    QVERIFY(bytes);
    QVERIFY(!schema_.Parse(bytes->constData()).HasParseError());
}

void SchemaTest::theDemoFits()
{
    for (const char *side : {"before", "after"})
        QCOMPARE(complaint(*readFile(demoFolder() + "/ferry-desk/" + side + "/ferry-desk.pipit")), QString());
}

void SchemaTest::whatIsWrittenFits()
{
    // Random edits, as many kinds as there are; each result is read again and fits.
    QTemporaryDir dir;
    auto w = Workspace::create(dir.path() + "/desk");
    QVERIFY(w);
    QRandomGenerator random(3);
    const QStringList words = {"button", "label", "field",  "list",  "tick box",
                               "area",   "group", "slider", "timer", "drop-down"};
    const QStringList events = {"key press", "mouse press", "focus in", "drop"};
    for (int i = 0; i < 150; ++i) {
        const QStringList objects = w->project().objectNames();
        const QString object = objects[random.bounded(objects.size())];
        const QString name = QStringLiteral("n%1").arg(i);
        switch (random.bounded(8)) {
        case 0:
        case 1:
            (void)bool(w->addWidget(".", words[random.bounded(words.size())], name, {}));
            break;
        case 2: {
            const auto offered = Catalog::get().signalsOf(w->project().classOf(object));
            (void)bool(w->connect({object,
                                   offered[random.bounded(offered.size())].signature,
                                   {},
                                   random.bounded(2) ? name : QString("shared"),
                                   random.bounded(2) ? Pacing{} : Pacing{PacingKind::AfterPause, 20}}));
            break;
        }
        case 3:
            (void)bool(w->connect({object, events[random.bounded(events.size())], {}, name, {}}));
            break;
        case 4:
            (void)bool(w->setProperty(object, "toolTip", QStringLiteral("\"%1\"\n*/").arg(i)));
            break;
        case 5:
            if (i % 5 == 0)
                (void)bool(w->remove(object));
            break;
        case 6:
            if (!w->project().connections.isEmpty())
                (void)bool(w->setEnabled(w->project().connections.last().id, i % 2));
            break;
        case 7:
            (void)bool(random.bounded(2) ? w->undo() : w->redo());
            break;
        }
        const QByteArray bytes = projectBytes(w->project());
        QCOMPARE(complaint(bytes), QString());
        auto again = parseProject(bytes, "x");
        QVERIFY2(bool(again), again ? "" : qPrintable(again.problem().text()));
        QCOMPARE(projectBytes(*again), bytes);
    }
    QVERIFY(w->project().connections.size() > 5);
}

void SchemaTest::bothRefuseTheSame_data()
{
    QTest::addColumn<QByteArray>("from");
    QTest::addColumn<QByteArray>("to");
    QTest::newRow("version") << QByteArray("\"pipit\": 1") << QByteArray("\"pipit\": 2");
    QTest::newRow("no windows") << QByteArray("\"windows\": [") << QByteArray("\"windws\": [");
    QTest::newRow("class") << QByteArray("\"class\": \"QListWidget\"") << QByteArray("\"class\": \"Q List\"");
    QTest::newRow("layout") << QByteArray("\"layout\": \"row\"") << QByteArray("\"layout\": \"heap\"");
    QTest::newRow("interval") << QByteArray("\"interval\": 250") << QByteArray("\"interval\": -1");
    QTest::newRow("interval type") << QByteArray("\"interval\": 250") << QByteArray("\"interval\": \"250\"");
    QTest::newRow("kind") << QByteArray("\"kind\": \"event\"") << QByteArray("\"kind\": \"evening\"");
    QTest::newRow("enabled") << QByteArray("\"id\": \"c41\",")
                             << QByteArray("\"id\": \"c41\", \"enabled\": \"yes\",");
    QTest::newRow("no target") << QByteArray(", \"to\": {\"handler\": \"tideForecast\"}") << QByteArray();
    QTest::newRow("scope") << QByteArray("\"when\": \"key Escape\"") << QByteArray("\"scope\": \"planet\"");
    QTest::newRow("accepts") << QByteArray("\"accepts\": \"move\"") << QByteArray("\"accepts\": \"theft\"");
    QTest::newRow("property") << QByteArray("\"digitCount\": 3") << QByteArray("\"digitCount\": [3]");
    QTest::newRow("header") << QByteArray("\"name\": \"deckMap\"")
                            << QByteArray(
                                   "\"name\": \"deckMap\", \"base\": \"QFrame\", \"header\": \"../x.h\"");
    QTest::newRow("file") << QByteArray("\"file\": \"ferry_desk\"") << QByteArray("\"file\": \"../ferry\"");
}

void SchemaTest::bothRefuseTheSame()
{
    QFETCH(QByteArray, from);
    QFETCH(QByteArray, to);
    QByteArray bytes = *readFile(demoFolder() + "/ferry-desk/before/ferry-desk.pipit");
    QVERIFY(bytes.contains(from));
    bytes.replace(from, to);
    QVERIFY(!complaint(bytes).isEmpty());
    QVERIFY(!parseProject(bytes, "x"));
}

PIPIT_TEST(SchemaTest)
#include "schema_test.moc"
