// Files that handlers open, rename and remove are told as the program tells them itself, in the handler that
// did it.
#include "core/base/files.h"
#include "core/trace/account.h"
#include "core/trace/queries.h"
#include "core/why/why.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;

class FilesTest : public QObject
{
    Q_OBJECT
private slots:
    void eachIsToldInItsHandler();
    void maskedOnlyTheFolderIsTold();
    void whatIsUsedOutsideIsToldInItsHandler();
    void aHandlerThatWritesIsNotSaidToDoNothing();

private:
    Whole filing(const QStringList &more = {})
    {
        return runTarget("filing", {dir_.path()}, {},
                         QStringList{"HOME=" + dir_.path(), "XDG_CONFIG_HOME=" + dir_.path() + "/.config",
                                     "TMPDIR=/var/tmp"} +
                             more);
    }
    QTemporaryDir dir_;
};

namespace
{

// Whose button was clicked around it; "-": none.
QString handlerAround(const TraceModel &trace, SpanId id)
{
    for (; id; id = trace.span(id).parent)
        if (const Span s = trace.span(id);
            s.kind == SpanKind::Signal && trace.signal(s.what).name() == "clicked")
            return trace.object(s.object).name;
    return "-";
}

QStringList toldBy(const QByteArray &output)
{
    QStringList all;
    for (const QByteArray &line : output.split('\n'))
        if (line.startsWith("FILE "))
            all << QString::fromUtf8(line.mid(5)).trimmed();
    return all;
}

QStringList toldBy(const TraceModel &trace)
{
    QStringList all;
    for (std::uint32_t i = 0; i < trace.factCount(); ++i)
        if (const FactRow &f = trace.fact(i); f.fact == link::Fact::File) {
            const QStringList t = trace.factText(f).split('\t');
            all << handlerAround(trace, f.span) + ' ' + t.value(0) + ' ' + t.value(1).section(' ', 0, 0) +
                       ' ' + t.value(2);
        }
    return all;
}

} // namespace

void FilesTest::eachIsToldInItsHandler()
{
    const Whole w = filing();
    QVERIFY(w.info);
    const QStringList expected = toldBy(w.output), told = toldBy(w.run->trace());
    QCOMPARE(expected.size(), 10);
    for (const QString &one : expected)
        QVERIFY2(told.contains(one), qPrintable(one + " is not in\n" + told.join('\n')));
    // Nothing besides but what these are made of: files under another name until they are complete.
    for (const QString &one : told) {
        const bool beside =
            one.contains(QRegularExpression("^(saved|settings|group) (write|remove|read|rename) ")) ||
            one == "- write home kept";
        QVERIFY2(expected.contains(one) || beside, qPrintable(one));
    }
    QVERIFY2(told.filter("nothing ").isEmpty(), qPrintable(told.join('\n')));
}

void FilesTest::maskedOnlyTheFolderIsTold()
{
    const Ran ran = verb({"record", "--mask", "--out", dir_.filePath("r"), "--", "/usr/bin/env",
                          "HOME=" + dir_.path(), targetProgram("filing"), dir_.path()});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    auto r = Recording::open(dir_.filePath("r"));
    QVERIFY(bool(r));
    const QStringList told = toldBy((*r)->trace);
    QVERIFY2(told.contains("stream write home "), qPrintable(told.join('\n')));
    QVERIFY2(told.filter("plan").isEmpty() && told.filter("cars").isEmpty(), qPrintable(told.join('\n')));
}

void FilesTest::whatIsUsedOutsideIsToldInItsHandler()
{
    const Whole w = filing();
    QVERIFY(w.info);
    QStringList expected, told;
    for (const QByteArray &line : w.output.split('\n'))
        if (line.startsWith("USED "))
            expected << QString::fromUtf8(line.mid(5));
    const TraceModel &trace = w.run->trace();
    for (std::uint32_t i = 0; i < trace.factCount(); ++i)
        if (const FactRow &f = trace.fact(i); f.fact == link::Fact::Used) {
            told << handlerAround(trace, f.span) + ' ' + trace.factText(f);
            QVERIFY2(trace.code(f.other).module.endsWith("target-filing"),
                     qPrintable(told.last() + " at " + trace.code(f.other).module + QString::number(f.other)));
        }
    QCOMPARE(expected.size(), 6);
    QCOMPARE(told, expected);

    // What only uses these does something, too.
    const auto answer = why(trace, w.run->handlers(), {"clipboard", std::nullopt, {}, 0});
    QVERIFY2(answer, answer ? "" : qPrintable(answer.problem().text()));
    QVERIFY2(answer->verdict != "changed nothing", qPrintable(answer->sentence));

    const Ran ran = verb({"record", "--mask", "--out", dir_.filePath("u"), "--", "/usr/bin/env",
                          "HOME=" + dir_.path(), targetProgram("filing"), dir_.path()});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    auto r = Recording::open(dir_.filePath("u"));
    QVERIFY(bool(r));
    QStringList masked;
    for (std::uint32_t i = 0; i < (*r)->trace.factCount(); ++i)
        if (const FactRow &f = (*r)->trace.fact(i); f.fact == link::Fact::Used)
            masked << (*r)->trace.factText(f);
    QCOMPARE(masked.size(), 6);
    QVERIFY2(masked.filter("berth").isEmpty(), qPrintable(masked.join('\n')));
    // And the words of all kinds.
    QCOMPARE(usedText("setting\tberth"), QString("the setting berth was set"));
    QCOMPARE(usedText("no setting\t"), QString("a setting was removed"));
    QCOMPARE(usedText("desktop\tfile"), QString("the desktop was asked to open a file"));
}

void FilesTest::aHandlerThatWritesIsNotSaidToDoNothing()
{
    const Whole w = filing();
    QVERIFY(w.info);
    const auto answer = why(w.run->trace(), w.run->handlers(), {"list", std::nullopt, {}, 0});
    QVERIFY2(answer, answer ? "" : qPrintable(answer.problem().text()));
    QVERIFY2(answer->verdict != "changed nothing", qPrintable(answer->sentence));
    // And what came of a click says so.
    const ThreadRows &rows = w.run->trace().rows(0);
    QStringList effects;
    for (std::uint32_t row = 0; row < rows.count(); ++row)
        if (const Span s = rows.at(row); s.kind == SpanKind::Signal &&
                                         w.run->trace().object(s.object).name == "list" &&
                                         w.run->trace().signal(s.what).name() == "clicked")
            for (const AccountStep &a : accountOf(w.run->trace(), w.run->handlers(), s.id).effects)
                effects << a.text;
    QVERIFY2(effects.contains("list.txt in the working folder was opened to write"),
             qPrintable(effects.join('\n')));
}

PIPIT_TEST(FilesTest)
#include "files_test.moc"
