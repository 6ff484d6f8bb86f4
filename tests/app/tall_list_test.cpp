// A list as quick with millions of rows as with five.
#include "app/look/tall_list.h"
#include "app/shell/main_window.h"
#include "core/recordings/writer.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QAbstractListModel>
#include <QScrollBar>
#include <QSignalSpy>
#include <QStyledItemDelegate>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;
using link::Kind;

namespace
{

class Numbers : public QAbstractListModel
{
public:
    explicit Numbers(int rows) : rows_(rows) {}
    int rowCount(const QModelIndex &p = {}) const override { return p.isValid() ? 0 : rows_; }
    QVariant data(const QModelIndex &i, int role) const override
    {
        return role == Qt::DisplayRole ? QVariant(i.row()) : QVariant();
    }
    void grow(int by)
    {
        beginInsertRows({}, rows_, rows_ + by - 1);
        rows_ += by;
        endInsertRows();
    }
    void shrink(int by)
    {
        beginRemoveRows({}, rows_ - by, rows_ - 1);
        rows_ -= by;
        endRemoveRows();
    }

private:
    int rows_;
};

class Counts : public QStyledItemDelegate
{
public:
    QSize sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const override { return {100, 20}; }
    void paint(QPainter *, const QStyleOptionViewItem &, const QModelIndex &i) const override
    {
        painted.append(i.row());
    }
    mutable QList<int> painted;
};

struct Shown {
    explicit Shown(int rows) : numbers(rows)
    {
        list.setModel(&numbers);
        list.setItemDelegate(&counts);
        list.resize(200, 410);
        list.show();
    }
    Numbers numbers;
    Counts counts;
    TallList list;
};

} // namespace

class TallListTest : public QObject
{
    Q_OBJECT
private slots:
    void onlyWhatIsInSightIsPainted();
    void keysMoveAsEverywhere();
    void theEndIsReachedHoweverManyRowsThereAre();
    void theSelectionSurvivesGrowth();
    void whatIsChosenStaysSoWhileAnotherStoryIsTold();
};

void TallListTest::onlyWhatIsInSightIsPainted()
{
    Shown shown(5'000'000);
    auto &[numbers, counts, list] = shown;
    QVERIFY(QTest::qWaitForWindowExposed(&list));
    const auto grab = [&] {
        counts.painted.clear();
        (void)list.viewport()->grab();
        return counts.painted;
    };
    QVERIFY(grab().size() <= 22 && counts.painted.first() == 0);
    list.scrollTo(numbers.index(4'000'000), QAbstractItemView::PositionAtTop);
    QVERIFY(grab().size() <= 22);
    QCOMPARE(counts.painted.first(), 4'000'000);
    QCOMPARE(list.indexAt(QPoint(10, 45)).row(), 4'000'002);
    QCOMPARE(list.visualRect(numbers.index(4'000'001)).top(), 20);
}

void TallListTest::keysMoveAsEverywhere()
{
    Shown shown(1000);
    auto &[numbers, counts, list] = shown;
    list.setCurrentIndex(numbers.index(10));
    const auto after = [&](Qt::Key key) {
        QTest::keyClick(&list, key);
        const QRect at = list.visualRect(list.currentIndex()); // it is in sight
        return list.viewport()->rect().contains(at) ? list.currentIndex().row() : -1;
    };
    QCOMPARE(after(Qt::Key_Down), 11);
    QCOMPARE(after(Qt::Key_Up), 10);
    QVERIFY(after(Qt::Key_PageDown) > 25);
    QCOMPARE(after(Qt::Key_End), 999);
    QCOMPARE(after(Qt::Key_Home), 0);
    QVERIFY(list.selectionModel()->isSelected(numbers.index(0)));
}

void TallListTest::theEndIsReachedHoweverManyRowsThereAre()
{
    for (const int rows : {30, 5'000'000, 400'000'000}) {
        Shown shown(rows);
        auto &[numbers, counts, list] = shown;
        list.scrollToEnd();
        QVERIFY(list.atEnd());
        const QRect last = list.visualRect(numbers.index(rows - 1));
        QVERIFY2(list.viewport()->rect().contains(last.center()), qPrintable(QString::number(rows)));
    }
}

void TallListTest::theSelectionSurvivesGrowth()
{
    Numbers numbers(100);
    TallList list;
    list.setModel(&numbers);
    list.resize(200, 410);
    list.show();
    list.setCurrentIndex(numbers.index(60));
    numbers.grow(1'000'000);
    QCOMPARE(list.currentIndex().row(), 60);
    numbers.shrink(1'000'010);
    QCOMPARE(list.currentIndex().row(), 60);
    numbers.shrink(50); // with it what was selected
    QVERIFY(list.currentIndex().row() < 40);
}

// A large recording: its story is told in slices, and what was selected is found again in another one.
void TallListTest::whatIsChosenStaysSoWhileAnotherStoryIsTold()
{
    QTemporaryDir dir;
    auto writer = RecordingWriter::create(dir.filePath("r"));
    QVERIFY(writer);
    Records r(**writer);
    r.object(0x10, "QPushButton\nboardButton").object(0x1, "QEventLoop\n");
    r.signalName(0x70, "Desk\nslow()").signalName(0x71, "Desk\nquick()");
    r.put(Kind::LoopBegin, 0, 0x1);
    r.put(Kind::WaitBegin, link::NoTimeout);
    constexpr int turns = 30'000;
    for (int i = 0; i < turns; ++i) {
        r.put(Kind::WaitEnd);
        r.put(Kind::DispatchBegin, 2, 0x10, 0x99, 0);
        r.put(Kind::CallBegin, 2, 0x10, 0, i % 1000 == 7 ? 0x71 : 0x70, 0);
        r.put(Kind::CallEnd);
        r.put(Kind::DispatchEnd, 1, 0x99);
        r.put(Kind::WaitBegin, 5);
    }
    QVERIFY((*writer)->finish());
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.session()->open(dir.filePath("r"));
    w.show(MainWindow::Trace);
    TraceRows *rows = w.trace()->model();
    QVERIFY(QTest::qWaitFor([&] { return rows->rowCount() >= 3 * turns && rows->complete(); }, 20'000));
    int quick = -1;
    for (int i = 60'000; i < rows->rowCount() && quick < 0; ++i)
        if (rows->sentence(i) == "Desk::quick runs")
            quick = i;
    QVERIFY(quick > 60'000);
    const SpanId chosen = rows->at(quick).span;
    QCOMPARE(rows->rowOf(chosen), quick);
    w.trace()->list()->setCurrentIndex(rows->index(quick));
    QTest::keyClicks(w.trace()->filter(), "quick");
    QVERIFY(QTest::qWaitFor([&] { return rows->complete() && rows->rowCount() == turns / 1000; }, 20'000));
    QCOMPARE(rows->at(w.trace()->list()->currentIndex().row()).span, chosen);
    w.trace()->filter()->clear();
    QVERIFY(QTest::qWaitFor([&] { return rows->complete() && rows->rowCount() >= 3 * turns; }, 20'000));
    QCOMPARE(w.trace()->list()->currentIndex().row(), quick);
    w.trace()->list()->setFocus();
    QTest::keyClick(w.trace()->list(), Qt::Key_Q); // goes to the filter, and looks through nothing
    QCOMPARE(w.trace()->filter()->text(), QString("q"));
    w.trace()->filter()->clear();
    QVERIFY(QTest::qWaitFor([&] { return rows->complete() && rows->rowCount() >= 3 * turns; }, 20'000));
    w.trace()->showTime(w.session()->shown.trace()->span(chosen).start);
    QCOMPARE(w.trace()->list()->currentIndex().row(), quick);
}

PIPIT_TEST(TallListTest)
#include "tall_list_test.moc"
