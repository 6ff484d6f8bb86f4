// Names and places of handlers, and the compiler's messages.
#include "core/base/files.h"
#include "core/build/diagnostics.h"
#include "core/trace/handlers.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;

class HandlersTest : public QObject
{
    Q_OBJECT
private slots:
    void functionNames_data();
    void functionNames();
    void placesComeFromDebugInformation();
    void modulesWithoutItGiveSymbols();
    void theMapNamesConnections();
    void namesAreKeptBesideARecording();
    void diagnostics();
    void diagnosticsInHeadersPointToTheUsersLine();
    void linkerMessages();
};

void HandlersTest::functionNames_data()
{
    QTest::addColumn<QString>("symbol");
    QTest::addColumn<QString>("name");
    QTest::newRow("member") << "FerryDesk::boardPassenger()"
                            << "FerryDesk::boardPassenger";
    QTest::newRow("arguments") << "a::B::c(int, QList<QString> const&) const"
                               << "a::B::c";
    QTest::newRow("template") << "QList<int>::append(int)"
                              << "QList<int>::append";
    QTest::newRow("lambda") << "QtPrivate::QFunctorSlotObject<main::{lambda()#1}, 0>::impl(int)"
                            << "lambda in main";
    QTest::newRow("lambda bound")
        << "QtPrivate::QFunctorSlotObject<std::_Bind<Desk::open()::{lambda(int)#4} (int)>, 1>::impl"
        << "lambda in Desk::open";
    QTest::newRow("a member given as it is")
        << "QtPrivate::QSlotObject<void (a::T::*)(), QtPrivate::List<>, void>::impl(int)"
        << "a member of a::T";
    QTest::newRow("a function")
        << "QtPrivate::QStaticSlotObject<void (*)(int), QtPrivate::List<int>, void>::impl"
        << "a function";
    QTest::newRow("std::function") << "QtPrivate::QFunctorSlotObject<std::function<void (int)>, 1>::impl"
                                   << "a std::function";
    QTest::newRow("a functor")
        << "QtPrivate::QFunctorSlotObject<tides::Ask<int>, 1, QtPrivate::List<int>>::impl"
        << "tides::Ask";
    QTest::newRow("lambda in a member") << "MainWindow::setUp(int)::{lambda()#2}::operator()() const"
                                        << "lambda in MainWindow::setUp";
    QTest::newRow("plain") << "main"
                           << "main";
}

void HandlersTest::functionNames()
{
    QFETCH(QString, symbol);
    QFETCH(QString, name);
    QCOMPARE(plainFunctionName(symbol), name);
}

static std::uint64_t symbolOffset(const QString &program, const QByteArray &name)
{
    const Ran nm = command("nm", {"-C", program});
    for (const QByteArray &line : nm.out.split('\n'))
        if (line.endsWith(" " + name))
            return line.left(16).toULongLong(nullptr, 16);
    return 0;
}

void HandlersTest::placesComeFromDebugInformation()
{
    const QString program = targetProgram("loops");
    const std::uint64_t at = symbolOffset(program, "Blocker::block()");
    QVERIFY(at);
    Places places;
    const Place p = places.function(program, at + 12); // somewhere inside it
    QCOMPARE(p.function, QString("Blocker::block"));
    QVERIFY(p.file.endsWith("tests/targets/loops.cpp"));
    QFile source(p.file);
    QVERIFY(source.open(QIODevice::ReadOnly));
    QVERIFY(source.readAll().split('\n').value(p.line - 1).contains("void block()"));
    QVERIFY(!places.line(program, 8).known());
    QVERIFY(!places.line("/nowhere", 100).known());
}

void HandlersTest::modulesWithoutItGiveSymbols()
{
    Places places;
    const Ran nm = command("nm", {"-D", "/lib/x86_64-linux-gnu/libQt6Core.so.6"});
    std::uint64_t at = 0;
    for (const QByteArray &line : nm.out.split('\n'))
        if (line.contains(" _ZN10QEventLoop4execE"))
            at = line.left(16).toULongLong(nullptr, 16);
    QVERIFY(at);
    const Place p = places.line("/lib/x86_64-linux-gnu/libQt6Core.so.6", at + 4);
    QCOMPARE(p.function, QString("QEventLoop::exec"));
}

void HandlersTest::theMapNamesConnections()
{
    QTemporaryDir dir;
    QVERIFY(writeFile(
        dir.path() + "/map.json",
        R"({"version":1,"file":"desk_wiring.cpp","lines":[{"line":7,"connection":"c3","handler":"h2","name":"go",
                      "source":"button","signal":"clicked"}],"definitions":[{"name":"go","file":"desk.cpp","line":30}]})"));
    auto map = WiringMap::load(dir.path() + "/map.json");
    QVERIFY(map);
    QCOMPARE(map->lines.value({"desk_wiring.cpp", 7}).connection, QString("c3"));
    QCOMPARE(map->definitions.value("go").second, 30);
    QVERIFY(!WiringMap::load(dir.path() + "/none.json"));
}

void HandlersTest::namesAreKeptBesideARecording()
{
    QTemporaryDir dir;
    TraceModel trace;
    Records r(trace);
    r.object(0x10, "Desk\ndesk").signalName(0x70, "Desk\nslow()");
    r.put(link::Kind::CallBegin, 2, 0x10, 0, 0x70, 0).put(link::Kind::CallEnd);
    trace.caughtUp(r.time);
    Handlers first(trace);
    QCOMPARE(first.of(0).name, QString("Desk::slow"));
    QVERIFY(first.save(dir.path() + "/handlers.json"));
    // Another trace in which the same key has no name of its own any more.
    TraceModel bare;
    Records again(bare);
    again.put(link::Kind::CallBegin, 2, 0x10, 0, 0x70, 0).put(link::Kind::CallEnd);
    bare.caughtUp(again.time);
    Handlers second(bare);
    const auto kept = readJsonObject(dir.path() + "/handlers.json");
    QVERIFY(bool(kept));
    second.load(*kept);
    QCOMPARE(second.of(0).name, QString("Desk::slow"));
}

void HandlersTest::diagnostics()
{
    const QByteArray json =
        R"([{"kind":"error","locations":[{"caret":{"file":"desk.cpp","line":9,"column":13}}],
        "message":"invalid conversion","children":[]},{"kind":"warning","locations":[{"caret":{"file":"./desk.cpp","line":3,
        "column":1}}],"message":"unused","children":[]}])";
    const auto m =
        diagnosticsFrom("noise\n" + QByteArray(json).replace('\n', ' ') + "\n[]\n", "/home/x/desk");
    QCOMPARE(m.size(), 2);
    QCOMPARE(m[0].file, QString("desk.cpp"));
    QCOMPARE(m[0].line, 9);
    QCOMPARE(m[0].column, 13);
    QVERIFY(m[0].error && !m[1].error);
    QCOMPARE(m[1].file, QString("desk.cpp"));
}

void HandlersTest::diagnosticsInHeadersPointToTheUsersLine()
{
    const QByteArray json =
        R"([{"kind":"error","locations":[{"caret":{"file":"/usr/include/qt6/qobject.h","line":200,"column":1}}],
        "message":"static assertion failed","children":[{"kind":"note","locations":[{"caret":{"file":"/home/x/desk/desk.cpp",
        "line":12,"column":5}}],"message":"required from here"}]}])";
    const auto m = diagnosticsFrom(QByteArray(json).replace('\n', ' '), "/home/x/desk");
    QCOMPARE(m.size(), 1);
    QCOMPARE(m[0].file, QString("desk.cpp"));
    QCOMPARE(m[0].line, 12);
}

void HandlersTest::linkerMessages()
{
    const auto m =
        diagnosticsFrom("mold: error: undefined symbol: Desk::start()\n>>> referenced by x\n", "/x");
    QCOMPARE(m.size(), 1);
    QVERIFY2(m[0].text.contains("Desk::start()"), qPrintable(m[0].text));
    QVERIFY(diagnosticsFrom("", "/x").isEmpty());
    QVERIFY(diagnosticsFrom("[{\"kind\":", "/x").isEmpty()); // torn output
}

PIPIT_TEST(HandlersTest)
#include "handlers_test.moc"
