// The reference pages name what there is, and nothing else; and no text that a person reads is a riddle.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QDirIterator>
#include <QRegularExpression>
#include <QTest>

using namespace pipit;
using namespace pipit::tests;

class WordsTest : public QObject
{
    Q_OBJECT
    static QString text(const QString &file)
    {
        auto bytes = readFile(QStringLiteral(PIPIT_SOURCE_DIR "/") + file);
        return bytes ? QString::fromUtf8(*bytes) : QString();
    }
    // What a group of an expression takes, at each place where it fits.
    static QSet<QString> all(const QString &in, const QString &expression)
    {
        QSet<QString> found;
        for (auto it = QRegularExpression(expression, QRegularExpression::MultilineOption).globalMatch(in);
             it.hasNext();)
            found.insert(it.next().captured(1));
        return found;
    }
    static QString missing(const QSet<QString> &of, const QSet<QString> &in)
    {
        QStringList names((of - in).values());
        names.sort();
        return names.join(", ");
    }

private slots:
    void everyVerbHasItsRow();
    void everyOptionStandsInItsRow();
    void everyPageIsNamed();
    void everyVerdictIsListed();
    void everyPlayStepIsListed();
    void everyLinkLeadsSomewhere();
    void everyHeaderSaysItsThreads();
    void noRiddles_data();
    void noRiddles();
};

static QSet<QString> verbs()
{
    QSet<QString> names;
    bool within = false;
    for (const QByteArray &line : verb({"--help"}).out.split('\n')) {
        within = within || line.startsWith("Subcommands");
        if (within && line.startsWith("  ") && line.size() > 2 && line[2] != ' ')
            names.insert(QString::fromUtf8(line.trimmed().split(' ').first()));
    }
    return names;
}

void WordsTest::everyVerbHasItsRow()
{
    const QSet<QString> told = all(text("docs/command-line.md"), "^\\| `([a-z]+) ");
    QVERIFY(verbs().size() > 20);
    QCOMPARE(missing(verbs(), told), QString());
    QCOMPARE(missing(told, verbs()), QString());
}

void WordsTest::everyOptionStandsInItsRow()
{
    const QString page = text("docs/command-line.md");
    for (const QString &name : verbs()) {
        const QString rows = QStringList(all(page, "^(\\| `" + name + " .*)$").values()).join('\n');
        QSet<QString> options =
            all(QString::fromUtf8(verb({name, "--help"}).out), "^ +(?:-\\w,)?(--[a-z][a-z-]+)");
        options.remove("--help");
        const QSet<QString> told = all(rows, "(--[a-z][a-z-]+)");
        QCOMPARE(name + ": " + missing(options, told), name + ": ");
        QCOMPARE(name + ": " + missing(told, options), name + ": ");
    }
}

void WordsTest::everyPageIsNamed()
{
    const QString list =
        QRegularExpression("pageNames\\{([^}]*)\\}").match(text("app/shell/main_window.h")).captured(1);
    const QSet<QString> pages = all(list, "\"(\\w+)\"");
    QCOMPARE(pages.size(), 5);
    QCOMPARE(missing(pages, all(text("docs/words.md"), "^\\| (\\w+) \\|")), QString());
    QCOMPARE(missing(pages, all(text("README.md"), "^\\| (\\w+) \\|")), QString());
}

// Each program of demos/faults says what the answer is; the page lists all of them, and each has words in the
// code.
void WordsTest::everyVerdictIsListed()
{
    QSet<QString> answers;
    QString code;
    for (QDirIterator it(PIPIT_SOURCE_DIR "/demos/faults/programs", {"*.cpp", "*.py"}, QDir::Files,
                         QDirIterator::Subdirectories);
         it.hasNext();)
        answers += all(QString::fromUtf8(*readFile(it.next())), "^(?://|#) verdict +(.*\\S)$");
    for (QDirIterator it(PIPIT_SOURCE_DIR "/core/why", {"*.cpp", "*.h"}, QDir::Files); it.hasNext();)
        code += QString::fromUtf8(*readFile(it.next()));
    const QString page =
        text("docs/why.md").section("## Verdicts", 1).section("## What it does not know", 0, 0);
    const QSet<QString> told = all(page, "`([a-z' -]+)`");
    QVERIFY(answers.size() > 40);
    QCOMPARE(missing(answers, told), QString());
    for (const QString &verdict : told)
        QVERIFY2(code.contains('"' + verdict + '"'), qPrintable(verdict));
}

void WordsTest::everyPlayStepIsListed()
{
    // The hint of a step that is not understood lists them all.
    const QString page = text("docs/formats/plays.md");
    QTemporaryDir dir;
    QVERIFY(writeFile(dir.path() + "/x.play", "button: dance\n"));
    const QString hint = QString::fromUtf8(
        verb({"record", "--out", dir.path() + "/out", "--play", dir.path() + "/x.play", "--", "/bin/true"})
            .err);
    const QString list = hint.section("use ", 1).section(';', 0, 0).simplified();
    const QStringList steps = list.split(", ");
    QVERIFY2(steps.size() > 8, qPrintable(hint));
    for (const QString &step : steps)
        QVERIFY2(page.contains('`' + step.split(' ').value(0)), qPrintable(step));
}

void WordsTest::everyLinkLeadsSomewhere()
{
    static const QRegularExpression link("\\]\\(([^)#]*)(#[^)]*)?\\)"), other("[^\\w -]");
    int links = 0;
    QStringList files{"README.md"};
    for (const char *folder : {"docs/", "docs/formats/"})
        for (const QString &name :
             QDir(QStringLiteral(PIPIT_SOURCE_DIR "/") + folder).entryList({"*.md"}, QDir::Files))
            files << folder + name;
    for (const QString &file : std::as_const(files)) {
        for (auto it = link.globalMatch(text(file)); it.hasNext(); ++links) {
            const auto m = it.next();
            if (m.captured(1).contains("://") || m.captured(1).contains(' ')) // of code
                continue;
            const QString to = m.captured(1).isEmpty()
                                   ? file
                                   : QDir::cleanPath(QFileInfo(file).path() + '/' + m.captured(1));
            QVERIFY2(QFileInfo::exists(QStringLiteral(PIPIT_SOURCE_DIR "/") + to),
                     qPrintable(file + ": " + m.captured()));
            if (m.captured(2).isEmpty())
                continue;
            QSet<QString> headings;
            for (QString heading : all(text(to), "^#+ (.*)$"))
                headings.insert(heading.toLower().remove(other).replace(' ', '-'));
            QVERIFY2(headings.contains(m.captured(2).mid(1)), qPrintable(file + ": " + m.captured()));
        }
    }
    QVERIFY(links > 60);
}

void WordsTest::everyHeaderSaysItsThreads()
{
    QStringList silent;
    for (QDirIterator it(PIPIT_SOURCE_DIR "/core", {"*.h"}, QDir::Files, QDirIterator::Subdirectories);
         it.hasNext();)
        if (const QString file = it.next(); !readFile(file)->contains("// Threads:"))
            silent << file;
    QCOMPARE(silent, QStringList());
}

// Words that once were in these texts and that nobody understood.
void WordsTest::noRiddles_data()
{
    QTest::addColumn<QString>("riddle");
    for (const char *riddle : {"how manieth",
                               "Everything that can be done",
                               "Be told instead",
                               "be told of changes",
                               "You answer for",
                               "what it sweeps",
                               "End on time what",
                               "is told by what",
                               "which stalls no window",
                               "to itself on its thread",
                               "dear by its number",
                               "wears on its loop",
                               "wears on the loop",
                               "mends what",
                               "that nobody listens to",
                               "nobody listens",
                               "a hundredth of the time",
                               "stands here",
                               "stand here",
                               "tool-kit",
                               "it is told that",
                               "is no time and",
                               "in the mean,",
                               "would not do the same"})
        QTest::newRow(riddle) << QString(riddle);
}

// In the pages, and in the texts of the window and of the verbs.
void WordsTest::noRiddles()
{
    QFETCH(QString, riddle);
    QStringList places;
    for (const char *top : {"docs", "app", "cli", "core"}) {
        QDirIterator files(QStringLiteral(PIPIT_SOURCE_DIR "/") + top, {"*.md", "*.cpp", "*.h"}, QDir::Files,
                           QDirIterator::Subdirectories);
        while (files.hasNext()) {
            const QString file = files.next();
            const QStringList lines = QString::fromUtf8(*readFile(file)).split('\n');
            for (qsizetype i = 0; i < lines.size(); ++i)
                if (lines[i].contains(riddle) && (file.endsWith(".md") || lines[i].contains('"')))
                    places << QStringLiteral("%1:%2").arg(file).arg(i + 1);
        }
    }
    QCOMPARE(places, QStringList());
}

PIPIT_TEST(WordsTest)
#include "words_test.moc"
