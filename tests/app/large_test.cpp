// The windows at their true size: side by side, selected, typed into, dragged in with the landing place
// shown.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/typed.h"
#include "tests/support/window.h"

#include <QScrollBar>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class LargeTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    // A column of three, a row of two in it, a grid of four, and what is not seen.
    QString project(const QStringList &more = {})
    {
        Workspace w = fresh_.project();
        type(w, QStringList{"set: desk: windowSize 500x420", "add: button first \"First\"", "add: row pair",
                            "add: button left \"Left\" in pair", "add: button right \"Right\" in pair",
                            "add: grid cells", "add: button cell_{0..3} \"{}\" in cells",
                            "add: group box \"Box\"", "add: field last", "connect: first.clicked calls go"} +
                    more);
        if (auto ok = w.save(); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        return w.place().folder;
    }
    static bool open(MainWindow &w, const QString &folder, const QSize &size = QSize(1280, 900))
    {
        w.resize(size);
        w.show();
        w.session()->open(folder);
        return activate(w) && QTest::qWaitFor([&] { return w.board()->preview()->hasPicture(); }, 20'000);
    }
    static void press(QWidget *on, const QPointF &from, const QPointF &to)
    {
        QTest::mousePress(on, Qt::LeftButton, {}, from.toPoint());
        QTest::mouseMove(on, ((from + to) / 2).toPoint());
        QTest::mouseMove(on, to.toPoint());
    }
    static QStringList childrenOf(MainWindow &w, const QString &name)
    {
        QStringList names;
        for (const WidgetNode &c : w.session()->document.project().widget(name)->children)
            names << c.name;
        return names;
    }

private slots:
    void allWindowsStandSideBySide();
    void theSelectedOneIsScrolledTo();
    void whereItLands_data();
    void whereItLands();
    void whatIsDraggedLandsThere();
    void escapeLeavesItWhereItWas();
    void nothingLandsInItselfOrElsewhere();
    void mirroredRowsLandMirrored();
    void whatIsTypedIsAdded();
    void strandsBeginAtTheWidgets();
};

void LargeTest::allWindowsStandSideBySide()
{
    MainWindow w;
    QVERIFY(open(w,
                 project({"add: dialog ask \"Ask\"", "add: button yes \"Yes\" in ask",
                          "connect: first.clicked opens ask"}),
                 QSize(2200, 900)));
    PreviewView *own = w.board()->preview();
    QVERIFY(w.board()->windows()->views().isEmpty());
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    WindowsRow *row = w.board()->windows();
    QCOMPARE(row->views().size(), 2);
    QCOMPARE(row->views()[0], own); // the same one, not a second
    QCOMPARE(row->views()[0]->window(), QString("desk"));
    QVERIFY(QTest::qWaitFor([&] { return row->views()[1]->hasPicture(); }, 20'000));
    QCOMPARE(row->views()[1]->window(), QString("ask"));
    for (PreviewView *v : row->views())
        QCOMPARE(v->shownAt(v->window() == "ask" ? "yes" : "first").size().toSize(),
                 v->placeOf(v->window() == "ask" ? "yes" : "first").size()); // at its true size
    QVERIFY(row->placeOf("yes").left() > row->placeOf("first").right());     // beside it
    QTest::mouseClick(row->views()[1], Qt::LeftButton, {},
                      row->views()[1]->shownAt("yes").center().toPoint());
    QCOMPARE(w.session()->selection.now().object, QString("yes"));
    QCOMPARE(own->window(), QString("desk")); // it does not follow the selection while all are shown
    // One that is added stands there at once, one that is removed is gone.
    w.session()->document.edit([](Workspace &ws) { return apply(ws, "add: window second"); });
    QCOMPARE(row->views().size(), 3);
    w.session()->document.undo();
    QCOMPARE(row->views().size(), 2);
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    QVERIFY(row->views().isEmpty() && own->isVisible() && !row->isVisible());
    QVERIFY(own->height() <= scaled(200));
    QVERIFY(QTest::qWaitFor([&] { return own->window() == "ask"; }, 10'000)); // and follows it again
}

void LargeTest::theSelectedOneIsScrolledTo()
{
    MainWindow w;
    QVERIFY(open(w, project({"set: desk: windowSize 1200x1400", "add: dialog ask \"Ask\"",
                             "add: button yes \"Yes\" in ask", "connect: first.clicked opens ask"})));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    WindowsRow *row = w.board()->windows();
    QVERIFY(QTest::qWaitFor(
        [&] { return row->views().value(1)->hasPicture() && row->horizontalScrollBar()->maximum() > 0; },
        20'000));
    QTest::qWait(100);
    QVERIFY(!row->placeOf("yes").isValid()); // out of sight, so no strand begins there
    w.session()->selection.select({"yes", {}, {}});
    QVERIFY(QTest::qWaitFor([&] { return row->rect().contains(row->placeOf("yes").center()); }, 3000));
    w.session()->selection.select({"last", {}, {}});
    QVERIFY(QTest::qWaitFor([&] { return row->placeOf("last").isValid(); }, 3000)); // wider than what is seen
    QVERIFY(row->rect().top() <= row->placeOf("last").top() &&
            row->rect().bottom() >= row->placeOf("last").bottom());
}

void LargeTest::whereItLands_data()
{
    QTest::addColumn<QString>("moved");
    QTest::addColumn<QString>("onto"); // a widget
    QTest::addColumn<double>("x");     // how far into it, 0 to 1
    QTest::addColumn<double>("y");
    QTest::addColumn<QString>("parent");
    QTest::addColumn<int>("index");
    QTest::newRow("above the first") << "last"
                                     << "first" << .5 << .2 << "desk" << 0;
    QTest::newRow("below the first") << "last"
                                     << "first" << .5 << .8 << "desk" << 1;
    QTest::newRow("below the last") << "first"
                                    << "last" << .5 << .9 << "desk" << 5;
    QTest::newRow("left of two") << "first"
                                 << "left" << .2 << .5 << "pair" << 0;
    QTest::newRow("between two") << "first"
                                 << "left" << .8 << .5 << "pair" << 1;
    QTest::newRow("right of two") << "first"
                                  << "right" << .9 << .5 << "pair" << 2;
    QTest::newRow("the first of a grid") << "first"
                                         << "cell_0" << .2 << .5 << "cells" << 0;
    QTest::newRow("the end of a grid") << "first"
                                       << "cell_3" << .9 << .5 << "cells" << 4;
    QTest::newRow("an empty group") << "first"
                                    << "box" << .5 << .5 << "box" << 0;
    QTest::newRow("onto itself") << "first"
                                 << "first" << .5 << .2 << "desk" << 0;
}

void LargeTest::whereItLands()
{
    QFETCH(QString, moved);
    QFETCH(QString, onto);
    QFETCH(double, x);
    QFETCH(double, y);
    QFETCH(QString, parent);
    QFETCH(int, index);
    MainWindow w;
    QVERIFY(open(w, project()));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    QTest::qWait(50);
    PreviewView *v = w.board()->preview();
    const QRectF at = v->shownAt(onto);
    QVERIFY(at.isValid());
    const QPointF point(at.left() + x * at.width(), at.top() + y * at.height());
    const PreviewView::Landing landing = v->landingAt(point, moved);
    QCOMPARE(landing.parent, parent);
    QCOMPARE(landing.index, index);
    QVERIFY(landing.where.isValid());
    // A line where something stands beside it: no thicker than two pixels, and inside its container.
    if (onto != "box") {
        QVERIFY(std::min(landing.where.width(), landing.where.height()) <= 2);
        QVERIFY(v->shownAt(parent).adjusted(-8, -8, 8, 8).contains(landing.where) || parent == "desk");
    }
}

void LargeTest::whatIsDraggedLandsThere()
{
    MainWindow w;
    QVERIFY(open(w, project()));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    QTest::qWait(50);
    PreviewView *v = w.board()->preview();
    const QRectF left = v->shownAt("left");
    const QImage before = v->grab().toImage();
    const QByteArray asItWas = projectBytes(w.session()->document.project());
    press(v, v->shownAt("first").center(), QPointF(left.right() - 4, left.center().y()));
    QVERIFY(v->grab().toImage() != before); // it is shown before it is let go
    QCOMPARE(childrenOf(w, "pair"), (QStringList{"left", "right"}));
    QTest::mouseRelease(v, Qt::LeftButton, {}, QPoint(int(left.right()) - 4, int(left.center().y())));
    QCOMPARE(childrenOf(w, "pair"), (QStringList{"left", "first", "right"}));
    QVERIFY(w.session()->document.project().connections.first().from ==
            "first");             // its connections go with it
    w.session()->document.undo(); // one step
    QCOMPARE(childrenOf(w, "pair"), (QStringList{"left", "right"}));
    QCOMPARE(childrenOf(w, "desk").first(), QString("first"));
    QCOMPARE(projectBytes(w.session()->document.project()), asItWas);
}

void LargeTest::escapeLeavesItWhereItWas()
{
    MainWindow w;
    QVERIFY(open(w, project()));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    QTest::qWait(50);
    PreviewView *v = w.board()->preview();
    v->setFocus();
    const QPointF to = v->shownAt("box").center();
    const QByteArray asItWas = projectBytes(w.session()->document.project());
    press(v, v->shownAt("first").center(), to);
    QTest::keyClick(v, Qt::Key_Escape);
    QTest::mouseRelease(v, Qt::LeftButton, {}, to.toPoint());
    QVERIFY(childrenOf(w, "box").isEmpty());
    QCOMPARE(projectBytes(w.session()->document.project()), asItWas);
    QVERIFY(w.board()->isLarge()); // the key was for the drag
}

void LargeTest::nothingLandsInItselfOrElsewhere()
{
    MainWindow w;
    QVERIFY(open(w, project({"add: dialog ask \"Ask\"", "add: button yes \"Yes\" in ask",
                             "connect: first.clicked opens ask"})));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    WindowsRow *row = w.board()->windows();
    QVERIFY(QTest::qWaitFor([&] { return row->views()[1]->hasPicture(); }, 20'000));
    PreviewView *v = row->views()[0];
    QCOMPARE(v->landingAt(v->shownAt("left").center(), "pair").parent, QString()); // into its own child
    QCOMPARE(row->views()[1]->landingAt(row->views()[1]->shownAt("yes").center(), "first").parent,
             QString());                                       // another window
    QCOMPARE(v->landingAt({2, 2}, "first").parent, QString()); // beside the window
    QSignalSpy said(&w.session()->messages, &Messages::note);
    press(v, v->shownAt("first").center(), QPointF(2, 2));
    QTest::mouseRelease(v, Qt::LeftButton, {}, QPoint(2, 2));
    QCOMPARE(said.size(), 1);
    QVERIFY(said[0][0].toString().contains("first can be dropped"));
    QCOMPARE(childrenOf(w, "desk").first(), QString("first"));
}

void LargeTest::mirroredRowsLandMirrored()
{
    MainWindow w;
    QVERIFY(open(w, project()));
    PreviewView *v = w.board()->preview();
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    PreviewView::Options mirrored = v->options();
    mirrored.rightToLeft = true;
    v->setOptions(mirrored);
    QVERIFY(QTest::qWaitFor([&] { return v->shownAt("left").left() > v->shownAt("right").left(); }, 10'000));
    const QRectF left = v->shownAt("left");
    QCOMPARE(v->landingAt({left.right() - 3, left.center().y()}, "first").index,
             0); // before it, on its right
    QCOMPARE(v->landingAt({left.left() + 3, left.center().y()}, "first").index, 1);
}

void LargeTest::whatIsTypedIsAdded()
{
    MainWindow w;
    QVERIFY(open(w, project()));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    QTest::qWait(50);
    PreviewView *v = w.board()->preview();
    QTest::mouseClick(v, Qt::LeftButton, {}, v->shownAt("left").center().toPoint());
    v->setFocus();
    QTest::keyClicks(v, "b");
    QLineEdit *line = w.board()->outline()->addLine();
    QVERIFY(line->hasFocus());
    typeInto(line, "button between \"Between\"");
    QCOMPARE(childrenOf(w, "pair"), (QStringList{"left", "between", "right"})); // at the place
    // The text of what has one is changed where it stands; Escape leaves it.
    QVERIFY(QTest::qWaitFor([&] { return v->shownAt("between").isValid(); }, 10'000));
    QTest::mouseDClick(v, Qt::LeftButton, {}, v->shownAt("between").center().toPoint());
    QVERIFY(v->textLine() && v->textLine()->isVisible());
    QCOMPARE(v->textLine()->text(), QString("Between"));
    QTest::keyClicks(v->textLine(), "x");
    QTest::keyClick(v->textLine(), Qt::Key_Escape);
    QCOMPARE(w.session()->document.project().widget("between")->textOf("text"), QString("Between"));
}

void LargeTest::strandsBeginAtTheWidgets()
{
    MainWindow w;
    QVERIFY(open(w, project({"connect: last.returnPressed calls done"})));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    QTest::qWait(100);
    QWidget *gutter = w.board()->findChild<QWidget *>("gutter");
    QVERIFY(gutter);
    const auto inked =
        [&](const QString &object) { // what is drawn beside a widget, at the gutter's left edge
            const QRect place = w.board()->windows()->placeOf(object);
            const QPoint at = gutter->mapFromGlobal(w.board()->windows()->mapToGlobal(place.center()));
            const QImage image = gutter->grab().toImage();
            const QColor paper = image.pixelColor(2, image.height() - 2);
            for (int y = at.y() - 3; y <= at.y() + 3; ++y)
                if (y >= 0 && y < image.height() && image.pixelColor(1, y) != paper)
                    return true;
            return false;
        };
    QVERIFY(inked("first"));
    QVERIFY(inked("last"));
    QVERIFY(!inked("box")); // nothing is connected to it
}

PIPIT_TEST(LargeTest)
#include "large_test.moc"
