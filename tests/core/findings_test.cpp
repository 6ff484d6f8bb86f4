// What the wiring check says: of faults, of windows without any, and after mending.
#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/edits/mend.h"
#include "core/project/selector.h"
#include "core/sentences/sentence.h"
#include "core/store/unsaved.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QDir>

using namespace pipit;
using namespace pipit::tests;

class FindingsTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;

private slots:
    void faultsGiveTheirFinding_data();
    void faultsGiveTheirFinding();
    void cleanProjectsGiveNone_data();
    void cleanProjectsGiveNone();
    void aSelectorIsSpokenOfOnce();
    void theOrderIsTheSameEachTime();
    void oneStepMends_data();
    void oneStepMends();
};

void FindingsTest::faultsGiveTheirFinding_data()
{
    QTest::addColumn<QString>("folder");
    for (const QString &name : QDir(demoFolder() + "/faults").entryList(QDir::Dirs | QDir::NoDotAndDotDot))
        if (name != "programs") // which are no projects
            QTest::newRow(qPrintable(name)) << demoFolder() + "/faults/" + name;
}

void FindingsTest::faultsGiveTheirFinding()
{
    QFETCH(QString, folder);
    auto w = Workspace::open(folder);
    QVERIFY2(bool(w), w ? "" : qPrintable(w.problem().text()));
    const QString wanted = QString::fromUtf8(*readFile(folder + "/finding.txt")).section('\n', 0, 0);
    QStringList found;
    for (const Finding &f : findingsOf(w->project(), w->files())) {
        found << f.id + ' ' + f.where;
        QVERIFY2(f.message.endsWith('.'), qPrintable(f.message));
        QVERIFY(findingKinds().contains(f.id));
    }
    QCOMPARE(found, QStringList{wanted}); // this one and no other
}

void FindingsTest::cleanProjectsGiveNone_data()
{
    // Of ours, and of windows that the toolkit's authors published, who never saw our checks.
    QTest::addColumn<QString>("file");
    for (const char *folder : {"clean", "published"}) {
        const QDir dir(QStringLiteral(PIPIT_SOURCE_DIR "/tests/data/") + folder);
        QVERIFY(dir.entryList({"*.typed"}).size() >= 10);
        for (const QString &f : dir.entryList({"*.typed"}))
            QTest::newRow(qPrintable(f)) << folder + ('/' + f);
    }
}

void FindingsTest::cleanProjectsGiveNone()
{
    QFETCH(QString, file);
    Workspace w = fresh_.project(file.section('/', 1).section('.', 0, 0));
    QStringList expected, found, sentences; // what is truly so in a published window is in its file
    for (const TypedLine &line : typedLines(file)) {
        if (line.verb == "finding") {
            expected << line.text;
            continue;
        }
        auto ok = apply(w, line);
        QVERIFY2(bool(ok), ok ? "" : qPrintable(line.text + ": " + ok.problem().text()));
    }
    for (const Finding &f : findingsOf(w.project(), w.files())) {
        found << f.id;
        sentences << f.message;
    }
    QVERIFY2(found == expected, qPrintable(sentences.join('\n')));
    auto code = generate(w.project(), w.place(), w.files());
    QVERIFY2(bool(code), code ? "" : qPrintable(code.problem().text()));
}

void FindingsTest::aSelectorIsSpokenOfOnce()
{
    Workspace w = fresh_.project("spoken");
    type(w, {"add: label cell_{0..15} \"{}\""});
    for (const char *line : {"#cell_* · mouse enter calls lightUp", "#cell_* · drag enter calls letIn"})
        QVERIFY2(bool(apply(w, {"connect", line})), line);
    QVERIFY(w.setProperties("#cell_*", "acceptDrops", "false"));
    const QList<Finding> found = findingsOf(w.project(), w.files());
    QStringList ids;
    for (const Finding &f : found)
        ids << f.id;
    ids.sort();
    QCOMPARE(ids, (QStringList{"drop-not-accepted", "half-pair", "half-pair", "never-handled"}));
    const Finding &drop = *std::find_if(found.begin(), found.end(),
                                        [](const Finding &f) { return f.id == "drop-not-accepted"; });
    QVERIFY2(drop.message.startsWith("16 of #cell_* (cell_0, cell_1, cell_2 …) · drag enter never comes"),
             qPrintable(drop.message));
    QVERIFY(w.project().connection(drop.where));
    QVERIFY(mend(w, drop)); // all sixteen, as one step
    QVERIFY(w.project().widget("cell_15")->property("acceptDrops")->toBool());
    QVERIFY(w.undo());
    QVERIFY(!w.project().widget("cell_0")->property("acceptDrops")->toBool());
    // One source of it left: then it is that one's name.
    QVERIFY(w.setProperties("#cell_*:not(#cell_15)", "acceptDrops", "true"));
    for (const Finding &f : findingsOf(w.project(), w.files()))
        if (f.id == "drop-not-accepted")
            QCOMPARE(f.where, QString("cell_15"));
}

// Hash tables are seeded anew in each program, so programs are what is compared.
void FindingsTest::theOrderIsTheSameEachTime()
{
    Workspace w = fresh_.project("ordered");
    type(w, {"add: button key_{0..9} \"{}\"", "add: label cell_{0..9} \"{}\"",
             "add: timer tick_{0..5} interval=2"});
    for (int i = 0; i < 10; ++i)
        type(w, {QStringLiteral("connect: cell_%1 · mouse enter calls lightUp").arg(9 - i),
                 QStringLiteral("connect: cell_%1 · drag enter calls letIn").arg((i * 7) % 10)});
    QVERIFY(w.save());
    const QString folder = w.place().folder;
    const QByteArray first = verb({"lint", folder, "--json"}).out;
    QVERIFY(first.count("\"id\"") > 5);
    for (int i = 0; i < 6; ++i)
        QCOMPARE(verb({"lint", folder, "--json"}).out, first);
}

void FindingsTest::oneStepMends_data()
{
    QTest::addColumn<QString>("name");
    for (const char *name : {"misspelt-handler", "connected-twice", "drop-refused", "disabled-button",
                             "hectic-timer", "sleeping-timer", "plain-toggle", "nothing-selected"})
        QTest::newRow(name) << QString::fromLatin1(name);
}

void FindingsTest::oneStepMends()
{
    QFETCH(QString, name);
    auto w = Workspace::open(demoFolder() + "/faults/" + name);
    QVERIFY(w);
    const auto before = findingsOf(w->project(), w->files());
    QCOMPARE(before.size(), 1);
    auto ok = mend(*w, before.first());
    QVERIFY2(bool(ok), ok ? "" : qPrintable(ok.problem().text()));
    for (const Finding &f : findingsOf(w->project(), w->files()))
        QVERIFY2(f.id != before.first().id, qPrintable(f.message));
    QVERIFY(w->undo());
    QCOMPARE(findingsOf(w->project(), w->files()).size(), 1);
}

PIPIT_TEST(FindingsTest)
#include "findings_test.moc"
