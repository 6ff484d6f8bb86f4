// What widgets without a name are called: in the trace, in states, and in plays alike.
#include "core/base/files.h"
#include "core/trace/queries.h"
#include "core/why/scene.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QEvent>

using namespace pipit;
using namespace pipit::tests;

class CalledTest : public QObject
{
    Q_OBJECT
private slots:
    void byWhatStandsForThem();
    void playsFindThemSo();
};

static const QStringList expected{"QLineEdit \"Find what\"",
                                  "QLineEdit \"Berth\"",
                                  "QLineEdit \"Ferry\"",
                                  "QLineEdit",
                                  "QLineEdit \"Remarks\"",
                                  "QLineEdit \"Name of the skipper\"",
                                  "QPushButton \"Sound the horn\"",
                                  "QToolButton \"Cast off\"",
                                  "QSpinBox \"Cars\"",
                                  "QComboBox \"Where to\""};

void CalledTest::byWhatStandsForThem()
{
    const Whole w = runTarget("called");
    QVERIFY(w.info);
    const TraceModel &trace = w.run->trace();
    QStringList focused;
    const ThreadRows &rows = trace.rows(0);
    for (std::uint32_t row = 0; row < rows.count(); ++row)
        if (const Span s = rows.at(row); s.kind == SpanKind::Dispatch && s.what == QEvent::FocusIn)
            if (const QString name = trace.object(s.object).text();
                name.startsWith('Q') && !name.startsWith("QWidgetWindow"))
                focused << name;
    for (const QString &name : expected)
        QVERIFY2(focused.contains(name), qPrintable(name + " is not among " + focused.join(", ")));
    const Scene scene(trace);
    for (const QString &name : expected)
        QVERIFY2(!scene.called(name).isEmpty(), qPrintable(name));
    // The field in a box is called as the box.
    QVERIFY(!scene.called("QLineEdit \"Where to\"").isEmpty());
}

void CalledTest::playsFindThemSo()
{
    QTemporaryDir dir;
    QString play;
    for (const QString &name : expected)
        if (name.startsWith("QLineEdit \""))
            play += name + ": type \"a\"\n" + name + ": expect text \"a\"\n";
    QVERIFY(writeFile(dir.filePath("a.play"), play.toUtf8()));
    const Ran ran = verb({"record", "--play", dir.filePath("a.play"), "--out", dir.filePath("r"), "--",
                          targetProgram("called"), "stays"});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
}

PIPIT_TEST(CalledTest)
#include "called_test.moc"
