// The way of every event is the one that the program saw itself.
#include "core/recordings/reader.h"
#include "core/runs/recording.h"
#include "core/trace/dispatches.h"
#include "core/trace/inputs.h"
#include "core/trace/order.h"
#include "core/trace/story.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QEvent>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

using namespace pipit;
using namespace pipit::tests;

class WaysTest : public QObject
{
    Q_OBJECT
private slots:
    void everyHopIsTheProgramsOwn();
    void itIsTheSameInTheRecording();
    void inputsAreToldInTheTradesWords();
    void mostEventsTellNoHops();
};

namespace
{

// "type name hops" of each event sent, as the program says it.
QStringList waysIn(const QByteArray &output)
{
    QStringList all;
    for (const QByteArray &line : output.split('\n'))
        if (line.startsWith("WAY "))
            all << QString::fromUtf8(line.mid(4)).trimmed();
    return all;
}

// The same as it was recorded.
QStringList waysIn(const TraceModel &trace)
{
    QStringList all;
    inOrder(trace, INT64_MIN, INT64_MAX, [&](const ThreadRows &rows, std::uint32_t row) {
        const Span s = rows.at(row);
        if (s.kind != SpanKind::Dispatch || s.flags & FromWindow ||
            trace.object(s.object).name == "window" || // closed at the end
            (s.what != QEvent::MouseButtonPress && s.what != QEvent::KeyPress && s.what != QEvent::Close))
            return true;
        const auto way = wayOf(trace, s);
        QStringList hops;
        for (const Hop &h : way.value_or(std::vector<Hop>()))
            hops << trace.object(h.object).name + ' ' + outcomeWords(h.outcome);
        all << QStringLiteral("%1 %2 %3")
                   .arg(s.what)
                   .arg(trace.object(s.object).name, way ? hops.join(", ") : "not known")
                   .trimmed();
        return true;
    });
    return all;
}

} // namespace

void WaysTest::everyHopIsTheProgramsOwn()
{
    Whole w = runTarget("ways", {});
    QVERIFY(w.info);
    const QStringList own = waysIn(w.output);
    QCOMPARE(own.size(), 13);
    QCOMPARE(waysIn(w.run->trace()), own);
    QCOMPARE(own[1], QString("2 inner inner ignored, middle ignored, window accepted"));
    QCOMPARE(own[12], QString("6 alone")); // offered to nobody
}

void WaysTest::itIsTheSameInTheRecording()
{
    QTemporaryDir dir;
    const Ran ran = verb({"record", "--out", dir.path() + "/rec", "--", targetProgram("ways")});
    QCOMPARE(ran.code, 0);
    auto r = Recording::open(dir.path() + "/rec");
    QVERIFY(r);
    QCOMPARE(waysIn((*r)->trace), waysIn(ran.out));

    const Ran told = verb({"dispatches", dir.path() + "/rec", "--json"});
    QCOMPARE(told.code, 0);
    int swallowed = 0, refused = 0;
    for (const auto &value : QJsonDocument::fromJson(told.out).array()) {
        const QJsonObject row = value.toObject();
        QVERIFY(row["hops"].isArray()); // of each it is known
        for (const auto &each : row["hops"].toArray()) {
            const QJsonObject hop = each.toObject();
            swallowed += hop["outcome"] == "swallowed" && hop["role"] == "filter" && hop["exact"].toBool();
        }
        refused += row["hops"].toArray().isEmpty() && row["type"] == "KeyPress";
    }
    QCOMPARE(swallowed, 3);
    QCOMPARE(refused, 1);
    const Ran words = verb({"dispatches", dir.path() + "/rec"});
    QVERIFY2(words.out.contains("The filter second swallowed it before inner"), words.out);
    QVERIFY2(words.out.contains("The application's filter whole swallowed it before inner"), words.out);
    QVERIFY2(words.out.contains("inner ignored it, then middle ignored it, then window accepted it"),
             words.out);
    QVERIFY2(words.out.contains("notify() did not deliver it"), words.out);
}

void WaysTest::inputsAreToldInTheTradesWords()
{
    QTemporaryDir dir;
    QCOMPARE(verb({"record", "--out", dir.path() + "/rec", "--", targetProgram("ways")}).code, 0);
    const Ran told = verb({"dispatches", dir.path() + "/rec"});
    for (const char *sentence :
         {"alone gets a mouse press: left, at 3, 3\n", "inner gets a key press: F2\n",
          "window gets a mouse move: at 4, 5\n", "only while a button is held\n",
          "alone gets a key press: a character\n", "alone gets a key press: Ctrl+Shift+S\n"})
        QVERIFY2(told.out.contains(sentence), sentence + told.out);
    // Which character it was is nowhere in the recording.
    auto r = Recording::open(dir.path() + "/rec");
    QVERIFY(r);
    std::uint32_t typed = 0;
    for (const Span &s : spansOf((*r)->trace))
        if (const auto input = inputOf((*r)->trace, s); input && input->typed) {
            typed += s.what == QEvent::KeyPress;
            QCOMPARE(input->key, 0);
        }
    QCOMPARE(typed, 1u);
    // The filter of a story fits the details too.
    StoryTeller teller((*r)->trace, (*r)->handlers, {"ctrl+shift+s", false});
    const auto news = teller.advance(std::chrono::hours(1));
    int rows = 0;
    for (const StoryPage &p : news.pages)
        rows += p.count;
    for (const StoryRow &row : news.tail)
        rows += bool(row.span);
    QCOMPARE(rows, 1);
}

// One receiver and no filter: the end of the dispatch says it all.
void WaysTest::mostEventsTellNoHops()
{
    Whole w = runTarget("calls");
    QVERIFY(w.info);
    std::uint32_t dispatches = 0, known = 0, hops = 0;
    for (std::uint16_t i = 0; i < w.run->trace().threadCount(); ++i)
        hops += w.run->trace().rows(i).hopCount();
    for (const Span &s : spansOf(w.run->trace()))
        if (s.kind == SpanKind::Dispatch) {
            ++dispatches;
            known += wayOf(w.run->trace(), s).has_value();
        }
    QVERIFY2(dispatches > 10, qPrintable(QString::number(dispatches)));
    QVERIFY2(known + 2 >= dispatches, qPrintable(QString::number(dispatches - known)));
    QVERIFY2(hops * 10 < dispatches, qPrintable(QString::number(hops)));
}

PIPIT_TEST(WaysTest)
#include "ways_test.moc"
