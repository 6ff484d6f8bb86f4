// A recording in other formats: nothing is left out, nothing made up.
#include "core/base/files.h"
#include "core/exports/exports.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QBuffer>
#include <QJsonArray>
#include <QJsonDocument>

using namespace pipit;
using namespace pipit::tests;

class ExportsTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void traceEventsHoldEverySpan();
    void csvHasALineForEach();
    void theReportIsWhole();
    void whatCannotBeWrittenIsSaid();

private:
    QTemporaryDir dir_;
    std::shared_ptr<Recording> r_;
};

void ExportsTest::initTestCase()
{
    const QString folder = dir_.filePath("run");
    QVERIFY(runTarget("faults", {"no_such_signal"}, folder).info);
    auto r = Recording::open(folder);
    QVERIFY(r);
    r_ = *r;
    QVERIFY(r_->trace.spanCount() > 50);
}

void ExportsTest::traceEventsHoldEverySpan()
{
    QBuffer out;
    QVERIFY(out.open(QIODevice::WriteOnly));
    QVERIFY(exportTraceEvents(*r_, out));
    QJsonParseError error;
    const QJsonObject o = QJsonDocument::fromJson(out.data(), &error).object();
    QCOMPARE(error.error, QJsonParseError::NoError);
    QHash<quint64, QJsonObject> byId;
    int starts = 0, ends = 0;
    for (const auto &v : o["traceEvents"].toArray()) {
        const QJsonObject event = v.toObject();
        const QString ph = event["ph"].toString();
        if (ph == "X")
            byId.insert(quint64(event["args"].toObject()["id"].toDouble()), event);
        starts += ph == "s";
        ends += ph == "f";
    }
    QCOMPARE(starts, ends);
    QVERIFY(starts > 0);
    int spans = 0;
    for (const Span &s : spansOf(r_->trace)) {
        if (s.kind == SpanKind::Message)
            continue;
        ++spans;
        const QJsonObject event = byId.value(s.id.number());
        QVERIFY(!event.isEmpty());
        // To the nanosecond.
        QCOMPARE(qRound64(event["ts"].toDouble() * 1000), qint64(s.start - r_->trace.firstTime()));
        QCOMPARE(qRound64(event["dur"].toDouble() * 1000), qint64(s.duration(r_->trace.now())));
    }
    QCOMPARE(int(byId.size()), spans);
}

void ExportsTest::csvHasALineForEach()
{
    QBuffer out;
    QVERIFY(out.open(QIODevice::WriteOnly));
    QVERIFY(exportCsv(*r_, out));
    const QList<QByteArray> lines = out.data().trimmed().split('\n');
    QCOMPARE(quint64(lines.size()), r_->trace.spanCount() + 1);
    QCOMPARE(lines.first(), QByteArray("id,parent,thread,kind,start_ns,duration_ns,object,class,sentence"));
    bool press = false;
    for (const QByteArray &l : lines)
        press =
            press || (l.contains("\"boardButton\"") && l.contains("dispatch") && l.contains("mouse press"));
    QVERIFY(press);
}

void ExportsTest::theReportIsWhole()
{
    const QString file = dir_.filePath("report.html");
    QVERIFY(exportTo(*r_, "html", file));
    const auto text = readFile(file);
    QVERIFY(text);
    QVERIFY(text->startsWith("<!DOCTYPE html>") && text->trimmed().endsWith("</html>"));
    QVERIFY(text->contains("<svg") && text->contains("there is no signal QPushButton::clickd()"));
    for (const char *never : {"<script", "http:", "https:", "<img", "<link"})
        QVERIFY2(!text->contains(never), never);
}

void ExportsTest::whatCannotBeWrittenIsSaid()
{
    const auto nowhere = exportTo(*r_, "csv", dir_.filePath("none/out.csv"));
    QVERIFY(!nowhere && nowhere.problem().text().contains("cannot be written"));
    const auto unknown = exportTo(*r_, "pdf", dir_.filePath("out.pdf"));
    QVERIFY(!unknown && unknown.problem().text().contains("Choose trace-event, csv or html"));
    QVERIFY(!QFileInfo::exists(dir_.filePath("out.pdf")));
}

PIPIT_TEST(ExportsTest)
#include "exports_test.moc"
