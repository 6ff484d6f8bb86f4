// All windows of the project at their true size, side by side: what stands in place of the sentences while
// the window is shown large. The first is the Board's own preview, which is given back afterwards.
//
// Threads: the loop's thread only.
#pragma once

#include "app/board/preview_view.h"

#include <QHBoxLayout>
#include <QScrollArea>

#include <functional>

namespace pipit::app
{

class WindowsRow : public QScrollArea
{
    Q_OBJECT
public:
    // `hear` connects a view that was made to the Board.
    WindowsRow(Session *session, std::function<void(PreviewView *)> hear, QWidget *parent = nullptr);
    void show(PreviewView *first); // and what else there is
    void giveBack();               // the first; the others are gone
    const QList<PreviewView *> &views() const { return views_; }
    // Where a widget is seen, in this area's coordinates; invalid when it is not.
    QRect placeOf(const QString &object) const;
    // The view of the selected thing's window takes the focus, and what is selected is scrolled to.
    void goToSelected();

private:
    void rebuild();
    QStringList windows() const;

    Session *session_;
    std::function<void(PreviewView *)> hear_;
    QWidget *inside_;
    QHBoxLayout *row_;
    PreviewView *first_ = nullptr;
    QList<PreviewView *> views_;
    QList<QWidget *> columns_;
    QStringList shown_;
};

} // namespace pipit::app
