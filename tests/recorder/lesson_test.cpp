// The order that the catalog states for an act is what real widgets do, in a recorded program.
#include "core/catalog/orders.h"
#include "core/runs/recording.h"
#include "core/trace/queries.h"
#include "core/why/lesson.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;

class LessonTest : public QObject
{
    Q_OBJECT
private slots:
    void theCatalogsOrderIsTheRealOne();
    void whatSignalsCarryIsTold();
};

namespace
{

// How each act is done, and where.
struct Act {
    const char *className, *act, *widget, *step;
};
constexpr Act acts[] = {
    {"QPushButton", "a click", "boardButton", "click"},
    {"QPushButton", "the second press of a double click", "boardButton", "double click"},
    {"QPushButton", "Space", "boardButton", "press Space"},
    {"QPushButton", "a click, when checkable", "openButton", "click"},
    {"QToolButton", "a click", "toolButton", "click"},
    {"QCheckBox", "a click", "papersCheck", "click"},
    {"QRadioButton", "a click", "fareAdult", "click"},
    {"QLineEdit", "a typed character", "ticketField", "type \"x\""},
    {"QLineEdit", "Return", "ticketField", "press Return"},
    {"QLineEdit", "a key that is the shortcut of an action", "ticketField", "press Ctrl+H"},
    {"QComboBox", "an arrow key", "fareBox", "press Down"},
    {"QSpinBox", "an arrow key", "carsField", "press Up"},
    {"QSlider", "an arrow key", "speedSlider", "press Right"},
    {"QListWidget", "an arrow key", "passengerList", "press Down"},
    {"QTabBar", "an arrow key", "pageTabs", "press Right"},
    {"QAction", "its shortcut, when checkable", "nightAction", "press Ctrl+N"},
};

} // namespace

void LessonTest::theCatalogsOrderIsTheRealOne()
{
    QTemporaryDir dir;
    const QString play = dir.filePath("lessons.play"), folder = dir.filePath("r");
    QString steps = "wait 200ms\n";
    for (const Act &d : acts) {
        const bool byKey = QByteArray(d.className) == "QAction";
        steps += QStringLiteral("%1: %2\nwait 100ms\n")
                     .arg(QLatin1String(byKey ? "ticketField" : d.widget), QLatin1String(d.step));
    }
    QVERIFY(QFile(play).open(QIODevice::WriteOnly));
    {
        QFile file(play);
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(steps.toUtf8());
    }
    const Ran ran = verb({"record", "--play", play, "--out", folder, "--", targetProgram("lessons")});
    QVERIFY2(ran.code == 0, ran.out + ran.err);
    auto r = Recording::open(folder);
    QVERIFY(r);
    const TraceModel &trace = (*r)->trace;
    QStringList seen;
    for (const Span &s : spansOf(trace))
        if (const Lesson l = lessonOf(trace, s.id); !l.steps.isEmpty() && l.from == s.start)
            seen << l.widget + ": " + l.steps.join(", ");
    QStringList missing;
    for (const ActOrder &o : actOrders()) {
        const auto d = std::find_if(std::begin(acts), std::end(acts), [&](const Act &a) {
            return o.className == QLatin1String(a.className) && o.act == QLatin1String(a.act);
        });
        QVERIFY2(d != std::end(acts), qPrintable(o.className + ", " + o.act + " is not tried"));
        const QString stated = QLatin1String(d->widget) + QStringLiteral(": ") + o.steps.join(", ");
        if (!seen.contains(stated))
            missing << stated;
    }
    QVERIFY2(missing.isEmpty(), qPrintable("stated:\n" + missing.join('\n') + "\nseen:\n" + seen.join('\n')));
    QCOMPARE(actOrders().size(), qsizetype(std::size(acts)));
}

// Truth values and numbers as they are; of texts how long they are, for the program is not our own.
void LessonTest::whatSignalsCarryIsTold()
{
    QTemporaryDir dir;
    const QString play = dir.filePath("carried.play"), folder = dir.filePath("r");
    QFile file(play);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(
        "wait 200ms\npapersCheck: click\ncarsField: press Up\nticketField: type \"K-204\"\nwait 100ms\n");
    file.close();
    QCOMPARE(verb({"record", "--play", play, "--out", folder, "--", targetProgram("lessons")}).code, 0);
    auto r = Recording::open(folder);
    QVERIFY(r);
    QStringList all;
    for (const Span &s : spansOf((*r)->trace))
        if (s.kind == SpanKind::Signal)
            all << sentenceOf((*r)->trace, (*r)->handlers, s);
    for (const char *sentence : {"papersCheck emits toggled(true)", "papersCheck emits stateChanged(2)",
                                 "papersCheck emits clicked(true)", "carsField emits valueChanged(1)",
                                 "ticketField emits textEdited(5 characters)"})
        QVERIFY2(all.contains(sentence), qPrintable(QLatin1String(sentence) + " in " + all.join('\n')));
    QVERIFY(!all.join(' ').contains("K-"));
}

PIPIT_TEST(LessonTest)
#include "lesson_test.moc"
