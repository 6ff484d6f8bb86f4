// The short menus: on the outline, the preview, sentences, cards, code and the trace. What cannot be done now
// cannot be chosen, and each line does what its words say.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/typed.h"
#include "tests/support/window.h"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QMenu>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class MenusTest : public QObject
{
    Q_OBJECT
private:
    Desks desks_;
    static QMenu *shown() { return qobject_cast<QMenu *>(QApplication::activePopupWidget()); }
    // The menu at a place; none where there is nothing.
    static QMenu *menuAt(QWidget *on, const QPoint &at)
    {
        QContextMenuEvent event(QContextMenuEvent::Mouse, at, on->mapToGlobal(at));
        QCoreApplication::sendEvent(on, &event);
        return shown();
    }
    static QStringList words(QMenu *m)
    {
        QStringList all;
        for (const QAction *a : m ? m->actions() : QList<QAction *>())
            all << a->text().section('\t', 0, 0);
        return all;
    }
    static QAction *line(QMenu *m, const QString &words)
    {
        for (QAction *a : m ? m->actions() : QList<QAction *>())
            if (a->text().section('\t', 0, 0) == words)
                return a;
        return nullptr;
    }
    // Chooses it as the keyboard does.
    static bool choose(QMenu *m, const QString &words)
    {
        QAction *a = line(m, words);
        if (!a || !a->isEnabled())
            return false;
        m->setActiveAction(a);
        QTest::keyClick(m, Qt::Key_Return);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        return !shown();
    }
    static QPoint rowOf(QAbstractItemView *view, int row)
    {
        view->scrollTo(view->model()->index(row, 0));
        return view->visualRect(view->model()->index(row, 0)).center();
    }
    static int cardOf(MainWindow &w, const QString &name)
    {
        const CardModel *m = w.board()->wiring()->cardModel();
        for (int i = 0; i < m->rowCount(); ++i)
            if (m->rows()[std::size_t(i)].name == name)
                return i;
        return -1;
    }
    bool open(MainWindow &w)
    {
        w.resize(1280, 800);
        w.show();
        w.session()->open(desks_.fresh());
        return activate(w);
    }

private slots:
    void everyKeyIsInItsPage();
    void cleanup()
    {
        if (QMenu *m = shown())
            m->close();
    }
    void theOutlineHasOne();
    void thePreviewHasOne();
    void sentencesHaveOne();
    void cardsHaveOne();
    void theCodeHasOne();
    void theTraceHasOne();
    void nothingHasNone();
};

void MenusTest::theOutlineHasOne()
{
    MainWindow w;
    QVERIFY(open(w));
    RowList *rows = w.board()->outline()->objects();
    const auto at = [&] { return rowOf(rows, rows->rowModel()->indexOf("tideButton")); };
    QMenu *m = menuAt(rows->viewport(), at());
    QCOMPARE(words(m), (QStringList{"Edit its sentence", "Set a property", "Connect it", "Why?", "Its code",
                                    "Remove it"}));
    QCOMPARE(w.session()->selection.now().object,
             QString("tideButton"));                   // the one under the pointer is meant
    QVERIFY(m->actions()[0]->text().endsWith("\tF2")); // with its key
    QVERIFY(choose(m, "Connect it"));
    QVERIFY(w.board()->connectLine()->hasFocus());
    QCOMPARE(w.board()->connectLine()->text(), QString("tideButton."));
    QVERIFY(choose(menuAt(rows->viewport(), at()), "Set a property"));
    QVERIFY(w.board()->outline()->valueLine()->hasFocus());
    QVERIFY(choose(menuAt(rows->viewport(), at()), "Its code"));
    const auto shows = [&](const QString &text) { // it is made first, saved or not
        return QTest::qWaitFor([&] { return w.board()->drawer()->editor()->text().contains(text); }, 5000);
    };
    QVERIFY(shows("tideButton = new QPushButton"));
    QVERIFY(w.board()->drawer()->isOpen() && w.board()->drawer()->editor()->isReadOnly());
    w.session()->document.edit([](Workspace &ws) { return apply(ws, "add: button fresh"); });
    QVERIFY(choose(menuAt(rows->viewport(), rowOf(rows, rows->rowModel()->indexOf("fresh"))), "Its code"));
    QVERIFY(shows("fresh = new QPushButton"));
    QVERIFY(choose(menuAt(rows->viewport(), at()), "Remove it"));
    QVERIFY(!w.session()->document.project().widget("tideButton"));
    w.session()->document.undo();
    QVERIFY(w.session()->document.project().widget("tideButton"));
}

void MenusTest::thePreviewHasOne()
{
    MainWindow w;
    QVERIFY(open(w));
    PreviewView *v = w.board()->preview();
    QVERIFY(QTest::qWaitFor([&] { return v->hasPicture(); }, 20'000));
    const QPoint at = v->shownAt("boardButton").center().toPoint();
    QTest::mousePress(v, Qt::RightButton, {}, at); // it selects what is under the pointer
    QTest::mouseRelease(v, Qt::RightButton, {}, at);
    QMenu *m = menuAt(v, at);
    QCOMPARE(w.session()->selection.now().object, QString("boardButton"));
    QVERIFY(choose(m, "Edit its sentence"));
    QVERIFY(QTest::qWaitFor([&] { return qobject_cast<QLineEdit *>(QApplication::focusWidget()); }, 2000));
    QVERIFY(
        static_cast<QLineEdit *>(QApplication::focusWidget())->text().startsWith("boardButton, a button"));
}

void MenusTest::sentencesHaveOne()
{
    MainWindow w;
    QVERIFY(open(w));
    QListView *rows = w.board()->wiring()->sentences();
    QMenu *m = menuAt(rows->viewport(), rowOf(rows, 2));
    QCOMPARE(words(m), (QStringList{"Open its handler", "Switch it off", "Its code", "Remove it"}));
    const QString id = w.session()->selection.now().connection;
    QVERIFY(w.session()->document.project().connection(id));
    QVERIFY(choose(m, "Switch it off"));
    QVERIFY(!w.session()->document.project().connection(id)->enabled);
    QVERIFY(choose(menuAt(rows->viewport(), rowOf(rows, 2)), "Switch it on"));
    QVERIFY(w.session()->document.project().connection(id)->enabled);
    QVERIFY(choose(menuAt(rows->viewport(), rowOf(rows, 2)), "Its code"));
    const Editor *e = w.board()->drawer()->editor();
    QVERIFY(QTest::qWaitFor([&] { return e->text().contains("// boardButton"); }, 5000));
    QVERIFY(choose(menuAt(rows->viewport(), rowOf(rows, 2)), "Open its handler"));
    QVERIFY2(e->text().contains("::boardPassenger"), qPrintable(e->text().left(200)));
    QVERIFY(choose(menuAt(rows->viewport(), rowOf(rows, 2)), "Remove it"));
    QVERIFY(!w.session()->document.project().connection(id));
}

void MenusTest::cardsHaveOne()
{
    MainWindow w;
    QVERIFY(open(w));
    QListView *cards = w.board()->wiring()->cards();
    const int row = cardOf(w, "tideForecast");
    w.session()->selection.select({{}, {}, "tideForecast"});
    QMenu *m = menuAt(cards->viewport(), rowOf(cards, row));
    QCOMPARE(words(m), (QStringList{"Its code", "Run it in the background…", "Run it in steps…",
                                    "Remove it and its code"}));
    QVERIFY(choose(m, "Run it in the background…"));
    QVERIFY(w.board()->drawer()->movePanel()->isVisible()); // shown, not done
    QVERIFY(w.session()->document.project().handler("tideForecast")->shape == Shape::OneGo);
    QVERIFY(choose(menuAt(cards->viewport(), rowOf(cards, row)), "Remove it and its code"));
    QVERIFY(!w.session()->document.project().handler("tideForecast"));
    w.session()->document.undo();
    QVERIFY(w.session()->document.project().handler("tideForecast"));
}

void MenusTest::theCodeHasOne()
{
    MainWindow w;
    QVERIFY(open(w));
    w.board()->drawer()->openHandler("boardPassenger");
    Editor *e = w.board()->drawer()->editor();
    QVERIFY(e->hasFocus());
    QMenu *m = menuAt(e->viewport(), QPoint(120, 20));
    QCOMPARE(words(m), (QStringList{"Cut", "Copy", "Paste", "Go to the card of boardPassenger", "Find"}));
    QVERIFY(!line(m, "Cut")->isEnabled() && !line(m, "Copy")->isEnabled()); // nothing is selected
    w.session()->selection.select({});
    QVERIFY(choose(m, "Go to the card of boardPassenger"));
    QCOMPARE(w.session()->selection.now().handler, QString("boardPassenger"));
    w.board()->drawer()->openHandler("boardPassenger");
    e->selectAll();
    m = menuAt(e->viewport(), QPoint(120, 20));
    QVERIFY(line(m, "Cut")->isEnabled());
    QVERIFY(choose(m, "Copy"));
    QVERIFY(QGuiApplication::clipboard()->text().contains("::boardPassenger"));
    QVERIFY(choose(menuAt(e->viewport(), QPoint(120, 20)), "Find"));
    QVERIFY(w.board()->drawer()->findLine()->hasFocus());
}

void MenusTest::theTraceHasOne()
{
    const QString desk = desks_.fresh(), rec = desks_.path() + "/rec";
    const QString play = desk + "/x.play";
    QVERIFY(writeFile(play, "boardButton: click\nwait 100ms\n"));
    const Ran made = verb({"run", desk, "--play", play, "--record", rec});
    QVERIFY2(made.code == 0, (made.out + made.err).constData());
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.session()->open(rec);
    w.show(MainWindow::Trace);
    TracePage *page = w.trace();
    int call = -1;
    QVERIFY(QTest::qWaitFor(
        [&] {
            for (int i = 0; i < page->model()->rowCount() && call < 0; ++i)
                if (page->model()->sentence(i).contains("boardPassenger"))
                    call = i;
            return call >= 0;
        },
        10'000));
    const QString sentence = page->model()->sentence(call);
    QMenu *m = menuAt(page->list()->viewport(), rowOf(page->list(), call));
    QCOMPARE(words(m).size(), 5);
    QCOMPARE(words(m).first(), QString("What caused it"));
    QCOMPARE(words(m)[1], QString("Why?")); // a call has no stations of its own: it is greyed
    QVERIFY(choose(m, "Copy the sentence"));
    QCOMPARE(QGuiApplication::clipboard()->text(), sentence);
    QVERIFY(choose(menuAt(page->list()->viewport(), rowOf(page->list(), call)), "What caused it"));
    const int cause = page->list()->currentIndex().row();
    QVERIFY(cause >= 0 && cause < call); // before it
    QSignalSpy place(page, &TracePage::placeAsked);
    QVERIFY(choose(menuAt(page->list()->viewport(), rowOf(page->list(), call)), "Its code"));
    QCOMPARE(place.size(), 1);
    QCOMPARE(QFileInfo(place[0][0].toString()).fileName(), QString("ferry_desk.cpp"));
    m = menuAt(page->list()->viewport(), rowOf(page->list(), call));
    const QString only = words(m)[2];
    QVERIFY2(only.startsWith("Only "), qPrintable(only));
    QVERIFY(choose(m, only));
    QCOMPARE(page->filter()->text(), only.mid(5));
}

void MenusTest::nothingHasNone()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    QVERIFY(activate(w));
    for (QWidget *view : {static_cast<QWidget *>(w.board()->outline()->objects()->viewport()),
                          static_cast<QWidget *>(w.board()->wiring()->sentences()->viewport()),
                          static_cast<QWidget *>(w.board()->wiring()->cards()->viewport()),
                          static_cast<QWidget *>(w.trace()->list()->viewport())})
        QVERIFY(!menuAt(view, QPoint(5, 5))); // no project is open
}

// docs/keys.md has every key of a command, and no other but those of single lists.
void MenusTest::everyKeyIsInItsPage()
{
    const QString page = QString::fromUtf8(*readFile(PIPIT_SOURCE_DIR "/docs/keys.md"));
    static const QRegularExpression key("\\b(?:(?:Ctrl|Alt|Shift)\\+)+(?:\\w+|[-+=])|\\b(?:F\\d+|Insert|Delete)\\b");
    QSet<QString> told, there{"F2", "Delete", "Ctrl+C", "Ctrl+X", "Ctrl+V"};
    for (auto it = key.globalMatch(page); it.hasNext();)
        told.insert(it.next().captured());
    MainWindow w;
    for (const Action &a : w.actions()->all())
        for (const QString &k : a.keys) {
            there.insert(k);
            QVERIFY2(told.contains(k), qPrintable(a.words + ": " + k));
        }
    QVERIFY(there.size() > 40);
    QCOMPARE(told - there, QSet<QString>());
}

PIPIT_TEST(MenusTest)
#include "menus_test.moc"
