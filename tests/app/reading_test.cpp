// A recording is shown while it is read, and nothing is claimed of it before all of it is.
#include "app/look/row_list.h"
#include "app/shell/main_window.h"
#include "core/recordings/writer.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QSignalSpy>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;
using link::Kind;

class ReadingTest : public QObject
{
    Q_OBJECT
private slots:
    void itIsShownAtOnceAndJudgedAtTheEnd();
    void anotherOneTakesItsPlace();
    void whatIsNoneLeavesItAlone();
    void whatWasToldTooEarlyIsToldAnew();

private:
    QTemporaryDir dir_;
};

namespace
{

// Clicks with their handler, a turn each, and at the end one that takes 300 ms.
QString recordingOf(const QString &folder, int turns)
{
    auto writer = RecordingWriter::create(folder);
    if (!writer)
        qFatal("%s", qPrintable(writer.problem().text()));
    Records r(**writer);
    r.object(0x10, "QPushButton\nboardButton").object(0x1, "QEventLoop\n");
    r.signalName(0x70, "Desk\nslow()");
    r.put(Kind::LoopBegin, 0, 0x1);
    r.put(Kind::WaitBegin, link::NoTimeout);
    for (int i = 0; i < turns; ++i) {
        r.time += 1000;
        r.put(Kind::WaitEnd);
        r.put(Kind::DispatchBegin, 2, 0x10, 0x99, 0);
        r.put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
        r.time += i == turns - 1 ? 300'000'000 : 1000;
        r.put(Kind::CallEnd);
        r.put(Kind::DispatchEnd, 1, 0x99);
        r.put(Kind::WaitBegin, 5);
    }
    if (auto ok = (*writer)->finish(); !ok)
        qFatal("%s", qPrintable(ok.problem().text()));
    return folder;
}

constexpr int manyTurns = 300'000;

std::vector<StoryRow> toldAnew(Session *session)
{
    const StoryChoice choice{{}, false, true};
    StoryTeller teller(*session->shown.trace(), *session->shown.handlers(), choice);
    StoryEye eye(*session->shown.trace(), *session->shown.handlers(), choice);
    auto news = teller.advance(std::chrono::hours(1));
    std::vector<StoryRow> rows;
    for (const StoryPage &p : news.pages)
        for (const StoryRow &r : p.rows(eye))
            rows.push_back(r);
    rows.insert(rows.end(), news.tail.begin(), news.tail.end());
    return rows;
}

bool sameRows(TraceRows *shown, const std::vector<StoryRow> &told)
{
    if (shown->rowCount() != int(told.size()))
        return false;
    for (int i = 0; i < shown->rowCount(); i += std::max(1, shown->rowCount() / 5000))
        if (!(shown->at(i) == told[std::size_t(i)]))
            return false;
    return true;
}

} // namespace

void ReadingTest::itIsShownAtOnceAndJudgedAtTheEnd()
{
    const QString folder = recordingOf(dir_.filePath("a"), manyTurns);
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.show(MainWindow::Trace);
    ShownTrace &shown = w.session()->shown;
    TraceRows *rows = w.trace()->model();
    QStringList atReset;
    connect(&shown, &ShownTrace::reset, this, [&] {
        atReset << (shown.reading() ? "reading" : "read") << QString::number(shown.figures().spans)
                << w.ribbon()->accessibleDescription();
    });
    int rowsBefore = -1;
    connect(&shown, &ShownTrace::readToEnd, this, [&] { rowsBefore = rows->rowCount(); });
    w.session()->open(folder);
    QVERIFY(QTest::qWaitFor([&] { return !atReset.isEmpty(); }, 20'000));
    QCOMPARE(atReset, (QStringList{"reading", "0", ""}));
    QVERIFY(QTest::qWaitFor([&] { return rowsBefore >= 0 && rows->complete(); }, 60'000));
    QVERIFY2(rowsBefore > 30 && rowsBefore < 3 * manyTurns, qPrintable(QString::number(rowsBefore)));
    QVERIFY(!shown.reading());
    QCOMPARE(shown.figures().stalls.size(), 1u);
    QVERIFY(w.ribbon()->accessibleDescription().startsWith("1 stall"));
    QVERIFY(sameRows(rows, toldAnew(w.session())));
    QCOMPARE(atReset.size(), 3); // and it was shown once
}

void ReadingTest::anotherOneTakesItsPlace()
{
    const QString large = recordingOf(dir_.filePath("large"), manyTurns);
    const QString small = recordingOf(dir_.filePath("small"), 10);
    MainWindow w;
    w.show();
    ShownTrace &shown = w.session()->shown;
    QSignalSpy ends(&shown, &ShownTrace::readToEnd), resets(&shown, &ShownTrace::reset);
    shown.openRecording(large);
    QVERIFY(QTest::qWaitFor([&] { return resets.size() == 1; }, 20'000));
    QVERIFY(shown.reading());
    shown.openRecording(small);
    QCOMPARE(shown.recordingPath(), large); // until there is something to be shown of the other
    QVERIFY(QTest::qWaitFor([&] { return shown.recordingPath() == small && ends.size() > 0; }, 20'000));
    QVERIFY(!shown.reading());
    QTest::qWait(50); // the first one has stopped, and says no more
    QVERIFY(QThreadPool::globalInstance()->waitForDone(20'000));
    QCoreApplication::processEvents();
    QCOMPARE(shown.recordingPath(), small);
    QVERIFY(ends.size() <= 2 && resets.size() == 2);
    QCOMPARE(shown.figures().stalls.size(), 1u);
    QCOMPARE(shown.figures().spans, shown.trace()->spanCount());
}

void ReadingTest::whatIsNoneLeavesItAlone()
{
    const QString large = recordingOf(dir_.filePath("alone"), manyTurns);
    MainWindow w;
    w.show();
    ShownTrace &shown = w.session()->shown;
    QSignalSpy ends(&shown, &ShownTrace::readToEnd), problems(&w.session()->messages, &Messages::problem);
    shown.openRecording(large);
    QVERIFY(QTest::qWaitFor([&] { return shown.reading(); }, 20'000));
    QVERIFY(QDir(dir_.path()).mkdir("nothing"));
    shown.openRecording(dir_.filePath("nothing"));
    QVERIFY(QTest::qWaitFor([&] { return problems.size() == 1 && ends.size() == 1; }, 20'000));
    QVERIFY(problems[0][0].toString().contains("not a recording"));
    QCOMPARE(shown.recordingPath(), large);
    QCOMPARE(shown.figures().spans, shown.trace()->spanCount());
}

// A turn that called nothing for as long as is waited for it, and then did.
void ReadingTest::whatWasToldTooEarlyIsToldAnew()
{
    auto writer = RecordingWriter::create(dir_.filePath("late"));
    QVERIFY(writer);
    Records main(**writer), worker(**writer, 1, false);
    main.object(0x10, "QPushButton\nboardButton")
        .object(0x1, "QEventLoop\n")
        .signalName(0x70, "Desk\nslow()");
    worker.object(0x20, "QObject\nsensor");
    main.put(Kind::LoopBegin, 0, 0x1);
    main.put(Kind::WaitBegin, link::NoTimeout);
    main.at(1).put(Kind::WaitEnd);
    main.put(Kind::DispatchBegin, 1000, 0x10, 0x99, 0);
    for (int i = 0; i < 2'000'000; ++i) {
        worker.time = main.time + 10 + i;
        worker.put(Kind::DispatchBegin, 1000, 0x20, 0x98, 0);
        worker.put(Kind::DispatchEnd, 1, 0x98);
    }
    main.time = worker.time + 1000;
    main.put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
    main.time += 1000;
    main.put(Kind::CallEnd);
    main.put(Kind::DispatchEnd, 1, 0x99);
    main.put(Kind::WaitBegin, 5);
    QVERIFY((*writer)->finish());
    MainWindow w;
    w.show();
    w.show(MainWindow::Trace);
    QSignalSpy ends(&w.session()->shown, &ShownTrace::readToEnd);
    w.session()->open(dir_.filePath("late"));
    TraceRows *rows = w.trace()->model();
    QVERIFY(QTest::qWaitFor(
        [&] { return ends.size() == 1 && rows->complete() && sameRows(rows, toldAnew(w.session())); },
        20'000));
    QVERIFY(rows->rowCount() > 1);
    QCOMPARE(rows->sentence(rows->rowCount() - 1), QString("Desk::slow runs"));
}

PIPIT_TEST(ReadingTest)
#include "reading_test.moc"
