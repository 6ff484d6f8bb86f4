// Sentences of widgets, objects and timers: how they read, and what an edited one asks for.
#include "core/catalog/catalog.h"
#include "core/sentences/sentence.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

using namespace pipit;
using namespace pipit::tests;

class SentenceTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    Workspace desk(const QStringList &lines)
    {
        Workspace w = fresh_.project();
        type(w, lines);
        return w;
    }
    static QStringList settings(const SentenceChange &c)
    {
        QStringList all;
        for (const SetRequest &s : c.settings)
            all << (s.text.isNull() ? "reset " + s.property : s.property + '=' + s.text);
        all.sort();
        return all;
    }

private slots:
    void everythingReads_data();
    void everythingReads();
    void editsAreUnderstood_data();
    void editsAreUnderstood();
    void rubbishIsExplained_data();
    void rubbishIsExplained();
    void textsKeepTheirForm();
    void unchangedAsksForNothing();
    void oneEditIsOneStep();
    void theFirstWrongSettingLeavesAll();
    void readingAlikeIsToldWithoutWords();
};

// Every way in which two connections can differ: they read alike exactly when their sentences are the same.
void SentenceTest::readingAlikeIsToldWithoutWords()
{
    Connection plain;
    plain.id = "c1";
    plain.from = "go";
    plain.signal = "clicked";
    plain.to = "start";
    QList<Connection> all{plain};
    const auto with = [&](auto change) {
        Connection c = plain;
        c.id = QStringLiteral("c%1").arg(all.size() + 1);
        change(c);
        all << c;
    };
    with([](Connection &c) { c.kept.line = 7; }); // no word of it
    with([](Connection &c) { c.from = "stop"; });
    with([](Connection &c) { c.select = "#go_*"; });
    with([](Connection &c) { c.part = "viewport"; });
    with([](Connection &c) { c.signal = "pressed"; });
    with([](Connection &c) {
        c.sourceKind = Connection::Source::Event;
        c.event = "key press";
    });
    with([](Connection &c) { c.when = "key Return"; });
    with([](Connection &c) { c.after = true; });
    with([](Connection &c) { c.scope = Connection::Scope::Window; });
    with([](Connection &c) { c.scope = Connection::Scope::Application; });
    with([](Connection &c) { c.drop = "copy"; });
    with([](Connection &c) { c.to = "end"; });
    with([](Connection &c) {
        c.targetKind = Connection::Target::Slot;
        c.toMember = "clear";
    });
    with([](Connection &c) { c.targetKind = Connection::Target::Open; });
    with([](Connection &c) { c.convert = "number else skip"; });
    with([](Connection &c) { c.pacing = {PacingKind::NextTurn, 0}; });
    with([](Connection &c) { c.pacing = {PacingKind::AfterPause, 300}; });
    with([](Connection &c) { c.pacing = {PacingKind::AfterPause, 200}; });
    with([](Connection &c) { c.enabled = false; });
    int alike = 0;
    for (const Connection &a : std::as_const(all))
        for (const Connection &b : std::as_const(all)) {
            QVERIFY2(readAlike(a, b) == (sentenceFor(a) == sentenceFor(b)), qPrintable(sentenceFor(b)));
            alike += readAlike(a, b);
        }
    QCOMPARE(alike, int(all.size()) + 2); // each with itself, and the first two
}

void SentenceTest::everythingReads_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("reads");
    const auto row = [](const char *line, const char *name, const char *reads) {
        QTest::newRow(line) << QString::fromUtf8(line) << QString(name) << QString::fromUtf8(reads);
    };
    row("add: button go \"Board\"", "go", "go, a button saying \"Board\"");
    row("add: tick box seen \"Seen\" tristate=true checked=true", "seen",
        "seen, a tick box saying \"Seen\", checked, in three states");
    row("add: field t placeholderText=\"K-204\"", "t", "t, a field asking for \"K-204\"");
    row("add: slider s minimum=3 maximum=9", "s", "s, a slider from 3 to 9");
    row("add: list l items=\"a\\nb\" acceptDrops=true", "l", "l, a list of a, b, takes drops");
    row("add: button q \"say \\\"x\\\"\"", "q", "q, a button saying \"say \\\"x\\\"\"");
    row("add: timer gate interval=250", "gate", "gate, a timer every 250 ms");
    row("add: action quit \"Quit\" shortcut=Ctrl+Q", "quit", "quit, an action saying \"Quit\" by Ctrl+Q");
    row("set: desk: windowTitle Ferry", "desk", "desk, the window saying \"Ferry\"");
}

void SentenceTest::everythingReads()
{
    QFETCH(QString, line);
    QFETCH(QString, name);
    QFETCH(QString, reads);
    Workspace w = desk({line});
    QCOMPARE(sentenceToEdit(w.project(), name), reads);
}

void SentenceTest::editsAreUnderstood_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("edited");
    QTest::addColumn<QStringList>("asks");
    const auto row = [](const char *name, const char *line, const char *edited, const QStringList &asks) {
        QTest::newRow(name) << QString::fromUtf8(line) << QString::fromUtf8(edited) << asks;
    };
    row("another text", "add: button x \"Board\"", "x, a button saying “Depart”", {"text=Depart"});
    row("straight quotes", "add: button x \"Board\"", "x, a button saying \"Depart\"", {"text=Depart"});
    row("a first text", "add: button x", "x, a button saying \"Go\"", {"text=Go"});
    row("no text", "add: button x \"Board\"", "x, a button", {"reset text"});
    row("an empty text", "add: button x \"Board\"", "x, a button saying “”", {"text="});
    row("disabled", "add: button x \"B\"", "x, a button saying “B”, disabled", {"enabled=false"});
    row("enabled again", "add: button x \"B\" enabled=false", "x, a button saying “B”", {"reset enabled"});
    row("two words", "add: tick box x \"B\"", "x, a tick box saying “B”, checked, hidden",
        {"checked=true", "visible=false"});
    row("words in another order", "add: tick box x \"B\"", "x, a tick box saying “B”, hidden, checked",
        {"checked=true", "visible=false"});
    row("a range", "add: slider x", "x, a slider from -5 to 12", {"maximum=12", "minimum=-5"});
    row("another range", "add: slider x minimum=1 maximum=4", "x, a slider from 1 to 5",
        {"maximum=5", "minimum=1"});
    row("no range", "add: slider x minimum=1 maximum=4", "x, a slider", {"reset maximum", "reset minimum"});
    row("items", "add: list x items=\"a\\nb\"", "x, a list of a, c d, e, takes drops",
        {"acceptDrops=true", "items=a\nc d\ne"});
    row("a title", "add: group x \"Fare\"", "x, a group saying “Fares”", {"title=Fares"});
    row("the window", "set: desk: windowTitle Ferry", "desk, the window saying “Boat”", {"windowTitle=Boat"});
    row("quotes in it", "add: button x \"B\"", "x, a button saying “a \\\"b\\\" \\\\ c\\nd”",
        {"text=a \"b\" \\ c\nd"});
    row("words in a text", "add: button x \"B\"", "x, a button saying “a, disabled, hidden”",
        {"text=a, disabled, hidden"});
    row("a timer", "add: timer x interval=250", "x, a timer once after 40 ms, precise, not started by itself",
        {"autostart=false", "interval=40", "precise=true", "repeat=false"});
    row("a timer's pace", "add: timer x interval=250", "x, a timer every 100 ms", {"interval=100"});
    row("a shortcut", "add: action x \"Quit\" shortcut=Ctrl+Q",
        "x, an action saying “Quit” by Ctrl+W, checkable", {"checkable=true", "shortcut=Ctrl+W"});
    row("a process", "add: child process x program=sh", "x, a child process running cat", {"program=cat"});
}

void SentenceTest::editsAreUnderstood()
{
    QFETCH(QString, line);
    QFETCH(QString, edited);
    QFETCH(QStringList, asks);
    Workspace w = desk({line});
    const QString name = edited.section(',', 0, 0);
    auto change = parseEditedSentence(w.project(), name, edited);
    QVERIFY2(change, change ? "" : qPrintable(change.problem().text()));
    QCOMPARE(settings(*change), asks);
    QVERIFY(change->name.isEmpty());
    auto done = w.applySettings(change->settings);
    QVERIFY2(done, done ? "" : qPrintable(done.problem().text()));
    // What was asked for is what it says now, whatever the order of the words was.
    auto again = parseEditedSentence(w.project(), name, sentenceToEdit(w.project(), name));
    QVERIFY(again && again->settings.isEmpty());
    QVERIFY(w.undo());
}

void SentenceTest::rubbishIsExplained_data()
{
    QTest::addColumn<QString>("edited");
    QTest::addColumn<QString>("says");
    QTest::newRow("empty") << ""
                           << "begins with the name";
    QTest::newRow("no kind") << "x"
                             << "begins with the name";
    QTest::newRow("another kind") << "x, a list saying \"B\""
                                  << "x, a button";
    QTest::newRow("half a kind") << "x, a buttonhole"
                                 << "x, a button";
    QTest::newRow("an open quote") << "x, a button saying \"B"
                                   << "not understood";
    QTest::newRow("unknown words") << "x, a button saying “B”, shiny"
                                   << "', shiny'";
    QTest::newRow("a range it has not") << "x, a button from 1 to 2"
                                        << "not understood";
    QTest::newRow("long") << "x, a button saying “" + QString(200'000, 'y') + "”"
                          << "too long";
    QTest::newRow("control characters") << QString("x, a button\x01\x02") << "begins with the name";
}

void SentenceTest::rubbishIsExplained()
{
    QFETCH(QString, edited);
    QFETCH(QString, says);
    Workspace w = desk({"add: button x \"B\""});
    auto change = parseEditedSentence(w.project(), "x", edited);
    QVERIFY(!change);
    QVERIFY2(change.problem().text().contains(says), qPrintable(change.problem().text()));
    QVERIFY(change.problem().text().size() < 400);
    QVERIFY(!parseEditedSentence(w.project(), "nobody", "nobody, a button"));
}

// A text of several lines, long, with blanks at its ends: editing something else leaves it as it is.
void SentenceTest::textsKeepTheirForm()
{
    Workspace w = desk({"add: button x"});
    const QString text = "  two\nlines, “quoted” \\ and " + QString(200, 'z') + "  ";
    QVERIFY(w.setProperty("x", "text", text));
    const QString sentence = sentenceToEdit(w.project(), "x");
    QVERIFY(!sentence.contains('\n'));
    auto change = parseEditedSentence(w.project(), "x", sentence + ", disabled");
    QVERIFY(change);
    QCOMPARE(settings(*change), QStringList{"enabled=false"});
    auto same = parseEditedSentence(w.project(), "x", QString(sentence).replace("two", "2"));
    QVERIFY(same);
    QCOMPARE(same->settings.first().text, QString(text).replace("two", "2"));
}

// Every thing of random projects with one of every class: its own sentence changes nothing.
void SentenceTest::unchangedAsksForNothing()
{
    int looked = 0;
    for (const char *side : {"before", "after"}) {
        auto w = Workspace::open(demoFolder() + "/ferry-desk/" + side);
        QVERIFY(w);
        const Project &p = w->project();
        for (const QString &name : p.objectNames()) {
            const QString sentence = sentenceToEdit(p, name);
            if (sentence.isEmpty()) // a job has no sentence of its own
                continue;
            auto change = parseEditedSentence(p, name, sentence);
            QVERIFY2(change, qPrintable(sentence + ": " + (change ? QString() : change.problem().text())));
            QVERIFY2(change->settings.isEmpty() && change->name.isEmpty(), qPrintable(sentence));
            ++looked;
        }
    }
    QVERIFY(looked > 60);
    auto w = Workspace::create(fresh_.path() + "/unchanged");
    QVERIFY(w);
    for (const PlainWord &word : plainWords())
        if (!w->add({word.words, QStringLiteral("n%1").arg(looked++), "A, b", {}, {}, false, {}, {}}, "."))
            (void)w->add({word.words, QStringLiteral("n%1").arg(looked++), {}, {}, {}, false, {}, {}}, ".");
    for (const QString &name : w->project().objectNames()) {
        auto change = parseEditedSentence(w->project(), name, sentenceToEdit(w->project(), name));
        QVERIFY2(change && change->settings.isEmpty(), qPrintable(sentenceToEdit(w->project(), name)));
    }
    QVERIFY(w->project().objectNames().size() > 40);
}

void SentenceTest::oneEditIsOneStep()
{
    Workspace w = desk({"add: tick box x \"B\""});
    auto change =
        parseEditedSentence(w.project(), "x", "papers, a tick box saying “Papers”, checked, hidden");
    QVERIFY(change);
    QCOMPARE(change->name, QString("papers"));
    QVERIFY(w.applySettings(change->settings));
    QCOMPARE(w.undoText(), QString("set text of x and more"));
    QVERIFY(w.undo());
    QCOMPARE(sentenceToEdit(w.project(), "x"), QString("x, a tick box saying \"B\""));
}

void SentenceTest::theFirstWrongSettingLeavesAll()
{
    Workspace w = desk({"add: slider x"});
    const QByteArray before = projectBytes(w.project());
    QVERIFY(!w.applySettings({{"x", "minimum", "3"}, {"x", "maximum", "many"}}));
    QCOMPARE(projectBytes(w.project()), before);
    QCOMPARE(sentenceToEdit(w.project(), "x"), QString("x, a slider"));
    QVERIFY(w.applySettings({}));
}

PIPIT_TEST(SentenceTest)
#include "sentence_test.moc"
