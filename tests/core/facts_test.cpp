// What the catalog says people get wrong about each signal, tried on the live toolkit: a sentence
// that nothing here has tried fails the test, and so does a trial whose sentence is gone.
#include "core/catalog/catalog.h"
#include "core/catalog/class_headers.h"

#include <QElapsedTimer>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <QtConcurrent/QtConcurrentRun>
#include <QtCore/QPromise>
#include <QtGui/QContextMenuEvent>
#include <QtNetwork/QLocalServer>
#include <QtNetwork/QLocalSocket>
#include <QtWidgets/QApplication>

#include <map>

using namespace pipit;

namespace
{

using Trial = std::function<bool()>; // whether it is so

template <class W> void shown(W &w)
{
    w.show();
    w.activateWindow();
    w.setFocus();
    (void)QTest::qWaitForWindowActive(w.window());
}

QPoint middleOf(const QAbstractItemView &v, int row, int column = 0)
{
    return v.visualRect(v.model()->index(row, column)).center();
}

template <class W> bool nothingUnlessCheckable(bool byClick)
{
    W w;
    QSignalSpy heard(&w, &W::toggled), clicked(&w, &W::clicked);
    w.setCheckable(false);
    shown(w);
    w.setChecked(true);
    QTest::mouseClick(&w, Qt::LeftButton, {}, QPoint(12, 8));
    const bool silent = heard.isEmpty() && (!byClick || clicked.isEmpty());
    w.setCheckable(true);
    w.setChecked(!w.isChecked());
    return silent && !heard.isEmpty();
}

template <class V> bool clickedOnlyByMouse(V &v, const char *byMouse, const char *byBoth)
{
    QSignalSpy clicks(&v, byMouse), both(&v, byBoth);
    shown(v);
    v.setCurrentItem(nullptr);
    QTest::mouseClick(v.viewport(), Qt::LeftButton, {}, middleOf(v, 0));
    if (clicks.size() != 1 || both.isEmpty())
        return false;
    both.clear();
    QTest::keyClick(&v, Qt::Key_Down);
    return clicks.size() == 1 && !both.isEmpty();
}

bool enteredOnlyWhenTracked(QAbstractItemView &v, const char *signal, bool overItem)
{
    QSignalSpy entered(&v, signal);
    shown(v);
    v.setMouseTracking(false);
    v.viewport()->setMouseTracking(false);
    const QPoint item = middleOf(v, 0), beside(v.viewport()->width() - 3, v.viewport()->height() - 3);
    // Without tracking the window system's moves are not delivered: tried through the window.
    const auto fromWindow = [&](QPoint at) {
        QTest::mouseMove(v.window()->windowHandle(), v.viewport()->mapTo(v.window(), at));
        QCoreApplication::processEvents();
    };
    fromWindow(overItem ? beside : item);
    fromWindow(overItem ? item : beside);
    const bool silent = entered.isEmpty();
    v.setMouseTracking(true);
    fromWindow(overItem ? beside : item);
    fromWindow(overItem ? item : beside);
    return silent && !entered.isEmpty();
}

template <class View, class Item, class Signal> bool handlerCallsItself(View &v, Item *item, Signal signal)
{
    int depth = 0, deepest = 0;
    const auto again = [&] {
        deepest = std::max(deepest, ++depth);
        if (depth == 1)
            item->setText(item->text() + "!");
        --depth;
    };
    QObject::connect(&v, signal, &v, again);
    item->setText("new");
    return deepest == 2;
}

bool actionComesAsWell(QAction &action, QObject &holder, const char *signal)
{
    QSignalSpy own(&action, &QAction::triggered), its(&holder, signal);
    action.trigger();
    return own.size() == 1 && its.size() == 1;
}

bool setsNumberOnce(QAbstractSpinBox &box, const char *signal)
{
    QSignalSpy changed(&box, signal);
    shown(box);
    box.selectAll();
    QTest::keyClicks(&box, "42");
    const qsizetype digits = changed.size();
    box.setKeyboardTracking(false);
    box.selectAll();
    QTest::keyClicks(&box, "17");
    const bool silent = changed.size() == digits;
    QTest::keyClick(&box, Qt::Key_Return);
    return digits == 2 && silent && changed.size() == 3;
}

// Widgets whose items every trial below wants.
struct List : QListWidget {
    List() { addItems({"a", "b", "c"}); }
};
struct Tree : QTreeWidget {
    Tree() { addTopLevelItems({new QTreeWidgetItem({"a"}), new QTreeWidgetItem({"b"})}); }
};
struct Table : QTableWidget {
    Table() : QTableWidget(3, 2)
    {
        setItem(0, 0, new QTableWidgetItem("a"));
        setItem(1, 0, new QTableWidgetItem("b"));
    }
};

using Trials = std::map<QString, Trial>;

void addButtons(Trials &t)
{
    t["QAbstractButton::pressed"] = [] {
        QPushButton b;
        QSignalSpy pressed(&b, &QPushButton::pressed), clicked(&b, &QPushButton::clicked);
        shown(b);
        QTest::mousePress(&b, Qt::LeftButton);
        QTest::mouseRelease(&b, Qt::LeftButton, {}, QPoint(-50, -50));
        return pressed.size() == 1 && clicked.isEmpty();
    };
    t["QAbstractButton::released"] = [] {
        QPushButton b;
        QSignalSpy released(&b, &QPushButton::released), clicked(&b, &QPushButton::clicked);
        shown(b);
        QTest::mousePress(&b, Qt::LeftButton);
        QMouseEvent leave(QEvent::MouseMove, QPointF(-50, -50), b.mapToGlobal(QPointF(-50, -50)),
                          Qt::LeftButton, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&b, &leave);
        const bool byLeaving = released.size() == 1;
        QTest::mouseRelease(&b, Qt::LeftButton, {}, QPoint(-50, -50));
        return byLeaving && clicked.isEmpty();
    };
    t["QAbstractButton::clicked"] = [] {
        QCheckBox b;
        QSignalSpy clicked(&b, &QCheckBox::clicked), toggled(&b, &QCheckBox::toggled);
        b.setChecked(true);
        return clicked.isEmpty() && toggled.size() == 1;
    };
    t["QAbstractButton::toggled"] = [] { return nothingUnlessCheckable<QPushButton>(false); };
    t["QGroupBox::toggled"] = [] { return nothingUnlessCheckable<QGroupBox>(false); };
    t["QGroupBox::clicked"] = [] { return nothingUnlessCheckable<QGroupBox>(true); };
    t["QAction::toggled"] = [] {
        QAction a;
        QSignalSpy toggled(&a, &QAction::toggled);
        a.setChecked(true);
        a.trigger();
        const bool silent = toggled.isEmpty();
        a.setCheckable(true);
        a.trigger();
        return silent && !toggled.isEmpty();
    };
    t["QToolButton::triggered"] = [] {
        QToolButton b;
        QSignalSpy clicked(&b, &QToolButton::clicked), triggered(&b, &QToolButton::triggered);
        b.click();
        const bool without = clicked.size() == 1 && triggered.isEmpty();
        QAction a;
        b.setDefaultAction(&a);
        b.click();
        return without && triggered.size() == 1;
    };
    t["QCheckBox::stateChanged"] = [] {
        QCheckBox b;
        QSignalSpy state(&b, &QCheckBox::stateChanged);
        b.setTristate(true);
        for (const Qt::CheckState s : {Qt::PartiallyChecked, Qt::Checked, Qt::Unchecked})
            b.setCheckState(s);
        return state.size() == 3 && state[0][0].toInt() == 1 && state[1][0].toInt() == 2 &&
               state[2][0].toInt() == 0;
    };
    const auto bothSides = [](auto signal) {
        QButtonGroup g;
        QPushButton one, two;
        for (QPushButton *b : {&one, &two}) {
            b->setCheckable(true);
            g.addButton(b);
        }
        one.setChecked(true);
        QSignalSpy toggled(&g, signal);
        two.click();
        return toggled.size() == 2 && !toggled[0][1].toBool() && toggled[1][1].toBool();
    };
    t["QButtonGroup::buttonToggled"] = [=] { return bothSides(&QButtonGroup::buttonToggled); };
    t["QButtonGroup::idToggled"] = [=] { return bothSides(&QButtonGroup::idToggled); };
}

void addFields(Trials &t)
{
    t["QLineEdit::textChanged"] = [] {
        QLineEdit e;
        int changed = 0, edited = 0;
        QObject::connect(&e, &QLineEdit::textChanged, &e, [&](const QString &s) {
            if (++changed < 5)
                e.setText(s + "!");
        });
        QTest::keyClicks(&e, "x");
        const bool calls = changed == 5;
        QLineEdit f;
        QObject::connect(&f, &QLineEdit::textEdited, &f, [&](const QString &s) {
            ++edited;
            f.setText(s + "!");
        });
        QTest::keyClicks(&f, "x");
        return calls && edited == 1;
    };
    t["QLineEdit::returnPressed"] = [] {
        QLineEdit e;
        e.setInputMask("99-99");
        QSignalSpy pressed(&e, &QLineEdit::returnPressed);
        shown(e);
        e.setCursorPosition(0);
        QTest::keyClicks(&e, "12");
        QTest::keyClick(&e, Qt::Key_Return);
        const bool away = pressed.isEmpty();
        QTest::keyClicks(&e, "34");
        QTest::keyClick(&e, Qt::Key_Return);
        return away && pressed.size() == 1;
    };
    t["QLineEdit::editingFinished"] = [] {
        QWidget w;
        QLineEdit e(&w), other(&w);
        QSignalSpy finished(&e, &QLineEdit::editingFinished), returned(&e, &QLineEdit::returnPressed);
        shown(w);
        e.setFocus();
        QTest::keyClick(&e, Qt::Key_Return);
        const bool both = finished.size() == 1 && returned.size() == 1;
        QTest::keyClicks(&e, "x");
        other.setFocus();
        const bool byLeaving = finished.size() == 2;
        e.setFocus();
        other.setFocus(); // nothing was changed
        return both && byLeaving && finished.size() == 2;
    };
    t["QSpinBox::valueChanged"] = [] {
        QSpinBox b;
        return setsNumberOnce(b, SIGNAL(valueChanged(int)));
    };
    t["QDoubleSpinBox::valueChanged"] = [] {
        QDoubleSpinBox b;
        b.setDecimals(0);
        return setsNumberOnce(b, SIGNAL(valueChanged(double)));
    };
    t["QTextBrowser::anchorClicked"] = [] {
        QTextBrowser b;
        QSignalSpy clicked(&b, &QTextBrowser::anchorClicked), moved(&b, &QTextBrowser::sourceChanged);
        b.setHtml("<a href='#there'>there</a>");
        shown(b);
        const auto click = [&] { QTest::mouseClick(b.viewport(), Qt::LeftButton, {}, QPoint(14, 14)); };
        b.setOpenLinks(false);
        click();
        const bool alone = clicked.size() == 1 && moved.isEmpty();
        b.setOpenLinks(true);
        click();
        return alone && clicked.size() == 2 && moved.size() == 1;
    };
    t["QAbstractSlider::sliderMoved"] = [] {
        QSlider s(Qt::Horizontal);
        QSignalSpy moved(&s, &QSlider::sliderMoved), changed(&s, &QSlider::valueChanged);
        shown(s);
        QTest::keyClick(&s, Qt::Key_Right);
        s.setValue(30);
        QWheelEvent wheel(QPointF(5, 5), s.mapToGlobal(QPointF(5, 5)), {}, {0, 120}, Qt::NoButton,
                          Qt::NoModifier, Qt::NoScrollPhase, false);
        QCoreApplication::sendEvent(&s, &wheel);
        const bool silent = moved.isEmpty() && changed.size() == 3;
        s.setSliderDown(true);
        s.setSliderPosition(60);
        return silent && moved.size() == 1;
    };
}

void addChoices(Trials &t)
{
    t["QComboBox::activated"] = [] {
        QComboBox b;
        QSignalSpy activated(&b, &QComboBox::activated);
        b.addItems({"a", "b"});
        b.setCurrentIndex(1);
        const bool silent = activated.isEmpty();
        shown(b);
        QTest::keyClick(&b, Qt::Key_Up);
        return silent && activated.size() == 1;
    };
    t["QComboBox::highlighted"] = [] {
        QComboBox b;
        b.addItems({"a", "b"});
        QSignalSpy highlighted(&b, &QComboBox::highlighted), chosen(&b, &QComboBox::activated);
        shown(b);
        b.showPopup();
        QTest::keyClick(b.view(), Qt::Key_Down);
        return !highlighted.isEmpty() && chosen.isEmpty() && b.currentIndex() == 0;
    };
    t["QComboBox::currentIndexChanged"] = [] {
        QComboBox b;
        QSignalSpy changed(&b, &QComboBox::currentIndexChanged);
        b.addItem("a");
        const bool first = changed.size() == 1;
        b.addItem("b");
        return first && changed.size() == 1;
    };
    t["QCalendarWidget::clicked"] = [] {
        QCalendarWidget c;
        QSignalSpy clicked(&c, &QCalendarWidget::clicked), chosen(&c, &QCalendarWidget::selectionChanged);
        shown(c);
        QTest::keyClick(c.findChild<QTableView *>(), Qt::Key_Right);
        const bool byKey = clicked.isEmpty() && chosen.size() == 1;
        auto *days = c.findChild<QTableView *>();
        QTest::mouseClick(days->viewport(), Qt::LeftButton, {}, middleOf(*days, 3, 3));
        return byKey && clicked.size() == 1 && chosen.size() == 2;
    };
    t["QTabWidget::currentChanged"] = [] {
        QTabWidget w;
        QSignalSpy changed(&w, &QTabWidget::currentChanged);
        w.addTab(new QWidget, "a");
        const bool first = changed.size() == 1;
        w.addTab(new QWidget, "b");
        return first && changed.size() == 1;
    };
    t["QTabWidget::tabCloseRequested"] = [] {
        QTabWidget w;
        w.addTab(new QWidget, "a");
        QSignalSpy asked(&w, &QTabWidget::tabCloseRequested);
        shown(w);
        const auto button = [&]() -> QAbstractButton * {
            for (auto *b : w.findChildren<QAbstractButton *>())
                if (QByteArray(b->metaObject()->className()) == "CloseButton")
                    return b;
            return nullptr;
        };
        const bool none = !button();
        w.setTabsClosable(true);
        if (button())
            button()->click();
        return none && asked.size() == 1 && w.count() == 1;
    };
}

void addItemViews(Trials &t)
{
    t["QListWidget::itemClicked"] = [] {
        List l;
        return clickedOnlyByMouse(l, SIGNAL(itemClicked(QListWidgetItem *)), SIGNAL(currentRowChanged(int)));
    };
    t["QTreeWidget::itemClicked"] = [] {
        Tree l;
        return clickedOnlyByMouse(l, SIGNAL(itemClicked(QTreeWidgetItem *, int)),
                                  SIGNAL(currentItemChanged(QTreeWidgetItem *, QTreeWidgetItem *)));
    };
    t["QAbstractItemView::clicked"] = [] {
        List l;
        QSignalSpy clicked(&l, &QListView::clicked),
            chosen(l.selectionModel(), &QItemSelectionModel::currentChanged);
        shown(l);
        chosen.clear();
        QTest::keyClick(&l, Qt::Key_Down);
        const bool byKey = clicked.isEmpty() && chosen.size() == 1;
        QTest::mouseClick(l.viewport(), Qt::LeftButton, {}, middleOf(l, 2));
        return byKey && clicked.size() == 1 && chosen.size() == 2;
    };
    t["QAbstractItemView::activated"] = [] {
        List l;
        QSignalSpy clicked(&l, &QListView::clicked), activated(&l, &QListView::activated);
        shown(l);
        QTest::mouseClick(l.viewport(), Qt::LeftButton, {}, middleOf(l, 1));
        QTest::mouseDClick(l.viewport(), Qt::LeftButton, {}, middleOf(l, 1));
        return !clicked.isEmpty() && activated.size() == 1;
    };
    t["QTableWidget::itemClicked"] = [] {
        Table l;
        QSignalSpy item(&l, &QTableWidget::itemClicked), cell(&l, &QTableWidget::cellClicked);
        shown(l);
        QTest::mouseClick(l.viewport(), Qt::LeftButton, {}, middleOf(l, 2, 1));
        const bool empty = item.isEmpty() && cell.size() == 1;
        QTest::mouseClick(l.viewport(), Qt::LeftButton, {}, middleOf(l, 0, 0));
        return empty && item.size() == 1 && cell.size() == 2;
    };
    t["QTableWidget::cellChanged"] = [] {
        QTableWidget l(2, 2);
        QSignalSpy changed(&l, &QTableWidget::cellChanged);
        for (int i = 0; i < 4; ++i)
            l.setItem(i / 2, i % 2, new QTableWidgetItem("x"));
        return changed.size() == 4;
    };
    const auto entered = [](auto make, const char *signal, bool overItem = true) {
        return [make, signal, overItem] {
            auto v = make();
            return enteredOnlyWhenTracked(*v, signal, overItem);
        };
    };
    const auto list = [] { return std::make_unique<List>(); };
    const auto tree = [] { return std::make_unique<Tree>(); };
    const auto cells = [] { return std::make_unique<Table>(); };
    t["QAbstractItemView::entered"] = entered(list, SIGNAL(entered(QModelIndex)));
    t["QAbstractItemView::viewportEntered"] = entered(list, SIGNAL(viewportEntered()), false);
    t["QListWidget::itemEntered"] = entered(list, SIGNAL(itemEntered(QListWidgetItem *)));
    t["QTreeWidget::itemEntered"] = entered(tree, SIGNAL(itemEntered(QTreeWidgetItem *, int)));
    t["QTableWidget::itemEntered"] = entered(cells, SIGNAL(itemEntered(QTableWidgetItem *)));
    t["QTableWidget::cellEntered"] = entered(cells, SIGNAL(cellEntered(int, int)));
}

void addItemData(Trials &t)
{
    t["QListWidget::itemChanged"] = [] {
        List l;
        return handlerCallsItself(l, l.item(0), &QListWidget::itemChanged);
    };
    t["QTreeWidget::itemChanged"] = [] {
        Tree l;
        struct Texts {
            QTreeWidgetItem *item;
            QString text() const { return item->text(0); }
            void setText(const QString &s) { item->setText(0, s); }
        } first{l.topLevelItem(0)};
        return handlerCallsItself(l, &first, &QTreeWidget::itemChanged);
    };
    t["QTableWidget::itemChanged"] = [] {
        Table l;
        return handlerCallsItself(l, l.item(0, 0), &QTableWidget::itemChanged);
    };
    t["QStandardItemModel::itemChanged"] = [] {
        QStandardItemModel m;
        m.appendRow(new QStandardItem("a"));
        return handlerCallsItself(m, m.item(0), &QStandardItemModel::itemChanged);
    };
    t["QListWidget::currentItemChanged"] = [] {
        List l;
        QList<std::pair<bool, bool>> null;
        QObject::connect(&l, &QListWidget::currentItemChanged, &l,
                         [&](auto *now, auto *before) { null << std::pair(!now, !before); });
        l.setCurrentRow(0);
        l.setCurrentRow(-1);
        return null == QList<std::pair<bool, bool>>{{false, true}, {true, false}};
    };
    t["QTreeWidget::currentItemChanged"] = [] {
        Tree l;
        QList<std::pair<bool, bool>> null;
        QObject::connect(&l, &QTreeWidget::currentItemChanged, &l,
                         [&](auto *now, auto *before) { null << std::pair(!now, !before); });
        l.setCurrentItem(l.topLevelItem(0));
        l.setCurrentItem(nullptr);
        return null == QList<std::pair<bool, bool>>{{false, true}, {true, false}};
    };
    t["QTableWidget::currentItemChanged"] = [] {
        Table l;
        QList<std::pair<bool, bool>> null;
        QObject::connect(&l, &QTableWidget::currentItemChanged, &l,
                         [&](auto *now, auto *before) { null << std::pair(!now, !before); });
        l.setCurrentCell(0, 0);
        l.setCurrentCell(2, 1); // an empty one
        return null == QList<std::pair<bool, bool>>{{false, true}, {true, false}};
    };
    t["QListWidget::currentRowChanged"] = [] {
        QListWidget l;
        QSignalSpy row(&l, &QListWidget::currentRowChanged);
        l.addItems({"a", "b"});
        const bool notByAdding = row.isEmpty();
        shown(l);
        const bool byFocus = row.size() == 1 && row[0][0].toInt() == 0;
        l.clear();
        return notByAdding && byFocus && row.size() == 2 && row[1][0].toInt() == -1;
    };
    t["QItemSelectionModel::selectionChanged"] = [] {
        QListView v;
        QStandardItemModel one, two;
        for (QStandardItemModel *m : {&one, &two})
            m->appendRow(new QStandardItem("a"));
        v.setModel(&one);
        QSignalSpy changed(v.selectionModel(), &QItemSelectionModel::selectionChanged);
        v.setModel(&two);
        changed.clear();
        v.selectionModel()->select(two.index(0, 0), QItemSelectionModel::Select);
        return changed.isEmpty() && !v.selectionModel()->selectedIndexes().isEmpty();
    };
}

void addWindows(Trials &t)
{
    t["QObject::destroyed"] = [] {
        bool gone = false, goneByThen = false;
        struct Thing : QTimer {
            explicit Thing(bool &flag) : gone(flag) {}
            ~Thing() override { gone = true; }
            bool &gone;
        };
        auto thing = std::make_unique<Thing>(gone);
        QObject::connect(thing.get(), &QObject::destroyed, qApp,
                         [&](QObject *o) { goneByThen = gone && !qobject_cast<QTimer *>(o); });
        thing.reset();
        return goneByThen;
    };
    t["QWidget::customContextMenuRequested"] = [] {
        QWidget w;
        QSignalSpy asked(&w, &QWidget::customContextMenuRequested);
        const auto ask = [&] {
            QContextMenuEvent e(QContextMenuEvent::Mouse, QPoint(1, 1), w.mapToGlobal(QPoint(1, 1)));
            QCoreApplication::sendEvent(&w, &e);
        };
        ask();
        const bool silent = asked.isEmpty();
        w.setContextMenuPolicy(Qt::CustomContextMenu);
        ask();
        return silent && asked.size() == 1;
    };
    t["QDialog::finished"] = [] {
        QDialog d;
        QSignalSpy finished(&d, &QDialog::finished);
        d.open();
        d.reject();
        return finished.size() == 1 && finished[0][0].toInt() == QDialog::Rejected;
    };
    const auto box = [](QDialogButtonBox::StandardButton which, auto signal) {
        QDialog d;
        QDialogButtonBox b(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, &d);
        QStringList order;
        QObject::connect(&b, &QDialogButtonBox::clicked, &d, [&] { order << "clicked"; });
        QObject::connect(&b, signal, &d, [&] { order << "end"; });
        d.open();
        b.button(which)->click();
        return std::pair(order, d.isVisible());
    };
    t["QDialogButtonBox::clicked"] = [=] {
        return box(QDialogButtonBox::Ok, &QDialogButtonBox::accepted).first ==
                   QStringList{"clicked", "end"} &&
               box(QDialogButtonBox::Cancel, &QDialogButtonBox::rejected).first ==
                   QStringList{"clicked", "end"};
    };
    t["QDialogButtonBox::accepted"] = [=] {
        return box(QDialogButtonBox::Ok, &QDialogButtonBox::accepted).second;
    };
    t["QDialogButtonBox::rejected"] = [=] {
        return box(QDialogButtonBox::Cancel, &QDialogButtonBox::rejected).second;
    };
    t["QMenuBar::triggered"] = [] {
        QMenuBar bar;
        return actionComesAsWell(*bar.addMenu("m")->addAction("a"), bar, SIGNAL(triggered(QAction *)));
    };
    t["QMenu::triggered"] = [] {
        QMenu menu;
        return actionComesAsWell(*menu.addMenu("m")->addAction("a"), menu, SIGNAL(triggered(QAction *)));
    };
    t["QToolBar::actionTriggered"] = [] {
        QToolBar bar;
        return actionComesAsWell(*bar.addAction("a"), bar, SIGNAL(actionTriggered(QAction *)));
    };
    t["QAction::triggered"] = [] {
        QWidget w;
        QAction a(&w);
        a.setShortcut(QKeySequence("Ctrl+G"));
        QSignalSpy triggered(&a, &QAction::triggered);
        shown(w);
        QTest::keyClick(&w, Qt::Key_G, Qt::ControlModifier);
        const bool silent = triggered.isEmpty();
        w.addAction(&a);
        QTest::keyClick(&w, Qt::Key_G, Qt::ControlModifier);
        return silent && triggered.size() == 1;
    };
}

void addDevices(Trials &t)
{
    t["QTimer::timeout"] = [] {
        QTimer never, started;
        never.setInterval(1);
        QSignalSpy a(&never, &QTimer::timeout), b(&started, &QTimer::timeout);
        started.start(1);
        return b.wait(2000) && a.isEmpty();
    };
    t["QFileSystemWatcher::fileChanged"] = [] {
        QTemporaryDir dir;
        const QString path = dir.filePath("a"), other = dir.filePath("b");
        const auto write = [](const QString &p) {
            QFile f(p);
            (void)f.open(QIODevice::WriteOnly);
            f.write("x");
        };
        write(path);
        QFileSystemWatcher w({path});
        QSignalSpy changed(&w, &QFileSystemWatcher::fileChanged);
        write(other);
        if (std::rename(QFile::encodeName(other), QFile::encodeName(path)) != 0 || !changed.wait(3000))
            return false;
        return w.files().isEmpty();
    };
    t["QIODevice::readyRead"] = [] {
        QLocalServer server;
        QTemporaryDir dir;
        if (!server.listen(dir.filePath("s")))
            return false;
        QLocalSocket in;
        in.connectToServer(server.fullServerName());
        if (!server.waitForNewConnection(2000))
            return false;
        QLocalSocket *out = server.nextPendingConnection();
        QSignalSpy ready(&in, &QIODevice::readyRead);
        for (const char *message : {"one\n", "two\n", "thr"}) {
            out->write(message);
            out->waitForBytesWritten(1000);
        }
        return ready.wait(2000) && ready.size() == 1 && in.readAll() == "one\ntwo\nthr";
    };
    t["QProcess::readyReadStandardOutput"] = [] {
        QProcess p;
        QByteArrayList read;
        QObject::connect(&p, &QProcess::readyReadStandardOutput, &p,
                         [&] { read << p.readAllStandardOutput(); });
        p.start("sh", {"-c", "printf one; sleep 0.3; printf ' line\\n'"});
        return QTest::qWaitFor([&] { return p.state() == QProcess::NotRunning; }, 5000) &&
               read == QByteArrayList{"one", " line\n"};
    };
    t["QProcess::finished"] = [] {
        QProcess p;
        QSignalSpy finished(&p, &QProcess::finished);
        p.start("sh", {"-c", "kill -9 $$"});
        return finished.wait(5000) && finished[0][1].value<QProcess::ExitStatus>() == QProcess::CrashExit;
    };
    t["QProcess::errorOccurred"] = [] {
        QProcess p;
        QSignalSpy error(&p, &QProcess::errorOccurred), finished(&p, &QProcess::finished),
            started(&p, &QProcess::started);
        p.start("there-is-no-such-program", {});
        return QTest::qWaitFor([&] { return !error.isEmpty(); }, 2000) && finished.isEmpty() &&
               started.isEmpty();
    };
    t["QLocalSocket::errorOccurred"] = [] {
        QLocalSocket s;
        QSignalSpy error(&s, &QLocalSocket::errorOccurred), connected(&s, &QLocalSocket::connected),
            gone(&s, &QLocalSocket::disconnected);
        s.connectToServer("there-is-no-such-server");
        return QTest::qWaitFor([&] { return !error.isEmpty(); }, 2000) && connected.isEmpty() &&
               gone.isEmpty();
    };
    t["QLocalServer::newConnection"] = [] {
        QTemporaryDir dir;
        QLocalServer server;
        QSignalSpy heard(&server, &QLocalServer::newConnection);
        if (!server.listen(dir.filePath("s")))
            return false;
        QLocalSocket a;
        a.connectToServer(server.fullServerName());
        a.write("x");
        a.flush();
        if (!heard.wait(2000))
            return false;
        QTest::qWait(50);
        const bool waits = heard.size() == 1 && server.hasPendingConnections();
        return waits && server.nextPendingConnection() && !server.hasPendingConnections();
    };
    t["QFutureWatcherBase::progressValueChanged"] = [] {
        QFutureWatcher<void> watcher;
        QSignalSpy progress(&watcher, &QFutureWatcher<void>::progressValueChanged),
            finished(&watcher, &QFutureWatcher<void>::finished);
        QElapsedTimer t;
        t.start();
        watcher.setFuture(QtConcurrent::run([](QPromise<void> &p) {
            p.setProgressRange(0, 400);
            for (int i = 1; i <= 400; ++i) {
                p.setProgressValue(i);
                QThread::msleep(1);
            }
        }));
        const bool ended = finished.wait(20'000);
        // Of 400, in 0.4 s or, on a busy machine, more; the first and the last come in any case.
        return ended && progress.size() > 2 && progress.size() <= 3 + t.elapsed() * 25 / 1000;
    };
}

} // namespace

class FactsTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void whatIsSaidOfASignalIsSo_data();
    void whatIsSaidOfASignalIsSo();

private:
    Trials trials_;
};

void FactsTest::initTestCase()
{
    addButtons(trials_);
    addFields(trials_);
    addChoices(trials_);
    addItemViews(trials_);
    addItemData(trials_);
    addWindows(trials_);
    addDevices(trials_);
}

void FactsTest::whatIsSaidOfASignalIsSo_data()
{
    QTest::addColumn<QString>("signal");
    QTest::addColumn<QString>("mistake");
    QMap<QString, QString> said;
    for (const QString &cls :
         Catalog::get().classes() + QStringList{"QItemSelectionModel", "QFutureWatcherBase"})
        for (const SignalEntry &s : Catalog::get().signalsOf(cls))
            if (!s.mistake.isEmpty())
                said.insert(s.owner + "::" + s.name(), s.mistake);
    for (auto it = said.cbegin(); it != said.cend(); ++it)
        QTest::newRow(qPrintable(it.key())) << it.key() << it.value();
    for (const auto &[signal, trial] : trials_)
        if (!said.contains(signal))
            QTest::newRow(qPrintable(signal)) << signal << QString();
}

void FactsTest::whatIsSaidOfASignalIsSo()
{
    QFETCH(QString, signal);
    QFETCH(QString, mistake);
    QVERIFY2(!mistake.isEmpty(), "it is tried, but nothing is said of it");
    QVERIFY2(trials_.contains(signal), qPrintable("nobody tried whether this is so: " + mistake));
    QVERIFY2(trials_.at(signal)(), qPrintable("it is not so: " + mistake));
}

QTEST_MAIN(FactsTest)
#include "facts_test.moc"
