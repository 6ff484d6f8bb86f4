// The window's actions with their keys, what the finder finds, and what is remembered.
#include "app/shell/main_window.h"

#include "app/look/tokens.h"
#include "app/session/background.h"
#include "core/sentences/sentence.h"

#include <QApplication>
#include <QFileInfo>
#include <QStyle>

namespace pipit::app
{

QList<Action> MainWindow::runActions()
{
    const auto project = [this] {
        return session_.document.isOpen() ? QString() : QString("Open or create a project first.");
    };
    return {
        {"run",
         "Run",
         "Run or stop",
         {"Ctrl+Return"},
         [this] { run_->click(); },
         [this, project] { return session_.runs.state() == RunState::Idle ? project() : QString(); }},
        {"save", "Run", "Save", {"Ctrl+S"}, [this] { session_.document.save(); }, project},
        {"undo",
         "Run",
         "Undo the last edit",
         {"Ctrl+Z"},
         [this] { session_.document.undo(); },
         [this, project] {
             return !session_.document.isOpen()               ? project()
                    : session_.document.workspace().canUndo() ? QString()
                                                              : QString("There is nothing to undo.");
         }},
        {"redo",
         "Run",
         "Redo the last undone edit",
         {"Ctrl+Shift+Z"},
         [this] { session_.document.redo(); },
         [this, project] {
             return !session_.document.isOpen()               ? project()
                    : session_.document.workspace().canRedo() ? QString()
                                                              : QString("There is nothing to redo.");
         }},
        {"find", "Go to", "Find anything", {"Ctrl+J"}, [this] { showFinder(); }},
        {"menu", "Go to", "All commands", {"F10"}, [this] { sheet_->open(); }},
        {"stalls", "Go to", "Pace: stalls", {}, [this] { showPace(PacePage::Stalls); }},
        {"timers", "Go to", "Pace: timers", {}, [this] { showPace(PacePage::Timers); }},
        {"strains", "Go to", "Pace: strains", {}, [this] { showPace(PacePage::Strains); }},
        {"why",
         "Run",
         "Why: last input",
         {"Alt+Y"},
         [this] {
             show(Why);
             why_->askAboutLast();
         },
         [this] {
             return session_.shown.trace() ? QString() : QString("Run a program first, or open a recording.");
         }},
        {"why-this",
         "Run",
         "Why: selected widget",
         {"Alt+Shift+Y"},
         [this] {
             const QString widget = session_.selection.now().object;
             show(Why);
             why_->askAbout(widget);
         },
         [this] {
             return !session_.shown.trace() ? QString("Run a program first, or open a recording.")
                    : session_.selection.now().object.isEmpty() ? QString("Select a widget first.")
                                                                : QString();
         }},
    };
}

QList<Action> MainWindow::pageActions()
{
    QList<Action> all;
    for (int i = 0; i < int(pageNames.size()); ++i) {
        const QString name = pageNames[std::size_t(i)];
        all.append({name == "Why" ? "why-page" : name.toLower(), // "why" asks
                    "Go to",
                    name,
                    {QStringLiteral("Alt+%1").arg(i + 1)},
                    [this, i] {
                        if (outer_->currentIndex() == 1)
                            show(Page(i));
                    }});
    }
    return all;
}

QList<Action> MainWindow::composeActions()
{
    const auto onBoard = [this](auto what) {
        return [this, what] {
            show(Board);
            what();
        };
    };
    const auto project = [this] {
        return session_.document.isOpen() ? QString() : QString("Open or create a project first.");
    };
    const auto selected = [this, project] {
        if (!session_.document.isOpen())
            return project();
        return session_.selection.now().object.isEmpty()
                   ? QString("Select a widget in the outline or the preview first.")
                   : QString();
    };
    const auto begin = [this](const QString &text) {
        board_->outline()->valueLine()->setText(text);
        board_->outline()->valueLine()->setFocus();
    };
    return {
        {"add",
         "Compose",
         "Add a widget",
         {"Alt+A", "Ctrl+Insert"},
         onBoard([this] { board_->outline()->addLine()->setFocus(); }),
         project},
        {"connect",
         "Compose",
         "Add a connection",
         {"Alt+I", "Insert"},
         onBoard([this] { board_->connectLine()->setFocus(); }),
         project},
        {"connect-last",
         "Compose",
         "Connect the last input's widget",
         {"Alt+K"},
         onBoard([this] { board_->connectLastInput(); }),
         project},
        {"set",
         "Compose",
         "Set a property of the selection",
         {"Alt+S"},
         onBoard([this] { board_->outline()->valueLine()->setFocus(); }),
         selected},
        {"rename",
         "Compose",
         "Rename the selection",
         {"Alt+R"},
         onBoard([begin] { begin("name "); }),
         selected},
        {"rename-all",
         "Compose",
         "Rename many with a regular expression",
         {"Alt+Shift+R"},
         onBoard([begin] { begin("rename b(\\d+) to key_$1"); }),
         selected},
        {"sentence",
         "Compose",
         "Edit the selection's sentence",
         {"Alt+E"},
         onBoard([this] { board_->outline()->editSentence(); }),
         selected},
        {"tab-order",
         "Compose",
         "Edit the tab order of the window",
         {"Alt+O"},
         onBoard([this] {
             board_->tabWalk()->begin();
             board_->outline()->objects()->setFocus();
         }),
         project},
        {"tab-order-take",
         "Compose",
         "Apply the edited tab order",
         {"Alt+Shift+O"},
         [this] { board_->tabWalk()->finish(); },
         project},
        {"large",
         "Compose",
         "Show the window at full size, or go back",
         {"Alt+W"},
         onBoard([this] { board_->setLarge(!board_->isLarge()); }),
         project},
        {"its-code",
         "Compose",
         "Show the generated code of the selection",
         {"Alt+G"},
         onBoard([this] { board_->showGenerated(); }),
         project},
        {"findings",
         "Compose",
         "Show the findings",
         {"Alt+F"},
         onBoard([this] { board_->drawer()->showFindings(); }),
         project},
        {"copy",
         "Compose",
         "Copy the selected widgets",
         {"Ctrl+Shift+C"},
         [this] { board_->outline()->copy(); },
         selected},
        {"paste",
         "Compose",
         "Paste widgets",
         {"Ctrl+Shift+V"},
         [this] { board_->outline()->paste(); },
         project},
    };
}

QList<Action> MainWindow::codeActions()
{
    const auto handler = [this] {
        if (!session_.document.isOpen())
            return QString("Open or create a project first.");
        return session_.selection.now().handler.isEmpty()
                   ? QString("Select a handler first: click its card at the right.")
                   : QString();
    };
    const auto project = [this] {
        return session_.document.isOpen() ? QString() : QString("Open or create a project first.");
    };
    const auto timer = [this] {
        return session_.document.isOpen() &&
                       session_.document.project().timer(session_.selection.now().object)
                   ? QString()
                   : QString("Select a timer first.");
    };
    Editor *editor = board_->drawer()->editor();
    return {
        {"find-in-code",
         "Code",
         "Find in the code",
         {"Ctrl+F"},
         [this] {
             show(Board);
             board_->drawer()->findInCode();
         },
         project},
        {"code",
         "Code",
         "Open the selected handler's code",
         {"Alt+C"},
         [this] {
             show(Board);
             board_->drawer()->openHandler(session_.selection.now().handler);
         },
         handler},
        {"to-handler",
         "Code",
         "Select the handler at the cursor",
         {"Alt+H"},
         [this, editor] {
             session_.selection.select({{}, {}, editor->handlerAtCursor()});
         },
         [this, editor] {
             return session_.document.isOpen() && !editor->handlerAtCursor().isEmpty()
                        ? QString()
                        : QString("The cursor is not in a handler. Place it in a handler's function.");
         }},
        {"background",
         "Code",
         "Run the selected handler in the background",
         {"Alt+B"},
         [this] {
             show(Board);
             board_->drawer()->planMove(session_.selection.now().handler, Shape::Background);
         },
         handler},
        {"steps",
         "Code",
         "Run the selected handler in steps, on a timer",
         {},
         [this] {
             show(Board);
             board_->drawer()->planMove(session_.selection.now().handler, Shape::Steps);
         },
         handler},
        {"one-go",
         "Code",
         "Run the selected handler in one go",
         {},
         [this] {
             show(Board);
             board_->drawer()->planMove(session_.selection.now().handler, Shape::OneGo);
         },
         handler},
        {"told",
         "Code",
         "Replace polling with notifications",
         {},
         [this] {
             show(Board);
             board_->drawer()->planTold(session_.selection.now().object);
         },
         timer},
        {"on-time",
         "Code",
         "Replace with a single-shot timer",
         {},
         [this] {
             show(Board);
             board_->drawer()->planOnTime(session_.selection.now().object);
         },
         timer},
        {"drawer",
         "Code",
         "Open or close the drawer",
         {"Alt+D"},
         [this] { board_->drawer()->setOpen(!board_->drawer()->isOpen()); }},
        {"code-larger", "Code", "Larger code", {"Ctrl++", "Ctrl+="}, [editor] { editor->zoom(1); }},
        {"code-smaller", "Code", "Smaller code", {"Ctrl+-"}, [editor] { editor->zoom(-1); }},
        {"code-usual", "Code", "Code in normal size", {"Ctrl+0"}, [editor] { editor->zoom(0); }},
    };
}

QList<Action> MainWindow::fileActions()
{
    const auto handedOn = [this] { return session_.handingOn.hindrance(); };
    const auto trace = [this] {
        return session_.shown.trace() ? QString() : QString("Run a program first, or open a recording.");
    };
    const auto onTrace = [this](auto what) {
        return [this, what] {
            show(Trace);
            what();
        };
    };
    return {
        {"last-input",
         "Go to",
         "Show the last input's widget on the Board",
         {"Alt+J"},
         [this] {
             show(Board);
             if (session_.document.isOpen())
                 session_.selection.select({session_.lastInput().first, {}, {}});
             else
                 live_->showLast();
         },
         trace},
        {"next-input", "Trace", "Next input", {"Alt+N"}, onTrace([this] { trace_->goToInput(true); }), trace},
        {"previous-input",
         "Trace",
         "Previous input",
         {"Alt+P"},
         onTrace([this] { trace_->goToInput(false); }),
         trace},
        {"cause",
         "Trace",
         "Go to the cause of the row",
         {"Alt+U"},
         onTrace([this] { trace_->goToCause(); }),
         trace},
        {"effect",
         "Trace",
         "Go to the first effect of the row",
         {"Alt+T"},
         onTrace([this] { trace_->goToEffect(); }),
         trace},
        {"mark",
         "Trace",
         "Mark the selected moment, or remove its mark",
         {"Ctrl+M"},
         onTrace([this] { trace_->mark(); }),
         trace},
        {"measure",
         "Trace",
         "Measure from the selected row",
         {"Alt+M"},
         onTrace([this] { trace_->measure(); }),
         trace},
        {"new", "Pipit", "New project", {"Ctrl+N"}, [this] { askForNewProject(); }},
        {"open", "Pipit", "Open a project", {"Ctrl+O"}, [this] { askForProject(); }},
        {"open-recording", "Pipit", "Open a recording", {"Ctrl+Shift+O"}, [this] { askForRecording(); }},
        {"open-packed", "Pipit", "Open a packed recording", {}, [this] { askForPackedRecording(); }},
        {"pack", "Pipit", "Pack the recording into one file", {}, [this] { askWhereToPack(); }, handedOn},
        {"report",
         "Pipit",
         "Write the recording as an HTML report",
         {},
         [this] { askForReport(); },
         handedOn},
        {"start",
         "Pipit",
         "Start page: recent files, or start and record a program",
         {"Ctrl+R"},
         [this] {
             start_->fill();
             outer_->setCurrentIndex(0);
             start_->programLine()->setFocus();
             showState();
         }},
        {"back",
         "Pipit",
         "Go back from the start page",
         {"Ctrl+Shift+R"},
         [this] {
             outer_->setCurrentIndex(1);
             showState();
         },
         [this] {
             return session_.document.isOpen() || session_.shown.trace() ? QString()
                                                                         : QString("Nothing is open.");
         }},
        {"demo", "Pipit", "Open a copy of the demo", {}, [this] { openDemo(); }},
        {"course", "Pipit", "Begin the project's course", {}, [this] { beginCourse(); }},
        {"theme",
         "Pipit",
         "Switch between light and dark",
         {"Alt+L"},
         [this] {
             Tokens::choose(!Tokens::current().dark);
             remembered_.setValue("dark", Tokens::current().dark);
             takeLook();
         }},
        {"theme-follow",
         "Pipit",
         "Theme of the desktop",
         {},
         [this] {
             Tokens::choose(std::nullopt);
             remembered_.setValue("dark", QJsonValue());
             takeLook();
         }},
    };
}

void MainWindow::makeActions()
{
    actions_->add(runActions() + pageActions() + composeActions() + codeActions() + fileActions());
}

void MainWindow::followDesktop()
{
    connect(&desktop_, &DesktopSettings::darkChanged, this, [this](bool dark) {
        Tokens::follow(dark);
        takeLook();
    });
    connect(&desktop_, &DesktopSettings::motionChanged, this, [](bool wanted) { wantMotion(wanted); });
}

void MainWindow::recallPlaces()
{
    if (const QJsonValue dark = remembered_.value("dark"); dark.isBool())
        Tokens::choose(dark.toBool());
    restoreGeometry(QByteArray::fromBase64(remembered_.value("window").toString().toLatin1()));
    Editor *editor = board_->drawer()->editor();
    for (int steps = remembered_.value("code_zoom").toInt(); steps; steps += steps > 0 ? -1 : 1)
        editor->zoom(steps > 0 ? 1 : -1);
    connect(editor, &Editor::zoomed, this, [this](int level) { remembered_.setValue("code_zoom", level); });
    const QJsonObject columns = remembered_.value("columns").toObject();
    board_->setColumns(columns["left"].toInt(), columns["cards"].toInt());
    plays_->setFilesWidth(columns["plays"].toInt());
    const auto keep = [this] {
        const auto [left, cards] = board_->columns();
        remembered_.setValue("columns",
                             QJsonObject{{"left", left}, {"cards", cards}, {"plays", plays_->filesWidth()}});
    };
    connect(board_, &BoardPage::columnsChanged, this, keep);
    connect(plays_, &PlaysPage::filesWidthChanged, this, keep);
}

// The page and the drawer of last time, for the first project that is opened.
void MainWindow::recallPage()
{
    if (std::exchange(pageRecalled_, true))
        return show(Board);
    show(Page(std::clamp(remembered_.value("page").toInt(), 0, int(pageNames.size()) - 1)));
    if (remembered_.value("drawer").toBool())
        board_->drawer()->setOpen(true);
}

void MainWindow::keepPlaces()
{
    remembered_.setValue("window", QString::fromLatin1(saveGeometry().toBase64()));
    remembered_.setValue("page", pages_->currentIndex());
    remembered_.setValue("drawer", board_->drawer()->isOpen());
}

} // namespace pipit::app
