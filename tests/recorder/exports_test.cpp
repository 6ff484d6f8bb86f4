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
    void aPackedOneSaysTheSame();
    void linesThatChangedAreNotPacked();
    void tornAndForeignFilesAreToldApart();

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

void ExportsTest::aPackedOneSaysTheSame()
{
    const QString packed = dir_.filePath("run.pack");
    const PackedExtras extras = extrasOf(*r_, true);
    QVERIFY(extras.leftOut.isEmpty());
    QVERIFY(extras.sources.lineCount() > 3);
    QVERIFY(packRecording(*r_->files, extras.files, packed));
    QVERIFY(RecordingFiles::isPacked(packed) && !RecordingFiles::isPacked(r_->files->where("metadata")));
    auto again = Recording::open(packed);
    QVERIFY(again);
    QVERIFY((*again)->report.notes.isEmpty());
    const auto csv = [](Recording &r) {
        QBuffer out;
        (void)out.open(QIODevice::WriteOnly);
        return exportCsv(r, out) ? out.data() : QByteArray();
    };
    QVERIFY(!csv(*r_).isEmpty());
    QCOMPARE(csv(**again), csv(*r_));
    // However it is named.
    const QString here = QDir::currentPath();
    QVERIFY(QDir::setCurrent(dir_.path()));
    for (const char *name : {"run", "./run", "run/", "run.pack", "./run.pack"}) {
        auto named = Recording::open(QLatin1String(name));
        QVERIFY2(named, name);
        QCOMPARE(csv(**named), csv(*r_));
        QVERIFY2(!(*named)->info.program.isEmpty() && (*named)->report.notes.isEmpty(), name);
    }
    QVERIFY(QDir::setCurrent(here));
    // The source's lines are in it, as they stand in the file.
    const Excerpts &sources = (*again)->sources;
    QVERIFY(!sources.empty());
    for (const QString &file : sources.files()) {
        const QStringList lines = QString::fromUtf8(*readFile(file)).split('\n');
        int seen = 0;
        for (int n = 1; n <= lines.size(); ++n)
            if (const auto piece = sources.around(file, n)) {
                QCOMPARE(piece->lines[n - piece->first], lines[n - 1]);
                ++seen;
            }
        QVERIFY(seen > 0);
    }
    // Packed once more without them, none is left.
    const QString without = dir_.filePath("without.pack");
    QVERIFY(packRecording(*(*again)->files, extrasOf(**again, false).files, without));
    auto bare = Recording::open(without);
    QVERIFY(bare && (*bare)->sources.empty());
    QVERIFY(!readFile(without)->contains(QByteArray("int main(")));
}

void ExportsTest::linesThatChangedAreNotPacked()
{
    QStringList leftOut;
    QVERIFY(Excerpts::gather(r_->trace, r_->handlers, 1, &leftOut).empty()); // it began in 1970
    QVERIFY(!leftOut.isEmpty());
}

void ExportsTest::tornAndForeignFilesAreToldApart()
{
    const QString packed = dir_.filePath("whole.pack");
    QVERIFY(packRecording(*r_->files, {}, packed));
    const QByteArray whole = *readFile(packed);
    const QString file = dir_.filePath("other.pack");
    const auto opened = [&](const QByteArray &bytes) {
        return writeFile(file, bytes) ? Recording::open(file) : Problem{};
    };
    QVERIFY(opened("nothing of the kind").problem().text().contains("This is not a recording"));
    QVERIFY(opened({}).problem().text().contains("This is not a recording"));
    // Wherever it is cut, what there is is read, and that it was cut is told.
    int read = 0;
    for (qsizetype n = 512; n < whole.size() - 1024; n += whole.size() / 40) {
        const auto r = opened(whole.left(n));
        if (!r)
            continue; // its description is not whole
        ++read;
        QVERIFY((*r)->trace.spanCount() <= r_->trace.spanCount());
        QVERIFY2((*r)->report.notes.join(' ').contains("cut short"),
                 qPrintable((*r)->report.notes.join(' ')));
    }
    QVERIFY(read > 20);
    // A size that lies about how much there is.
    QByteArray lies = whole;
    const qsizetype second = lies.indexOf("pipit/handlers.json");
    QVERIFY(second > 0);
    lies.replace(second + 124, 11, "77777777777");
    QVERIFY(opened(lies)); // its checksum says so: what follows is left out
    QVERIFY((*opened(lies))->report.notes.join(' ').contains("damaged"));
    // Nothing is left of one that was not finished.
    const QString stopped = dir_.filePath("stopped.pack");
    QVERIFY(!packRecording(*r_->files, {}, stopped, [](double) { return false; }));
    QVERIFY(!QFileInfo::exists(stopped));
}

PIPIT_TEST(ExportsTest)
#include "exports_test.moc"
