// The drawer below the wiring: code, last calls, output, build messages, and a move's preview.
//
// Threads: the loop's thread only.
#pragma once

#include "app/board/clash_panel.h"
#include "app/board/move_panel.h"
#include "app/board/output_pane.h"
#include "app/board/rename_panel.h"
#include "app/code/editor.h"
#include "app/look/row_list.h"

#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QStackedWidget>

namespace pipit::app
{

class Drawer : public QWidget
{
    Q_OBJECT
public:
    explicit Drawer(Session *session, QWidget *parent = nullptr);

    void openHandler(const QString &handler); // and goes into its code
    void showHandler(const QString &handler); // the focus stays where it is
    void openPlace(const QString &file, int line, int column = 0);
    void planMove(const QString &handler, Shape shape);
    void planTold(const QString &timer);   // in the place of one that polls
    void planOnTime(const QString &timer); // in the place of one that sweeps
    void planRename(const QString &from, const QString &to, bool all);
    RowList *findingsList() const { return findings_; }
    void showFindings();
    void findInCode();
    QLineEdit *findLine() const { return find_; }
    bool isOpen() const { return open_; }
    void setOpen(bool open);
    Editor *editor() const { return editor_; }
    MovePanel *movePanel() const { return move_; }
    RenamePanel *renamePanel() const { return rename_; }
    ClashPanel *clashPanel() const { return clash_; }
    void showClashes(); // if there are any
    RowList *buildList() const { return build_; }

private:
    enum Page { Code, Calls, Findings, Output, Build, MovePage, ClashPage };
    void makePages();
    QLayout *makeTabs();
    void hearSession();
    void hearPages();
    void show(Page page);
    void showChange(QWidget *panel);
    void endChange();
    void showCalls();
    void showBuild();
    void fillFindings();
    void showCodeMenu(const QPoint &global);

    Session *session_;
    QStackedWidget *pages_;
    QList<QPushButton *> tabs_;
    Editor *editor_;
    RowList *calls_, *findings_, *build_;
    QLineEdit *find_;
    OutputPane *output_;
    MovePanel *move_;
    RenamePanel *rename_;
    QStackedWidget *changes_; // the two of them
    ClashPanel *clash_;
    bool open_ = false;
};

} // namespace pipit::app
