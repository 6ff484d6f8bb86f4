// Edits at random: undo and redo bring back every byte, and what is saved is read again.
#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/edits/rename.h"
#include "core/findings/findings.h"
#include "core/project/values.h"
#include "core/sentences/sentence.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QRandomGenerator>

using namespace pipit;
using namespace pipit::tests;

namespace
{

// One person's random work on a project. The same seed does the same.
class Hand
{
public:
    Hand(Workspace &w, quint32 seed) : w_(w), random_(seed) {}

    // One edit that may be refused; its words, for messages.
    QString edit()
    {
        switch (random_.bounded(11)) {
        case 0:
        case 1:
            return said("add", addLine());
        case 2:
            return said("connect", oneOf(names()) + " · " + oneOf(occasions()) + " calls h" + number(6));
        case 3:
            return said("set", oneOf(names()) + ": " + oneOf(settings()));
        case 4:
            return changeSentence();
        case 5:
            return rename();
        case 6: {
            const QString a = oneOf(names()), b = oneOf(names());
            return told("move " + a + " to " + b, bool(w_.move(a, b, random_.bounded(-1, 3))));
        }
        case 7: {
            const QString name = oneOf(names());
            return told("remove " + name, random_.bounded(3) == 0 && bool(w_.remove(name)));
        }
        case 8: {
            const QByteArray text = w_.copy({oneOf(names())});
            const QString into = oneOf(names());
            return told("paste into " + into, bool(w_.paste(text, into)));
        }
        case 9:
            return onConnection();
        default:
            return typeIntoCode();
        }
    }
    int done() const { return done_; }

private:
    QString number(int below) { return QString::number(random_.bounded(below)); }
    QString oneOf(const QStringList &list) { return list[random_.bounded(int(list.size()))]; }
    QStringList names() const { return w_.project().objectNames(); }
    QString told(const QString &what, bool ok)
    {
        done_ += ok;
        return what + (ok ? "" : " (refused)");
    }
    QString said(const QString &verb, const QString &line)
    {
        return told(verb + ": " + line, bool(apply(w_, {verb, line})));
    }
    QString addLine()
    {
        static const QStringList kinds = {
            "button", "field",  "label", "tick box", "slider", "list",  "group",  "row",  "grid",      "tabs",
            "combo",  "number", "timer", "action",   "dialog", "frame", "column", "dial", "file watch"};
        return oneOf(kinds) + " n" + number(40) +
               oneOf({"", " \"Text\"", " \"a, “b” \\\"c\\\"\"", "{1..3} \"{}\""});
    }
    static QStringList occasions()
    {
        return {"clicked",           "toggled",    "valueChanged", "textChanged",          "timeout",
                "triggered",         "key press",  "mouse enter",  "drop, accepting copy", "close",
                "currentRowChanged", "fileChanged"};
    }
    static QStringList settings()
    {
        return {"text Other",
                "enabled=false",
                "reset text",
                "minimumWidth 48",
                "toolTip \"two\\nlines\"",
                "maximum 12; minimum 3",
                "font \"bold 12\"",
                "visible false",
                "interval 40",
                "checkable true",
                "stretch 2",
                "layout row",
                "shortcut Ctrl+M",
                "items \"a\\nb\""};
    }
    QString changeSentence()
    {
        const QString name = oneOf(names());
        QString sentence = sentenceToEdit(w_.project(), name);
        sentence += oneOf({", disabled", ", hidden", " saying \"X\"", ", checked", ""});
        auto change = parseEditedSentence(w_.project(), name, sentence);
        return told("sentence: " + sentence, change && w_.applySettings(change->settings));
    }
    QString rename()
    {
        QStringList all = names();
        for (const Handler &h : w_.project().handlers)
            all << h.name;
        const RenameRequest r{oneOf(all), "r" + number(30)};
        auto plan = planRename(w_, r);
        return told("rename " + r.from + " to " + r.to, plan && w_.apply(plan->edit));
    }
    QString onConnection()
    {
        const auto &list = w_.project().connections;
        if (list.isEmpty())
            return "no connection (refused)";
        const QString id = list[random_.bounded(int(list.size()))].id;
        switch (random_.bounded(4)) {
        case 0:
            return told("disconnect " + id, bool(w_.disconnect(id)));
        case 1:
            return told("switch " + id, bool(w_.setEnabled(id, random_.bounded(2) == 0)));
        case 2:
            return told("pace " + id, bool(w_.setPacing(id, {PacingKind::AfterPause, 20})));
        default:
            return told("order " + id, bool(w_.moveConnection(id, {})));
        }
    }
    // Typing is no step of the wiring's undo; it stands in no stub that undo must find verbatim.
    QString typeIntoCode()
    {
        const QString file = w_.project().windows.first().sourceFile();
        w_.files().setText(file, "// typed " + number(1000) + "\n" + *w_.files().text(file));
        return "type";
    }

    Workspace &w_;
    QRandomGenerator random_;
    int done_ = 0;
};

} // namespace

class EditsTest : public QObject
{
    Q_OBJECT
private:
    QTemporaryDir dir_;

private slots:
    void stepsAreUndoneLater();
    void aRemovedWindowIsNoPartOfTheBuild();
    void whatIsRemovedButNamedInCodeIsTold();
    void undoAndRedoBringBackEveryByte_data();
    void undoAndRedoBringBackEveryByte();
    void everyPropertyTakesItsOwnValue();
    void everyPropertyRefusesRubbishOrKeepsIt();
};

void EditsTest::undoAndRedoBringBackEveryByte_data()
{
    QTest::addColumn<quint32>("seed");
    for (quint32 seed = 1; seed <= 6; ++seed)
        QTest::addRow("seed %u", seed) << seed;
}

void EditsTest::undoAndRedoBringBackEveryByte()
{
    QFETCH(quint32, seed);
    auto w = Workspace::create(QStringLiteral("%1/%2/desk").arg(dir_.path()).arg(seed));
    QVERIFY(w);
    Hand hand(*w, seed);
    QList<QByteArray> models{projectBytes(w->project())};
    QStringList log;
    for (int i = 0; i < 120; ++i) {
        const int before = w->state();
        log << hand.edit();
        const QByteArray now = projectBytes(w->project());
        if (w->state() == before) {
            QVERIFY2(now == models.last(), qPrintable("a refused edit changed something: " + log.last()));
            continue;
        }
        models << now;
        auto again = parseProject(now, "desk.pipit");
        QVERIFY2(again, qPrintable(log.last() + (again ? QString() : ": " + again.problem().text())));
        QVERIFY2(projectBytes(*again) == now, qPrintable(log.last()));
        (void)findingsOf(w->project(), w->files());           // says something, and does not fall over
        (void)generate(w->project(), w->place(), w->files()); // or says why it cannot be generated
    }
    QVERIFY(hand.done() > 30);
    qsizetype at = models.size() - 1;
    const QByteArray last = models.last();
    while (w->canUndo()) {
        (void)w->undo(); // text that was typed over since may stay, and is told of
        --at;
        QVERIFY2(at >= 0 && projectBytes(w->project()) == models[at], qPrintable(log.join('\n')));
    }
    QCOMPARE(at, 0);
    while (w->canRedo())
        (void)w->redo();
    QCOMPARE(projectBytes(w->project()), last);
}

// A property's default, and for enumerations each of its names, is a value that can be typed; what is
// kept is shown as what was typed.
void EditsTest::everyPropertyTakesItsOwnValue()
{
    const Catalog &c = Catalog::get();
    int looked = 0;
    QStringList refused;
    for (const QString &cls : c.classes())
        for (const PropertyEntry &p : c.propertiesOf(cls)) {
            QStringList values = p.keys;
            if (p.type == "bool")
                values << "true"
                       << "false";
            else if (p.type == "int")
                values << "0"
                       << "-3"
                       << "4711";
            else if (p.type == "double")
                values << "0.5"
                       << "-12";
            else if (p.type == "QString")
                values << ""
                       << "a, “b”\nc" << QString(2000, 'x');
            else if (p.type == "QColor")
                values << "#2b2723"
                       << "teal";
            else if (p.type == "QFont")
                values << "bold 12";
            for (const QString &v : std::as_const(values)) {
                auto value = propertyValue(cls, p.name, v);
                ++looked;
                if (!value) {
                    refused << cls + ' ' + p.name + '=' + v.left(20) + ": " + value.problem().text();
                    continue;
                }
                auto again = propertyValue(cls, p.name, valueText(*value));
                QVERIFY2(again && *again == *value, qPrintable(cls + ' ' + p.name + ' ' + v.left(40)));
            }
            QVERIFY2(propertyFor(cls, p.name), qPrintable(cls + ' ' + p.name));
        }
    for (const QString &r : std::as_const(refused))
        QVERIFY2(r.contains(" dragType="), qPrintable(r)); // a MIME type
    QVERIFY2(looked > 4'000, qPrintable(QString::number(looked)));
}

void EditsTest::everyPropertyRefusesRubbishOrKeepsIt()
{
    const Catalog &c = Catalog::get();
    const QStringList rubbish{"",
                              " ",
                              "\x01",
                              "{}",
                              "\"",
                              "1e999",
                              "-",
                              "true false",
                              "#zzz",
                              QString(300, '|'),
                              "🙂",
                              "file:../../etc/x",
                              "file:/etc/passwd",
                              "0x7fffffff",
                              "99999999999999999999"};
    for (const QString &cls : {QString("QPushButton"), QString("QTableWidget"), QString("QSlider"),
                               QString("QMainWindow"), QString("QAction"), QString("QDateTimeEdit")})
        for (const PropertyEntry &p : c.propertiesOf(cls))
            for (const QString &r : rubbish) {
                auto value = propertyValue(cls, p.name, r);
                if (value)
                    QVERIFY2(!valueText(*value).contains("../") || (p.type != "QIcon" && p.type != "QPixmap"),
                             qPrintable(cls + ' ' + p.name + ": no path leaves the folder"));
                else
                    QVERIFY2(!value.problem().what.isEmpty() && value.problem().text().size() < 500,
                             qPrintable(p.name));
            }
}

// The command line and the window undo each other's steps, until somebody else changed the project.
void EditsTest::stepsAreUndoneLater()
{
    Fresh fresh;
    Workspace w = fresh.project();
    const QByteArray first = projectBytes(w.project());
    const QString code = *w.files().text("desk.cpp");
    type(w, {"add: button go", "connect: go.clicked calls first"});
    QVERIFY(w.save());
    auto again = Workspace::open(w.place().file);
    QVERIFY(again && again->canUndo());
    QCOMPARE(again->undoText(), QString("connect go · clicked"));
    QVERIFY(again->undo() && again->save());
    QCOMPARE(*again->files().text("desk.cpp"), code); // the stub is gone too
    auto third = Workspace::open(w.place().file);
    QVERIFY(third && third->undo() && third->save());
    QCOMPARE(projectBytes(third->project()), first);
    QVERIFY(!Workspace::open(w.place().file)->canUndo());
    type(*third, {"add: button other"});
    QVERIFY(third->save());
    QVERIFY(writeFile(w.place().file, readFile(w.place().file)->replace("other", "others")));
    QVERIFY(!Workspace::open(w.place().file)->canUndo()); // it is not as that step left it
}

// A window that was removed once left its files in the build, which broke it.
void EditsTest::aRemovedWindowIsNoPartOfTheBuild()
{
    Fresh fresh;
    Workspace w = fresh.project();
    type(w, {"add: button go", "add: dialog fareDialog", "connect: go.clicked opens fareDialog"});
    QVERIFY(w.save() && w.generate());
    const QString folder = w.place().folder;
    QVERIFY(userSources(folder, w.project()).contains("fare_dialog.cpp"));
    QVERIFY(QFileInfo::exists(folder + "/generated/fare_dialog_base.cpp"));
    QVERIFY(w.remove("fareDialog") && w.save() && w.generate());
    QCOMPARE(userSources(folder, w.project()), QStringList{"desk.cpp"});
    QCOMPARE(userHeaders(folder, w.project()), QStringList{"desk.h"});
    QVERIFY(QFileInfo::exists(folder + "/fare_dialog.cpp")); // it is the user's
    QVERIFY(!QFileInfo::exists(folder + "/generated/fare_dialog_base.cpp"));
    QVERIFY(w.undo() && w.save() && w.generate());
    QVERIFY(userSources(folder, w.project()).contains("fare_dialog.cpp"));
}

void EditsTest::whatIsRemovedButNamedInCodeIsTold()
{
    Fresh fresh;
    Workspace w = fresh.project();
    type(w, {"add: button go", "add: label status", "connect: go.clicked calls first",
             "body: first: status->clear();"});
    QVERIFY(w.remove("status"));
    const QStringList uses = w.usesInCode({"status"});
    QCOMPARE(uses.size(), 1);
    QVERIFY2(uses.first().startsWith("desk.cpp:") && uses.first().endsWith("still uses status"),
             qPrintable(uses.first()));
}

PIPIT_TEST(EditsTest)
#include "edits_test.moc"
