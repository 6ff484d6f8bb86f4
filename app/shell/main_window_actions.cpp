// The window's actions with their keys, and the finder that lists them.
#include "app/shell/main_window.h"

#include "app/look/tokens.h"

#include <QCompleter>
#include <QShortcut>
#include <QStringListModel>

namespace pipit::app
{

QList<MainWindow::Action> MainWindow::runActions()
{
    return {
        {"Run or stop", "Ctrl+Return", [this] { run_->click(); }},
        {"Save", "Ctrl+S", [this] { session_.document.save(); }},
        {"Undo in the wiring", "Ctrl+Z", [this] { session_.document.undo(); }},
        {"Redo in the wiring", "Ctrl+Shift+Z", [this] { session_.document.redo(); }},
        {"Board", "Alt+1", [this] { show(Board); }},
        {"Trace", "Alt+2", [this] { show(Trace); }},
        {"Pace", "Alt+3", [this] { show(Pace); }},
        {"Plays", "Alt+4", [this] { show(Plays); }},
    };
}

QList<MainWindow::Action> MainWindow::composeActions()
{
    const auto onBoard = [this](auto what) {
        return [this, what] {
            show(Board);
            what();
        };
    };
    return {
        {"Add a widget", "Ctrl+Insert", onBoard([this] { board_->outline()->addLine()->setFocus(); })},
        {"Type a connection", "Insert", onBoard([this] { board_->connectLine()->setFocus(); })},
        {"Connect what I did last in the running program", "Alt+K",
         onBoard([this] { board_->connectLastInput(); })},
        {"Set a property of what is selected", "Alt+S",
         onBoard([this] { board_->outline()->valueLine()->setFocus(); })},
        {"Rename what is selected", "Alt+R", onBoard([this] {
             board_->outline()->valueLine()->setText("name ");
             board_->outline()->valueLine()->setFocus();
         })},
        {"Rename many by a regular expression", "Alt+Shift+R", onBoard([this] {
             board_->outline()->valueLine()->setText("rename b(\\d+) to key_$1");
             board_->outline()->valueLine()->setFocus();
         })},
        {"Change the sentence of what is selected", "Alt+E",
         onBoard([this] { board_->outline()->editSentence(); })},
        {"Walk the tab order of the window", "Alt+O", onBoard([this] {
             board_->tabWalk()->begin();
             board_->outline()->objects()->setFocus();
         })},
        {"Take the tab order that was walked", "Alt+Shift+O", [this] { board_->tabWalk()->finish(); }},
        {"What the wiring check found", "Alt+F", onBoard([this] { board_->drawer()->showFindings(); })},
        {"Copy the selected widgets", "Ctrl+Shift+C", [this] { board_->outline()->copy(); }},
        {"Paste widgets", "Ctrl+Shift+V", [this] { board_->outline()->paste(); }},
    };
}

QList<MainWindow::Action> MainWindow::codeActions()
{
    return {
        {"Find in the code", "Ctrl+F",
         [this] {
             show(Board);
             board_->drawer()->findInCode();
         }},
        {"From the code to its handler", "Alt+H",
         [this] {
             const QString h = board_->drawer()->editor()->handlerAtCursor();
             if (!h.isEmpty())
                 session_.selection.select({{}, {}, h});
         }},
        {"Run the selected handler in the background", "Alt+B",
         [this] {
             if (const QString h = session_.selection.now().handler; !h.isEmpty()) {
                 show(Board);
                 board_->drawer()->planMove(h, Shape::Background);
             }
         }},
        {"Open the selected handler's code", "Alt+C",
         [this] { board_->drawer()->openHandler(session_.selection.now().handler); }},
        {"Open or close the drawer", "Alt+D",
         [this] { board_->drawer()->setOpen(!board_->drawer()->isOpen()); }},
    };
}

QList<MainWindow::Action> MainWindow::fileActions()
{
    return {
        {"New project", "Ctrl+N", [this] { askForNewProject(); }},
        {"Open a project", "Ctrl+O", [this] { askForProject(); }},
        {"Open a recording", "Ctrl+Shift+O", [this] { askForRecording(); }},
        {"Start and record a program", "Ctrl+R",
         [this] {
             outer_->setCurrentIndex(0);
             programLine_->setFocus();
         }},
        {"Light or dark", "Alt+L",
         [this] {
             Tokens::choose(!Tokens::current().dark);
             takeLook();
         }},
    };
}

void MainWindow::makeActions()
{
    actions_ = runActions() + composeActions() + codeActions() + fileActions();
    for (const Action &a : actions_) {
        auto *s = new QShortcut(QKeySequence(a.keys), this);
        connect(s, &QShortcut::activated, this, a.run);
    }
    makeFinder();
}

void MainWindow::makeFinder()
{
    auto *find = new QShortcut(QKeySequence("Ctrl+J"), this);
    connect(find, &QShortcut::activated, this, &MainWindow::showFinder);
    auto *model = new QStringListModel(this);
    auto *completer = new QCompleter(model, this);
    completer->setFilterMode(Qt::MatchContains);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setMaxVisibleItems(12);
    finder_->setCompleter(completer);
    const auto choose = [this](const QString &text) {
        finder_->hide();
        for (const Action &a : actions_)
            if (text == a.words + "   " + a.keys) {
                a.run();
                return;
            }
        if (session_.document.isOpen() && !session_.document.project().classOf(text).isEmpty()) {
            show(Board);
            session_.selection.select({text, {}, {}});
        }
    };
    connect(completer, qOverload<const QString &>(&QCompleter::activated), this, choose,
            Qt::QueuedConnection);
    auto *leave = new QShortcut(QKeySequence(Qt::Key_Escape), finder_);
    leave->setContext(Qt::WidgetShortcut);
    connect(leave, &QShortcut::activated, finder_, &QWidget::hide);
}

void MainWindow::showFinder()
{
    QStringList words;
    for (const Action &a : actions_)
        words << a.words + "   " + a.keys;
    if (session_.document.isOpen())
        words += session_.document.project().objectNames();
    static_cast<QStringListModel *>(finder_->completer()->model())->setStringList(words);
    finder_->clear();
    finder_->show();
    finder_->setFocus();
}

} // namespace pipit::app
