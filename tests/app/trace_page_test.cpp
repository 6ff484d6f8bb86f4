// The Trace page as it is used: what repeats opens and folds, what is selected tells what led to it and what
// it led to, and the ruler, the keys and the links go there.
#include "app/shell/main_window.h"
#include "core/recordings/writer.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QEvent>
#include <QTextDocument>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;
using link::Kind;

class TracePageTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void whatRepeatsOpensAndFolds();
    void anAccountIsToldAndGoneTo();
    void inputsAreGoneToByKey();
    void whatIsFoldedAwayIsFound();
    void theRulerGoesThere();
    void timeIsMeasured();
    void momentsAreMarked();
    void cleanup() { w_.reset(); }

private:
    QStringList story() const;
    QString said() const;
    int rowOf(const QString &sentence) const { return int(story().indexOf(sentence)); }
    QString chosen() const
    {
        return w_->trace()->model()->sentence(w_->trace()->list()->currentIndex().row());
    }
    void choose(int row) { w_->trace()->list()->setCurrentIndex(w_->trace()->model()->index(row)); }
    void key(Qt::Key k) { QTest::keyClick(w_->trace()->list(), k); }

    QTemporaryDir dir_;
    std::unique_ptr<MainWindow> w_;
};

namespace
{

constexpr std::int64_t ms = 1'000'000;

constexpr std::uint32_t repaint = QEvent::UpdateRequest | 1u << link::generationShift;

void tick(Records &r)
{
    r.put(Kind::WaitEnd).put(Kind::DispatchBegin, QEvent::Timer, 0x10, 0x99, 0);
    r.put(Kind::SignalBegin, 0, 0x10, 0x80).put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
    r.put(Kind::CallEnd).put(Kind::SignalEnd).put(Kind::DispatchEnd, 1, 0x99).put(Kind::WaitBegin, 5);
    r.time += 250 * ms;
}

void click(Records &r, std::int64_t took)
{
    r.put(Kind::WaitEnd);
    r.put(Kind::DispatchBegin, QEvent::MouseButtonPress | link::FromWindowSystem, 0x11, 0x98, 1);
    r.put(Kind::SignalBegin, 0, 0x11, 0x81).put(Kind::CallBegin, 2, 0x11, 0, 0x71, 0);
    r.put(Kind::Post, repaint, 0x97, 0x12);
    r.time += took;
    r.put(Kind::CallEnd).put(Kind::SignalEnd).put(Kind::DispatchEnd, 1, 0x98).put(Kind::WaitBegin, 5);
    r.put(Kind::WaitEnd);
    r.put(Kind::DispatchBegin, repaint, 0x12, 0x97, 0).put(Kind::DispatchEnd, 1, 0x97);
    r.put(Kind::WaitBegin, 5);
    r.time += 250 * ms;
}

} // namespace

void TracePageTest::initTestCase()
{
    auto writer = RecordingWriter::create(dir_.filePath("r"));
    QVERIFY(writer);
    Records r(**writer);
    r.object(0x1, "QEventLoop\n").object(0x10, "QTimer\ngateTimer").object(0x11, "QPushButton\nboardButton");
    r.object(0x12, "QWidget\ndesk");
    r.signalName(0x70, "Desk\nreadGate()").signalName(0x71, "Desk\nboard()");
    r.signalName(0x80, "QTimer\ntimeout()").signalName(0x81, "QPushButton\nclicked()");
    r.put(Kind::LoopBegin, 0, 0x1).put(Kind::WaitBegin, link::NoTimeout);
    for (int i = 0; i < 20; ++i)
        tick(r);
    click(r, ms);
    for (int i = 0; i < 20; ++i)
        tick(r);
    click(r, 300 * ms);
    QVERIFY((*writer)->finish());
}

void TracePageTest::init()
{
    w_ = std::make_unique<MainWindow>();
    w_->resize(1280, 800);
    w_->show();
    w_->session()->open(dir_.filePath("r"));
    QVERIFY(QTest::qWaitFor([&] { return w_->session()->shown.trace() && !w_->session()->shown.reading(); },
                            5000));
    w_->show(MainWindow::Trace);
    QVERIFY(QTest::qWaitFor([&] { return rowOf("boardButton gets a mouse press") >= 0; }, 5000));
    QVERIFY(QTest::qWaitFor([&] { return w_->trace()->model()->complete(); }, 5000));
}

QStringList TracePageTest::story() const
{
    QStringList all;
    const TraceRows *rows = w_->trace()->model();
    for (int i = 0; i < rows->rowCount(); ++i)
        all << rows->sentence(i);
    return all;
}

QString TracePageTest::said() const
{
    QTextDocument text;
    text.setHtml(w_->trace()->account()->label()->text());
    return text.toPlainText();
}

void TracePageTest::whatRepeatsOpensAndFolds()
{
    const QStringList folded = story();
    const QStringList ticks = folded.filter("Desk::readGate runs, 20 times, every 250 ms");
    QCOMPARE(ticks.size(), 2);
    const int fold = rowOf(ticks.first());
    choose(fold);
    QVERIFY(said().startsWith("This repeats: Desk::readGate runs, 20 times"));
    key(Qt::Key_Right);
    QCOMPARE(w_->trace()->model()->rowCount(), folded.size() + 20 * 3 + 19);
    QCOMPARE(story().filter("gateTimer emits timeout").size(), 20);
    QCOMPARE(w_->trace()->list()->currentIndex().row(), fold);
    // From one that stands in it Left goes to it, and once more folds it.
    choose(fold + 7);
    key(Qt::Key_Left);
    QCOMPARE(w_->trace()->list()->currentIndex().row(), fold);
    key(Qt::Key_Left);
    QCOMPARE(story(), folded);
    key(Qt::Key_Return);
    key(Qt::Key_Return);
    QCOMPARE(story(), folded);
    // It stays open when another one is opened.
    key(Qt::Key_Right);
    choose(int(story().lastIndexOf(ticks.first())));
    key(Qt::Key_Right);
    QCOMPARE(w_->trace()->model()->rowCount(), folded.size() + 2 * (20 * 3 + 19));
    QVERIFY(!w_->grab().isNull());
}

void TracePageTest::anAccountIsToldAndGoneTo()
{
    choose(rowOf("desk is repainted"));
    QVERIFY(QTest::qWaitFor([&] { return said().startsWith("Because Desk::board runs, because"); }, 5000));
    QVERIFY2(said().contains("because boardButton gets a mouse press. It waited 1."), qPrintable(said()));
    const Lit &lit = w_->trace()->account()->lit();
    QCOMPARE(lit.causes.size(), 3u);
    QVERIFY(lit.from > 0 && lit.from < lit.to);
    Q_EMIT w_->trace()->account()->label()->linkActivated(
        QString::number(w_->trace()->account()->nearestCause().number()));
    QCOMPARE(chosen(), QString("Desk::board runs"));
    choose(rowOf("boardButton gets a mouse press"));
    QVERIFY(QTest::qWaitFor([&] { return said().contains("Effects: after"); }, 5000));
    QVERIFY2(said().contains("Desk::board ran for 1.00 ms"), qPrintable(said()));
}

void TracePageTest::inputsAreGoneToByKey()
{
    choose(0);
    int rows[2] = {};
    for (int &row : rows) {
        w_->trace()->goToInput(true);
        QVERIFY(QTest::qWaitFor(
            [&] {
                return chosen() == "boardButton gets a mouse press" &&
                       w_->trace()->list()->currentIndex().row() != rows[0];
            },
            5000));
        row = w_->trace()->list()->currentIndex().row();
    }
    QVERIFY(rows[1] > rows[0]);
    w_->trace()->goToInput(false);
    QVERIFY(QTest::qWaitFor([&] { return w_->trace()->list()->currentIndex().row() == rows[0]; }, 5000));
}

void TracePageTest::whatIsFoldedAwayIsFound()
{
    const TraceModel &trace = *w_->session()->shown.trace();
    SpanId tenth;
    int seen = 0;
    for (const Span &s : spansOf(trace))
        if (s.kind == SpanKind::Call && ++seen == 10)
            tenth = s.id;
    const int fold = w_->trace()->model()->rowOf(tenth);
    QVERIFY(fold >= 0 && w_->trace()->model()->isFold(fold));
    w_->trace()->showSpan(tenth);
    QCOMPARE(w_->trace()->model()->at(w_->trace()->list()->currentIndex().row()).span, tenth);
    QCOMPARE(chosen(), QString("Desk::readGate runs"));
}

void TracePageTest::theRulerGoesThere()
{
    TraceRuler *ruler = w_->trace()->ruler();
    QVERIFY(QTest::qWaitFor([&] { return !ruler->glance().longest.empty(); }, 5000));
    const auto longest = std::max_element(ruler->glance().longest.begin(), ruler->glance().longest.end());
    QVERIFY(*longest >= 300 * ms && *longest < 301 * ms);
    QVERIFY(longest - ruler->glance().longest.begin() >
            std::ptrdiff_t(ruler->glance().longest.size()) * 9 / 10);
    w_->trace()->list()->setFixedHeight(120); // so that there is something to scroll
    choose(rowOf(story().filter("20 times").first()));
    key(Qt::Key_Right);
    QTest::mouseClick(ruler, Qt::LeftButton, {}, {20, ruler->height() / 4});
    const StoryRow top = w_->trace()->model()->at(w_->trace()->list()->indexAt({5, 5}).row());
    QVERIFY(std::abs(top.start - ruler->timeAt(ruler->height() / 4)) < 300 * ms);
    QVERIFY(!ruler->grab().isNull());
}

void TracePageTest::timeIsMeasured()
{
    const QStringList all = story();
    choose(rowOf("boardButton gets a mouse press"));
    w_->trace()->measure();
    choose(int(all.lastIndexOf("boardButton gets a mouse press")));
    QVERIFY(QTest::qWaitFor([&] { return said().contains("after “boardButton gets a mouse press”"); }, 5000));
    QVERIFY2(said().contains("5.25 s after"), qPrintable(said()));
    QVERIFY2(said().contains("Desk::readGate ran 20 times for"), qPrintable(said()));
    QVERIFY2(said().contains("22 turns"), qPrintable(said()));
}

void TracePageTest::momentsAreMarked()
{
    choose(rowOf("boardButton gets a mouse press"));
    const SpanId press = w_->trace()->model()->at(w_->trace()->list()->currentIndex().row()).span;
    w_->trace()->mark();
    QVERIFY(w_->trace()->note()->isVisible());
    QTest::keyClicks(w_->trace()->note(), "here it begins");
    QTest::keyClick(w_->trace()->note(), Qt::Key_Return);
    QVERIFY(!w_->trace()->note()->isVisible());
    QCOMPARE(w_->session()->bookmarks.of(press)->note, QString("here it begins"));
    QVERIFY(!w_->grab().isNull());
    const QString file = dir_.filePath("r/pipit/bookmarks.json");
    QVERIFY(QTest::qWaitFor([&] { return QFileInfo(file).size() > 60; }, 5000));
    QTest::qWait(50);
    // It is there when the recording is opened again, and goes when it is marked once more.
    cleanup();
    init();
    QCOMPARE(w_->session()->bookmarks.all().size(), std::size_t(1));
    QCOMPARE(w_->session()->bookmarks.of(press)->note, QString("here it begins"));
    w_->trace()->showSpan(press);
    w_->trace()->mark();
    QVERIFY(w_->session()->bookmarks.all().empty());
}

PIPIT_TEST(TracePageTest)
#include "trace_page_test.moc"
