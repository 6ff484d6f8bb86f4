// Columns that are dragged and remembered, places that are found again, measures that follow the type.
#include "app/look/divider.h"
#include "core/base/files.h"
#include "tests/support/display.h"
#include "tests/support/registered.h"
#include "tests/support/window.h"

#include <QProcess>
#include <QScrollBar>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class ColumnsTest : public QObject
{
    Q_OBJECT
private:
    Desks desks_;
    static Divider *divider(QWidget *in, const QString &name)
    {
        for (Divider *d : in->findChildren<Divider *>())
            if (d->accessibleName() == name)
                return d;
        return nullptr;
    }

private slots:
    void init() { QFile::remove(Remembered::file()); }
    void theLeftColumnIsMoved();
    void theCardsAreMoved();
    void thePlaysListIsMoved();
    void theyAreNeverTooNarrow();
    void placesAreFoundAgain();
    void rubbishIsForgotten_data();
    void rubbishIsForgotten();
    void measuresHoldTheirText();
    void largerTypeIsHeld_data();
    void largerTypeIsHeld();
    void thePaletteIsFollowed();
};

void ColumnsTest::theLeftColumnIsMoved()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.session()->open(desks_.fresh());
    QVERIFY(activate(w));
    Divider *d = divider(w.board(), "Width of the left column");
    QVERIFY(d && d->cursor().shape() == Qt::SplitHCursor);
    QWidget *left = w.board()->outline();
    const int usual = left->width();
    d->setFocus();
    QTest::keyClick(d, Qt::Key_Right);
    QTest::qWait(150);
    QCOMPARE(left->width(), usual + 16);
    QTest::keyClick(d, Qt::Key_Left);
    QTest::keyClick(d, Qt::Key_Left);
    QTest::qWait(150);
    QCOMPARE(left->width(), usual - 16);
    QTest::keyClick(d, Qt::Key_Home);
    QTest::qWait(150);
    QCOMPARE(left->width(), usual);
    const QPoint from = d->rect().center();
    QTest::mousePress(d, Qt::LeftButton, {}, from);
    QTest::mouseMove(d, from + QPoint(60, 0));
    QTest::mouseRelease(d, Qt::LeftButton, {}, from);
    QTest::qWait(150);
    QCOMPARE(left->width(), usual + 60);
    QCOMPARE(w.board()->columns().first, usual + 60);
    QTest::mouseDClick(d, Qt::LeftButton, {}, d->rect().center());
    QTest::qWait(150);
    QCOMPARE(left->width(), usual);
    QCOMPARE(w.board()->columns().first, 0);
    // It is no more than a line until the keyboard comes to it.
    w.board()->outline()->objects()->setFocus();
    const QImage resting = d->grab().toImage();
    d->setFocus();
    QVERIFY(d->grab().toImage() != resting);
}

void ColumnsTest::theCardsAreMoved()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.session()->open(desks_.fresh());
    Divider *d = divider(w.board()->wiring(), "Width of the cards");
    QVERIFY(d);
    QTest::qWait(50);
    QListView *cards = w.board()->wiring()->cards();
    const int usual = cards->width();
    QTest::keyClick(d, Qt::Key_Left); // to the left: the cards get wider
    QTest::qWait(150);
    QCOMPARE(cards->width(), usual + 16);
    QVERIFY(w.board()->columns().second > 0);
    QTest::keyClick(d, Qt::Key_Home);
    QTest::qWait(150);
    QCOMPARE(cards->width(), usual);
}

void ColumnsTest::thePlaysListIsMoved()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.session()->open(desks_.fresh());
    w.show(MainWindow::Plays);
    QTest::qWait(150);
    QList<Divider *> all = w.playsPage()->findChildren<Divider *>();
    QCOMPARE(all.size(), 1);
    const int before = all[0]->x();
    QTest::keyClick(all[0], Qt::Key_Right);
    QTest::qWait(150);
    QCOMPARE(all[0]->x(), before + 16);
    QVERIFY(w.playsPage()->filesWidth() > 0);
}

void ColumnsTest::theyAreNeverTooNarrow()
{
    MainWindow w;
    w.resize(1024, 700);
    w.show();
    w.session()->open(desks_.fresh());
    for (const auto &[left, cards] : {std::pair{1, 1}, {5000, 1}, {1, 5000}, {5000, 5000}}) {
        w.board()->setColumns(left, cards);
        QVERIFY(QTest::qWaitFor(
            [&] {
                return w.board()->outline()->width() >= 140 && w.board()->wiring()->cards()->width() >= 120 &&
                       w.board()->wiring()->sentences()->width() >= 120;
            },
            5000));
        QCOMPARE(w.size(), QSize(1024, 700));
    }
}

void ColumnsTest::placesAreFoundAgain()
{
    const QString desk = desks_.fresh();
    QSize size;
    {
        MainWindow w;
        w.resize(1180, 760);
        w.show();
        w.session()->open(desk);
        QTest::keyClick(divider(w.board(), "Width of the left column"), Qt::Key_Right);
        QTest::keyClick(divider(w.board()->wiring(), "Width of the cards"), Qt::Key_Left);
        w.show(MainWindow::Trace);
        w.board()->drawer()->setOpen(true);
        w.board()->drawer()->editor()->zoom(1);
        QTest::qWait(150);
        size = w.size();
        QVERIFY(w.close());
    }
    MainWindow w;
    w.show();
    w.session()->open(desk);
    QTest::qWait(150);
    QCOMPARE(w.size(), size);
    QVERIFY(w.trace()->isVisible() && !w.board()->isVisible());
    QVERIFY(w.board()->drawer()->isOpen());
    w.show(MainWindow::Board);
    QTest::qWait(150);
    const auto [left, cards] = w.board()->columns();
    QVERIFY(left > 0 && cards > 0);
    QCOMPARE(w.board()->outline()->width(), left);
    QCOMPARE(w.remembered()->value("code_zoom").toInt(), 1);
    w.session()->open(desks_.fresh()); // only the first goes to the page of last time
    QVERIFY(w.board()->isVisible());
}

void ColumnsTest::rubbishIsForgotten_data()
{
    QTest::addColumn<QByteArray>("kept");
    QTest::newRow("no JSON") << QByteArray("columns=3");
    QTest::newRow("a list") << QByteArray("[1, 2]");
    QTest::newRow("other kinds") << QByteArray(
        R"({"columns": "wide", "page": "last", "drawer": 7, "window": 3, "code_zoom": "x", "dark": "yes"})");
    QTest::newRow("far out") << QByteArray(
        R"({"columns": {"left": -400, "cards": 2000000000, "plays": -1}, "page": 99, "code_zoom": 100000})");
}

void ColumnsTest::rubbishIsForgotten()
{
    QFETCH(QByteArray, kept);
    QDir().mkpath(QFileInfo(Remembered::file()).path());
    QVERIFY(writeFile(Remembered::file(), kept));
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.session()->open(desks_.fresh());
    QTest::qWait(150);
    w.show(MainWindow::Board);
    QVERIFY(w.board()->outline()->width() >= 140 && w.board()->outline()->width() < 1000);
    QVERIFY(w.board()->wiring()->sentences()->width() >= 120);
    QVERIFY(phrases(w).size() >= 5);
}

// Whatever size the type has: rows hold their line, words stand beside each other, nothing is cut off.
void ColumnsTest::measuresHoldTheirText()
{
    const double wanted = qEnvironmentVariable("PIPIT_EXPECTED_SCALE", "1").toDouble();
    QCOMPARE(typeScale(), wanted);
    QCOMPARE(scaled(100), int(std::lround(100 * wanted)));
    MainWindow w;
    w.resize(1024, 700);
    w.show();
    w.session()->open(desks_.fresh());
    QVERIFY(QTest::qWaitFor([&] { return w.board()->preview()->hasPicture(); }, 40'000));
    const int line = QFontMetrics(textFont()).height(), small = QFontMetrics(smallFont()).height();
    QVERIFY2(rowHeight >= line + 4, qPrintable(QString::number(line)));
    QVERIFY(bandHeading >= small && ribbonHeight >= small && headerHeight >= line + 8);
    QVERIFY(cardHeight >= line + small);
    WiringView *v = w.board()->wiring();
    QCOMPARE(v->sentences()->sizeHintForRow(0), int(rowHeight));
    QVERIFY(w.board()->preview()->isVisible()); // it has not vanished
    QVERIFY(w.board()->preview()->height() >= 150 && w.board()->preview()->height() <= scaled(200));
    QVERIFY(!w.board()->preview()->shownAt("boardButton").isEmpty());
    const QRect card(0, 0, v->cards()->viewport()->width(), cardOpen);
    QVERIFY(!CardDelegate::openWord(card).intersects(CardDelegate::moveWord(card)));
    QVERIFY(card.contains(CardDelegate::openWord(card)) && card.contains(CardDelegate::moveWord(card)));
    // The header's words are whole, and the window is as large as it was asked to be.
    QCOMPARE(w.size(), QSize(1024, 700));
    for (QPushButton *b : w.findChildren<QPushButton *>())
        if (b->isVisible() && !b->text().isEmpty()) {
            const int words = b->fontMetrics().horizontalAdvance(QString(b->text()).remove('&'));
            QVERIFY2(b->width() >= words, qPrintable(b->text()));
            QVERIFY2(b->height() >= b->fontMetrics().height(), qPrintable(b->text()));
            QVERIFY2(w.rect().contains(QRect(b->mapTo(&w, QPoint()), b->size())), qPrintable(b->text()));
        }
    QVERIFY(v->cards()->visibleRegion().boundingRect().height() > cardHeight);
    QVERIFY(v->sentences()->visibleRegion().boundingRect().height() > 3 * rowHeight);
}

void ColumnsTest::largerTypeIsHeld_data()
{
    QTest::addColumn<QByteArray>("points");
    QTest::addColumn<QByteArray>("scale");
    QTest::newRow("a fifth larger") << QByteArray("12") << QByteArray("1.2");
    QTest::newRow("half as large again") << QByteArray("15") << QByteArray("1.5");
    QTest::newRow("twice as large") << QByteArray("20") << QByteArray("2");
}

// The size of type is asked for once, so each size has a process of its own, on a desktop that says it.
void ColumnsTest::largerTypeIsHeld()
{
    QFETCH(QByteArray, points);
    QFETCH(QByteArray, scale);
    QTemporaryDir config;
    QVERIFY(writeFile(config.path() + "/kdeglobals",
                      "[General]\nfont=DejaVu Sans," + points + ",-1,5,50,0,0,0,0,0\n"));
    RealDisplay d(true);
    QVERIFY2(d.works(), "Xvfb did not start");
    QProcess p;
    QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
    e.insert("PIPIT_TEST_CONFIG", config.path());
    e.insert("XDG_CURRENT_DESKTOP", "KDE");
    e.insert("KDE_SESSION_VERSION", "5");
    e.insert("PIPIT_EXPECTED_SCALE", scale);
    p.setProcessEnvironment(e);
    p.setProcessChannelMode(QProcess::MergedChannels);
    p.start(QCoreApplication::applicationFilePath(), {"ColumnsTest", "measuresHoldTheirText"});
    QVERIFY(p.waitForFinished(60'000));
    const QByteArray said = p.readAll();
    QVERIFY2(p.exitCode() == 0 && said.contains("3 passed"), said.constData());
}

// Where no desktop says it, the toolkit's palette does, while the window is open.
void ColumnsTest::thePaletteIsFollowed()
{
    const QPalette before = QApplication::palette();
    MainWindow w;
    w.show();
    Tokens::choose(std::nullopt);
    const auto take = [&](bool dark) {
        QPalette p = QApplication::palette();
        p.setColor(QPalette::Button, dark ? QColor(45, 45, 45) : QColor(230, 230, 230));
        QApplication::setPalette(p);
        return QTest::qWaitFor([&] { return Tokens::current().dark == dark; }, 2000);
    };
    QVERIFY(take(true));
    QCOMPARE(w.grab().toImage().pixelColor(4, 4), Tokens::dimmed().raised);
    QVERIFY(take(false));
    QCOMPARE(w.grab().toImage().pixelColor(4, 4), Tokens::light().raised);
    Tokens::choose(false); // what the person chose counts more
    QVERIFY(!take(true));
    QVERIFY(!Tokens::current().dark);
    QApplication::setPalette(before);
}

PIPIT_TEST(ColumnsTest)
#include "columns_test.moc"
