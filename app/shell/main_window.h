// The window: a header that never goes away, the pace ribbon, a line for messages, four pages.
//
// Threads: the loop's thread only.
#pragma once

#include "app/board/board_page.h"
#include "app/pace/pace_page.h"
#include "app/plays/plays_page.h"
#include "app/session/session.h"
#include "app/shell/ribbon.h"
#include "app/trace/trace_page.h"

#include <QStackedWidget>
#include <QWidget>

namespace pipit::app
{

class MainWindow : public QWidget
{
    Q_OBJECT
public:
    explicit MainWindow(QWidget *parent = nullptr);
    Session *session() { return &session_; }
    BoardPage *board() const { return board_; }
    TracePage *trace() const { return trace_; }
    PacePage *pace() const { return pace_; }
    PlaysPage *playsPage() const { return plays_; }
    Ribbon *ribbon() const { return ribbon_; }
    QString message() const { return message_->text(); }
    enum Page { Board, Trace, Pace, Plays };
    void show(Page page);
    using QWidget::show;
    void takeLook();

protected:
    void paintEvent(QPaintEvent *event) override;
    void closeEvent(QCloseEvent *event) override;

private:
    struct Action {
        QString words, keys;
        std::function<void()> run;
    };
    QWidget *makeHeader();
    QWidget *makeStart();
    void makePages();
    void makeMessageBar();
    void layOut();
    void hearSession();
    void hearPages();
    QList<Action> runActions();
    QList<Action> composeActions();
    QList<Action> codeActions();
    QList<Action> fileActions();
    void makeActions();
    void makeFinder();
    void showFinder();
    void tell(const QString &text, bool broken);
    void offerUnsaved();
    void showState();
    void askForProject();
    void askForNewProject();
    void askForRecording();
    void startAndRecord();

    Session session_;
    bool closing_ = false;      // once everything is saved
    bool leaveUnsaved_ = false; // what cannot be saved was said; closing again leaves
    QLabel *title_, *stateText_;
    QPushButton *run_;
    QList<QPushButton *> tabs_;
    Ribbon *ribbon_;
    QWidget *messageBar_;
    QLabel *message_;
    QPushButton *messageAction_;
    QStackedWidget *pages_, *outer_;
    BoardPage *board_;
    TracePage *trace_;
    PacePage *pace_;
    PlaysPage *plays_;
    QLineEdit *programLine_, *finder_;
    QList<Action> actions_;
};

} // namespace pipit::app
