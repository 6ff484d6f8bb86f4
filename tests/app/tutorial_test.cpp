// A new user's way: the tutorial typed into the real window, key by key, under a window manager; and a
// walk through every page, tab and action, from the keyboard alone.
#include "core/base/files.h"
#include "tests/support/display.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QJsonDocument>

using namespace pipit;
using namespace pipit::tests;

class TutorialTest : public QObject
{
    Q_OBJECT
private:
    // A line that is typed, or what is done between: "do: key alt+i".
    struct Step {
        QString what, text;
    };
    static QList<Step> steps();
    static QString kept(const QString &name)
    {
        return QString(PIPIT_SOURCE_DIR "/tests/data/tutorial/") + name;
    }
    static bool sameAsKept(const QString &name, const QByteArray &bytes, QString *why);

    QTemporaryDir dir_;
    std::unique_ptr<QProcess> start(const QStringList &arguments = {})
    {
        qputenv("XDG_CONFIG_HOME", (dir_.path() + "/config").toUtf8());
        auto p = std::make_unique<QProcess>();
        p->setWorkingDirectory(dir_.path());
        p->setProcessChannelMode(QProcess::MergedChannels);
        const QString bin = QCoreApplication::applicationDirPath(),
                      record = qEnvironmentVariable("PIPIT_RECORD");
        // With PIPIT_RECORD=FOLDER Pipit is recorded itself while it is used, for its own stalls to be seen.
        if (record.isEmpty())
            p->start(bin + "/pipit-window", arguments);
        else
            p->start(bin + "/pipit",
                     QStringList{"record", "--out", record, "--", bin + "/pipit-window"} + arguments);
        return p;
    }
    static bool appears(RealDisplay &d, const QString &window, int withinMs = 30'000)
    {
        return QTest::qWaitFor([&] { return d.windows().contains(window); }, withinMs);
    }

private slots:
    void thePageCanBeTypedOnAnyKeyboard();
    void theTutorialIsTyped();
    void everyPageAndActionIsReached();
};

QList<TutorialTest::Step> TutorialTest::steps()
{
    QList<Step> all;
    bool code = false;
    for (const QString &line :
         QString::fromUtf8(*readFile(PIPIT_SOURCE_DIR "/docs/tutorial.md")).split('\n')) {
        static const QRegularExpression doing("^<!-- do: (\\S+)(?: (.*))? -->$");
        if (const auto m = doing.match(line); m.hasMatch())
            all.append({m.captured(1), m.captured(2)});
        else if (line.startsWith("```"))
            code = !code;
        else if (code)
            all.append({"type", line});
    }
    return all;
}

void TutorialTest::thePageCanBeTypedOnAnyKeyboard()
{
    int typed = 0;
    for (const Step &s : steps())
        if (s.what == "type") {
            QVERIFY2(RealDisplay::untypable(s.text).isEmpty(), qPrintable(s.text));
            ++typed;
        }
    QVERIFY(typed >= 15);
}

// What a run of this test made once and a person has looked at; PIPIT_KEEP=1 makes it anew.
bool TutorialTest::sameAsKept(const QString &name, const QByteArray &bytes, QString *why)
{
    if (qEnvironmentVariableIsSet("PIPIT_KEEP"))
        return bool(writeFile(kept(name), bytes));
    auto expected = readFile(kept(name));
    if (expected && *expected == bytes)
        return true;
    *why = name + " is otherwise than kept:\n" + QString::fromUtf8(bytes);
    return false;
}

void TutorialTest::theTutorialIsTyped()
{
    const QString folder = dir_.path() + "/harbour-tickets";
    {
        RealDisplay d(true);
        QVERIFY2(d.works(), "Xvfb did not start");
        const auto window = start();
        QVERIFY2(appears(d, "Pipit"), "the window did not appear");
        for (const Step &s : steps()) {
            if (s.what == "new") {
                d.key("ctrl+n", 800);
                d.type(folder);
                d.key("Return", 1500);
                QVERIFY2(QFileInfo::exists(folder), "the project was not made");
            } else if (s.what == "key") {
                d.key(s.text);
            } else if (s.what == "find") {
                d.key("ctrl+j");
                d.type(s.text);
                d.key("Return", 400);
            } else if (s.what == "run") {
                d.key("ctrl+Return");
                QVERIFY2(appears(d, "HarbourTickets", 150'000), qPrintable(d.windows().join(", ")));
                d.key("ctrl+Return", 1000);
            } else {
                d.type(s.text);
                d.key("Return", 350);
            }
        }
        d.key("ctrl+s", 1500);
        QCOMPARE(window->state(), QProcess::Running);
        window->terminate();
        window->waitForFinished(5000);
    }
    QString why;
    const Ran show = verb({"show", folder, "--json"});
    QCOMPARE(show.code, 0);
    QVERIFY2(sameAsKept("show.json", QByteArray(show.out).replace(dir_.path().toUtf8(), "FOLDER"), &why),
             qPrintable(why));
    QVERIFY2(sameAsKept("harbour_tickets.cpp.txt", *readFile(folder + "/harbour_tickets.cpp"), &why),
             qPrintable(why));
    QVERIFY2(sameAsKept("harbour_tickets.h.txt", *readFile(folder + "/harbour_tickets.h"), &why),
             qPrintable(why));
    const Ran lint = verb({"lint", folder});
    QVERIFY2(lint.code == 0, (lint.out + lint.err).constData());
    const QString play = folder + "/x.play";
    QVERIFY(writeFile(
        play, "buyButton: expect disabled\nnameField: type \"Ada\"\nbuyButton: expect enabled\n"
              "seatsField: press Up\ntotalLabel: expect text \"Total: 8.00\"\nnameField: press Return\n"
              "buyButton: click\nhandler buy: expect 2 calls\ncloseButton: click\n"));
    const Ran ran = verb({"run", folder, "--play", play});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
}

void TutorialTest::everyPageAndActionIsReached()
{
    const QString folder = dir_.path() + "/desk";
    copyFolder(demoFolder() + "/ferry-desk/before", folder);
    RealDisplay d(true);
    QVERIFY2(d.works(), "Xvfb did not start");
    const auto window = start({folder});
    QVERIFY2(appears(d, "Pipit"), "the window did not appear");
    for (const char *page : {"alt+2", "alt+3", "alt+4", "alt+1"})
        d.key(page);
    for (const char *action :
         {"alt+f", "alt+d", "alt+d", "ctrl+f", "alt+o", "Escape", "alt+l", "alt+l", "alt+i", "Escape"})
        d.key(action);
    // The sheet, walked to its end and left; a hint where nothing is selected.
    d.key("F10");
    for (int i = 0; i < 45; ++i)
        d.key("Down", 15);
    d.key("Escape");
    // The finder goes to a handler by its full name.
    d.key("ctrl+j");
    d.type("boardPassenger");
    d.key("Return", 500);
    // The editor: larger, smaller, and our keys work from within it.
    d.key("ctrl+plus");
    d.key("ctrl+0");
    d.key("alt+i");
    d.type("moreCars.pressed calls boardPassenger");
    d.key("Return", 500);
    d.key("alt+a");
    d.type("button extraButton \"Extra\"");
    d.key("Return", 500);
    d.key("ctrl+s", 1500);
    QCOMPARE(window->state(), QProcess::Running);
    const Ran show = verb({"show", folder, "--json"});
    QVERIFY2(show.out.contains("extraButton"), show.out.right(600).constData());
    QVERIFY2(QString::fromUtf8(show.out).count("boardPassenger") >= 4, show.out.right(600).constData());
    window->terminate();
    window->waitForFinished(5000);
}

PIPIT_TEST(TutorialTest)
#include "tutorial_test.moc"
