// The first page: programs with arguments, folder and variables, what was open lately, the desktop's own
// entries; and keys that a person changes.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/window.h"

#include <QShortcut>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class StartTest : public QObject
{
    Q_OBJECT
private:
    Desks desks_;
    static QLineEdit *line(MainWindow &w, const char *name)
    {
        return w.startPage()->findChild<QLineEdit *>(QLatin1String(name));
    }

private slots:
    void theWindowHelpsOnTheCommandLine();
    void init() { QFile::remove(Remembered::file()); }
    void aProgramIsStartedAsOnACommandLine();
    void whatCannotBeStartedIsSaid_data();
    void whatCannotBeStartedIsSaid();
    void itRunsWithFolderVariablesAndPlay();
    void whatWasWrongGoesWithTheNextStart();
    void whatWasOpenStandsThere();
    void theDesktopsEntriesAreRead();
    void keysAreChangedAndRemembered();
    void keysThatAreTakenAreTold();
};

void StartTest::aProgramIsStartedAsOnACommandLine()
{
    MainWindow w;
    w.show();
    QVERIFY(activate(w));
    QVERIFY(w.startPage()->isVisible() && w.startPage()->programLine()->hasFocus()); // one can type at once
    QSignalSpy asked(w.startPage(), &StartPage::programAsked);
    disconnect(w.startPage(), &StartPage::programAsked, &w, nullptr);
    enter(w.startPage()->programLine(), "  /bin/echo one \"two words\"  ");
    QCOMPARE(asked.size(), 1);
    const auto spec = asked[0][0].value<ProgramSpec>();
    QCOMPARE(spec.program, QString("/bin/echo"));
    QCOMPARE(spec.arguments, (QStringList{"one", "two words"}));
    QVERIFY(spec.workingFolder.isEmpty() && spec.environment.isEmpty());
    QCOMPARE(w.remembered()->recent("programs"), QStringList{"/bin/echo one \"two words\""});
}

void StartTest::whatCannotBeStartedIsSaid_data()
{
    QTest::addColumn<QString>("program");
    QTest::addColumn<QString>("folder");
    QTest::addColumn<QString>("environment");
    QTest::addColumn<QString>("says");
    QTest::newRow("nothing") << " "
                             << ""
                             << ""
                             << "Type the program";
    QTest::newRow("no folder") << "/bin/echo"
                               << "/nowhere/at/all"
                               << ""
                               << "/nowhere/at/all is not a folder";
    QTest::newRow("an open quote") << "/bin/echo 'one"
                                   << ""
                                   << ""
                                   << "A ' is missing at the end";
    QTest::newRow("no variable") << "/bin/echo"
                                 << ""
                                 << "LANG=C MODE"
                                 << "'MODE' is not a variable";
}

void StartTest::whatCannotBeStartedIsSaid()
{
    QFETCH(QString, program);
    QFETCH(QString, folder);
    QFETCH(QString, environment);
    QFETCH(QString, says);
    MainWindow w;
    w.show();
    QSignalSpy asked(w.startPage(), &StartPage::programAsked);
    line(w, "programFolder")->setText(folder);
    line(w, "programEnvironment")->setText(environment);
    enter(w.startPage()->programLine(), program);
    QVERIFY2(w.startPage()->note()->said().contains(says), qPrintable(w.startPage()->note()->said()));
    QVERIFY(asked.isEmpty() && w.remembered()->recent("programs").isEmpty());
    QTest::keyClicks(w.startPage()->programLine(), "x"); // it goes when the text changes
    QVERIFY(w.startPage()->note()->said().isEmpty());
}

void StartTest::itRunsWithFolderVariablesAndPlay()
{
    QTemporaryDir dir;
    QVERIFY(writeFile(dir.path() + "/x.play", "wait 50ms\n"));
    MainWindow w;
    w.show();
    QString said;
    connect(&w.session()->runs, &Runs::outputArrived, &w, [&](const QString &text, bool) { said += text; });
    line(w, "programFolder")->setText(dir.path());
    line(w, "programEnvironment")->setText("PORT=Oban \"TIDE=high water\"");
    enter(w.startPage()->programLine(), "/bin/sh -c 'echo at $PWD with $PORT, $TIDE'");
    QVERIFY2(QTest::qWaitFor([&] { return said.contains("high water"); }, 10'000), qPrintable(said));
    QVERIFY2(said.contains("at " + dir.path() + " with Oban, high water"), qPrintable(said));
    QVERIFY(QTest::qWaitFor([&] { return w.session()->runs.state() == RunState::Idle; }, 10'000));
}

// What kept one program from starting is no word on the next one.
void StartTest::whatWasWrongGoesWithTheNextStart()
{
    MainWindow w;
    w.show();
    auto *bar = w.findChild<QWidget *>("messageBar");
    QVERIFY(bar);
    enter(w.startPage()->programLine(), "no-such-program-anywhere");
    QVERIFY(QTest::qWaitFor([&] { return bar->isVisible() && w.message().contains("search path"); }, 5000));
    enter(w.startPage()->programLine(), targetProgram("loops") + " 20");
    QVERIFY(QTest::qWaitFor([&] { return w.session()->runs.state() == RunState::Running; }, 10'000));
    QVERIFY(!bar->isVisible());
    QVERIFY(QTest::qWaitFor([&] { return w.session()->runs.state() == RunState::Idle; }, 20'000));
}

void StartTest::whatWasOpenStandsThere()
{
    const QString one = desks_.fresh(), two = desks_.fresh("after");
    {
        MainWindow w;
        w.show();
        QVERIFY(!w.startPage()->recent()->isVisible()); // nothing yet, so no empty list
        w.session()->open(one);
        w.session()->open(two);
    }
    QVERIFY(QDir(one).removeRecursively());
    MainWindow w;
    w.show();
    RowList *recent = w.startPage()->recent();
    QVERIFY(recent->isVisible());
    QCOMPARE(recent->rowModel()->rowCount(), 1); // what is gone is not offered
    QCOMPARE(recent->rowModel()->rows()[0].key, two);
    QCOMPARE(recent->rowModel()->rows()[0].tail, QString("project"));
    recent->setFocus();
    recent->setCurrentIndex(recent->rowModel()->index(0));
    QTest::keyClick(recent, Qt::Key_Return);
    QVERIFY(QTest::qWaitFor([&] { return w.session()->document.isOpen(); }, 5000));
    QVERIFY(w.board()->isVisible());
}

void StartTest::theDesktopsEntriesAreRead()
{
    QTemporaryDir dir;
    const QString folder = dir.path() + "/applications/";
    QVERIFY(QDir().mkpath(folder));
    const QString window = QCoreApplication::applicationDirPath() + "/pipit-window";
    const auto entry = [&](const char *file, const QString &exec) {
        return bool(writeFile(folder + file,
                              ("[Desktop Entry]\nName=" + QString(file) + "\nExec=" + exec + "\n").toUtf8()));
    };
    QVERIFY(entry("one.desktop", window + " --quick %U"));
    QVERIFY(entry("quoted.desktop", "\"" + window + "\" %f"));
    QVERIFY(entry("other.desktop", "/bin/ls"));
    QVERIFY(entry("gone.desktop", "/nowhere/at/all"));
    QVERIFY(entry("none.txt", window));
    QVERIFY(writeFile(folder + "rubbish.desktop", QByteArray(200'000, '\xff')));
    const QByteArray before = qgetenv("XDG_DATA_DIRS"), home = qgetenv("XDG_DATA_HOME");
    qputenv("XDG_DATA_DIRS", dir.path().toUtf8());
    qputenv("XDG_DATA_HOME", (dir.path() + "/home").toUtf8());
    QStringList names, commands;
    for (const DesktopEntry &e : desktopEntries()) {
        names << e.name;
        commands << e.command;
    }
    qputenv("XDG_DATA_DIRS", before);
    qputenv("XDG_DATA_HOME", home);
    QCOMPARE(names, (QStringList{"one.desktop", "quoted.desktop"})); // those that use the toolkit
    QCOMPARE(commands[0], window + " --quick");                      // without what stands for files
}

void StartTest::keysAreChangedAndRemembered()
{
    {
        MainWindow w;
        w.show();
        w.session()->open(desks_.fresh());
        QVERIFY(activate(w));
        const Action *trace = nullptr;
        for (const Action &a : w.actions()->all())
            if (a.words == "Trace")
                trace = &a;
        QVERIFY(trace);
        QCOMPARE(w.actions()->keyText(*trace), QString("Alt+2"));
        w.actions()->setKeys(trace->id, "Ctrl+Shift+T");
        QTest::keyClick(&w, Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(w.trace()->isVisible());
        w.show(MainWindow::Board);
        QTest::keyClick(&w, Qt::Key_2, Qt::AltModifier); // no longer
        QVERIFY(w.board()->isVisible());
    }
    MainWindow w;
    w.show();
    w.session()->open(desks_.fresh());
    QVERIFY(activate(w));
    QTest::keyClick(&w, Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier); // the next time too
    QVERIFY(w.trace()->isVisible());
    for (const Action &a : w.actions()->all())
        if (a.words == "Trace")
            w.actions()->setKeys(a.id, {}); // ours again
    w.show(MainWindow::Board);
    QTest::keyClick(&w, Qt::Key_2, Qt::AltModifier);
    QVERIFY(w.trace()->isVisible());
}

void StartTest::keysThatAreTakenAreTold()
{
    MainWindow w;
    QString idOfTrace, idOfPace;
    for (const Action &a : w.actions()->all()) {
        idOfTrace = a.words == "Trace" ? a.id : idOfTrace;
        idOfPace = a.words == "Pace" ? a.id : idOfPace;
    }
    QVERIFY(w.actions()->takenBy("Alt+3", idOfTrace));
    QCOMPARE(w.actions()->takenBy("Alt+3", idOfTrace)->id, idOfPace);
    QVERIFY(!w.actions()->takenBy("Alt+3", idOfPace)); // its own
    QVERIFY(!w.actions()->takenBy("Ctrl+Alt+F12", idOfTrace));
    // Everything has words and a key or a place in the sheet, and no two have the same.
    QHash<QString, QString> by;
    for (const Action &a : w.actions()->all()) {
        QVERIFY2(!a.words.isEmpty() && !a.group.isEmpty(), qPrintable(a.id));
        for (const QString &keys : w.actions()->keysOf(a)) {
            QVERIFY2(!by.contains(keys), qPrintable(keys + ": " + a.words + " and " + by.value(keys)));
            by.insert(keys, a.words);
        }
    }
    QVERIFY(by.size() > 25);
}

void StartTest::theWindowHelpsOnTheCommandLine()
{
    const QString window = QCoreApplication::applicationDirPath() + "/pipit-window";
    for (const char *word : {"--help", "-h", "--version"}) {
        const Ran ran = command(window, {word});
        QVERIFY2(ran.code == 0 && ran.out.contains("pipit") && ran.err.isEmpty(), ran.out + ran.err);
    }
    const Ran wrong = command(window, {"--frobnicate"});
    QCOMPARE(wrong.code, 2);
    QVERIFY2(wrong.err.contains("unknown argument '--frobnicate'"), wrong.err);
}

PIPIT_TEST(StartTest)
#include "start_test.moc"
