// The preview of a move: both sides of the code, or why it is not moved.
#include "app/look/divider.h"
#include "core/base/files.h"
#include "core/build/compiler.h"
#include "core/userfiles/cpp_scan.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"
#include "tests/support/window.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QLineEdit>
#include <QSignalSpy>
#include <QTemporaryDir>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class MovePanelTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void codeOfOthersIsAChangeToCopy();
    void bothSidesAreShown();
    void aRefusalNamesItsLines();
    void leavingItForgetsIt();
    void theColumnsCanBeWidened();
    void whatWouldDoIsOffered();
    void howItGoesOnIsChosen();
    void paceIsChangedLater();
    void aTimerIsChanged_data();
    void aTimerIsChanged();

private:
    // The small desk, with its slow handler's body replaced.
    static void open(MainWindow &w, const QTemporaryDir &dir, const QString &body = {})
    {
        copyFolder(smallDesk() + "/before", dir.path() + "/desk");
        w.resize(1280, 800);
        w.show();
        w.session()->open(dir.path() + "/desk");
        if (body.isEmpty())
            return;
        UserFiles &files = w.session()->document.workspace().files();
        QString code = *files.text("ferry_desk.cpp");
        const auto d = definitionOf(code, "FerryDesk", "tideForecast");
        QVERIFY(d);
        code.replace(d->bodyOpen, d->bodyClose + 1 - d->bodyOpen, "{\n" + body + "}");
        files.setText("ferry_desk.cpp", code);
    }
    static MovePanel *plan(MainWindow &w, Shape shape)
    {
        w.board()->drawer()->planMove("tideForecast", shape);
        return w.board()->drawer()->movePanel();
    }
};

void MovePanelTest::bothSidesAreShown()
{
    QTemporaryDir dir;
    MainWindow w;
    open(w, dir);
    MovePanel *panel = plan(w, Shape::Steps);
    QVERIFY(panel->isVisible() && panel->isPlanning() && !panel->applyButton()->isEnabled());
    QTRY_VERIFY_WITH_TIMEOUT(!panel->isPlanning(), 60000);
    QVERIFY2(panel->isReady(), qPrintable(panel->sentences()));
    QVERIFY(panel->before()->toPlainText().startsWith("// The tide at"));
    QVERIFY(
        panel->after()->toPlainText().contains("bool FerryDesk::tideForecastStep(TideForecastState &state)"));
    QVERIFY(panel->after()->bands().contains(CodePane::Band::Timer));
    QVERIFY(!panel->after()->bands().contains(CodePane::Band::Background));
    QTest::mouseClick(panel->applyButton(), Qt::LeftButton);
    QCOMPARE(w.session()->document.project().handler("tideForecast")->shape, Shape::Steps);
    w.session()->document.undo();
    QCOMPARE(w.session()->document.project().handler("tideForecast")->shape, Shape::OneGo);
}

void MovePanelTest::aRefusalNamesItsLines()
{
    QTemporaryDir dir;
    MainWindow w;
    open(w, dir,
         "    int (*rule)(int) = [](int n) { return n + 1; };\n    int n = 0;\n"
         "    for (int i = 0; i < 1000; ++i)\n        n = rule(n);\n    "
         "tideLabel->setText(QString::number(n));\n");
    MovePanel *panel = plan(w, Shape::Background);
    QTRY_VERIFY_WITH_TIMEOUT(!panel->isPlanning(), 60000);
    QVERIFY(!panel->isReady());
    QVERIFY(panel->reasons()->isVisible() && panel->answerButton()->isVisible());
    QVERIFY(!panel->applyButton()->isVisible());
    const int refused = panel->reasons()->model()->rowCount();
    QVERIFY(refused >= 1);
    QVERIFY2(panel->sentences().contains("known only at run time"), qPrintable(panel->sentences()));
    QVERIFY(panel->before()->bands().contains(CodePane::Band::Broken));
    // Whoever knows better answers for the line.
    for (int asked = 0; asked < 4 && !panel->isReady(); ++asked) {
        QTest::mouseClick(panel->answerButton(), Qt::LeftButton);
        QVERIFY(panel->isPlanning());
        QTRY_VERIFY_WITH_TIMEOUT(!panel->isPlanning(), 60000);
    }
    QVERIFY2(panel->isReady(), qPrintable(panel->sentences()));
}

// Two handlers that use one member: the refusal says what would do, and one button does it.
void MovePanelTest::whatWouldDoIsOffered()
{
    QTemporaryDir dir;
    MainWindow w;
    open(w, dir,
         "    for (int i = 0; i < 1000; ++i)\n        tides_[i] = i * 0.5;\n"
         "    tideLabel->setText(QString::number(tides_.size()));\n");
    UserFiles &files = w.session()->document.workspace().files();
    QString header = *files.text("ferry_desk.h");
    header.replace(header.lastIndexOf("};"), 2, "\nprivate:\n    QHash<int, double> tides_;\n};");
    files.setText("ferry_desk.h", header);
    QString code = *files.text("ferry_desk.cpp");
    const QString first = "void FerryDesk::boardPassenger()\n{\n";
    QVERIFY(code.contains(first));
    files.setText("ferry_desk.cpp", code.replace(first, first + "    tides_.clear();\n"));
    MovePanel *panel = plan(w, Shape::Background);
    QTRY_VERIFY_WITH_TIMEOUT(!panel->isPlanning(), 60000);
    QVERIFY2(!panel->isReady() && panel->offerButton()->isVisible(), qPrintable(panel->sentences()));
    QCOMPARE(panel->offerButton()->text(), QString("Move boardPassenger as well"));
    QVERIFY2(panel->sentences().contains("boardPassenger uses the same"), qPrintable(panel->sentences()));
    QTest::keyClick(panel->offerButton(), Qt::Key_Return);
    QCOMPARE(panel->choices()->queue()->currentText(), QString("tides"));
    QTRY_VERIFY_WITH_TIMEOUT(!panel->isPlanning(), 60000);
    QVERIFY2(panel->sentences().contains("boardPassenger"), qPrintable(panel->sentences()));
}

void MovePanelTest::howItGoesOnIsChosen()
{
    QTemporaryDir dir;
    MainWindow w;
    open(w, dir);
    MovePanel *panel = plan(w, Shape::Background);
    QTRY_VERIFY_WITH_TIMEOUT(!panel->isPlanning(), 60000);
    MoveChoices *choices = panel->choices();
    QVERIFY(choices->isVisible() && choices->again()->currentText() == "wait in the queue");
    choices->again()->setFocus();
    QTest::keyClick(choices->again(), Qt::Key_Down);
    Q_EMIT choices->again()->activated(choices->again()->currentIndex());
    QTRY_VERIFY_WITH_TIMEOUT(panel->isReady(), 60000);
    QVERIFY2(panel->sentences().contains("during the work: ignored"), qPrintable(panel->sentences()));
    QVERIFY2(choices->again()->hasFocus(), "who is choosing goes on choosing");
    const int at = choices->cancel()->findText("boardButton");
    QVERIFY(at > 0);
    choices->cancel()->setCurrentIndex(at);
    Q_EMIT choices->cancel()->activated(at);
    QTRY_VERIFY_WITH_TIMEOUT(panel->isReady(), 60000);
    QTest::keyClick(panel->applyButton(), Qt::Key_Return);
    const Project &p = w.session()->document.project();
    QCOMPARE(p.handler("tideForecast")->again, QString("ignore"));
    const bool cancels = std::any_of(p.connections.begin(), p.connections.end(), [](const Connection &c) {
        return c.from == "boardButton" && c.to == "tideForecastJob" && c.toMember == "cancel";
    });
    QVERIFY(cancels);
}

void MovePanelTest::paceIsChangedLater()
{
    QTemporaryDir dir;
    MainWindow w;
    open(w, dir);
    MovePanel *panel = plan(w, Shape::Background);
    QTRY_VERIFY_WITH_TIMEOUT(panel->isReady(), 60000);
    QTest::keyClick(panel->applyButton(), Qt::Key_Return);
    plan(w, Shape::Background);
    QTRY_VERIFY_WITH_TIMEOUT(!panel->isPlanning(), 60000);
    QVERIFY2(!panel->applyButton()->isEnabled(), "nothing is changed yet");
    QVERIFY(!panel->choices()->cancel()->isVisible());
    MoveChoices *choices = panel->choices();
    choices->queue()->setFocus();
    choices->queue()->lineEdit()->selectAll();
    QTest::keyClicks(choices->queue()->lineEdit(), "tides");
    QTest::keyClick(choices->queue()->lineEdit(), Qt::Key_Return);
    QTRY_VERIFY_WITH_TIMEOUT(panel->isReady() && panel->applyButton()->isEnabled(), 60000);
    QTest::keyClick(panel->applyButton(), Qt::Key_Return);
    QCOMPARE(w.session()->document.project().handler("tideForecast")->queue, QString("tides"));
    w.session()->document.undo();
    QVERIFY(w.session()->document.project().handler("tideForecast")->queue.isEmpty());
}

void MovePanelTest::aTimerIsChanged_data()
{
    QTest::addColumn<QString>("tick");
    QTest::addColumn<bool>("onTime");
    QTest::addColumn<QString>("then");
    QTest::newRow("told")
        << "    tideLabel->setText(QFileInfo(\"/tmp/gate\").exists() ? \"open\" : \"shut\");\n"
        << false << "lookWatch->addPath";
    QTest::newRow("on time") << "    tideLabel->clear();\n" << true << "lookTimer->start();";
    QTest::newRow("refused") << "    tideLabel->setText(tideLabel->text() + '.');\n" << true << QString();
}

// Instead of polling or sweeping: shown, applied and taken back as a move is, and so is a refusal.
void MovePanelTest::aTimerIsChanged()
{
    QFETCH(QString, tick);
    QFETCH(bool, onTime);
    QFETCH(QString, then);
    QTemporaryDir dir;
    MainWindow w;
    open(w, dir, "    tideLabel->setText(\"high\");\n");
    Document &document = w.session()->document;
    QVERIFY(document.edit([](Workspace &ws) {
        type(ws, {"add: timer lookTimer interval=200", "connect: lookTimer.timeout calls look"});
        return Outcome(Done{});
    }));
    UserFiles &files = document.workspace().files();
    QString code = *files.text("ferry_desk.cpp");
    const auto d = definitionOf(code, "FerryDesk", "look");
    QVERIFY(d);
    code.replace(d->bodyOpen, d->bodyClose + 1 - d->bodyOpen, "{\n" + tick + "}");
    files.setText("ferry_desk.cpp",
                  code.replace("#include \"ferry_desk.h\"\n",
                               "#include \"ferry_desk.h\"\n\n#include <QtCore/QFileInfo>\n"));
    Drawer *drawer = w.board()->drawer();
    onTime ? drawer->planOnTime("lookTimer") : drawer->planTold("lookTimer");
    MovePanel *panel = drawer->movePanel();
    QTRY_VERIFY_WITH_TIMEOUT(!panel->isPlanning(), 60000);
    QVERIFY2(panel->isReady() == !then.isEmpty(), qPrintable(panel->sentences()));
    if (then.isEmpty()) {
        // Nobody answers for what a tick does beside.
        QVERIFY(panel->reasons()->isVisible() && !panel->answerButton()->isVisible());
        QVERIFY(!panel->applyButton()->isVisible());
        QCOMPARE(panel->reasons()->rowModel()->row(panel->reasons()->currentIndex())->number,
                 lineAt(*files.text("ferry_desk.cpp"), files.text("ferry_desk.cpp")->indexOf(tick)));
        return;
    }
    QVERIFY2(panel->after()->toPlainText().contains(then), qPrintable(panel->after()->toPlainText()));
    QVERIFY(!panel->choices()->isVisible());
    QTest::keyClick(panel->applyButton(), Qt::Key_Return);
    QVERIFY2(files.text("ferry_desk.cpp")->contains(then), qPrintable(*files.text("ferry_desk.cpp")));
    QVERIFY(!document.project().timer("lookTimer")->repeat);
    document.undo();
    QVERIFY(document.project().timer("lookTimer")->repeat);
    QVERIFY(!files.text("ferry_desk.cpp")->contains(then));
}

void MovePanelTest::theColumnsCanBeWidened()
{
    QTemporaryDir dir;
    MainWindow w;
    open(w, dir);
    MovePanel *panel = plan(w, Shape::Background);
    QTRY_VERIFY_WITH_TIMEOUT(panel->isReady(), 60000);
    const auto dividers = panel->findChildren<Divider *>();
    const auto codes = panel->findChildren<CodePane *>();
    QCOMPARE(dividers.size(), 2);
    const int before = codes[0]->width(), after = codes[1]->width();
    QTest::keyClick(dividers[1], Qt::Key_Left); // from the code before to the code after
    QTRY_VERIFY(codes[0]->width() < before && codes[1]->width() > after);
    QTest::keyClick(dividers[1], Qt::Key_Home);
    QTRY_COMPARE(codes[0]->width(), before);
}

void MovePanelTest::leavingItForgetsIt()
{
    QTemporaryDir dir;
    MainWindow w;
    open(w, dir);
    MovePanel *panel = plan(w, Shape::Background);
    QSignalSpy planned(panel, &MovePanel::planned);
    for (QPushButton *b : panel->findChildren<QPushButton *>())
        if (b->text() == "Leave it")
            QTest::mouseClick(b, Qt::LeftButton);
    QVERIFY(!panel->isPlanning() && !panel->isVisible());
    QVERIFY(QThreadPool::globalInstance()->waitForDone(60'000)); // what was planned is there
    QCoreApplication::processEvents();
    QCOMPARE(planned.count(), 0);
    QCOMPARE(w.session()->document.project().handler("tideForecast")->shape, Shape::OneGo);
}

// Of code that was not composed here the change is shown, to be copied; nothing is written.
void MovePanelTest::codeOfOthersIsAChangeToCopy()
{
    QTemporaryDir dir;
    const QByteArray source = "#include <QtWidgets/QLabel>\n\nclass Window : public QWidget\n{\npublic:\n"
                              "    void load()\n    {\n        int n = 0;\n"
                              "        for (int i = 0; i < 1000; ++i)\n            n += i % 7;\n"
                              "        status_->setText(QString::number(n));\n    }\n"
                              "    QLabel *status_ = new QLabel(this);\n};\n";
    QVERIFY(QDir(dir.path()).mkpath("src") && writeFile(dir.path() + "/src/window.cpp", source));
    MainWindow w;
    ElsewherePanel panel(w.session());
    panel.show();
    QSignalSpy planned(&panel, &ElsewherePanel::planned);
    panel.plan("Window::load", dir.path() + "/src/window.cpp", 6);
    QTRY_COMPARE_WITH_TIMEOUT(planned.size(), 1, 20000);
    QVERIFY2(panel.sentences().contains("compile_commands.json"), qPrintable(panel.sentences()));
    QVERIFY(!panel.copyButton()->isVisible());
    QVERIFY(writeFile(dir.path() + "/compile_commands.json",
                      ("[{\"directory\": \"" + dir.path() +
                       "\", \"file\": \"src/window.cpp\", \"command\": \"c++ " + gcc().flags().join(' ') +
                       " -c src/window.cpp\"}]")
                          .toUtf8()));
    panel.plan("Window::load", dir.path() + "/src/window.cpp", 6);
    QTRY_COMPARE_WITH_TIMEOUT(planned.size(), 2, 60000);
    QVERIFY2(panel.copyButton()->isVisible(), qPrintable(panel.sentences()));
    QTest::keyClick(panel.copyButton(), Qt::Key_Space);
    const QString change = QGuiApplication::clipboard()->text();
    QVERIFY2(change.startsWith("--- a/src/window.cpp\n+++ b/src/window.cpp\n"), qPrintable(change));
    QVERIFY(change.contains("+int loadWork(QPromise<int> &promise)"));
    QCOMPARE(*readFile(dir.path() + "/src/window.cpp"), source);
    QSignalSpy dismissed(&panel, &ElsewherePanel::dismissed);
    panel.leaveButton()->click();
    QCOMPARE(dismissed.size(), 1);
}

PIPIT_TEST(MovePanelTest)
#include "move_panel_test.moc"
