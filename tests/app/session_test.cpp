// The session: saving beside the loop, runs that wait for it, findings that come later.
#include "app/shell/session.h"
#include "core/base/files.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class SessionTest : public QObject
{
    Q_OBJECT
private:
    QTemporaryDir dir_;
    int number_ = 0;
    QString fresh() { return QStringLiteral("%1/%2/desk").arg(dir_.path()).arg(++number_); }
    static void addButton(Session &s, const QString &name)
    {
        QVERIFY(s.edit([&](Workspace &w) { return w.addWidget(".", "button", name, {}); }));
    }
    static bool onDisk(const QString &folder, const QString &name)
    {
        auto w = Workspace::open(folder);
        return w && w->project().widget(name);
    }

    // 500 buttons, each with a connection that leads nowhere.
    static void fill(Session &s)
    {
        s.edit([](Workspace &w) {
            Edit e{"fill", {}, w.project(), {}};
            for (int i = 0; i < 500; ++i) {
                WidgetNode b;
                b.id = e.after.newId("w");
                b.className = "QPushButton";
                b.name = QStringLiteral("key%1").arg(i);
                e.after.windows.first().root.children.append(b);
                Connection c;
                c.id = e.after.newId("c");
                c.from = b.name;
                c.signal = "clicked";
                c.to = "nobody";
                e.after.connections.append(c);
            }
            return w.apply(e);
        });
    }

private slots:
    void savesFollowEachOther();
    void whatIsSavedIsWhatWasThere();
    void anAnswerAboutAnotherProjectIsDropped();
    void aRunSavesFirst();
    void stoppingWhileItSavesDoesNotRun();
    void whatCannotBeSavedDoesNotRun();
    void largeProjectsAreCheckedLater();
    void aLateAnswerDoesNotCount();
    void thePreviewsFindingsStandBesideTheChecks();
};

void SessionTest::savesFollowEachOther()
{
    Session s;
    const QString folder = fresh();
    s.createProject(folder);
    int told = 0;
    for (const char *name : {"one", "two", "three"}) {
        addButton(s, name);
        s.save([&] { ++told; });
    }
    QVERIFY(s.saving());
    QCOMPARE(told, 0); // nothing is written on the loop
    QTRY_COMPARE(told, 3);
    QVERIFY(!s.saving() && !s.workspace().dirty());
    for (const char *name : {"one", "two", "three"})
        QVERIFY2(onDisk(folder, name), name);
}

// An edit while it is written is not lost, and not said to be saved.
void SessionTest::whatIsSavedIsWhatWasThere()
{
    Session s;
    const QString folder = fresh();
    s.createProject(folder);
    addButton(s, "early");
    bool saved = false;
    s.save([&] { saved = true; });
    addButton(s, "late");
    QTRY_VERIFY(saved);
    QVERIFY(s.workspace().dirty());
    QVERIFY(onDisk(folder, "early") && !onDisk(folder, "late"));
    s.undo();
    QVERIFY(!s.workspace().dirty()); // as it was written
}

void SessionTest::anAnswerAboutAnotherProjectIsDropped()
{
    Session s;
    const QString first = fresh(), second = fresh();
    s.createProject(first);
    addButton(s, "mine");
    bool told = false;
    s.save([&] { told = true; });
    s.createProject(second);
    addButton(s, "other");
    QTest::qWait(300);
    QVERIFY(!told);
    QVERIFY(onDisk(first, "mine")); // it was written all the same
    QVERIFY(s.workspace().dirty() && !s.saving());
    bool again = false;
    s.save([&] { again = true; });
    QTRY_VERIFY(again);
    QVERIFY(onDisk(second, "other") && !onDisk(second, "mine"));
}

void SessionTest::aRunSavesFirst()
{
    Session s;
    const QString folder = fresh();
    s.createProject(folder);
    addButton(s, "go");
    s.run();
    QCOMPARE(s.state(), RunState::Building); // at once, so that it is not begun twice
    QTRY_VERIFY_WITH_TIMEOUT(s.state() == RunState::Running, 120'000);
    QVERIFY(onDisk(folder, "go"));
    QVERIFY(!s.wiringChangedSinceRun());
    addButton(s, "more");
    QVERIFY(s.wiringChangedSinceRun());
    s.stop();
    QTRY_VERIFY_WITH_TIMEOUT(s.state() == RunState::Idle, 20'000);
}

void SessionTest::stoppingWhileItSavesDoesNotRun()
{
    Session s;
    s.createProject(fresh());
    addButton(s, "go");
    QSignalSpy built(&s, &Session::buildFinished);
    s.run();
    s.stop();
    QCOMPARE(s.state(), RunState::Idle);
    QTRY_VERIFY(!s.saving());
    QTest::qWait(300);
    QCOMPARE(built.count(), 0);
    QCOMPARE(s.state(), RunState::Idle);
    QVERIFY(!s.workspace().dirty()); // it was saved, for that was asked too
}

void SessionTest::whatCannotBeSavedDoesNotRun()
{
    Session s;
    s.createProject(fresh());
    addButton(s, "go");
    QVERIFY(writeFile(s.workspace().place().file, "{ half written"));
    QSignalSpy problems(&s, &Session::problem), failed(&s, &Session::savingFailed),
        built(&s, &Session::buildFinished);
    s.run();
    QTRY_COMPARE(failed.count(), 1);
    QVERIFY(problems.first().first().toString().contains("changed by someone else"));
    QCOMPARE(s.state(), RunState::Idle);
    QCOMPARE(built.count(), 0);
    QVERIFY(s.workspace().dirty());
}

void SessionTest::largeProjectsAreCheckedLater()
{
    Session s;
    s.createProject(fresh());
    fill(s);
    QSignalSpy told(&s, &Session::findingsChanged);
    QVERIFY(s.findings().isEmpty()); // not looked at on the loop
    QTRY_COMPARE_WITH_TIMEOUT(told.count(), 1, 20'000);
    QCOMPARE(s.findings().size(), 500);
    QVERIFY(s.findingTexts().value(s.project().connections.first().id).contains("nobody"));
    // What finds nothing new is not told again.
    s.edit([](Workspace &w) { return w.setProperty("key3", "toolTip", "Three"); });
    s.edit([](Workspace &w) { return w.setProperty("key4", "toolTip", "Four"); });
    QTest::qWait(1500);
    QCOMPARE(told.count(), 1);
    s.edit([](Workspace &w) { return w.remove("key3"); });
    QTRY_COMPARE_WITH_TIMEOUT(told.count(), 2, 20'000);
    QCOMPARE(s.findings().size(), 499);
}

// The large project was still looked at on a worker when it became a small one.
void SessionTest::aLateAnswerDoesNotCount()
{
    Session s;
    s.createProject(fresh());
    for (int wait : {0, 151, 160, 200}) {
        fill(s);
        QTest::qWait(wait);
        s.undo();
        QVERIFY(s.project().connections.isEmpty() && s.findings().isEmpty());
        QTest::qWait(700);
        QVERIFY2(s.findings().isEmpty(), qPrintable(QString::number(wait)));
    }
}

void SessionTest::thePreviewsFindingsStandBesideTheChecks()
{
    Session s;
    s.createProject(fresh());
    addButton(s, "lonely"); // the check says that nothing is connected to it
    QCOMPARE(s.findings().size(), 1);
    QSignalSpy told(&s, &Session::findingsChanged);
    Finding here, there;
    here.id = there.id = "preview-value";
    here.where = "lonely";
    here.message = "lonely: font cannot be 'x'.";
    there.where = "desk";
    there.message = "desk: font cannot be 'x'.";
    s.setPreviewFindings({here, there});
    QCOMPARE(told.count(), 1);
    QCOMPARE(s.findings().size(), 2); // where the check has said something, that is enough
    QCOMPARE(s.findings().last().where, QString("desk"));
    s.setPreviewFindings({here, there});
    QCOMPARE(told.count(), 1);
    s.setPreviewFindings({});
    QCOMPARE(s.findings().size(), 1);
    s.setPreviewFindings({there});
    s.createProject(fresh());
    QVERIFY(s.findings().isEmpty()); // they were about another project
}

QTEST_MAIN(SessionTest)
#include "session_test.moc"
