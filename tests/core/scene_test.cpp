// How a program's objects were at a moment, from records made by hand.
#include "core/why/scene.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QEvent>

using namespace pipit;
using namespace pipit::tests;
using link::Fact;
using link::Kind;

namespace
{

constexpr std::uint64_t deskWindow = 0x10, logWindow = 0x11, deskMenu = 0x12;

} // namespace

class SceneTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void closedWindowsAreAskedAboutAsTheyWere_data();
    void closedWindowsAreAskedAboutAsTheyWere();
};

void SceneTest::closedWindowsAreAskedAboutAsTheyWere_data()
{
    QTest::addColumn<QStringList>("steps"); // each a millisecond after the one before
    QTest::addColumn<int>("moment");        // just before which step; -1: the end
    QTest::newRow("open to the end") << QStringList{"show desk", "press", "show menu", "hide menu"} << -1;
    QTest::newRow("closed") << QStringList{"show desk", "press", "hide desk"} << 2;
    QTest::newRow("deleted while it was open") << QStringList{"show desk", "gone desk"} << 1;
    QTest::newRow("closed, then deleted") << QStringList{"show desk", "hide desk", "gone desk"} << 1;
    QTest::newRow("one closes the other")
        << QStringList{"show desk", "show log", "press", "hide desk", "hide log"} << 3;
    QTest::newRow("the other was closed before, and it went on")
        << QStringList{"show desk", "show log", "hide log", "press", "hide desk"} << 4;
    QTest::newRow("with a menu that was closed")
        << QStringList{"show desk", "show menu", "hide menu", "hide desk"} << 3;
    QTest::newRow("no window at all") << QStringList{"press"} << -1;
}

void SceneTest::closedWindowsAreAskedAboutAsTheyWere()
{
    QFETCH(QStringList, steps);
    QFETCH(int, moment);
    TraceModel trace;
    Records main(trace);
    main.object(deskWindow, "QWidget\ndesk")
        .object(logWindow, "QWidget\nlog")
        .object(deskMenu, "QMenu\nmenu");
    main.put(Kind::ThreadRole, 1).put(Kind::LoopBegin, 0, 0x1);
    const QHash<QString, std::uint64_t> objects{{"desk", deskWindow}, {"log", logWindow}, {"menu", deskMenu}};
    std::vector<std::int64_t> times;
    for (const QString &step : steps) {
        main.time += 1'000'000;
        times.push_back(main.time);
        const QString what = step.section(' ', 0, 0), whose = step.section(' ', 1);
        if (what == "press") {
            main.put(Kind::DispatchBegin, QEvent::MouseButtonPress | link::FromWindowSystem, deskWindow, 0x99,
                     0);
            main.put(Kind::DispatchEnd, 1, 0x99);
        } else if (what == "gone") {
            main.fact(Fact::State, objects[whose], "gone");
        } else {
            const std::uint32_t is = link::IsWidget | link::IsWindow |
                                     (whose == "menu" ? link::IsPopup : 0u) |
                                     (what == "show" ? link::IsVisible : 0u);
            main.fact(Fact::State, objects[whose], ("is=" + QByteArray::number(is, 16)).constData());
        }
    }
    main.time += 1'000'000;
    trace.caughtUp(main.time);
    const Scene scene(trace);
    QCOMPARE(scene.lastMoment(), moment < 0 ? trace.now() : times[std::size_t(moment)] - 1);
}

PIPIT_TEST(SceneTest)
#include "scene_test.moc"
