// The words below the preview that say, and switch, how it is shown: colours, direction, length of its
// texts, size of its type, style, size.
//
// Threads: the loop's thread only.
#pragma once

#include "app/board/preview_view.h"

#include <QLineEdit>
#include <QMenu>
#include <QPushButton>

namespace pipit::app
{

class PreviewBar : public QWidget
{
    Q_OBJECT
public:
    explicit PreviewBar(PreviewView *view, QWidget *parent = nullptr);
    QMenu *menu() const { return menu_; }
    QString said() const { return button_->text(); }

private:
    using Change = std::function<void(PreviewView::Options &, bool)>;
    void add(const QString &text, const Change &change);
    void addStyles();
    void addSize();
    void say();

    PreviewView *view_;
    QPushButton *button_;
    QMenu *menu_;
};

} // namespace pipit::app
