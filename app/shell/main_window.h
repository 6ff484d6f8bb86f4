// The window: a header that never goes away, the pace ribbon, a line for messages, four pages.
//
// Threads: the loop's thread only.
#pragma once

#include "app/board/board_page.h"
#include "app/board/live_board.h"
#include "app/look/empty_action.h"
#include "app/pace/pace_page.h"
#include "app/plays/plays_page.h"
#include "app/session/remembered.h"
#include "app/session/session.h"
#include "app/shell/actions.h"
#include "app/shell/course_bar.h"
#include "app/shell/desktop_settings.h"
#include "app/shell/finder.h"
#include "app/shell/ribbon.h"
#include "app/shell/sheet.h"
#include "app/shell/start_page.h"
#include "app/trace/trace_page.h"
#include "app/why/why_page.h"

#include <QStackedWidget>
#include <QWidget>

#include <array>
#include <optional>

namespace pipit::app
{

class MainWindow : public QWidget
{
    Q_OBJECT
public:
    explicit MainWindow(QWidget *parent = nullptr);
    Session *session() { return &session_; }
    BoardPage *board() const { return board_; }
    LiveBoardView *liveBoard() const { return live_; }
    TracePage *trace() const { return trace_; }
    PacePage *pace() const { return pace_; }
    PlaysPage *playsPage() const { return plays_; }
    WhyPage *why() const { return why_; }
    Ribbon *ribbon() const { return ribbon_; }
    CourseBar *courseBar() const { return courseBar_; }
    StartPage *startPage() const { return start_; }
    Finder *finder() const { return finder_; }
    Sheet *sheet() const { return sheet_; }
    Actions *actions() { return actions_; }
    Remembered *remembered() { return &remembered_; }
    QString message() const { return message_->text(); }
    enum Page { Board, Trace, Pace, Plays, Why };
    // In the order of Page; the one list of them for header, commands and courses.
    static constexpr std::array pageNames{"Board", "Trace", "Pace", "Plays", "Why"};
    void show(Page page);
    using QWidget::show;
    void takeLook();
    void greet(); // says once, on the first start, where all commands are

protected:
    bool event(QEvent *event) override;
    void paintEvent(QPaintEvent *event) override;
    void closeEvent(QCloseEvent *event) override;

private:
    QWidget *makeHeader();
    void hearStart();
    void makePages();
    void chooseBoard();
    void offerFirstSteps();
    void doFirstStep();
    void makeMessageBar();
    void layOut();
    void hearSession();
    void hearOffers();
    void hearPages();
    QList<Action> runActions();
    QList<Action> pageActions();
    QList<Action> composeActions();
    QList<Action> codeActions();
    QList<Action> fileActions();
    void makeActions();
    void showFinder();
    void findEverything(std::vector<Found> &all);
    void findInProject(std::vector<Found> &all);
    void findInDesktop();
    void followDesktop();
    void recallPlaces();
    void recallPage();
    void keepPlaces();
    void openDemo();
    void beginCourse();
    void showPace(PacePage::Side side);
    void tell(const QString &text, bool broken);
    void ask(const QString &text, const QString &action, const std::function<void()> &answer);
    void offerUnsaved();
    void offerText(const QString &sentences, const QString &text);
    void showState();
    QString folderToStartIn() const; // a file dialog
    void askForProject();
    void askForNewProject();
    void askForRecording();
    void askForPackedRecording();
    void askWhereToPack();
    void askForReport();

    Session session_;
    Remembered remembered_;
    DesktopSettings desktop_;
    Actions *actions_;
    bool pageRecalled_ = false;
    bool systemDark_ = false;
    bool closing_ = false;      // once everything is saved
    bool leaveUnsaved_ = false; // what cannot be saved was said; closing again leaves
    QLabel *title_, *stateText_;
    QPushButton *run_;
    QList<QPushButton *> tabs_;
    QList<EmptyAction *> firstSteps_; // one in each list that a run fills
    Ribbon *ribbon_;
    CourseBar *courseBar_ = nullptr;
    QWidget *messageBar_;
    QLabel *message_;
    QPushButton *messageAction_;
    std::function<void()> answer_; // to what the message asks
    std::optional<int> offeredAt_; // the model's state at which it offers to undo what was removed
    QStackedWidget *pages_, *outer_;
    BoardPage *board_;
    LiveBoardView *live_;    // in its place while no project is open
    QStackedWidget *boards_; // both
    TracePage *trace_;
    PacePage *pace_;
    PlaysPage *plays_;
    WhyPage *why_;
    StartPage *start_;
    Finder *finder_;
    Sheet *sheet_;
};

} // namespace pipit::app
