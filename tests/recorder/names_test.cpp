// What handlers are called, however the program was built, and that no call is missed: held against what
// the program itself counted.
#include "core/base/files.h"
#include "core/trace/queries.h"
#include "core/why/scene.h"
#include "core/why/wiring.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QProcess>
#include <QTemporaryDir>

using namespace pipit;
using namespace pipit::tests;

class NamesTest : public QObject
{
    Q_OBJECT
private slots:
    void everyHandlerByItsName_data();
    void everyHandlerByItsName();
    void everyConnectByItsLine_data();
    void everyConnectByItsLine();
    void queuedCallsKnowWhoCalled();
    void whatIsFoldedIsEither();
    void ofTheToolkitsFunctionsNoPlaceIsTold();
};

void NamesTest::everyHandlerByItsName_data()
{
    QTest::addColumn<bool>("lines"); // the build says which line a lambda stands on
    QTest::newRow("O0") << true;
    QTest::newRow("O2") << true;
    QTest::newRow("O2-bare") << false;
    QTest::newRow("O2-stripped") << false;
    QTest::newRow("O2-separate") << true;
    QTest::newRow("clang") << true;
    if (!inProof())
        return;
    QTest::newRow("O2-frames") << true;
    QTest::newRow("O2-g1") << false;
    QTest::newRow("O2-lto") << true;
    QTest::newRow("clang-O0") << true;
}

// In a stripped program the place in its code, which has a name in its twin.
static QString inTwin(Places &places, const QString &name)
{
    static const QRegularExpression offset("\\+0x([0-9a-f]+)$");
    const auto m = offset.match(name);
    return m.hasMatch() ? places.names(targetProgram("wired-O2-bare"), m.captured(1).toULongLong(nullptr, 16))
                              .value(0, name)
                        : name;
}

// The program as packages have it: stripped, and what debuggers need in a file beside it.
static QString withSeparateDebugFile(const QString &folder)
{
    const QString program = folder + "/wired", debug = program + ".debug";
    const QList<QStringList> steps{{"--only-keep-debug", targetProgram("wired-O2"), debug},
                                   {"--strip-all", targetProgram("wired-O2"), program},
                                   {"--add-gnu-debuglink=" + debug, program}};
    for (const QStringList &step : steps)
        if (QProcess::execute("objcopy", step) != 0)
            return {};
    return program;
}

void NamesTest::everyHandlerByItsName()
{
    QFETCH(bool, lines);
    const QByteArray variant = QTest::currentDataTag();
    const bool stripped = variant == "O2-stripped";
    QTemporaryDir dir;
    const QString program =
        variant == "O2-separate" ? withSeparateDebugFile(dir.path()) : "wired-" + QString(variant);
    QVERIFY2(!program.isEmpty(), "no separate debug file was made");
    Whole w = runTarget(program);
    QVERIFY(w.info);
    QMap<QString, int> expected, recorded;
    for (const QByteArray &line : w.output.split('\n')) {
        const qsizetype count = line.lastIndexOf(' '), at = line.lastIndexOf(' ', count - 1);
        if (!line.startsWith("RAN "))
            continue;
        QString name = QString::fromUtf8(line.mid(4, at - 4));
        const QByteArray number = line.mid(at + 1, count - at - 1);
        if (lines && number != "0")
            name = "lambda at wired.cpp:" + number;
        // What a slot object of this kind holds is another function; only its kind is told by the offset.
        if (stripped && name == "freeHandler")
            name = "a function";
        expected[name] += line.mid(count + 1).toInt();
    }
    if (stripped)
        ++expected["a function"]; // what ends the program, elsewhere told by its name
    QVERIFY2(expected.size() >= 27, w.output.constData());
    Places places;
    for (const CallRow &c : callsOf(w.run->trace(), w.run->handlers())) {
        QString name = stripped ? inTwin(places, c.handler.name) : c.handler.name;
        name.remove("::operator()");
        if (name == "a std::function")
            name = "lambda in Window::bind";
        if (!name.startsWith("QtConcurrent::") && name != "work given to QtConcurrent" &&
            !name.contains("quit"))
            ++recorded[name];
    }
    for (auto it = expected.constBegin(); it != expected.constEnd(); ++it)
        QVERIFY2(recorded.value(it.key()) == *it,
                 qPrintable(QStringLiteral("%1: %2 instead of %3 of %4")
                                .arg(it.key())
                                .arg(recorded.value(it.key()))
                                .arg(*it)
                                .arg(QStringList(recorded.keys()).join(", "))));
    QCOMPARE(recorded.keys(), expected.keys());
    QCOMPARE(w.run->trace().unknownDeliveries(), 0u);
}

void NamesTest::everyConnectByItsLine_data()
{
    QTest::addColumn<bool>("all"); // else some are not known
    QTest::newRow("O0") << true;
    QTest::newRow("O2") << true;
    QTest::newRow("O2-bare") << false;
    if (!inProof())
        return;
    QTest::newRow("clang") << true;
    QTest::newRow("clang-O0") << true;
    QTest::newRow("O2-lto") << false;
}

// Also where the compiler made functions of their own of the toolkit's templates.
void NamesTest::everyConnectByItsLine()
{
    QFETCH(bool, all);
    const Whole w = runTarget("wired-" + QByteArray(QTest::currentDataTag()));
    QVERIFY(w.info);
    const QStringList source =
        QString::fromUtf8(*readFile(PIPIT_SOURCE_DIR "/tests/targets/wired.cpp")).split('\n');
    const std::vector<WiringRow> rows = wiringOf(w.run->trace(), w.run->handlers(), Scene(w.run->trace()));
    QCOMPARE(rows.size(), std::size_t(26));
    static const QRegularExpression connects("connect(SlotsByName)?\\(");
    QSet<int> lines;
    for (const WiringRow &r : rows) {
        QVERIFY2(r.line || !all, qPrintable(r.source + ' ' + r.signal + ' ' + r.handler));
        if (!r.line)
            continue;
        QVERIFY2(source.value(r.line - 1).contains(connects) || source.value(r.line - 2).contains(connects),
                 qPrintable(QString::number(r.line)));
        QVERIFY2(!lines.contains(r.line), qPrintable(QString::number(r.line)));
        lines << r.line;
    }
}

// Across threads too, by whom and by which signal.
void NamesTest::queuedCallsKnowWhoCalled()
{
    Whole w = runTarget("wired-O2");
    QVERIFY(w.info);
    QMap<QString, QString> from;
    for (const CallRow &c : callsOf(w.run->trace(), w.run->handlers()))
        from.insert(c.handler.name, c.source + '.' + c.signal);
    for (const char *name : {"Crew::aboard", "Crew::aboardByName", "Crew::aboardWaiting",
                             "Crew::aboardByNameWaiting", "Crew::memberQueued", "Crew::byNameQueued"})
        QCOMPARE(from.value(name), QString("horn.blown"));
    for (const char *name : {"Crew::ashore", "Crew::ashoreByName"})
        QCOMPARE(from.value(name), QString("farHorn.blown"));
    QCOMPARE(from.value("Crew::invokedLater"), QString(".")); // nobody's signal, and nobody is named
}

// Code that the linker folded has several names and, in the debug information, the line of one.
void NamesTest::whatIsFoldedIsEither()
{
    Whole w = runTarget("folded");
    QVERIFY(w.info);
    int folded = 0;
    for (const CallRow &c : callsOf(w.run->trace(), w.run->handlers())) {
        if (c.handler.name.contains("quit"))
            continue;
        QVERIFY2(c.handler.name.contains("lambda in first") && c.handler.name.contains("lambda in second"),
                 qPrintable(c.handler.name));
        QVERIFY(c.handler.file.isEmpty());
        ++folded;
    }
    QCOMPARE(folded, 2);
}

// Pipit stands in for some of the toolkit's functions: its own source was told as the place of handlers that
// are such functions.
void NamesTest::ofTheToolkitsFunctionsNoPlaceIsTold()
{
    QTemporaryDir dir;
    const QString out = dir.path() + "/recording", pack = dir.path() + "/one.pack";
    QCOMPARE(verb({"record", "--out", out, "--", targetProgram("ticking")}).code, 0);
    QCOMPARE(verb({"pack", out, pack}).code, 0);
    for (const QString &of : {out, pack}) {
        for (const QStringList &words :
             {QStringList{"calls", of, "--json"}, QStringList{"wiring", of, "--json"},
              QStringList{"what", of, "--json"}, QStringList{"why", of, "--widget", "field", "--json"}}) {
            const Ran ran = verb(words);
            QVERIFY2(ran.code != 2 && !ran.out.isEmpty(), ran.err);
            QVERIFY2(!ran.out.contains("stubs") && !ran.out.contains("recorder/"), ran.out);
        }
        QMap<QString, QJsonValue> files; // by handler
        for (const auto &row : QJsonDocument::fromJson(verb({"calls", of, "--json"}).out).array())
            files[row.toObject()["handler"].toObject()["name"].toString()] =
                row.toObject()["handler"].toObject()["file"];
        QVERIFY2(files.contains("QLabel::setText") && files.contains("QLabel::clear"),
                 qPrintable(QStringList(files.keys()).join('\n')));
        QVERIFY(files["QLabel::setText"].isNull() && files["QLabel::clear"].isNull());
    }
    QVERIFY(!readFile(pack)->contains("stubs.S"));
}

PIPIT_TEST(NamesTest)
#include "names_test.moc"
