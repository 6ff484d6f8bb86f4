// The sheet under the bird: everything that can be done, in groups, with its keys; keys are changed here.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/row_list.h"
#include "app/shell/actions.h"

#include <QKeySequenceEdit>
#include <QLabel>
#include <QPushButton>

namespace pipit::app
{

class Sheet : public QFrame
{
    Q_OBJECT
public:
    Sheet(Actions *actions, QWidget *window);
    void open();
    RowList *list() const { return list_; }
    QKeySequenceEdit *keysLine() const { return keys_; }
    QString note() const { return note_->text(); }

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void fill();
    void beginKeys();
    void takeKeys(const QString &keys);
    void place();

    Actions *actions_;
    RowList *list_;
    QLabel *note_;
    QPushButton *change_, *usual_;
    QKeySequenceEdit *keys_;
};

} // namespace pipit::app
