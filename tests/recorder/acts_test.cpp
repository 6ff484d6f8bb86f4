// What a person did is listed by what it meant: shortcuts, chosen actions, context menus, dialogs that a key
// closes, a pointer over something.
#include "core/base/files.h"
#include "core/runs/recording.h"
#include "core/why/interactions.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QEvent>

using namespace pipit;
using namespace pipit::tests;

class ActsTest : public QObject
{
    Q_OBJECT
private slots:
    void eachIsListedWithItsObject();
    void whatOwnCodeDoesWithAButtonIsSeenBeforeTheNextInput();
};

void ActsTest::eachIsListedWithItsObject()
{
    QTemporaryDir dir;
    QVERIFY(writeFile(dir.filePath("a.play"),
                      "field: type \"a\"\nfield: press Ctrl+S\nfield: press F6\nfield: press Ctrl+D\n"
                      "QAction \"Sail\": click\ndockButton: click\nchart: context click\n"
                      "open: click\nname: wait for visible within 5s\nname: press Escape\nwait 600ms\n"
                      "open: click\nname: wait for visible within 5s\nname: press Return\nwait 200ms\n"));
    const Ran ran = verb({"record", "--play", dir.filePath("a.play"), "--out", dir.filePath("r"), "--",
                          targetProgram("acts")});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    // What the program says came of it.
    QStringList did;
    for (const QByteArray &line : ran.out.split('\n'))
        if (line.startsWith("DID "))
            did << QString::fromUtf8(line.mid(4)).trimmed();
    QCOMPARE(did, (QStringList{"save", "horn", "over", "sail", "dock", "chart", "rejected", "accepted"}));
    auto r = Recording::open(dir.filePath("r"));
    QVERIFY2(r, r ? "" : qPrintable(r.problem().text()));
    QStringList all;
    for (const Interaction &i : Interactions().more((*r)->trace))
        all << i.widget + ": " + i.what;
    const QStringList expected{"field: a character",
                               "save: Ctrl+S, a shortcut",
                               "horn: F6, a shortcut",
                               "first: Ctrl+D, a shortcut", // of two; neither is triggered
                               "QMenuBar: left click",
                               "sail: pointer over it",
                               "file: left click",
                               "sail: left click in file",
                               "dockButton: left click",
                               "dock: left click in dockButton",
                               "chart: right click",
                               "chart: context menu",
                               "open: left click",
                               "name: Escape",
                               "dialog: Escape, which closes it",
                               "open: left click",
                               "name: Return",
                               "dialog: Return, which closes it"};
    QVERIFY2(all == expected, qPrintable(all.join('\n')));
}

// No signal, no event, no setter that is watched: only that own code got the button says that it may have
// changed.
void ActsTest::whatOwnCodeDoesWithAButtonIsSeenBeforeTheNextInput()
{
    QTemporaryDir dir;
    QVERIFY(writeFile(dir.filePath("a.play"),
                      "quiet: click\nwait 300ms\nquiet: click\nwait 60ms\nquiet: click\nwait 100ms\n"));
    const Ran ran = verb({"record", "--play", dir.filePath("a.play"), "--out", dir.filePath("r"), "--",
                          targetProgram("acts")});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    auto r = Recording::open(dir.filePath("r"));
    QVERIFY2(r, r ? "" : qPrintable(r.problem().text()));
    const TraceModel &trace = (*r)->trace;
    std::vector<std::int64_t> presses;
    const ThreadRows &rows = trace.rows(0);
    for (std::uint32_t row = 0; row < rows.count(); ++row)
        if (const Span s = rows.at(row);
            s.kind == SpanKind::Dispatch && trace.object(s.object).name == "quiet" &&
            (s.what == QEvent::MouseButtonPress || s.what == QEvent::MouseButtonDblClick))
            presses.push_back(s.start);
    QCOMPARE(presses.size(), std::size_t(3));
    const QString changed = QStringLiteral("\nfocus=%1\n").arg(int(Qt::WheelFocus));
    std::int64_t seen = 0;
    for (std::uint32_t i = 0; i < trace.factCount() && !seen; ++i)
        if (const FactRow &f = trace.fact(i); f.fact == link::Fact::State &&
                                              trace.object(f.object).name == "quiet" &&
                                              trace.factText(f).contains(changed))
            seen = f.time;
    QVERIFY2(presses[1] < seen && seen < presses[2],
             qPrintable(QStringLiteral("%1 %2 %3").arg(presses[1]).arg(seen).arg(presses[2])));
}

PIPIT_TEST(ActsTest)
#include "acts_test.moc"
