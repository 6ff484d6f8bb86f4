// The Board: preview and outline, connections as sentences, handler cards, strands, the drawer.
//
// Threads: the loop's thread only.
#pragma once

#include "app/board/drawer.h"
#include "app/board/outline.h"
#include "app/board/preview_bar.h"
#include "app/board/tab_walk.h"
#include "app/board/windows_row.h"
#include "app/board/wiring_view.h"
#include "app/look/note_line.h"

#include <QCompleter>
#include <QStringListModel>
#include <QVBoxLayout>

namespace pipit::app
{

class BoardPage : public QWidget
{
    Q_OBJECT
public:
    explicit BoardPage(Session *session, QWidget *parent = nullptr);
    Drawer *drawer() const { return drawer_; }
    TabWalk *tabWalk() const { return tabWalk_; }
    WiringView *wiring() const { return wiring_; }
    Outline *outline() const { return outline_; }
    PreviewView *preview() const { return preview_; }
    WindowsRow *windows() const { return windows_; }
    PreviewBar *previewBar() const { return previewBar_; }
    QLineEdit *connectLine() const { return connect_; }
    QString connectNote() const { return said_->said(); }
    void beginLine(const QString &object, const QString &what);
    // Begins a connection from what the person did last in the running program.
    void connectLastInput();
    // Widths that were dragged, 0 where they are the usual ones: the left column, and the cards.
    std::pair<int, int> columns() const { return {leftWidth_, wiring_->cardsWidth()}; }
    void setColumns(int left, int cards);
    bool isLarge() const { return large_; }
    void setLarge(bool large);
    void showGenerated();

Q_SIGNALS:
    void columnsChanged();
    void whyAsked(const QString &widget);

protected:
    void resizeEvent(QResizeEvent *event) override;

private:
    void layOut();
    void fitColumns();
    void makeMenus();
    void hearPreview(PreviewView *view);
    void showThingMenu(const QPoint &at);
    void takeText(const QString &widget, const QString &property, const QString &text);
    void makeConnection();
    void complete(const QString &typed);
    // What the typed connection would do, before it is made.
    void look();
    void dropOffer(const QString &object, const QString &what, const QPoint &where);

    Session *session_;
    PreviewView *preview_;
    WindowsRow *windows_; // while the window is shown large
    PreviewBar *previewBar_;
    Outline *outline_;
    WiringView *wiring_;
    Drawer *drawer_;
    TabWalk *tabWalk_;
    QLineEdit *filter_, *connect_;
    QStringListModel *completions_;
    QLabel *changed_;
    NoteLine *said_;
    QTimer lookSoon_;
    QWidget *left_;
    int leftWidth_ = 0; // as it was dragged
    bool large_ = false;
};

} // namespace pipit::app
