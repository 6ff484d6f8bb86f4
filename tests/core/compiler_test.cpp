// Both compilers: the same places for the same mistakes, one for the other where only one refuses, and
// precompiled headers that follow the headers they are made of.
#include "core/base/files.h"
#include "core/build/builder.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QLockFile>
#include <QThread>

#include <future>

using namespace pipit;
using namespace pipit::tests;

class CompilerTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    const std::atomic<bool> go_{false};
    static const Compiler &compiler(const QString &name) { return name == "g++" ? gcc() : *clang(); }
    static void both()
    {
        QTest::addColumn<QString>("name");
        QTest::newRow("g++") << "g++";
        QTest::newRow("clang++") << "clang++";
    }
    Workspace withBody(const QString &body)
    {
        Workspace w = fresh_.project();
        type(w, {"add: button go", "connect: go.clicked calls first", "body: first: " + body});
        if (auto ok = w.save(); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        return w;
    }
    static QStringList errors(const BuildReport &r)
    {
        QStringList all;
        for (const BuildMessage &m : r.messages)
            if (m.error)
                all << QStringLiteral("%1:%2 %3").arg(m.file).arg(m.line).arg(m.text);
        return all;
    }
    BuildReport built(Workspace &w, const Compiler &c)
    {
        Builder b(w.place(), c);
        auto r = b.build(w.project(), w.files());
        if (!r)
            qFatal("%s", qPrintable(r.problem().text()));
        return *r;
    }

private slots:
    void initTestCase() { QVERIFY2(clang().has_value(), "clang++ is not installed"); }
    void mistakesStandAtTheirLine_data() { both(); }
    void mistakesStandAtTheirLine();
    void missingDefinitionsHaveAPlace_data() { both(); }
    void missingDefinitionsHaveAPlace();
    void whatOnlyOneRefuses();
    void aChangedHeaderIsNoticed();
    void aHeaderWrittenAnewIsNoReason();
    void nothingIsLeftOfWhatWasStopped();
    void twoProcessesDoNotMakeTheSame();
};

void CompilerTest::mistakesStandAtTheirLine()
{
    QFETCH(QString, name);
    Workspace w = withBody("int x = nothing;");
    const int line = int(w.files().text("desk.cpp")->section("nothing", 0, 0).count('\n')) + 1;
    const QStringList said = errors(built(w, compiler(name)));
    QCOMPARE(said.size(), 1);
    QVERIFY2(said.first().startsWith(QStringLiteral("desk.cpp:%1 ").arg(line)), qPrintable(said.first()));
    QVERIFY2(said.first().contains("nothing"), qPrintable(said.first()));
}

// A handler without a body once failed at the linker, with no place at all.
void CompilerTest::missingDefinitionsHaveAPlace()
{
    QFETCH(QString, name);
    Workspace w = withBody({});
    QString text = *w.files().text("desk.cpp");
    w.files().setText("desk.cpp",
                      text.replace("::first()", "::frist()").replace("void Desk::frist()", "void frist()"));
    QVERIFY(w.save());
    const QStringList said = errors(built(w, compiler(name)));
    QVERIFY2(said.size() == 1 && said.first().startsWith("desk.cpp:") &&
                 said.first().contains("no definition of Desk::first"),
             qPrintable(said.join('\n')));
}

void CompilerTest::whatOnlyOneRefuses()
{
    // clang++ alone: g++ compiles the unit, once its header is there.
    Workspace w = withBody("int n = 3; QString all[n]; setObjectName(all[0]);");
    QVERIFY(precompiled(gcc(), toolkitHeaders(w.project(), false), go_));
    const BuildReport by = built(w, *clang());
    QVERIFY2(by.ok, qPrintable(errors(by).join('\n')));
    auto others = otherCompilersErrors(w.place(), w.project(), w.files(), go_);
    QVERIFY(others && others->isEmpty());
    // g++ alone: told, for the project's own build.
    Workspace v = withBody("struct A {}; struct B { A A; }; B b; Q_UNUSED(b)");
    QVERIFY2(built(v, *clang()).ok, qPrintable(errors(built(v, *clang())).join('\n')));
    others = otherCompilersErrors(v.place(), v.project(), v.files(), go_);
    QVERIFY(others && others->size() == 1);
    QCOMPARE(others->first().file, QString("desk.cpp"));
}

// g++ takes a stale header without a word, clang++ one whose system headers changed.
void CompilerTest::aChangedHeaderIsNoticed()
{
    QTemporaryDir dir;
    const QString header = dir.path() + "/measure.h", cache = dir.path() + "/cache";
    QVERIFY(writeFile(header, "enum { measure = 1 };\n"));
    const QByteArray usual = qgetenv("XDG_CACHE_HOME");
    qputenv("XDG_CACHE_HOME", cache.toUtf8());
    const QStringList headers{header};
    QVERIFY(!isPrecompiled(gcc(), headers));
    auto made = precompiled(gcc(), headers, go_);
    QVERIFY2(made && isPrecompiled(gcc(), headers), made ? "" : qPrintable(made.problem().text()));
    QVERIFY(writeFile(header, "enum { measure = 2 }; // another\n"));
    QVERIFY(!isPrecompiled(gcc(), headers));
    QVERIFY(precompiled(gcc(), headers, go_) && isPrecompiled(gcc(), headers));
    QVERIFY(writeFile(dir.path() + "/x.cpp", "static_assert(measure == 2, \"stale\");\n"));
    const Step s =
        runStep(gcc().program, gcc().flags() + gcc().beginWith(*made) + QStringList{"-fsyntax-only", "x.cpp"},
                dir.path(), go_);
    QVERIFY2(s.ok, s.errors.constData());
    qputenv("XDG_CACHE_HOME", usual);
}

// clang++ refuses a header that was written anew even with the same text, unless it is told otherwise.
void CompilerTest::aHeaderWrittenAnewIsNoReason()
{
    Workspace w = withBody({});
    const QStringList headers = toolkitHeaders(w.project(), false);
    auto header = precompiled(*clang(), headers, go_);
    QVERIFY2(bool(header), header ? "" : qPrintable(header.problem().text()));
    const QByteArray text = *readFile(*header);
    QTest::qWait(1100); // another second
    QVERIFY(writeFile(*header, text));
    const BuildReport r = built(w, *clang());
    QVERIFY2(r.ok, qPrintable(errors(r).join('\n')));
}

// Each of these is some 170 MB.
void CompilerTest::nothingIsLeftOfWhatWasStopped()
{
    QTemporaryDir dir;
    const QByteArray usual = qgetenv("XDG_CACHE_HOME");
    qputenv("XDG_CACHE_HOME", dir.path().toUtf8());
    const QStringList headers{"QtCore/QObject"};
    const QFileInfo header(precompiledPath(gcc(), headers));
    const QString killed = header.filePath() + ".4194999.part", // above the greatest number of a process
        running = header.filePath() + ".1.part";
    QVERIFY(QDir().mkpath(header.path()) && writeFile(killed, "half") && writeFile(running, "half"));
    const std::atomic<bool> stopped{true};
    QVERIFY(!precompiled(gcc(), headers, stopped));
    QCOMPARE(QDir(header.path()).entryList({"*.part*"}, QDir::Files),
             QStringList(QFileInfo(running).fileName()));
    qputenv("XDG_CACHE_HOME", usual);
}

// While one makes a header the others wait, unless it died.
void CompilerTest::twoProcessesDoNotMakeTheSame()
{
    QTemporaryDir dir;
    const QByteArray usual = qgetenv("XDG_CACHE_HOME");
    qputenv("XDG_CACHE_HOME", dir.path().toUtf8());
    const QString own = dir.path() + "/measure.h";
    QVERIFY(writeFile(own, "enum { measure = 1 };\n"));
    const QFileInfo header(precompiledPath(gcc(), {own}));
    const QString lock = header.filePath() + ".lock";
    QVERIFY(QDir().mkpath(header.path()));
    {
        QLockFile maker(lock); // a process that makes it
        QVERIFY(maker.tryLock());
        std::atomic<bool> stopped{false};
        auto stop = std::async(std::launch::async, [&] {
            QThread::msleep(1300);
            stopped = true;
        });
        QStringList said;
        QVERIFY(!precompiled(gcc(), {own}, stopped, [&](const QString &text) { said << text; }));
        QVERIFY2(said.value(0).contains("once for this machine"), qPrintable(said.join('\n')));
        QVERIFY(!isPrecompiled(gcc(), {own}));
    }
    QVERIFY(writeFile(lock, "4194999\ntests-core\n" + QSysInfo::machineHostName().toUtf8() + '\n'));
    QVERIFY(precompiled(gcc(), {own}, go_));
    qputenv("XDG_CACHE_HOME", usual);
}

PIPIT_TEST(CompilerTest)
#include "compiler_test.moc"
