#include "app/shell/main_window.h"

#include "app/look/tokens.h"
#include "core/base/files.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPainter>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace pipit::app
{

namespace
{

// The bird beside the title: everything that can be done is under it.
class Bird : public QWidget
{
public:
    Bird() { setFixedSize(scaled(40), headerHeight - 8); }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        drawMark(p, Mark::Bird, QRectF(rect()).center(), Tokens::current().ink, 26);
    }
};

// Where no portal tells of it, the toolkit's palette does: by a colour that we leave as it is.
bool systemIsDark()
{
    return QApplication::palette().color(QPalette::Button).lightness() < 128;
}

} // namespace

MainWindow::MainWindow(QWidget *parent) : QWidget(parent), actions_(new Actions(this, &remembered_))
{
    setWindowTitle("Pipit");
    resize(1280, 800);
    setMinimumSize(800, 520);
    systemDark_ = systemIsDark();
    makePages();
    makeMessageBar();
    layOut();
    finder_ = new Finder(this);
    sheet_ = new Sheet(actions_, this);
    hearSession();
    hearPages();
    hearStart();
    makeActions();
    followDesktop();
    recallPlaces();
    showState();
    takeLook();
    start_->programLine()->setFocus();
}

void MainWindow::greet()
{
    if (!remembered_.value("toldCommands").toBool()) {
        ask("Commands at the top right (F10) lists all commands with their keys.", "Show them",
            [this] { sheet_->open(); });
        remembered_.setValue("toldCommands", true);
    }
}

void MainWindow::makePages()
{
    ribbon_ = new Ribbon(&session_);
    board_ = new BoardPage(&session_);
    trace_ = new TracePage(&session_);
    pace_ = new PacePage(&session_);
    plays_ = new PlaysPage(&session_);
    why_ = new WhyPage(&session_);
    live_ = new LiveBoardView(&session_);
    boards_ = new QStackedWidget;
    boards_->addWidget(board_);
    boards_->addWidget(live_);
    pages_ = new QStackedWidget;
    for (QWidget *w : std::initializer_list<QWidget *>{boards_, trace_, pace_, plays_, why_})
        pages_->addWidget(w);
    for (QAbstractItemView *view : std::initializer_list<QAbstractItemView *>{
             live_->sentences(), trace_->list(), pace_->stalls(), pace_->timers()->list(),
             pace_->strains()->list(), why_->interactions()}) {
        firstSteps_ << new EmptyAction(view);
        connect(firstSteps_.last(), &QPushButton::clicked, this, &MainWindow::doFirstStep);
    }
    board_->setFocusProxy(board_->outline()->objects());
    live_->setFocusProxy(live_->objects());
    chooseBoard();
    trace_->setFocusProxy(trace_->list());
    pace_->setFocusProxy(pace_->stalls());
    plays_->setFocusProxy(plays_->files());
    why_->setFocusProxy(why_->interactions());
}

// What an empty list says to do, at a click.
void MainWindow::offerFirstSteps()
{
    const bool has = session_.shown.trace() || session_.runs.state() != RunState::Idle;
    const QString step = has                          ? QString()
                         : session_.document.isOpen() ? QStringLiteral("Run the project")
                                                      : QStringLiteral("Start and record a program…");
    for (EmptyAction *a : std::as_const(firstSteps_))
        a->offer(step);
}

void MainWindow::doFirstStep()
{
    if (session_.document.isOpen())
        session_.runs.run();
    else
        actions_->trigger("start");
}

// What is composed here, or what lives in a program that was not.
void MainWindow::chooseBoard()
{
    QWidget *now = session_.document.isOpen() ? static_cast<QWidget *>(board_) : live_;
    boards_->setCurrentWidget(now);
    boards_->setFocusProxy(now);
}

void MainWindow::layOut()
{
    auto *body = new QWidget;
    auto *bodyLayout = new QVBoxLayout(body);
    bodyLayout->setContentsMargins(0, 0, 0, 0);
    bodyLayout->setSpacing(0);
    bodyLayout->addWidget(ribbon_);
    courseBar_ = new CourseBar(&session_.course);
    bodyLayout->addWidget(courseBar_);
    bodyLayout->addWidget(pages_, 1);
    outer_ = new QStackedWidget;
    start_ = new StartPage(&remembered_);
    outer_->addWidget(start_);
    outer_->addWidget(body);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeHeader());
    layout->addWidget(messageBar_);
    layout->addWidget(outer_, 1);
}

void MainWindow::hearSession()
{
    hearOffers();
    connect(&session_.messages, &Messages::problem, this, [this](const QString &t) { tell(t, true); });
    connect(&session_.document, &Document::savingFailed, this, [this] {
        if (std::exchange(closing_, false)) {
            leaveUnsaved_ = true;
            tell(message_->text() + " Close again to leave without saving.", true);
        }
    });
    connect(&session_.messages, &Messages::note, this, [this](const QString &t) { tell(t, false); });
    connect(&session_.messages, &Messages::progress, this,
            [this](const QString &t) { stateText_->setText(t); });
    connect(&session_.runs, &Runs::stateChanged, this, [this] {
        if (session_.runs.state() == RunState::Running && messageAction_->isHidden())
            messageBar_->hide(); // what kept the last one from running
        showState();
    });
    connect(&session_.document, &Document::clashesChanged, this, [this] {
        if (!session_.document.workspace().files().clashing().isEmpty())
            show(Board);
    });
    connect(&session_.document, &Document::changed, this, &MainWindow::showState);
    connect(actions_, &Actions::refused, this, [this](const QString &why) { tell(why, false); });
    connect(&session_.document, &Document::opened, this, [this] {
        const QString folder = session_.document.workspace().place().folder;
        remembered_.use("projects", folder);
        remembered_.setValue("folder", QFileInfo(folder).path());
        chooseBoard();
        outer_->setCurrentIndex(1);
        messageBar_->hide();
        recallPage();
        board_->outline()->objects()->setFocus();
    });
    connect(&session_.shown, &ShownTrace::reset, this, [this] {
        remembered_.use("recordings", session_.shown.recordingPath());
        outer_->setCurrentIndex(1);
        if (!session_.document.isOpen())
            pages_->currentWidget()->setFocus();
        showState();
    });
    connect(&session_.runs, &Runs::buildFinished, this, [this] {
        for (const BuildMessage &m : session_.runs.buildMessages())
            if (m.error) {
                tell(QStringLiteral(
                         "The build failed at %1:%2. The program of the last successful build is kept.")
                         .arg(m.file)
                         .arg(m.line),
                     true);
                show(Board);
                return;
            }
    });
}

void MainWindow::hearPages()
{
    connect(ribbon_, &Ribbon::stallOpened, this, [this](int i) {
        show(Pace);
        pace_->showStall(i);
    });
    connect(pace_, &PacePage::moveAsked, this, [this](const QString &h, Shape s) {
        show(Board);
        session_.selection.select({{}, {}, h});
        board_->drawer()->planMove(h, s);
    });
    connect(pace_, &PacePage::toldAsked, this, [this](const QString &timer) {
        show(Board);
        session_.selection.select({timer, {}, {}});
        board_->drawer()->planTold(timer);
    });
    const auto toPlace = [this](const QString &file, int line) {
        show(Board);
        if (session_.document.isOpen())
            board_->drawer()->openPlace(file, line);
        else
            live_->openPlace(file, line);
    };
    connect(pace_, &PacePage::placeAsked, this, toPlace);
    connect(pace_, &PacePage::elsewhereAsked, this, [this](const QString &play, int times) {
        const QString folder = QFileDialog::getExistingDirectory(this, "The project to run the play on");
        if (!folder.isEmpty())
            session_.runs.playElsewhere(folder, play, times);
    });
    const auto toTime = [this](std::int64_t ns) {
        show(Trace);
        trace_->showTime(ns);
    };
    connect(pace_, &PacePage::timeAsked, this, toTime);
    connect(plays_, &PlaysPage::timeAsked, this, toTime);
    connect(trace_, &TracePage::placeAsked, this, toPlace);
    connect(why_, &WhyPage::placeAsked, this, toPlace);
    connect(why_, &WhyPage::timeAsked, this, toTime);
    connect(why_, &WhyPage::moveAsked, this, [this](const QString &handler) {
        show(Board);
        board_->drawer()->planMove(handler, Shape::Background);
    });
    connect(why_, &WhyPage::connectAsked, this, [this](const QString &beginning) {
        show(Board);
        board_->connectLine()->setText(beginning);
        board_->connectLine()->setFocus();
    });
    const auto whyOf = [this](const QString &widget, std::optional<std::int64_t> at) {
        show(Why);
        why_->askAbout(widget, at);
    };
    connect(trace_, &TracePage::whyAsked, this, whyOf);
    connect(live_, &LiveBoardView::whyAsked, this,
            [whyOf](const QString &widget) { whyOf(widget, std::nullopt); });
    connect(board_, &BoardPage::whyAsked, this,
            [whyOf](const QString &widget) { whyOf(widget, std::nullopt); });
}

QWidget *MainWindow::makeHeader()
{
    auto *header = new QWidget;
    header->setFixedHeight(headerHeight);
    header->setObjectName("header");
    title_ = new QLabel("Pipit");
    title_->setFont(titleFont());
    stateText_ = new QLabel;
    stateText_->setObjectName("stateText");
    stateText_->setFont(smallFont());
    run_ = new QPushButton("Run");
    run_->setObjectName("runButton");
    run_->setProperty("main", true);
    auto *layout = new QHBoxLayout(header);
    layout->setContentsMargins(4, 0, padding, 0);
    layout->setSpacing(4);
    auto *commands = new QPushButton("Commands");
    commands->setObjectName("commandsButton");
    commands->setProperty("word", true);
    commands->setToolTip("All commands, with their keys (F10)");
    connect(commands, &QPushButton::clicked, this, [this] {
        if (sheet_->isVisible())
            sheet_->hide();
        else
            sheet_->open();
    });
    layout->addWidget(new Bird);
    layout->addWidget(title_);
    layout->addSpacing(24);
    for (int i = 0; i < int(pageNames.size()); ++i) {
        auto *b = new QPushButton(pageNames[std::size_t(i)]);
        b->setProperty("word", true);
        b->setCheckable(true);
        b->setToolTip(QStringLiteral("Alt+%1").arg(i + 1));
        connect(b, &QPushButton::clicked, this, [this, i] { show(Page(i)); });
        layout->addWidget(b);
        tabs_ << b;
    }
    layout->addStretch();
    layout->addWidget(stateText_);
    layout->addSpacing(12);
    layout->addWidget(commands);
    layout->addWidget(run_);
    connect(run_, &QPushButton::clicked, this, [this] {
        messageBar_->hide();
        if (session_.runs.state() == RunState::Idle)
            session_.runs.run();
        else
            session_.runs.stop();
    });
    return header;
}

void MainWindow::hearStart()
{
    connect(start_, &StartPage::newAsked, this, &MainWindow::askForNewProject);
    connect(start_, &StartPage::openAsked, this, &MainWindow::askForProject);
    connect(start_, &StartPage::recordingAsked, this, &MainWindow::askForRecording);
    connect(start_, &StartPage::demoAsked, this, &MainWindow::openDemo);
    connect(start_, &StartPage::entriesAsked, this, &MainWindow::findInDesktop);
    connect(start_, &StartPage::chosen, this, [this](const QString &path) { session_.open(path); });
    connect(start_, &StartPage::programAsked, this, [this](const ProgramSpec &program, const QString &play) {
        session_.runs.record(program, play);
        if (session_.runs.state() != RunState::Idle)
            show(play.isEmpty() ? Trace : Plays);
    });
    start_->fill();
    session_.document.prepareCompiler();
}

static QString demoFolder()
{
    for (const char *place : {"/../../demos/ferry-desk/before", "/../share/pipit/demos/ferry-desk/before"})
        if (const QString folder = QDir::cleanPath(QCoreApplication::applicationDirPath() + place);
            QFileInfo::exists(folder))
            return folder;
    return {};
}

// A copy to play with: the one that Pipit brings along stays as it is.
void MainWindow::openDemo()
{
    const QString from = demoFolder();
    const QString to =
        QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/pipit/ferry-desk";
    if (from.isEmpty()) {
        tell("The demo is not installed: Pipit found no folder demos/ferry-desk. Install Pipit again.", true);
        return;
    }
    if (!QFileInfo::exists(to + "/ferry-desk.pipit"))
        if (auto ok = copyTree(from, to); !ok) {
            tell(ok.problem().text(), true);
            return;
        }
    session_.open(to);
}

void MainWindow::showPace(PacePage::Side side)
{
    show(Pace);
    pace_->showSide(side);
    pace_->focusSide();
}

void MainWindow::beginCourse()
{
    if (session_.course.exists())
        session_.course.begin();
    else
        tell("The open project has no course. The demo has one.", false);
}

void MainWindow::show(Page page)
{
    const bool another = pages_->currentIndex() != page;
    pages_->setCurrentIndex(page);
    if (another) // the keyboard goes along, to what the page is about
        pages_->currentWidget()->setFocus();
    for (int i = 0; i < tabs_.size(); ++i)
        tabs_[i]->setChecked(i == page);
    session_.course.pageShown(tabs_[page]->text());
}

void MainWindow::showState()
{
    offerFirstSteps();
    const QString name = session_.title();
    const bool dirty = session_.document.isOpen() && session_.document.workspace().dirty();
    title_->setText(name.isEmpty() ? "Pipit" : name + (dirty ? " ·" : ""));
    title_->setToolTip(dirty ? "Not saved yet" : QString());
    const RunState s = session_.runs.state();
    run_->setText(s == RunState::Idle ? "Run" : "Stop");
    run_->setEnabled(s != RunState::Idle || session_.document.isOpen());
    run_->setToolTip("Ctrl+Return");
    for (QPushButton *b : tabs_)
        b->setEnabled(outer_->currentIndex() == 1);
    if (s == RunState::Building && stateText_->text().isEmpty())
        stateText_->setText("Building");
    else if (s == RunState::Running)
        stateText_->setText("Running");
    else if (s == RunState::Stopping)
        stateText_->setText("Stopping");
    else if (s == RunState::Idle)
        stateText_->setText(session_.document.isOpen() || session_.shown.trace() ? session_.shown.lastEnding()
                                                                                 : QString());
}

void MainWindow::takeLook()
{
    const Tokens &t = Tokens::current();
    QPalette p = QApplication::palette(); // what it says of buttons stays the desktop's
    p.setColor(QPalette::Window, t.paper);
    p.setColor(QPalette::Base, t.surface);
    p.setColor(QPalette::Text, t.ink);
    p.setColor(QPalette::WindowText, t.ink);
    p.setColor(QPalette::ButtonText, t.ink);
    p.setColor(QPalette::PlaceholderText, t.ink2);
    p.setColor(QPalette::Highlight, t.buff);
    p.setColor(QPalette::HighlightedText, t.ink);
    QApplication::setPalette(p);
    setStyleSheet(
        pipit::app::styleSheet(t) +
        QStringLiteral("#header, #messageBar { background: %1; } #hair { background: %2; border: none; }")
            .arg(t.raised.name(), t.hairline.name()));
    board_->drawer()->editor()->takeLook();
    update();
}

bool MainWindow::event(QEvent *e)
{
    if (e->type() == QEvent::ApplicationPaletteChange || e->type() == QEvent::PaletteChange)
        if (const bool dark = systemIsDark(); std::exchange(systemDark_, dark) != dark) {
            Tokens::takeSystem(dark);
            takeLook();
        }
    return QWidget::event(e);
}

void MainWindow::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.fillRect(rect(), Tokens::current().paper);
    p.fillRect(QRect(0, 0, width(), headerHeight), Tokens::current().raised);
}

void MainWindow::closeEvent(QCloseEvent *event)
{
    keepPlaces();
    // Unsaved work is saved on the way out; what cannot be saved keeps the window open and says why.
    const bool unsaved =
        session_.document.isOpen() && (session_.document.workspace().dirty() || session_.document.saving());
    if (!unsaved || leaveUnsaved_) {
        event->accept();
        return;
    }
    event->ignore();
    closing_ = true;
    session_.document.save([this] { close(); });
}

} // namespace pipit::app
