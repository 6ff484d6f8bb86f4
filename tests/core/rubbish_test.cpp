// What is torn, pasted, mistyped or made up: everything that reads text gives a value or a sentence
// that says what is wrong, in bounded time, and never falls over. Seeded: each run is the same.
#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/findings/findings.h"
#include "core/plays/play.h"
#include "core/project/condition.h"
#include "core/project/expand.h"
#include "core/project/selector.h"
#include "core/sentences/sentence.h"
#include "core/userfiles/cpp_scan.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QRandomGenerator>

using namespace pipit;
using namespace pipit::tests;

namespace
{

class Vandal
{
public:
    explicit Vandal(quint32 seed) : random_(seed) {}
    int below(int n) { return int(random_.bounded(n)); }

    // Bytes lost, doubled, changed, swapped or cut off.
    QByteArray damage(QByteArray b)
    {
        for (int n = 1 + below(4); n > 0 && !b.isEmpty(); --n) {
            const int at = below(int(b.size())), many = 1 + below(24);
            switch (below(7)) {
            case 0:
                b.remove(at, many);
                break;
            case 1:
                b.insert(at, b.mid(at, many));
                break;
            case 2:
                b[at] = char(below(256));
                break;
            case 3:
                b.truncate(at);
                break;
            case 4:
                b.insert(at, QByteArray(1, "{}[]\",:\\0-"[below(10)]));
                break;
            case 5:
                b.insert(at, QByteArray::number(below(2) ? 1e300 : -1e9));
                break;
            default: {
                const QByteArray part = b.mid(at, many);
                b.remove(at, many);
                b.insert(b.isEmpty() ? 0 : below(int(b.size())), part);
            }
            }
        }
        return b;
    }
    // Words that belong somewhere, in an order that belongs nowhere.
    QString words(const QStringList &known)
    {
        QString s;
        for (int n = below(9); n > 0; --n)
            s += known[below(int(known.size()))] + (below(3) ? " " : "");
        return s;
    }

private:
    QRandomGenerator random_;
};

} // namespace

class RubbishTest : public QObject
{
    Q_OBJECT
    int read_ = 0, refused_ = 0; // of the torn projects

private slots:
    void cleanupTestCase()
    {
        if (refused_)
            QVERIFY2(refused_ > 100 && read_ > 3, qPrintable(QString::number(read_))); // both did happen
    }
    void tornProjectsSayWhere_data();
    void tornProjectsSayWhere();
    void linesAtRandomAreExplained();
    void codeAtRandomIsScanned();
    void pastedRubbishLeavesTheProject();
};

void RubbishTest::tornProjectsSayWhere_data()
{
    QTest::addColumn<quint32>("seed");
    for (quint32 seed = 1; seed <= 8; ++seed)
        QTest::addRow("seed %u", seed) << seed;
}

void RubbishTest::tornProjectsSayWhere()
{
    QFETCH(quint32, seed);
    Vandal vandal(seed);
    QTemporaryDir dir;
    copyFolder(demoFolder() + "/ferry-desk/after", dir.path() + "/desk");
    const QByteArray whole = *readFile(dir.path() + "/desk/ferry-desk.pipit");
    const qsizetype lines = whole.count('\n') + 30;
    for (int i = 0; i < 50; ++i) {
        const QByteArray torn = vandal.damage(whole);
        auto p = parseProject(torn, "ferry-desk.pipit");
        if (!p) {
            ++refused_;
            QVERIFY2(!p.problem().what.isEmpty() && !p.problem().remedy.isEmpty(), torn.constData());
            QVERIFY2(p.problem().line >= 0 && p.problem().line <= lines, qPrintable(p.problem().text()));
            QVERIFY2(p.problem().text().size() < 600, qPrintable(p.problem().text()));
            continue;
        }
        ++read_;
        const QByteArray again = projectBytes(*p);
        auto twice = parseProject(again, "ferry-desk.pipit");
        QVERIFY2(twice && projectBytes(*twice) == again, "what was read is not read again");
        const ProjectPlace place{dir.path() + "/desk", dir.path() + "/desk/ferry-desk.pipit"};
        UserFiles files(place.folder);
        (void)findingsOf(*p, files);
        auto code = generate(*p, place, files);
        if (!code)
            QVERIFY(!code.problem().what.isEmpty());
    }
}

void RubbishTest::linesAtRandomAreExplained()
{
    auto w = Workspace::open(demoFolder() + "/ferry-desk/after");
    QVERIFY(w);
    QStringList known = w->project().objectNames();
    for (const Handler &h : w->project().handlers)
        known << h.name;
    known << QStringList{"·",
                         ".",
                         "calls",
                         "opens",
                         "clicked",
                         "key press",
                         "(",
                         ")",
                         "key",
                         "Ctrl+",
                         "text",
                         "not",
                         "empty",
                         "and",
                         "\"",
                         "“",
                         "”",
                         "{",
                         "}",
                         "{1..9}",
                         "#",
                         "*",
                         "[",
                         "]",
                         "=",
                         ":",
                         ";",
                         ",",
                         "as number else skip",
                         "after a pause of",
                         "300 ms",
                         "at most every",
                         "in the window",
                         "afterwards",
                         "accepting",
                         "move",
                         "button",
                         "row",
                         "from",
                         "like",
                         "saying",
                         "\\",
                         "\n",
                         "99999999999999999999",
                         "-1",
                         "\u202e",
                         "🙂",
                         QString(500, 'a')};
    const QByteArray model = projectBytes(w->project());
    Vandal vandal(42);
    QElapsedTimer clock;
    clock.start();
    for (int i = 0; i < 2400; ++i) {
        const QString s = vandal.words(known);
        const auto explained = [&](const auto &result) {
            QVERIFY2(result || (!result.problem().what.isEmpty() && result.problem().text().size() < 1200),
                     qPrintable(s.left(300)));
        };
        explained(parseSentence(s));
        explained(parseAddLine(s));
        explained(parseSetLine(w->project(), s, "boardButton"));
        explained(parseCondition(s, i % 2 ? "QKeyEvent" : "QMouseEvent"));
        explained(Selector::parse(s));
        explained(expandName(s));
        explained(parsePlay(s, "x.play"));
        explained(parseEditedSentence(w->project(), "boardButton", s));
        if (i % 20 == 0)
            (void)sentenceCompletions(w->project(), w->files(), s);
        if (auto r = parseSentence(s); r && i % 4 == 0) {
            Workspace trial = *w;
            explained(trial.connect(*r));
        }
    }
    QCOMPARE(projectBytes(w->project()), model);
    QVERIFY2(clock.elapsed() < 60'000, "reading lines takes too long");
}

// C++ that is torn anywhere is stepped over; what is found lies within the text.
void RubbishTest::codeAtRandomIsScanned()
{
    const QByteArray whole = *readFile(demoFolder() + "/ferry-desk/after/ferry_desk.cpp");
    Vandal vandal(7);
    for (int i = 0; i < 1500; ++i) {
        const QString text = QString::fromUtf8(vandal.damage(whole));
        QCOMPARE(codeOnly(text).size(), text.size());
        for (const Definition &d : definitionsIn(text)) {
            QVERIFY(d.headBegin >= 0 && d.headBegin <= d.bodyOpen && d.bodyOpen <= d.bodyClose);
            QVERIFY(d.bodyClose <= text.size());
            QVERIFY(d.line >= 1 && d.line <= text.count('\n') + 1);
        }
    }
}

void RubbishTest::pastedRubbishLeavesTheProject()
{
    auto w = Workspace::open(demoFolder() + "/ferry-desk/after");
    QVERIFY(w);
    const QByteArray copied = w->copy({"ticketRow", "deckGrid", "gateTimer"}),
                     before = projectBytes(w->project());
    Vandal vandal(3);
    int pasted = 0;
    for (int i = 0; i < 400; ++i) {
        const QByteArray torn = vandal.damage(copied);
        auto names = w->paste(torn, ".");
        if (!names) {
            QVERIFY(!names.problem().what.isEmpty());
            QCOMPARE(projectBytes(w->project()), before);
            continue;
        }
        ++pasted;
        const QByteArray now = projectBytes(w->project());
        auto again = parseProject(now, "ferry-desk.pipit");
        QVERIFY2(again, again ? "" : qPrintable(again.problem().text() + '\n' + torn));
        QVERIFY(w->undo());
        QCOMPARE(projectBytes(w->project()), before);
    }
    QVERIFY(pasted > 5);
}

PIPIT_TEST(RubbishTest)
#include "rubbish_test.moc"
