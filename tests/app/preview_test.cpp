// The preview: a process of its own that may crash, refuse values, and be walked through.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/window.h"

#include <QProcess>
#include <QScrollBar>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class PreviewTest : public QObject
{
    Q_OBJECT
private:
    Desks desks_;

private slots:
    void aDeadPreviewStartsAnew();
    void aStarvedPreviewIsNotEnded();
    void aCrashedPreviewIsAFinding();
    void valuesThatThePreviewRefusesAreFindings();
    void theTabOrderIsWalked();
    void itIsShownAsAskedFor();
    void classesOfOnesOwnStandAsWhatTheyDeriveFrom();
    void everySizeAndBothThemesPaint();
    void nothingOfItStandsInASharedFolder();
};

void PreviewTest::aDeadPreviewStartsAnew()
{
    MainWindow w;
    w.show();
    w.session()->open(desks_.fresh());
    PreviewView *p = w.board()->preview();
    QVERIFY(QTest::qWaitFor([&] { return p->hasPicture(); }, 20'000));
    QVERIFY(
        command("pkill", {"-9", "-P", QString::number(QCoreApplication::applicationPid()), "pipit-preview"})
            .code == 0);
    QTest::qWait(200);
    QSignalSpy drawn(p, &PreviewView::drawn);
    QVERIFY(
        w.session()->document.findings().isEmpty()); // it was not drawing, so nothing is known to be wrong
    w.session()->document.edit([](Workspace &ws) { return ws.setProperty("boardButton", "text", "Again"); });
    QVERIFY(QTest::qWaitFor([&] { return !drawn.isEmpty() && p->said().isEmpty(); }, 10'000));
}

// One that got no processor for longer than a healthy one needs is waited for.
void PreviewTest::aStarvedPreviewIsNotEnded()
{
    MainWindow w;
    w.show();
    w.session()->open(desks_.fresh());
    PreviewView *p = w.board()->preview();
    QVERIFY(QTest::qWaitFor([&] { return p->hasPicture(); }, 20'000));
    const QString own = QString::number(QCoreApplication::applicationPid());
    QCOMPARE(command("pkill", {"-STOP", "-P", own, "pipit-preview"}).code, 0);
    QSignalSpy drawn(p, &PreviewView::drawn);
    auto *patience = p->findChild<QTimer *>("patience");
    patience->setInterval(100);
    QSignalSpy looks(patience, &QTimer::timeout);
    w.session()->document.edit([](Workspace &ws) { return ws.setProperty("boardButton", "text", "Again"); });
    QVERIFY(QTest::qWaitFor([&] { return looks.size() >= 3; }, 30'000));
    QCOMPARE(drawn.size(), 0);
    QVERIFY2(p->said().isEmpty(), qPrintable(p->said()));
    QCOMPARE(command("pkill", {"-CONT", "-P", own, "pipit-preview"}).code, 0);
    QVERIFY(QTest::qWaitFor([&] { return !drawn.isEmpty() && p->said().isEmpty(); }, 10'000));
}

void PreviewTest::aCrashedPreviewIsAFinding()
{
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    PreviewView *p = w.board()->preview();
    QVERIFY(QTest::qWaitFor([&] { return p->hasPicture(); }, 20'000));
    const auto signalTo = [](const char *signal) {
        return command("pkill",
                       {signal, "-P", QString::number(QCoreApplication::applicationPid()), "pipit-preview"})
            .code;
    };
    const auto crashed = [&] {
        return std::any_of(s.document.findings().begin(), s.document.findings().end(),
                           [](const Finding &f) { return f.id == "preview-crashed"; });
    };
    QCOMPARE(signalTo("-STOP"), 0); // so that it dies while it has something to draw
    s.document.edit([](Workspace &ws) { return ws.setProperty("boardButton", "text", "Again"); });
    QTest::qWait(400);
    QCOMPARE(signalTo("-SEGV"), 0);
    (void)signalTo("-CONT");
    QVERIFY(QTest::qWaitFor(crashed, 5000));
    QCOMPARE(s.document.findings().last().where, QString("ferryDesk"));
    // It is started again without a change, and what it draws then is all right.
    QVERIFY(QTest::qWaitFor([&] { return !crashed() && p->said().isEmpty(); }, 10'000));
}

void PreviewTest::valuesThatThePreviewRefusesAreFindings()
{
    const QString folder = desks_.fresh();
    replaceIn(folder + "/ferry-desk.pipit", "\"name\": \"boardButton\", \"properties\": {",
              "\"name\": \"boardButton\", \"properties\": {\"minimumWidth\": \"wide\", ");
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(folder);
    const auto told = [&] {
        return std::any_of(s.document.findings().begin(), s.document.findings().end(), [](const Finding &f) {
            return f.id == "preview-value" && f.where == "boardButton" &&
                   f.message.contains("cannot be 'wide'");
        });
    };
    QVERIFY(QTest::qWaitFor(told, 20'000));
    QVERIFY(w.board()->preview()->hasPicture());
    QVERIFY(phrases(w).join(' ').contains("returnPressed calls boardPassenger"));
    s.document.edit([](Workspace &ws) { return ws.setProperty("boardButton", "minimumWidth", QString()); });
    QVERIFY(QTest::qWaitFor([&] { return !told(); }, 10'000));
}

void PreviewTest::classesOfOnesOwnStandAsWhatTheyDeriveFrom()
{
    const QString folder = desks_.fresh();
    QVERIFY(writeFile(
        folder + "/gauge.h",
        "#pragma once\n#include <QtWidgets/QLabel>\nclass Gauge : public QLabel\n{\n    Q_OBJECT\n"
        "    Q_PROPERTY(int depth READ depth WRITE setDepth)\npublic:\n    using QLabel::QLabel;\n"
        "    int depth() const { return depth_; }\n    void setDepth(int d) { depth_ = d; }\n"
        "signals:\n    void flooded(); // when it is too much\nprivate:\n    int depth_ = 0;\n};\n"));
    MainWindow w;
    w.resize(1280, 900);
    w.show();
    Session &s = *w.session();
    s.open(folder);
    PreviewView *p = w.board()->preview();
    enter(w.board()->outline()->addLine(), "Gauge gauge from gauge.h");
    QVERIFY(QTest::qWaitFor([&] { return s.document.project().ownClassOf("gauge") != nullptr; }, 10'000));
    enter(w.board()->outline()->valueLine(), "depth=4");
    QVERIFY2(s.document.project().widget("gauge")->property("depth"),
             qPrintable(w.board()->outline()->valueNote() + s.selection.now().object));
    QCOMPARE(s.document.project().widget("gauge")->property("depth")->toNumber(), 4.0);
    QVERIFY(QTest::qWaitFor([&] { return p->shownAt("gauge").isValid(); }, 20'000));
    QTest::qWait(300);
    for (const Finding &f : s.document.findings())
        QVERIFY2(f.id != "preview-value",
                 qPrintable(f.message)); // what only it has is not shown, and no mistake
    // What it signals is offered first, with what the header says of it.
    RowList *offers = w.board()->outline()->offers();
    QCOMPARE(offers->rowModel()->rows()[0].text, QString("flooded"));
    QCOMPARE(offers->rowModel()->rows()[0].tail, QString("your own"));
    enter(w.board()->connectLine(), "gauge.flooded calls pump");
    QVERIFY(s.document.project().handler("pump"));
    // An object that is no widget stands in the outline, and its thread is a word there.
    QVERIFY(writeFile(folder + "/tides.h",
                      "#pragma once\n#include <QtCore/QObject>\nclass Tides : public QObject\n{\n"
                      "    Q_OBJECT\npublic:\n    using QObject::QObject;\npublic slots:\n    void ask(const "
                      "QString &) {}\n};\n"));
    enter(w.board()->outline()->addLine(), "Tides tides from tides.h on a thread");
    // A slot of it is called elsewhere than on the loop, which its sentence says.
    enter(w.board()->outline()->addLine(), "field port");
    QVERIFY(QTest::qWaitFor([&] { return s.document.project().ownClassOf("tides") != nullptr; }, 10'000));
    enter(w.board()->connectLine(), "port.textChanged calls tides.ask");
    const SentenceModel *sentences = w.board()->wiring()->sentenceModel();
    int at = -1;
    for (int i = 0; i < sentences->rowCount(); ++i)
        if (sentences->row(i).sentence.contains("tides"))
            at = i;
    QVERIFY2(at >= 0, qPrintable(w.board()->connectNote()));
    QCOMPARE(sentences->row(at).shape, Shape::Background);
    QVERIFY(sentences->data(sentences->index(at), Qt::AccessibleTextRole)
                .toString()
                .contains("which runs in the background"));
    const RowModel *rows = w.board()->outline()->objects()->rowModel();
    QVERIFY(rows->indexOf("tides") >= 0);
    QVERIFY2(rows->rows()[std::size_t(rows->indexOf("tides"))].text.contains("on a thread of its own"),
             qPrintable(rows->rows()[std::size_t(rows->indexOf("tides"))].text));
}

void PreviewTest::theTabOrderIsWalked()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    QVERIFY(activate(w));
    PreviewView *preview = w.board()->preview();
    QVERIFY(QTest::qWaitFor([&] { return preview->hasPicture(); }, 20'000));
    TabWalk *walk = w.board()->tabWalk();
    QTest::keyClick(&w, Qt::Key_O, Qt::AltModifier);
    QVERIFY(walk->isVisible() && walk->walking());
    QTest::mouseClick(preview, Qt::LeftButton, {}, preview->shownAt("boardButton").center().toPoint());
    RowList *rows = w.board()->outline()->objects();
    s.selection.select({"ticketField", {}, {}});
    rows->setFocus();
    QTest::keyClick(rows, Qt::Key_Space);
    QCOMPARE(walk->order(), (QStringList{"boardButton", "ticketField"}));
    QTest::mouseClick(preview, Qt::LeftButton, {}, preview->shownAt("boardButton").center().toPoint());
    QCOMPARE(walk->order(), (QStringList{"ticketField", "boardButton"})); // chosen again: the last
    s.selection.select({"ferryDesk", {}, {}});
    rows->setFocus();
    QTest::keyClick(rows, Qt::Key_Space);
    QCOMPARE(walk->order().size(), 2); // the window itself is no stop
    QVERIFY(!s.document.project().widget("ferryDesk")->property("tabOrder"));
    QTest::mouseClick(w.findChild<QPushButton *>("takeOrder"), Qt::LeftButton);
    QCOMPARE(s.document.project().widget("ferryDesk")->textOf("tabOrder"),
             QString("ticketField, boardButton"));
    QVERIFY(!walk->isVisible());
    s.document.undo();
    QVERIFY(!s.document.project().widget("ferryDesk")->property("tabOrder"));
}

void PreviewTest::everySizeAndBothThemesPaint()
{
    MainWindow w;
    w.show();
    w.session()->open(desks_.fresh());
    for (bool dark : {false, true}) {
        Tokens::choose(dark);
        w.takeLook();
        for (const QSize &size : {QSize(800, 520), QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)}) {
            w.resize(size);
            for (int page = 0; page < 4; ++page) {
                w.show(MainWindow::Page(page));
                const QImage image = w.grab().toImage();
                QCOMPARE(image.pixelColor(4, 4), Tokens::current().raised);
            }
            // Nothing of the header is cut off.
            auto *run = w.findChild<QPushButton *>("runButton");
            QVERIFY(w.rect().contains(QRect(run->mapTo(&w, QPoint(0, 0)), run->size())));
        }
    }
    Tokens::choose(false);
}

void PreviewTest::itIsShownAsAskedFor()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.session()->open(desks_.fresh());
    PreviewView *p = w.board()->preview();
    PreviewBar *bar = w.board()->previewBar();
    QVERIFY(QTest::qWaitFor([&] { return p->hasPicture(); }, 20'000));
    const QSize own = p->pictureSize();
    QCOMPARE(bar->said(), QString("Shown as designed"));
    QList<QAction *> styles;
    for (QAction *a : bar->menu()->actions())
        if (a->text().startsWith("In the style "))
            styles << a;
    QVERIFY(styles.size() >= 2);
    styles[0]->trigger();
    const QString first = p->options().style;
    QVERIFY(!first.isEmpty());
    styles[1]->trigger(); // one at a time
    QVERIFY(p->options().style != first && !styles[0]->isChecked());
    styles[1]->trigger(); // or none
    QVERIFY(p->options().style.isEmpty());
    auto *size = bar->menu()->findChild<QLineEdit *>("previewSize");
    QVERIFY(size);
    size->setText("large");
    QTest::keyClick(size, Qt::Key_Return);
    QVERIFY(p->options().size.isEmpty());
    size->setText("900x500");
    QTest::keyClick(size, Qt::Key_Return);
    QVERIFY(QTest::qWaitFor([&] { return p->pictureSize() == QSize(900, 500); }, 10'000));
    QCOMPARE(bar->said(), QString("Shown 900x500"));
    size->clear();
    QTest::keyClick(size, Qt::Key_Return);
    QVERIFY(QTest::qWaitFor([&] { return p->pictureSize() == own; }, 10'000));
}

// The project was written to a name that could be guessed, through a link that somebody had put there.
void PreviewTest::nothingOfItStandsInASharedFolder()
{
    QTemporaryDir dir;
    const QString victim = dir.path() + "/victim";
    QVERIFY(writeFile(victim, "mine"));
    QStringList planted;
    for (int n = 1; n < 40; ++n) {
        const QString link = QStringLiteral("%1/pipit-preview-%2-%3.pipit")
                                 .arg(QDir::tempPath())
                                 .arg(QCoreApplication::applicationPid())
                                 .arg(n);
        if (QFile::link(victim, link))
            planted << link;
    }
    QCOMPARE(planted.size(), 39);
    const auto named = [] {
        return QDir("/dev/shm").entryList({"*pipit-preview*"}) +
               QDir(QDir::tempPath()).entryList({"*pipit-preview*"}, QDir::Files);
    };
    const QStringList before = named();
    {
        MainWindow w;
        w.show();
        w.session()->open(desks_.fresh());
        QVERIFY(QTest::qWaitFor([&] { return w.board()->preview()->hasPicture(); }, 20'000));
        QCOMPARE(named(), before);
    }
    for (const QString &link : std::as_const(planted)) {
        QVERIFY(QFileInfo(link).isSymLink());
        QFile::remove(link);
    }
    QCOMPARE(*readFile(victim), QByteArray("mine"));
}

PIPIT_TEST(PreviewTest)
#include "preview_test.moc"
