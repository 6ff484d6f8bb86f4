// Composing and connecting by what is typed, and what the wiring check says of the result.
#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/findings/findings.h"
#include "core/findings/keys.h"
#include "core/project/key_names.h"
#include "core/project/selector.h"
#include "core/project/values.h"
#include "core/sentences/sentence.h"
#include "core/store/unsaved.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QDir>

using namespace pipit;
using namespace pipit::tests;

class ComposeTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;

private slots:
    void theTypedDeskIsTheShippedOne();
    void selectorsMatch_data();
    void selectorsMatch();
    void whatTheCatalogListsIsTaken();
    void manyAtOnce();
    void badLinesAreExplained_data();
    void badLinesAreExplained();
    void valuesAreChecked_data();
    void valuesAreChecked();
    void whatFitsIsOfferedWhileTyping();
    void copyAndPaste();
    void pastedRubbishIsRefused();
    void movingKeepsTheTree();
    void undoBringsEverythingBack();
    void whatABindingShadowsIsSaid();
    void keysAreKnown_data();
    void keysAreKnown();
    void unsavedWorkComesBack();
    void hugeNamesAndDeepTrees();
    void pagesListWhatThereIs();
};

void ComposeTest::theTypedDeskIsTheShippedOne()
{
    Workspace w = fresh_.project("ferry-desk");
    for (const TypedLine &line : typedLines("ferry-desk.typed")) {
        auto ok = apply(w, line);
        QVERIFY2(bool(ok), ok ? "" : qPrintable(line.text + ": " + ok.problem().text()));
    }
    auto shipped = readFile(demoFolder() + "/ferry-desk/before/ferry-desk.pipit");
    QCOMPARE(QString::fromUtf8(projectBytes(w.project())), QString::fromUtf8(*shipped));
    QVERIFY(w.files().dirtyFiles().contains("confirm_dialog.h"));
}

void ComposeTest::selectorsMatch_data()
{
    QTest::addColumn<QString>("selector");
    QTest::addColumn<QString>("names");
    QTest::newRow("name") << "#key_*"
                          << "key_1 key_2 key_3";
    QTest::newRow("class") << "QPushButton"
                           << "key_1 key_2 key_3 goButton";
    QTest::newRow("base class") << "QAbstractButton"
                                << "key_1 key_2 key_3 goButton soundTick";
    QTest::newRow("both") << "QPushButton#go*"
                          << "goButton";
    QTest::newRow("property") << "[checkable=true]"
                              << "goButton soundTick";
    QTest::newRow("quoted") << "[text=\"Go on\"]"
                            << "goButton";
    QTest::newRow("descendant") << "QGroupBox QPushButton"
                                << "key_1 key_2 key_3";
    QTest::newRow("deep") << "#desk QGroupBox #key_2"
                          << "key_2";
    QTest::newRow("inner star") << "#*_2"
                                << "key_2";
    QTest::newRow("two stars") << "#*e*_3"
                               << "key_3";
    QTest::newRow("timer") << "QTimer"
                           << "tick";
    QTest::newRow("nothing") << "#nobody_*"
                             << "";
}

void ComposeTest::selectorsMatch()
{
    QFETCH(QString, selector);
    QFETCH(QString, names);
    Workspace w = fresh_.project();
    type(w, {"add: group keys", "add: button key_{1..3} \"{}\" in keys",
             "add: toggle button goButton \"Go on\"", "add: tick box soundTick", "add: timer tick"});
    auto s = Selector::parse(selector);
    QVERIFY(s);
    QStringList found;
    for (const SelectorMatch &m : s->matches(w.project()))
        found << m.name;
    QCOMPARE(found.join(' '), names);
}

// A property that `catalog` lists, `add` and `set` take: some value of its type at least.
void ComposeTest::whatTheCatalogListsIsTaken()
{
    const Catalog &c = Catalog::get();
    QStringList refused;
    int tried = 0;
    for (const QString &cls : c.classes()) {
        Workspace w = fresh_.project("listed" + cls.toLower());
        AddRequest r;
        r.words = cls;
        r.name = "thing";
        auto added = w.add(r, ".");
        QVERIFY2(bool(added), qPrintable(cls + ": " + (added ? QString() : added.problem().text())));
        for (const PropertyEntry &p : c.propertiesOf(cls)) {
            if (!isSettable(p))
                continue;
            ++tried;
            QStringList samples{p.defaultValue,     "1",           "true",       "some text",
                                "640x480",          "teal",        "2031-05-14", "14:20",
                                "2031-05-14T14:20", "Fixed Fixed", "text/plain", "other",
                                "\"Inter\" 14"};
            if (!p.keys.isEmpty())
                samples.prepend(p.keys.last());
            const bool taken = std::any_of(samples.begin(), samples.end(), [&](const QString &text) {
                return bool(w.setProperty("thing", p.name, text));
            });
            if (!taken)
                refused << cls + "." + p.name + " (" + p.type + ")";
        }
    }
    QVERIFY2(refused.isEmpty(), qPrintable(refused.join("; ")));
    QVERIFY2(tried > 1000, qPrintable(QString::number(tried)));
}

void ComposeTest::manyAtOnce()
{
    Workspace w = fresh_.project();
    type(w, {"add: button key_{0..9} \"{}\"", "add: label key_text \"none\""});
    QCOMPARE(w.project().widget("key_7")->textOf("text"), QString("7"));
    // One handler that gets the source; what has no such signal is left over, and said.
    auto one = w.connect(*parseSentence("#key_* · clicked calls keyDown"));
    QVERIFY(one);
    QCOMPARE(one->matches.size(), 10);
    QCOMPARE(one->leftovers, QStringList{"key_text"});
    QCOMPARE(w.project().connections.size(), 1);
    QCOMPARE(w.project().handler("keyDown")->source, QString("QPushButton"));
    // A handler each.
    auto each = w.connect(*parseSentence("#key_* · pressed calls press_*"));
    QVERIFY(each);
    QCOMPARE(each->connections.size(), 10);
    QVERIFY(w.project().handler("press_4"));
    QVERIFY(w.files().text("desk.cpp")->contains("void Desk::press_9()"));
    QVERIFY(w.undo());
    QVERIFY(!w.files().text("desk.cpp")->contains("press_9"));
    auto set = w.setProperties("#key_?", "minimum width", "48");
    QVERIFY(!set);
    set = w.setProperties("QPushButton", "minimum width", "48");
    QVERIFY(set);
    QCOMPARE(set->size(), 10);
    QCOMPARE(w.project().widget("key_3")->property("minimumWidth")->toNumber(), 48.0);
    QVERIFY(w.setProperties("#key_*", "minimum width", QString()));
    QVERIFY(!w.project().widget("key_3")->property("minimumWidth"));
}

void ComposeTest::badLinesAreExplained_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("says");
    const auto row = [](const char *line, const char *says) {
        QTest::newRow(line) << QString(line) << QString(says);
    };
    row("add: button", "The button has no name yet");
    row("add: frobnicator x", "There is no class or word 'frobnicator'");
    row("add: button boardButton", "already a 'boardButton'");
    row("add: button 2go", "is not a widget to add");
    row("add: button class", "not a C++ name");
    row("add: button key_{1..", "is not a widget to add");
    row("add: button x in nowhere", "no widget or timer 'nowhere'");
    row("add: button x in boardButton", "cannot contain widgets");
    row("add: button x colour=red", "no property 'colour'");
    row("add: spacer gap \"text\"", "has no text");
    row("add: DeckMap map from ../x.h like frame", "not allowed");
    row("add: button k_{0..2000}", "At most 1,000");
    row("set: boardButton: enabld true", "Nearest: enabled");
    row("set: boardButton: enabled perhaps", "true or false");
    row("set: boardButton: minimum width wide", "whole number");
    row("set: nobody: text x", "no widget or timer");
    row("set: #nobody_*: text x", "matches nothing");
    row("connect: boardButton", "has no signal or event");
    row("connect: boardButton.clicked", "boardButton.clicked calls boardButtonClicked");
    row("connect: boardButton.clicked cals x", "Nearest: calls");
    row("add: buton x", "Nearest: button");
    row("connect: boardButton · clickd calls x", "Nearest: clicked");
    row("connect: bordButton · clicked calls x", "Nearest: boardButton");
    row("connect: boardButton · clicked calls 7x", "'7x' is neither a handler");
    row("connect: boardButton · clicked calls ticketField", "already a 'ticketField'");
    row("connect: boardButton · clicked (key Return) calls x", "no key");
    row("connect: ticketField · key press (key Retrun) calls x", "unknown key");
    row("connect: ticketField · key press (colour red) calls x", "not understood");
    row("connect: ticketField · key press calls x, next turn", "Only signals");
    row("connect: boardButton · clicked in the window calls x", "are for events");
    row("connect: ticketField · mouse press in the window calls x", "are for keys");
    row("connect: boardButton.selection · clicked calls x", "no part 'selection'");
    row("connect: boardButton · clicked calls x, every now and then", "pacing");
    row("connect: boardButton · clicked opens desk", "no other window");
    row("connect: ticketField · textChanged calls volume.setValue", "no fitting");
    row("connect: #nobody_* · clicked calls x", "matches nothing");
    row("connect: [x · clicked calls x", "[x");
}

void ComposeTest::badLinesAreExplained()
{
    QFETCH(QString, line);
    QFETCH(QString, says);
    Workspace w = fresh_.project();
    type(w, {"add: button boardButton", "add: field ticketField", "add: slider volume"});
    const QByteArray before = projectBytes(w.project());
    const QString said = refusal(w, line);
    QVERIFY2(said.contains(says), qPrintable(said));
    QCOMPARE(projectBytes(w.project()), before); // and nothing was lost
}

void ComposeTest::valuesAreChecked_data()
{
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("kept"); // empty: refused
    const auto row = [](const char *typed, const char *kept) {
        QTest::newRow(typed) << QString(typed) << QString(kept);
    };
    row("font=\"Inter\" 14 bold", "\"Inter\" 14 bold");
    row("font=enormous", "");
    row("textColour=#2B2723", "#2B2723");
    row("textColour=#2B27", "");
    row("iconSize=24x24", "24x24");
    row("iconSize=24 by 24", "");
    row("icon=theme:document-save", "theme:document-save");
    row("icon=file:icons/horn.png", "file:icons/horn.png");
    row("icon=file:../../secret.png", "");
    row("icon=file:/etc/passwd", "");
    row("focusPolicy=strong", "StrongFocus");
    row("layoutDirection=right to left", "RightToLeft");
    row("align=right bottom", "AlignRight|AlignBottom");
    row("align=sideways", "");
    row("sizePolicy=expanding fixed", "Expanding Fixed");
    row("sizePolicy=huge", "");
    row("dragType=application/x-car", "application/x-car");
    row("dragType=car", "");
    row("shortcut=Ctrl+B", "Ctrl+B");
}

void ComposeTest::valuesAreChecked()
{
    QFETCH(QString, typed);
    QFETCH(QString, kept);
    Workspace w = fresh_.project();
    type(w, {"add: button boardButton"});
    auto ok = w.setProperty("boardButton", typed.section('=', 0, 0), typed.section('=', 1));
    QCOMPARE(bool(ok), !kept.isEmpty());
    if (ok)
        QCOMPARE(w.project().widget("boardButton")->textOf(typed.section('=', 0, 0)), kept);
    else
        QVERIFY(!ok.problem().remedy.isEmpty());
}

// Functions that the user wrote are offered where they fit: a prefix of what the signal gives, returning
// nothing, in the source's own window, and no handlers yet.
void ComposeTest::whatFitsIsOfferedWhileTyping()
{
    Workspace w = fresh_.project();
    type(w, {"add: slider speed", "add: button go", "connect: go · clicked calls start"});
    QString code = *w.files().text("desk.cpp");
    code += "\nvoid Desk::takeAll(int value)\n{\n}\nvoid Desk::takeNone()\n{\n}\nvoid Desk::takeText(const "
            "QString "
            "&text)\n{\n}\nint Desk::answer()\n{\n    return 1;\n}\nvoid free(int)\n{\n}\n";
    w.files().setText("desk.cpp", code);
    const auto offered = [&](const QString &typed) {
        QStringList names;
        for (const QString &line : sentenceCompletions(w.project(), w.files(), typed))
            names << line.section(" calls ", 1);
        return names;
    };
    const QStringList slider = offered("speed · valueChanged calls ");
    for (const char *name : {"takeAll", "takeNone", "start"})
        QVERIFY2(slider.contains(name), name);
    for (const char *name : {"takeText", "answer", "free", "Desk"})
        QVERIFY2(!slider.contains(name), name);
    QCOMPARE(slider.count("start"), 1); // it is a handler already
    QVERIFY(!offered("go · released calls ").contains("takeAll"));
    QVERIFY(offered("go · released calls ").contains("takeNone"));
    QVERIFY(!offered("nobody · clicked calls ").contains("takeNone"));
    type(w, {"connect: speed · valueChanged calls takeAll"});
    QCOMPARE(w.project().handler("takeAll")->arguments, QStringList{"int"});
    QCOMPARE(*w.files().text("desk.cpp"), code); // written already
}

void ComposeTest::copyAndPaste()
{
    Workspace w = fresh_.project();
    type(w, {"add: row pair", "add: label nameLabel \"&Name\" in pair", "add: field nameField in pair",
             "set: nameLabel: buddy=nameField", "connect: nameField · returnPressed calls takeName",
             "connect: nameField · textChanged calls nameLabel.setText"});
    const QByteArray text = w.copy({"nameField", "pair"});
    auto pasted = w.paste(text, ".");
    QVERIFY2(bool(pasted), pasted ? "" : qPrintable(pasted.problem().text()));
    QCOMPARE(*pasted, QStringList{"pair2"});
    QCOMPARE(w.project().widget("nameLabel2")->textOf("buddy"), QString("nameField2"));
    QCOMPARE(w.project().connections.size(), 4);
    QCOMPARE(w.project().connections[2].from, QString("nameField2"));
    QCOMPARE(w.project().connections[3].to, QString("nameLabel2"));
    QVERIFY(w.undo());
    QCOMPARE(w.project().connections.size(), 2);
    // Into another project: names stay where they are free, and what leads nowhere is left out.
    Workspace other = fresh_.project();
    QVERIFY(other.paste(text, "."));
    QVERIFY(other.project().widget("nameField"));
    QCOMPARE(other.project().connections.size(), 1); // takeName is not there
    QVERIFY(generate(other.project(), other.place(), other.files()));
}

void ComposeTest::pastedRubbishIsRefused()
{
    Workspace w = fresh_.project();
    const QByteArray before = projectBytes(w.project());
    QByteArray torn = *readFile(demoFolder() + "/ferry-desk/before/ferry-desk.pipit");
    torn.truncate(torn.size() / 2);
    for (const QByteArray &rubbish : {QByteArray(), QByteArray("hello"), QByteArray("{}"), QByteArray("[[[["),
                                      QByteArray(100'000, '{'), QByteArray("\xff\xfe\0\0", 4), torn}) {
        auto pasted = w.paste(rubbish, ".");
        QVERIFY(!pasted);
        QVERIFY(!pasted.problem().what.isEmpty());
    }
    QCOMPARE(projectBytes(w.project()), before);
    QVERIFY(!w.canUndo());
}

void ComposeTest::movingKeepsTheTree()
{
    Workspace w = fresh_.project();
    type(w, {"add: row left", "add: row right", "add: button a in left", "add: button b in left",
             "add: row inner in left"});
    QVERIFY(w.move("b", "right", -1));
    QCOMPARE(w.project().parentOf("b")->name, QString("right"));
    QVERIFY(w.move("inner", "left", 0));
    QCOMPARE(w.project().widget("left")->children.first().name, QString("inner"));
    QVERIFY(!w.move("left", "inner", -1)); // into itself
    QVERIFY(!w.move("left", "left", -1));
    QVERIFY(!w.move("a", "b", -1)); // holds nothing
    QVERIFY(!w.move("desk", "left", -1));
    QVERIFY(!w.move("nobody", "left", -1));
    QCOMPARE(w.project().widget("left")->children.size(), 2);
}

void ComposeTest::undoBringsEverythingBack()
{
    Workspace w = fresh_.project("ferry-desk");
    QList<QByteArray> states{projectBytes(w.project())};
    for (const TypedLine &line : typedLines("ferry-desk.typed")) {
        const int before = w.state();
        QVERIFY(apply(w, line));
        if (w.state() != before)
            states << projectBytes(w.project());
    }
    const QString code = *w.files().text("ferry_desk.cpp");
    const QByteArray whole = states.last();
    int steps = 0;
    while (w.canUndo()) {
        QVERIFY(w.undo());
        ++steps;
    }
    QCOMPARE(projectBytes(w.project()), states.first());
    QVERIFY(steps >= states.size() - 1);
    QVERIFY(!w.files().text("ferry_desk.cpp")->contains("boardPassenger"));
    while (w.canRedo())
        QVERIFY(w.redo());
    QCOMPARE(projectBytes(w.project()), whole);
    QCOMPARE(*w.files().text("ferry_desk.cpp"), code);
}

void ComposeTest::whatABindingShadowsIsSaid()
{
    Workspace w = fresh_.project();
    type(w, {"add: field ticketField", "add: action hornAction shortcut=Ctrl+H", "add: button go \"&Go\"",
             "connect: hornAction · triggered calls blow"});
    const auto notes = [&](const QString &sentence) {
        auto made = w.connect(*parseSentence(sentence));
        return made ? made->notes.join(' ') : made.problem().text();
    };
    QVERIFY(notes("ticketField · key press (key Ctrl+X) calls a").contains("cuts"));
    QVERIFY(notes("ticketField · key press (key Ctrl+H) calls b").contains("hornAction has the shortcut"));
    QVERIFY(notes("ticketField · key press (key Alt+G) calls c").contains("go is reached by Alt+G"));
    QVERIFY(notes("desk · key press (key Return) in the window calls d").contains("ends the typing"));
    QCOMPARE(notes("ticketField · key press (key F7) calls e"), QString());
}

void ComposeTest::keysAreKnown_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<bool>("known");
    QTest::addColumn<QString>("normal");
    const auto row = [](const char *text, bool known, const char *normal) {
        QTest::newRow(text) << QString::fromUtf8(text) << known << QString::fromUtf8(normal);
    };
    row("Ctrl+H", true, "Ctrl+H");
    row("shift+ctrl+h", true, "Ctrl+Shift+H");
    row("Ctrl++", true, "Ctrl+Plus");
    row("Ctrl+-", true, "Ctrl+-");
    row("F5", true, "F5");
    row("Del", true, "Delete");
    row("Alt+PgUp", true, "Alt+PageUp");
    row("Meta+Space", true, "Meta+Space");
    row("ä", true, "Ä");
    row("Ctrl+", true, "CTRL");
    row("Hyper+H", false, "H");
    row("Ctrl+Nonsense", false, "Ctrl+NONSENSE");
    row("file:../x", false, "FILE:../X");
}

void ComposeTest::keysAreKnown()
{
    QFETCH(QString, text);
    QFETCH(bool, known);
    QFETCH(QString, normal);
    QCOMPARE(normalKeys(text), normal);
    if (text != "Ctrl+") // a modifier alone is a key that can be pressed, but no shortcut
        QCOMPARE(isShortcut(text), known);
    QVERIFY(isShortcut("Ctrl+K, Ctrl+B"));
    QVERIFY(!isShortcut("A, B, C, D, E"));
    QVERIFY(!isShortcut(""));
}

void ComposeTest::unsavedWorkComesBack()
{
    Workspace w = fresh_.project();
    QVERIFY(!findUnsaved(w.place(), w.project(), w.files()));
    type(w, {"add: button boardButton", "connect: boardButton · clicked calls board"});
    QVERIFY(keepUnsaved(w.place(), unsavedWork(w.project(), w.files())));
    auto again = Workspace::open(w.place().file); // as after a kill
    QVERIFY(again);
    QVERIFY(!again->project().widget("boardButton"));
    auto kept = findUnsaved(again->place(), again->project(), again->files());
    QVERIFY(kept);
    QVERIFY(again->recover(*kept));
    QCOMPARE(projectBytes(again->project()), projectBytes(w.project()));
    QVERIFY(again->files().text("desk.cpp")->contains("Desk::board()"));
    QVERIFY(again->undo());
    QVERIFY(!again->project().widget("boardButton"));
    dropUnsaved(w.place());
    QVERIFY(!findUnsaved(again->place(), again->project(), again->files()));
}

void ComposeTest::hugeNamesAndDeepTrees()
{
    Workspace w = fresh_.project();
    const QString huge(10'000, 'a');
    QVERIFY(refusal(w, "add: button " + huge).contains("not a C++ name"));
    QVERIFY(!refusal(w, "connect: " + huge + " · clicked calls x").isEmpty());
    QVERIFY(!refusal(w, "set: " + huge + ": text x").isEmpty());
    QVERIFY(refusal(w, "add: button b \"" + QString(60'000, 'x') + '"').contains("too long"));
    QString parent = ".";
    for (int depth = 0; depth < 59; ++depth) {
        const QString name = QStringLiteral("level%1").arg(depth);
        AddRequest r;
        r.words = "area";
        r.name = name;
        QVERIFY(w.add(r, parent));
        parent = name;
    }
    QVERIFY(w.save());
    auto again = Workspace::open(w.place().file);
    QVERIFY2(bool(again), again ? "" : qPrintable(again.problem().text()));
    QVERIFY(generate(again->project(), again->place(), again->files()));
    // One that names its own parent as its child is no tree: the file cannot say it.
    QByteArray cyclic = *readFile(w.place().file);
    cyclic.replace("level58", "level3");
    auto twice = parseProject(cyclic, "cyclic");
    QVERIFY(!twice);
    QVERIFY(twice.problem().what.contains("used twice"));
}

// The reference pages name every finding, event and plain word's kind that the code has, and no other.
void ComposeTest::pagesListWhatThereIs()
{
    const auto listed = [](const char *page) {
        QStringList names;
        for (const QString &line :
             QString::fromUtf8(*readFile(QString(PIPIT_SOURCE_DIR "/docs/") + page)).split('\n'))
            if (line.startsWith("| `"))
                names << line.section('`', 1, 1);
        return names;
    };
    QCOMPARE(listed("findings.md"), findingKinds());
    QStringList events;
    for (const EventEntry &e : catalogEvents())
        events << e.words;
    QCOMPARE(listed("events.md"), events);
}

PIPIT_TEST(ComposeTest)
#include "compose_test.moc"
