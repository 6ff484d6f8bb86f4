// The session: saving beside the loop, runs that wait for it, findings that come later.
#include "app/session/background.h"
#include "app/session/session.h"
#include "app/shell/main_window.h"
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QApplication>
#include <QClipboard>

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
        QVERIFY(s.document.edit([&](Workspace &w) { return w.addWidget(".", "button", name, {}); }));
    }
    static bool onDisk(const QString &folder, const QString &name)
    {
        auto w = Workspace::open(folder);
        return w && w->project().widget(name);
    }

    // Everything that was begun on a worker has come back, so that what does not come never will.
    static void settle()
    {
        for (int round = 0; round < 3; ++round) {
            QVERIFY(QThreadPool::globalInstance()->waitForDone(60'000));
            QVERIFY(quietPool()->waitForDone(60'000));
            QCoreApplication::sendPostedEvents();
        }
    }

    // 500 buttons, each with a connection that leads nowhere.
    static void fill(Session &s)
    {
        s.document.edit([](Workspace &w) {
            Edit e{"fill", {}, w.project(), {}};
            fillWithButtons(e.after, 500, [](int) { return QString("nobody"); });
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
    void removingSaysWhatGoesToo();
    void whatAStepLeavesOutIsOffered();
};

void SessionTest::savesFollowEachOther()
{
    Session s;
    const QString folder = fresh();
    s.document.create(folder);
    int told = 0;
    for (const char *name : {"one", "two", "three"}) {
        addButton(s, name);
        s.document.save([&] { ++told; });
    }
    QVERIFY(s.document.saving());
    QCOMPARE(told, 0); // nothing is written on the loop
    QTRY_COMPARE(told, 3);
    QVERIFY(!s.document.saving() && !s.document.workspace().dirty());
    for (const char *name : {"one", "two", "three"})
        QVERIFY2(onDisk(folder, name), name);
}

// An edit while it is written is not lost, and not said to be saved.
void SessionTest::whatIsSavedIsWhatWasThere()
{
    Session s;
    const QString folder = fresh();
    s.document.create(folder);
    addButton(s, "early");
    bool saved = false;
    s.document.save([&] { saved = true; });
    addButton(s, "late");
    QTRY_VERIFY(saved);
    QVERIFY(s.document.workspace().dirty());
    QVERIFY(onDisk(folder, "early") && !onDisk(folder, "late"));
    s.document.undo();
    QVERIFY(!s.document.workspace().dirty()); // as it was written
}

void SessionTest::anAnswerAboutAnotherProjectIsDropped()
{
    Session s;
    const QString first = fresh(), second = fresh();
    s.document.create(first);
    addButton(s, "mine");
    bool told = false;
    s.document.save([&] { told = true; });
    s.document.create(second);
    addButton(s, "other");
    settle();
    QVERIFY(!told);
    QVERIFY(onDisk(first, "mine")); // it was written all the same
    QVERIFY(s.document.workspace().dirty() && !s.document.saving());
    bool again = false;
    s.document.save([&] { again = true; });
    QTRY_VERIFY(again);
    QVERIFY(onDisk(second, "other") && !onDisk(second, "mine"));
}

void SessionTest::aRunSavesFirst()
{
    Session s;
    const QString folder = fresh();
    s.document.create(folder);
    addButton(s, "go");
    s.runs.run();
    QCOMPARE(s.runs.state(), RunState::Building); // at once, so that it is not begun twice
    QTRY_VERIFY_WITH_TIMEOUT(s.runs.state() == RunState::Running, 120'000);
    QVERIFY(onDisk(folder, "go"));
    QVERIFY(!s.runs.wiringChangedSinceRun());
    addButton(s, "more");
    QVERIFY(s.runs.wiringChangedSinceRun());
    s.runs.stop();
    QTRY_VERIFY_WITH_TIMEOUT(s.runs.state() == RunState::Idle, 20'000);
}

void SessionTest::stoppingWhileItSavesDoesNotRun()
{
    Session s;
    s.document.create(fresh());
    addButton(s, "go");
    QSignalSpy built(&s.runs, &Runs::buildFinished);
    s.runs.run();
    s.runs.stop();
    QCOMPARE(s.runs.state(), RunState::Idle);
    QTRY_VERIFY(!s.document.saving());
    settle();
    QCOMPARE(built.count(), 0);
    QCOMPARE(s.runs.state(), RunState::Idle);
    QVERIFY(!s.document.workspace().dirty()); // it was saved, for that was asked too
}

void SessionTest::whatCannotBeSavedDoesNotRun()
{
    Session s;
    s.document.create(fresh());
    addButton(s, "go");
    QVERIFY(writeFile(s.document.workspace().place().file, "{ half written"));
    QSignalSpy problems(&s.messages, &Messages::problem), failed(&s.document, &Document::savingFailed),
        built(&s.runs, &Runs::buildFinished);
    s.runs.run();
    QTRY_COMPARE(failed.count(), 1);
    QVERIFY(problems.first().first().toString().contains("changed on disk"));
    QCOMPARE(s.runs.state(), RunState::Idle);
    QCOMPARE(built.count(), 0);
    QVERIFY(s.document.workspace().dirty());
}

void SessionTest::largeProjectsAreCheckedLater()
{
    Session s;
    Later::StoppedTime time;
    s.document.create(fresh());
    fill(s);
    QSignalSpy told(&s.document, &Document::findingsChanged);
    time.pass(std::chrono::milliseconds(149));
    settle();
    QVERIFY(s.document.findings().isEmpty()); // not looked at on the loop, nor while edits may follow
    time.pass(std::chrono::milliseconds(1));
    settle();
    QCOMPARE(told.count(), 1);
    QCOMPARE(s.document.findings().size(), 500);
    QVERIFY(s.document.findingTexts().value(s.document.project().connections.first().id).contains("nobody"));
    // What finds nothing new is not told again.
    s.document.edit([](Workspace &w) { return w.setProperty("key3", "toolTip", "Three"); });
    s.document.edit([](Workspace &w) { return w.setProperty("key4", "toolTip", "Four"); });
    time.pass(std::chrono::milliseconds(150));
    settle();
    QCOMPARE(told.count(), 1);
    s.document.remove({"key3"});
    time.pass(std::chrono::milliseconds(150));
    settle();
    QCOMPARE(told.count(), 2);
    QCOMPARE(s.document.findings().size(), 499);
}

// The large project was still looked at on a worker when it became a small one.
void SessionTest::aLateAnswerDoesNotCount()
{
    Session s;
    Later::StoppedTime time;
    s.document.create(fresh());
    for (int wait : {0, 149, 150}) {
        fill(s);
        time.pass(std::chrono::milliseconds(wait));
        s.document.undo();
        QVERIFY(s.document.project().connections.isEmpty() && s.document.findings().isEmpty());
        time.pass(std::chrono::milliseconds(150));
        settle();
        QVERIFY2(s.document.findings().isEmpty(), qPrintable(QString::number(wait)));
    }
}

void SessionTest::thePreviewsFindingsStandBesideTheChecks()
{
    Session s;
    s.document.create(fresh());
    addButton(s, "lonely"); // the check says that nothing is connected to it
    QCOMPARE(s.document.findings().size(), 1);
    QSignalSpy told(&s.document, &Document::findingsChanged);
    Finding here, there;
    here.id = there.id = "preview-value";
    here.where = "lonely";
    here.message = "lonely: font cannot be 'x'.";
    there.where = "desk";
    there.message = "desk: font cannot be 'x'.";
    s.document.setPreviewFindings({here, there});
    QCOMPARE(told.count(), 1);
    QCOMPARE(s.document.findings().size(), 2); // where the check has said something, that is enough
    QCOMPARE(s.document.findings().last().where, QString("desk"));
    s.document.setPreviewFindings({here, there});
    QCOMPARE(told.count(), 1);
    s.document.setPreviewFindings({});
    QCOMPARE(s.document.findings().size(), 1);
    s.document.setPreviewFindings({there});
    s.document.create(fresh());
    QVERIFY(s.document.findings().isEmpty()); // they were about another project
}

// Whatever goes with what is removed is said, with a way back; nothing else goes.
void SessionTest::removingSaysWhatGoesToo()
{
    MainWindow w;
    w.show();
    Document &d = w.session()->document;
    d.create(fresh());
    d.edit([](Workspace &ws) -> Outcome {
        type(ws, {"add: button a \"A\"", "connect: a.clicked calls one", "connect: * pressed calls two"});
        return Done{};
    });
    QSignalSpy told(&d, &Document::removed);
    QVERIFY(d.remove({"one"}));
    QCOMPARE(told.count(), 1);
    const QString said = told.first().first().toString();
    QVERIFY2(said.startsWith("one removed. ") && said.contains("a · clicked calls one"), qPrintable(said));
    QCOMPARE(d.project().connections.size(), 1);
    auto *back = w.findChild<QPushButton *>("messageAction");
    QVERIFY(back->isVisible() && back->text() == "Restore it");
    back->click();
    QVERIFY(d.project().handler("one"));
    QCOMPARE(d.project().connections.size(), 2);
    // After another edit it would take back that one, so it is not offered any more.
    QVERIFY(d.remove({"one"}));
    QVERIFY(back->isVisible());
    addButton(*w.session(), "more");
    QVERIFY(!back->isVisible());
}

void SessionTest::whatAStepLeavesOutIsOffered()
{
    MainWindow w;
    w.show();
    Document &d = w.session()->document;
    d.create(fresh());
    d.edit([](Workspace &ws) -> Outcome {
        type(ws,
             {"add: button a \"A\"", "connect: a.clicked calls one", "body: one: setWindowTitle(\"mine\");"});
        return Done{};
    });
    QVERIFY(d.remove({"one"}));
    d.workspace().files().setText("desk.cpp", "// all is new here\n");
    d.undo();
    QVERIFY(d.project().handler("one"));
    auto *offer = w.findChild<QPushButton *>("messageAction");
    QVERIFY(offer && offer->isVisible());
    QCOMPARE(offer->text(), QString("Copy the text"));
    offer->click();
    QVERIFY(QApplication::clipboard()->text().contains("setWindowTitle(\"mine\")"));
    d.undo(); // the steps before it can be reached
    QVERIFY(!d.project().handler("one"));
}

PIPIT_TEST(SessionTest)
#include "session_test.moc"
