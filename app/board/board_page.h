// The Board: preview and outline, connections as sentences, handler cards, strands, the drawer.
//
// Threads: the loop's thread only.
#pragma once

#include "app/board/drawer.h"
#include "app/board/outline.h"
#include "app/board/preview_view.h"
#include "app/board/wiring_view.h"

#include <QCompleter>
#include <QStringListModel>

namespace pipit::app
{

class BoardPage : public QWidget
{
    Q_OBJECT
public:
    explicit BoardPage(Session *session, QWidget *parent = nullptr);
    Drawer *drawer() const { return drawer_; }
    WiringView *wiring() const { return wiring_; }
    Outline *outline() const { return outline_; }
    PreviewView *preview() const { return preview_; }
    QLineEdit *connectLine() const { return connect_; }
    void beginLine(const QString &object, const QString &what);

protected:
    void resizeEvent(QResizeEvent *event) override;

private:
    void makeConnection();
    void complete(const QString &typed);

    Session *session_;
    PreviewView *preview_;
    Outline *outline_;
    WiringView *wiring_;
    Drawer *drawer_;
    QLineEdit *filter_, *connect_;
    QStringListModel *completions_;
    QLabel *changed_;
    QWidget *left_;
};

} // namespace pipit::app
