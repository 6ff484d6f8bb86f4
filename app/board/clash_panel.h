// A user file that was changed here and outside at the same places: both texts side by side, a choice for
// each place.
//
// Threads: the loop's thread only.
#pragma once

#include "app/session/session.h"

#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>

namespace pipit::app
{

class ClashPanel : public QWidget
{
    Q_OBJECT
public:
    explicit ClashPanel(Session *session, QWidget *parent = nullptr);
    // Shows the first clash there is; false when there is none.
    bool showFirst();
    QPushButton *keepHere() const { return here_; }
    QPushButton *keepThere() const { return there_; }
    QString heading() const { return heading_->text(); }

Q_SIGNALS:
    void settled();

private:
    void choose(bool mine);
    void showPlace();
    Session *session_;
    QLabel *heading_;
    QPlainTextEdit *mine_, *theirs_;
    QPushButton *here_, *there_, *allHere_, *allThere_;
    QString file_;
    QList<MergePiece> places_;
    QList<bool> chosen_;
};

} // namespace pipit::app
