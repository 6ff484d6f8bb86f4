// What came of what, from records made by hand: link/ties.h.
#include "core/trace/account.h"
#include "link/ties.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QEvent>

using namespace pipit;
using namespace pipit::tests;
using link::Kind;
using link::Tie;

namespace
{

constexpr std::uint64_t box = 0x10, label = 0x11, timer = 0x12, process = 0x13, loop = 0x14;

// A loop that runs, and what happens in it: each thing in a turn of its own.
class Loop
{
public:
    Loop() : main(trace)
    {
        main.object(box, "QCheckBox\nbox").object(label, "QLabel\nlabel").object(timer, "QTimer\ntimer");
        main.object(process, "QProcess\nprocess").object(loop, "QEventLoop\n").signalName(0x70, "Desk\ngo()");
        main.put(Kind::LoopBegin, 0, loop + 1).put(Kind::WaitBegin, link::NoTimeout).put(Kind::WaitEnd);
    }
    template <class Inside> SpanId turn(std::uint32_t type, std::uint64_t to, Inside &&inside)
    {
        const std::uint32_t row = rowsBefore();
        main.put(Kind::DispatchBegin, type, to, 0x900, 0);
        inside();
        main.put(Kind::DispatchEnd, 1, 0x900).put(Kind::WaitBegin, 5).put(Kind::WaitEnd);
        trace.caughtUp(main.time);
        for (std::uint32_t r = row; r < trace.rows(0).count(); ++r)
            if (trace.rows(0).kind(r) == SpanKind::Dispatch)
                return {0, r};
        return {};
    }
    void began(Tie tie, std::uint64_t token) { main.put(Kind::Began, std::uint32_t(tie), token); }
    void came(Tie tie, std::uint64_t token) { main.put(Kind::CameOf, std::uint32_t(tie), token); }
    QStringList causes(SpanId of) const
    {
        QStringList all;
        for (const Cause &c : trace.causes(of))
            all << causeWord(c.kind) + ' ' + QString::number(c.span ? c.span.row() : 0);
        return all;
    }
    static QString one(const char *kind, SpanId span)
    {
        return QLatin1String(kind) + ' ' + QString::number(span.row());
    }
    TraceModel trace;
    Records main;

private:
    std::uint32_t rowsBefore()
    {
        trace.caughtUp(main.time);
        return trace.rows(0).count();
    }
};

} // namespace

class TiesTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void aPaintBelongsToAllWhoMarkedIt();
    void anAccountNamesTheOthers();
    void compressedEventsKeepAllWhoPostedThem();
    void settingsAreNotRepainted();
    void aTimerThatGoesOnSaysSo();
    void whatAThreadPostsOutsideOfSpansComesOfItsStart();
    void aSignalComesOfWhatStartedItsObject();
    void anAddressThatIsUsedAgainIsAnother();
    void theFirstToEndALoopEndsIt();
    void tokensNobodyBeganLeadNowhere();
};

// Only who posted the update request was known: what came first was taken for it, and the others were
// missing.
void TiesTest::aPaintBelongsToAllWhoMarkedIt()
{
    Loop l;
    const SpanId first = l.turn(QEvent::MouseMove, box, [&] { l.began(Tie::Painted, 1); });
    const SpanId second = l.turn(QEvent::User, label, [&] { l.began(Tie::Painted, 2); });
    const SpanId paint = l.turn(QEvent::Paint, label, [&] {
        l.came(Tie::Painted, 1);
        l.came(Tie::Painted, 2);
    });
    QCOMPARE(l.causes(paint), (QStringList{Loop::one("painted", first), Loop::one("painted", second)}));
    const SpanId aside = l.turn(QEvent::Paint, label, [&] { l.came(Tie::PaintedAside, 0); });
    QCOMPARE(l.causes(aside), QStringList("aside 0"));
}

void TiesTest::anAccountNamesTheOthers()
{
    Loop l;
    Handlers handlers(l.trace);
    const SpanId first = l.turn(QEvent::MouseMove, box, [&] { l.began(Tie::Painted, 1); });
    const SpanId second = l.turn(QEvent::User, label, [&] { l.began(Tie::Painted, 2); });
    const SpanId paint = l.turn(QEvent::Paint, label, [&] {
        l.came(Tie::Painted, 1);
        l.came(Tie::Painted, 2);
    });
    const Account back = accountOf(l.trace, handlers, paint);
    QVERIFY(back.causes.size() == 1 && back.causes[0].span == first);
    QVERIFY(back.otherCauses.size() == 1 && back.otherCauses[0].span == second);
    const Account forward = accountOf(l.trace, handlers, second);
    QVERIFY(forward.effects.size() == 1 && forward.effects[0].span == paint);
    QCOMPARE(forward.effects[0].text, QString("label was painted"));
}

void TiesTest::compressedEventsKeepAllWhoPostedThem()
{
    Loop l;
    const auto posts = [&l](std::uint64_t event, std::uint32_t generation, QEvent::Type type) {
        l.main.put(Kind::Post, type | generation << link::generationShift, event, label);
    };
    const SpanId first = l.turn(QEvent::User, box, [&] { posts(0x700, 1, QEvent::LayoutRequest); });
    const SpanId second = l.turn(QEvent::User, box, [&] {
        posts(0x701, 2, QEvent::LayoutRequest);
        posts(0x702, 3, QEvent::LayoutRequest); // once more by the same
        posts(0x703, 4, QEvent::User);          // never compressed
    });
    const auto delivered = [&](std::uint64_t event, std::uint32_t generation, QEvent::Type type) {
        const std::uint32_t row = l.trace.rows(0).count();
        l.main.put(Kind::DispatchBegin, type | generation << link::generationShift, label, event, 0);
        l.main.put(Kind::DispatchEnd, 1, event).put(Kind::WaitBegin, 5).put(Kind::WaitEnd);
        l.trace.caughtUp(l.main.time);
        return SpanId(0, row + 1); // behind its turn
    };
    QCOMPARE(l.causes(delivered(0x700, 1, QEvent::LayoutRequest)),
             (QStringList{Loop::one("posted", first), Loop::one("posted", second)}));
    QCOMPARE(l.causes(delivered(0x703, 4, QEvent::User)), QStringList(Loop::one("posted", second)));
    // The next one has a queue of its own.
    const SpanId third = l.turn(QEvent::User, box, [&] { posts(0x700, 5, QEvent::LayoutRequest); });
    QCOMPARE(l.causes(delivered(0x700, 5, QEvent::LayoutRequest)), QStringList(Loop::one("posted", third)));
    // One that was taken back brings nothing, and hides nothing.
    l.turn(QEvent::User, box, [&] { posts(0x710, 6, QEvent::LayoutRequest); });
    const SpanId fourth = l.turn(QEvent::User, box, [&] { posts(0x711, 7, QEvent::LayoutRequest); });
    const SpanId fifth = l.turn(QEvent::User, box, [&] { posts(0x712, 8, QEvent::LayoutRequest); });
    QCOMPARE(l.causes(delivered(0x711, 7, QEvent::LayoutRequest)),
             (QStringList{Loop::one("posted", fourth), Loop::one("posted", fifth)}));
}

// They post themselves what widgets are painted by.
void TiesTest::settingsAreNotRepainted()
{
    Loop l;
    l.main.object(0x20, "QSettings\n");
    Handlers handlers(l.trace);
    const SpanId writes = l.turn(QEvent::UpdateRequest, 0x20, [] {});
    const SpanId paints = l.turn(QEvent::UpdateRequest, label, [] {});
    QCOMPARE(sentenceOf(l.trace, handlers, l.trace.span(writes)),
             QString("QSettings writes what has changed"));
    QCOMPARE(sentenceOf(l.trace, handlers, l.trace.span(paints)), QString("label is repainted"));
}

void TiesTest::aTimerThatGoesOnSaysSo()
{
    Loop l;
    const SpanId starts = l.turn(QEvent::User, box, [&] { l.began(Tie::Timer, 7); });
    const auto fires = [&] { return l.turn(QEvent::Timer, timer, [&] { l.came(Tie::Timer, 7); }); };
    QCOMPARE(l.causes(fires()), QStringList(Loop::one("timer", starts)));
    QCOMPARE(l.causes(fires()), QStringList(Loop::one("timer goes on", starts)));
    const SpanId again = l.turn(QEvent::User, label, [&] { l.began(Tie::Timer, 7); });
    QCOMPARE(l.causes(fires()), QStringList(Loop::one("timer", again)));
}

void TiesTest::whatAThreadPostsOutsideOfSpansComesOfItsStart()
{
    Loop l;
    const SpanId starts = l.turn(QEvent::User, box, [&] { l.began(Tie::Thread, 3); });
    Records other(l.trace, 1, false);
    other.time = l.main.time;
    other.put(Kind::CameOf, std::uint32_t(Tie::Thread), 3).put(Kind::Post, QEvent::User, 0x900, label);
    QCOMPARE(l.causes(l.turn(QEvent::User, label, [] {})), QStringList(Loop::one("thread", starts)));
}

void TiesTest::aSignalComesOfWhatStartedItsObject()
{
    Loop l;
    SpanId inside;
    const auto emits = [&] {
        l.trace.caughtUp(l.main.time);
        const std::uint32_t row = l.trace.rows(0).count();
        l.main.put(Kind::SignalBegin, 0, process, 0x70).put(Kind::SignalEnd, 0, process);
        l.trace.caughtUp(l.main.time);
        for (std::uint32_t r = row; r < l.trace.rows(0).count(); ++r)
            if (l.trace.rows(0).kind(r) == SpanKind::Signal)
                inside = {0, r};
    };
    const SpanId starts = l.turn(QEvent::User, box, [&] {
        l.began(Tie::Object, process);
        emits(); // in it
    });
    QVERIFY(l.causes(inside).isEmpty());
    l.turn(QEvent::SockAct, process, emits);
    QCOMPARE(l.causes(inside), QStringList(Loop::one("object", starts)));
    // In a loop within what started it as well.
    const SpanId waits = l.turn(QEvent::User, box, [&] {
        l.began(Tie::Object, process);
        l.main.put(Kind::LoopBegin, 0, loop).put(Kind::WaitBegin, 5).put(Kind::WaitEnd);
        emits();
        l.main.put(Kind::LoopEnd);
    });
    QCOMPARE(l.causes(inside), QStringList(Loop::one("object", waits)));
}

// A timer at the address of a process that was gone was taken for the process.
void TiesTest::anAddressThatIsUsedAgainIsAnother()
{
    Loop l;
    l.turn(QEvent::User, box, [&] { l.began(Tie::Object, process); });
    l.turn(QEvent::DeferredDelete, process, [&] { l.began(Tie::ObjectGone, process); });
    SpanId signal;
    l.turn(QEvent::Timer, process,
           [&] { l.main.put(Kind::SignalBegin, 0, process, 0x70).put(Kind::SignalEnd, 0, process); });
    for (std::uint32_t r = 0; r < l.trace.rows(0).count(); ++r)
        if (l.trace.rows(0).kind(r) == SpanKind::Signal)
            signal = {0, r};
    QVERIFY(signal && l.causes(signal).isEmpty());
}

void TiesTest::theFirstToEndALoopEndsIt()
{
    Loop l;
    SpanId quits;
    l.turn(QEvent::User, box, [&] {
        l.main.put(Kind::LoopBegin, 0, loop).put(Kind::WaitBegin, 5).put(Kind::WaitEnd);
        quits = l.turn(QEvent::User, label, [&] { l.began(Tie::LoopEnd, loop); });
        l.turn(QEvent::User, timer, [&] { l.began(Tie::LoopEnd, loop); });
        l.came(Tie::LoopEnd, loop);
        l.main.put(Kind::LoopEnd);
    });
    QStringList all;
    for (std::uint32_t r = 1; r < l.trace.rows(0).count(); ++r)
        if (l.trace.rows(0).kind(r) == SpanKind::Loop) {
            all << l.causes({0, r});
            QVERIFY(!(l.trace.rows(0).at(r).flags & CutShort));
        }
    QCOMPARE(all, QStringList(Loop::one("loop ended", quits)));
}

void TiesTest::tokensNobodyBeganLeadNowhere()
{
    Loop l;
    QVERIFY(l.causes(l.turn(QEvent::Timer, timer, [&] { l.came(Tie::Timer, 99); })).isEmpty());
    QVERIFY(
        l.causes(l.turn(QEvent::Paint, label, [&] { l.came(Tie(200), 1); })).isEmpty()); // of a later version
}

PIPIT_TEST(TiesTest)
#include "ties_test.moc"
