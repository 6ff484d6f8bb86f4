#include "core/base/files.h"
#include "core/recordings/reader.h"
#include "core/recordings/writer.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QRandomGenerator>
#include <QRegularExpression>
#include <QSet>
#include <QStandardPaths>

#include <sys/resource.h>

using namespace pipit;
using namespace pipit::tests;

class FormatsTest : public QObject
{
    Q_OBJECT
private:
    struct Collect : RecordSink {
        struct One {
            int stream;
            link::Record record;
            QByteArray text;
        };
        void streamOpened(int s, const StreamInfo &i) override { streams.insert(s, i); }
        void record(int stream, const link::Record &s, const char *t, std::size_t n) override
        {
            all.append({stream, s, QByteArray(t, t ? qsizetype(n) : 0)});
        }
        void caughtUp(std::int64_t) override {}
        QHash<int, StreamInfo> streams;
        QList<One> all;
    };
    // Writes `count` random records on three streams; what of them must come back, in order of time.
    QList<Collect::One> write(const QString &folder, int count);

private slots:
    void whatIsWrittenIsRead();
    void recordingsOfBeforeAreRead();
    void aDispatchIsSmall();
    void anIndependentReaderReadsIt();
    void aTornRecordingGivesWhatIsWhole();
    void whatIsDamagedBesideTheRecordsIsTold();
    void aFullDiskIsToldAndLeavesWhatIsWhole();
    void onlyTheLastIsKept_data();
    void onlyTheLastIsKept();
    void noRecordingIsSaid();
    void rubbishNeverCrashes();
    void aFolderInUseIsNotOverwritten();
};

// A record as a recorder can make it.
static link::Record randomRecord(QRandomGenerator &random, const link::KindInfo &k)
{
    link::Record r;
    r.kind = std::uint16_t(k.kind);
    for (int j = 0; j < k.words; ++j) // some addresses again and again
        r.words[j] =
            random.bounded(4) ? 0x7f0000001000u + 16 * random.bounded(300u) : random.generate64() >> 17;
    switch (k.kind) {
    case link::Kind::DispatchBegin:
        r.value = random.bounded(2000u) | (random.generate() & (link::FromWindowSystem | link::SlotUnknown));
        if (random.bounded(2)) {
            r.value |= (1 + random.bounded(link::generationMask)) << link::generationShift;
            r.words[2] = 0;
        } else {
            r.words[1] = 0;
            r.words[2] = random.bounded(2) ? random.generate64() : 0;
        }
        break;
    case link::Kind::Post:
        r.value = random.bounded(2000u) | random.bounded(link::generationMask) << link::generationShift;
        break;
    case link::Kind::CallBegin:
        r.value = random.bounded(6u) | (random.bounded(2) ? link::CodeIsFunction : 0);
        r.words[1] = random.bounded(3) ? 1 + random.bounded(50u) : 0;
        r.words[3] = 0;
        break;
    case link::Kind::DispatchEnd:
    case link::Kind::CallEnd:
    case link::Kind::SignalEnd:
        r.value = k.kind == link::Kind::SignalEnd ? 0 : random.bounded(4u);
        r.words[0] = 0; // it is told by its beginning
        break;
    case link::Kind::Began:
    case link::Kind::CameOf:
        r.value = random.bounded(256u);
        break;
    case link::Kind::Lost:
        r.words[0] = 3;
        break;
    case link::Kind::Input:
        r.value = random.generate();
        r.words[0] &= 0xffffffff;
        break;
    case link::Kind::Hop:
        r.value = random.bounded(64u) | random.bounded(256u) << link::hopOrderShift;
        if (!(r.value & link::HopFilter))
            r.words[1] = 0;
        break;
    case link::Kind::Link:
    case link::Kind::Message:
    case link::Kind::WaitBegin:
    case link::Kind::ThreadRole:
    case link::Kind::ProcessEventsBegin:
        r.value = random.generate();
        break;
    default:
        break;
    }
    return r;
}

QList<FormatsTest::Collect::One> FormatsTest::write(const QString &folder, int count)
{
    auto w = RecordingWriter::create(folder);
    if (!w)
        qFatal("%s", qPrintable(w.problem().text()));
    QRandomGenerator random(7);
    QList<Collect::One> all;
    for (int s = 0; s < 3; ++s)
        (*w)->streamOpened(s, {500, std::uint32_t(500 + s), s == 0});
    std::uint64_t time = 5'000'000'000;
    int depths[3] = {};
    for (int i = 0; i < count; ++i) {
        const auto &k = link::kinds[random.bounded(int(std::size(link::kinds)))];
        Collect::One o;
        o.stream = random.bounded(3);
        o.record = randomRecord(random, k);
        time += 1 + (random.bounded(50) ? random.bounded(1000u) : random.generate() >> random.bounded(12));
        o.record.time = time;
        // As it follows from what was open, but for now and then.
        int &depth = depths[o.stream];
        depth = random.bounded(40) ? std::min(depth, 9) : random.bounded(9);
        if (link::closes(k.kind))
            depth = std::max(0, depth - 1);
        o.record.depth = std::uint16_t(depth);
        depth += link::opens(k.kind);
        if (k.text) {
            o.text = QByteArray(random.bounded(200), 'a') + "é\"\n";
            o.record.words[3] = std::uint64_t(o.text.size());
        }
        (*w)->record(o.stream, o.record, k.text ? o.text.constData() : nullptr, std::size_t(o.text.size()));
        all.append(o);
        if (i % 5000 == 0)
            (*w)->caughtUp(std::int64_t(time));
    }
    if (auto ok = (*w)->finish(); !ok)
        qFatal("%s", qPrintable(ok.problem().text()));
    return all;
}

void FormatsTest::whatIsWrittenIsRead()
{
    QTemporaryDir dir;
    const auto written = write(dir.path() + "/rec", 20'000);
    Collect read;
    auto report = readRecording(dir.path() + "/rec", read);
    QVERIFY(report);
    QCOMPARE(report->records, 20'000u);
    QVERIFY(report->notes.isEmpty());
    QCOMPARE(read.all.size(), written.size());
    for (qsizetype i = 0; i < written.size(); ++i) {
        QCOMPARE(read.all[i].record.time, written[i].record.time);
        QCOMPARE(read.all[i].record.kind, written[i].record.kind);
        QCOMPARE(read.all[i].stream, written[i].stream);
        QCOMPARE(read.all[i].record.depth, written[i].record.depth);
        QCOMPARE(read.all[i].record.value, written[i].record.value);
        QCOMPARE(read.all[i].text, written[i].text);
        QVERIFY(std::equal(std::begin(read.all[i].record.words), std::end(read.all[i].record.words),
                           written[i].record.words));
    }
}

// Version 0.1: every field in full.
void FormatsTest::recordingsOfBeforeAreRead()
{
    QByteArray packet;
    const auto put = [&](auto v) { packet.append(reinterpret_cast<const char *>(&v), sizeof v); };
    const auto event = [&](link::Kind kind, std::uint64_t time, std::uint16_t depth, std::uint32_t value,
                           std::initializer_list<std::uint64_t> words, const char *text = nullptr) {
        put(time);
        put(std::uint16_t(kind));
        put(depth);
        put(value);
        for (const std::uint64_t w : words)
            put(w);
        if (text)
            packet.append(text, qsizetype(std::strlen(text)) + 1);
    };
    put(packet::magic);
    packet += QByteArray(20, '\0'); // uuid, stream class
    const qsizetype context = packet.size();
    packet += QByteArray(40, '\0');
    put(std::uint32_t(4711));
    put(std::uint32_t(4711));
    event(link::Kind::ObjectName, 1000, 0, 0, {0x10}, "QPushButton\nboardButton");
    event(link::Kind::DispatchBegin, 2000, 0, 2, {0x10, 0x99, 1500});
    event(link::Kind::DispatchEnd, 5000, 0, 1, {0x99});
    const std::uint64_t bits[5] = {1000, 5000, std::uint64_t(packet.size()) * 8,
                                   std::uint64_t(packet.size()) * 8, 0};
    packet.replace(context, 40, reinterpret_cast<const char *>(bits), 40);
    QTemporaryDir dir;
    QVERIFY(writeFile(
        dir.filePath("metadata"),
        "/* CTF 1.8 */ env { tracer_name = \"pipit-recorder\"; tracer_major = 0; tracer_minor = 1; };"));
    QVERIFY(writeFile(dir.filePath("stream_0_4711"), packet));
    TraceModel trace;
    const auto report = readRecording(dir.path(), trace);
    QVERIFY(report && report->records == 3 && report->notes.isEmpty());
    const Span s = trace.rows(0).at(0);
    QCOMPARE(trace.object(s.object).name, QString("boardButton"));
    QVERIFY(s.start == 2000 && s.end == 5000 && (s.flags & Handled));
    QCOMPARE(trace.posting(s.id).time, 1500);
    // One of a version that is not known is not guessed at.
    QVERIFY(writeFile(
        dir.filePath("metadata"),
        "/* CTF 1.8 */ env { tracer_name = \"pipit-recorder\"; tracer_major = 0; tracer_minor = 9; };"));
    const auto later = readRecording(dir.path(), trace);
    QVERIFY(!later && later.problem().text().contains("later version"));
}

// A dispatch, a signal in it, a call in that: a begin of at most 24 bytes, an end of at most 16.
void FormatsTest::aDispatchIsSmall()
{
    QTemporaryDir dir;
    auto w = RecordingWriter::create(dir.filePath("r"));
    QVERIFY(w);
    Records r(**w);
    constexpr int count = 10'000;
    for (int i = 0; i < count; ++i) {
        r.put(link::Kind::DispatchBegin, 2, 0x10, 0x99, 0);
        r.put(link::Kind::SignalBegin, 0, 0x10, 0x80);
        r.put(link::Kind::CallBegin, 2, 0x10, 5, 0x70, 0);
        r.put(link::Kind::CallEnd, 0, 0x10);
        r.put(link::Kind::SignalEnd, 0, 0x10);
        r.put(link::Kind::DispatchEnd, 1, 0x99);
    }
    QVERIFY((*w)->finish());
    qint64 bytes = 0;
    for (const QFileInfo &f : QDir(dir.filePath("r")).entryInfoList({"stream_*"}, QDir::Files))
        bytes += f.size();
    QVERIFY2(bytes <= count * 51, qPrintable(QString::number(double(bytes) / count)));
}

void FormatsTest::anIndependentReaderReadsIt()
{
    if (QStandardPaths::findExecutable("babeltrace2").isEmpty())
        QSKIP("babeltrace2 is not installed");
    QTemporaryDir dir;
    const auto written = write(dir.path() + "/rec", 3000);
    const Ran r = command("babeltrace2", {dir.path() + "/rec"});
    QCOMPARE(r.code, 0);
    QVERIFY2(!r.err.contains("yyerror") && !r.err.contains(" E ") && !r.err.contains("rror:"),
             r.err.left(500));
    // Texts hold line breaks, so events are counted by their names; what numbers stand for comes beside them.
    static const QRegularExpression event("(?:^|\\n)\\[[0-9:.]+\\] \\([^)]*\\) (\\w+): ");
    qsizetype events = 0;
    QSet<QString> beside{"address", "depth", "called"}, seen;
    for (auto it = event.globalMatch(QString::fromUtf8(r.out)); it.hasNext();) {
        const QString name = it.next().captured(1);
        events += !beside.contains(name);
        seen.insert(name);
    }
    QCOMPARE(events, written.size());
    QVERIFY(seen.contains("dispatch_begin_posted") && seen.contains("address"));
}

void FormatsTest::aTornRecordingGivesWhatIsWhole()
{
    QTemporaryDir dir;
    write(dir.path() + "/rec", 20'000);
    const QString stream = dir.path() + "/rec/stream_0_500";
    const QByteArray whole = *readFile(stream);
    for (qsizetype cut : {qsizetype(1), qsizetype(40), qsizetype(71), whole.size() / 2, whole.size() - 1}) {
        QVERIFY(writeFile(stream, whole.left(cut)));
        Collect read;
        auto report = readRecording(dir.path() + "/rec", read);
        QVERIFY(report);
        QCOMPARE(report->notes.size(), 1);
        QVERIFY(report->notes[0].contains("torn"));
        QVERIFY(report->records < 20'000 && report->records > 10'000);
    }
}

// Opening once took what it could not read for what is not there.
void FormatsTest::whatIsDamagedBesideTheRecordsIsTold()
{
    QTemporaryDir dir;
    const QString folder = dir.path() + "/rec", beside = folder + "/pipit/";
    write(folder, 100);
    const auto notes = [&] {
        auto r = Recording::open(folder);
        return r ? (*r)->report.notes.join('\n') : r.problem().text();
    };
    QVERIFY(notes().contains("cut short"));
    QVERIFY(makeFolder(beside));
    QVERIFY(writeFile(beside + "info.json", "{}"));
    QCOMPARE(notes(), QString());
    for (const char *file : {"info.json", "map.json", "handlers.json"}) {
        QVERIFY(writeFile(beside + file, "{ \"torn"));
        QVERIFY2(notes().contains(file) && notes().contains("damaged"), qPrintable(notes()));
        QVERIFY(writeFile(beside + file, "{}"));
    }
    QCOMPARE(notes(), QString());
}

// A file that may not grow is what a full disk is, and can be had on any machine.
void FormatsTest::aFullDiskIsToldAndLeavesWhatIsWhole()
{
    QTemporaryDir dir;
    QStringList said;
    std::mutex guard;
    auto w = RecordingWriter::create(dir.filePath("r"), [&](const QString &text) {
        std::lock_guard lock(guard);
        said << text;
    });
    QVERIFY(w);
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    const rlimit small{150'000, before.rlim_max};
    setrlimit(RLIMIT_FSIZE, &small);
    (*w)->streamOpened(0, {500, 500, true});
    link::Record r;
    r.kind = std::uint16_t(link::Kind::Post);
    for (int i = 0; i < 50'000; ++i) {
        r.time = std::uint64_t(1'000 + i);
        (*w)->record(0, r, nullptr, 0);
    }
    const Outcome done = (*w)->finish();
    setrlimit(RLIMIT_FSIZE, &before);
    QVERIFY(!done && done.problem().text().contains("incomplete"));
    QCOMPARE(said.size(), 1);
    QVERIFY2(said[0].contains("The recording ends after 0.1 MB"), qPrintable(said[0]));
    Collect c;
    const auto report = readRecording(dir.filePath("r"), c);
    QVERIFY(report);
    QVERIFY(report->notes.isEmpty()); // no torn packet
    QVERIFY(report->records > 1000 && report->records < 50'000);
    QVERIFY(!QFile::exists(dir.filePath("r/.room"))); // there is room for what stands beside it
}

void FormatsTest::onlyTheLastIsKept_data()
{
    QTest::addColumn<QString>("keep");
    QTest::addColumn<int>("least"); // records, of 100,000 in 100 s
    QTest::addColumn<int>("most");
    QTest::newRow("time") << "20s" << 20'000 << 26'000;
    QTest::newRow("size") << "1MB" << 45'000 << 62'000; // 18 bytes each
}

void FormatsTest::onlyTheLastIsKept()
{
    QFETCH(QString, keep);
    QFETCH(int, least);
    QFETCH(int, most);
    QTemporaryDir dir;
    const auto last = KeepLast::parse(keep);
    QVERIFY(last);
    auto w = RecordingWriter::create(dir.filePath("r"), {}, *last);
    QVERIFY(w);
    constexpr int count = 100'000;
    constexpr std::uint64_t step = 1'000'000;
    for (int stream = 0; stream < 2; ++stream)
        (*w)->streamOpened(stream, {500, std::uint32_t(500 + stream), stream == 0});
    link::Record name;
    name.kind = std::uint16_t(link::Kind::ObjectName);
    name.words[0] = 7;
    name.time = step;
    (*w)->record(0, name, "QTimer\nearly", 12); // told once, at the very beginning
    link::Record r;
    r.kind = std::uint16_t(link::Kind::Post);
    for (int i = 1; i <= count; ++i) {
        r.time = std::uint64_t(i) * step;
        r.words[0] = std::uint64_t(i);
        (*w)->record(0, r, nullptr, 0);
    }
    QVERIFY((*w)->finish());
    Collect c;
    const auto report = readRecording(dir.filePath("r"), c);
    QVERIFY(report && report->notes.isEmpty());
    int posts = 0, names = 0;
    std::uint64_t expected = 0;
    for (const Collect::One &one : std::as_const(c.all)) {
        if (link::Kind(one.record.kind) == link::Kind::ObjectName) {
            ++names;
            QCOMPARE(one.text, QByteArray("QTimer\nearly"));
            continue;
        }
        QVERIFY(!expected || one.record.words[0] == expected); // without a gap, to the very end
        expected = one.record.words[0] + 1;
        ++posts;
    }
    QCOMPARE(expected, std::uint64_t(count + 1));
    QVERIFY2(posts >= least && posts <= most, qPrintable(QString::number(posts)));
    QVERIFY(names >= 1);
    QVERIFY(!KeepLast::parse("a bit") && !KeepLast::parse("0s") && !KeepLast::parse("5 apples"));
}

void FormatsTest::noRecordingIsSaid()
{
    QTemporaryDir dir;
    Collect read;
    auto r = readRecording(dir.path() + "/none", read);
    QVERIFY(!r && r.problem().text().contains("not a recording"));
    QVERIFY(writeFile(dir.path() + "/metadata", "/* CTF 1.8 */ someone else's"));
    r = readRecording(dir.path(), read);
    QVERIFY(!r && r.problem().text().contains("not written by Pipit"));
}

void FormatsTest::rubbishNeverCrashes()
{
    QTemporaryDir dir;
    write(dir.path() + "/rec", 4000);
    const QString stream = dir.path() + "/rec/stream_1_501";
    const QByteArray whole = *readFile(stream);
    QRandomGenerator random(11);
    for (int round = 0; round < 200; ++round) {
        QByteArray bent = whole;
        for (int i = 0; i < 4; ++i)
            bent[random.bounded(int(round < 100 ? 200 : bent.size()))] = char(random.generate());
        QVERIFY(writeFile(stream, bent));
        TraceModel trace; // the model too must take whatever comes
        (void)bool(readRecording(dir.path() + "/rec", trace));
    }
}

void FormatsTest::aFolderInUseIsNotOverwritten()
{
    QTemporaryDir dir;
    QVERIFY(writeFile(dir.path() + "/letter", "mine"));
    QVERIFY(!RecordingWriter::create(dir.path()));
    QCOMPARE(*readFile(dir.path() + "/letter"), QByteArray("mine"));
}

PIPIT_TEST(FormatsTest)
#include "formats_test.moc"
