// Functions in the user's files: found again where they were moved by hand, written once only, and with the
// arguments' own names.
#include "core/base/files.h"
#include "core/edits/where.h"
#include "core/userfiles/cpp_scan.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

using namespace pipit;
using namespace pipit::tests;

class MovedTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    static QString head(Workspace &w, const QString &handler)
    {
        const Handler *h = w.project().handler(handler);
        const QString text = *w.files().text(h->file);
        const qsizetype at = text.indexOf("::" + handler + '(');
        return at < 0 ? QString() : text.mid(at + 2, text.indexOf('\n', at) - at - 2);
    }

private slots:
    void movedOnesAreFollowed();
    void whatIsNowhereStaysWhereItWas();
    void whatIsThereIsNotWrittenAgain();
    void argumentsHaveTheirNames_data();
    void argumentsHaveTheirNames();
    void nestingIsTold();
};

void MovedTest::movedOnesAreFollowed()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Go\"", "add: button stop \"Stop\"", "connect: go.clicked calls started",
             "connect: stop.clicked calls ended", "body: started: qInfo(\"started here\");"});
    QVERIFY(w.save());
    const QString folder = w.place().folder;
    // By hand, in another editor: one function goes to a file of its own.
    QString text = QString::fromUtf8(*readFile(folder + "/desk.cpp"));
    const auto d = definitionOf(text, "Desk", "started");
    QVERIFY(d);
    const QString function = text.mid(d->begin, d->bodyClose + 1 - d->begin);
    text.remove(d->begin, function.size());
    QVERIFY(writeFile(folder + "/desk.cpp", text.toUtf8()));
    QVERIFY(writeFile(folder + "/more.cpp", ("#include \"desk.h\"\n\n\n" + function + '\n').toUtf8()));
    auto again = Workspace::open(folder);
    QVERIFY(again);
    QCOMPARE(again->project().handler("started")->file, QString("more.cpp"));
    QCOMPARE(again->project().handler("ended")->file, QString("desk.cpp"));
    // It is built from there, called, and its place is told.
    QVERIFY(again->save());
    const QString play = folder + "/x.play";
    QVERIFY(writeFile(play, "go: click\nhandler started: expect 1 call\n"));
    const Ran ran = verb({"run", folder, "--play", play, "--record", folder + "/rec"});
    QVERIFY2(ran.code == 0 && (ran.out + ran.err).contains("started here"), (ran.out + ran.err).constData());
    const Ran calls = verb({"calls", folder + "/rec", "--json"});
    QVERIFY2(calls.out.contains("more.cpp"), calls.out.left(600).constData());
    const Ran lint = verb({"lint", folder});
    QVERIFY2(lint.code == 0, lint.out.constData());
    // What is added for it later goes on there.
    type(*again, {"connect: stop.pressed calls started"});
    QCOMPARE(again->project().handler("started")->file, QString("more.cpp"));
}

void MovedTest::whatIsNowhereStaysWhereItWas()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Go\"", "connect: go.clicked calls started"});
    w.files().setText("desk.cpp", "#include \"desk.h\"\n");
    QVERIFY(movedHandlers(w.project(), w.files(), w.place().folder).isEmpty());
    QCOMPARE(w.project().handler("started")->file, QString("desk.cpp"));
    // Another class's function of that name is not it.
    QVERIFY(writeFile(w.place().folder + "/other.cpp", "void Other::started()\n{\n}\n"));
    QVERIFY(movedHandlers(w.project(), w.files(), w.place().folder).isEmpty());
    QVERIFY(writeFile(w.place().folder + "/third.cpp", "namespace n {\nvoid Desk::started()\n{\n}\n}\n"));
    QCOMPARE(movedHandlers(w.project(), w.files(), w.place().folder).size(), 1);
}

void MovedTest::whatIsThereIsNotWrittenAgain()
{
    Workspace w = fresh_.project();
    const QString folder = w.place().folder;
    QVERIFY(writeFile(folder + "/mine.cpp", "#include \"desk.h\"\n#include <QtCore/QDebug>\n\nvoid "
                                            "Desk::started()\n{\n    qInfo(\"mine\");\n}\n"));
    type(w, {"add: button go \"Go\"", "connect: go.clicked calls started"});
    QCOMPARE(w.project().handler("started")->file, QString("mine.cpp"));
    QVERIFY(!w.files().text("desk.cpp")->contains("started"));
    QVERIFY(w.save());
    const QString play = folder + "/x.play";
    QVERIFY(writeFile(play, "go: click\nhandler started: expect 1 call\n"));
    const Ran ran = verb({"run", folder, "--play", play});
    QVERIFY2(ran.code == 0 && (ran.out + ran.err).contains("mine"), (ran.out + ran.err).constData());
}

void MovedTest::argumentsHaveTheirNames_data()
{
    QTest::addColumn<QStringList>("lines");
    QTest::addColumn<QString>("wanted");
    QTest::newRow("a text") << QStringList{"add: field f", "connect: f.textChanged calls x"}
                            << "x(const QString &text)";
    QTest::newRow("an index") << QStringList{"add: QComboBox c", "connect: c.currentIndexChanged calls x"}
                              << "x(int index)";
    QTest::newRow("an item") << QStringList{"add: list l", "connect: l.itemClicked calls x"}
                             << "x(QListWidgetItem *item)";
    QTest::newRow("none given") << QStringList{"add: number n", "connect: n.valueChanged calls x"}
                                << "x(int value)";
    QTest::newRow("a member has the name")
        << QStringList{"add: label text", "add: field f", "connect: f.textChanged calls x"}
        << "x(const QString &value)";
    QTest::newRow("two") << QStringList{"add: table t", "connect: t.cellClicked calls x"}
                         << "x(int row, int column)";
    QTest::newRow("converted") << QStringList{"add: field f",
                                              "connect: f.textChanged calls x, as number else skip"}
                               << "x(int value)";
    QTest::newRow("from several") << QStringList{"add: number n_{0..2}", "connect: #n_* valueChanged calls x"}
                                  << "x(QSpinBox *source, int value)";
}

void MovedTest::argumentsHaveTheirNames()
{
    QFETCH(QStringList, lines);
    QFETCH(QString, wanted);
    Workspace w = fresh_.project();
    type(w, lines);
    QCOMPARE(head(w, "x"), wanted);
    // The declaration has the same, and the stub says of each that it is not used yet.
    auto g = generate(w.project(), w.place(), w.files());
    QVERIFY(g);
    QString declared;
    for (const GeneratedFile &f : g->files)
        if (f.name.endsWith("_members.inc") || f.name.endsWith("_handlers.h"))
            declared += QString::fromUtf8(f.bytes);
    QVERIFY2(declared.contains("void " + wanted + ';'), qPrintable(declared));
    const QString name = wanted.section(QRegularExpression("[ *&]"), -1).chopped(1);
    QVERIFY(w.files().text("desk.cpp")->contains("Q_UNUSED(" + name + ')'));
}

// A handler that makes another be called: the one stands within the other, in the text and in JSON.
void MovedTest::nestingIsTold()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Go\"", "add: field said", "connect: go.clicked calls outer",
             "connect: said.textChanged calls inner", "body: outer: said->setText(\"x\");"});
    QVERIFY(w.save());
    const QString folder = w.place().folder;
    QVERIFY(writeFile(folder + "/x.play", "go: click\n"));
    const Ran ran = verb({"run", folder, "--play", folder + "/x.play", "--record", folder + "/rec"});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    const auto rows = QJsonDocument::fromJson(verb({"calls", folder + "/rec", "--json"}).out).array();
    QHash<QString, QJsonObject> by;
    for (const auto &v : rows)
        by.insert(v.toObject()["handler"].toObject()["name"].toString(), v.toObject());
    QVERIFY2(by.contains("outer") && by.contains("inner"),
             verb({"calls", folder + "/rec", "--json"}).out.constData());
    QCOMPARE(by["outer"]["depth"].toInt(), 0);
    QVERIFY(by["outer"]["parent"].isNull());
    QCOMPARE(by["inner"]["depth"].toInt(), 1);
    QCOMPARE(by["inner"]["parent"].toInt(), by["outer"]["id"].toInt());
    const QByteArray text = verb({"calls", folder + "/rec"}).out;
    qsizetype outer = -1, inner = -1;
    for (const QByteArray &l : text.split('\n')) {
        if (l.contains("outer") && outer < 0)
            outer = l.indexOf("outer");
        if (l.contains("inner") && inner < 0)
            inner = l.indexOf("inner");
    }
    QVERIFY2(outer >= 0 && inner > outer, text.constData()); // indented
    const auto turns = QJsonDocument::fromJson(verb({"turns", folder + "/rec", "--json"}).out).array();
    QVERIFY(!turns.isEmpty());
    for (const auto &t : turns)
        QVERIFY(t.toObject().contains("depth") && t.toObject().contains("parent") &&
                t.toObject()["id"].toInt() > 0);
}

PIPIT_TEST(MovedTest)
#include "moved_test.moc"
