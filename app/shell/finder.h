// The finder: actions, widgets, handlers, connections, what the selected thing offers, plays and
// recordings. Everything is listed before anything is typed; a full name and Return go there.
//
// Threads: the loop's thread only. What is listed comes from `gather`, asked when it opens.
#pragma once

#include "app/look/row_list.h"

#include <QLineEdit>
#include <QPointer>

namespace pipit::app
{

struct Found {
    QString words; // what is shown and searched
    QString tail;  // what kind it is, or its keys
    QString name;  // a full name of it
    std::function<void()> go;
};

class Finder : public QWidget
{
    Q_OBJECT
public:
    explicit Finder(QWidget *window);
    void open(std::vector<Found> all);
    void leave();
    QLineEdit *line() const { return line_; }
    RowList *list() const { return list_; }

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void match();
    void go();
    QLineEdit *line_;
    RowList *list_;
    std::vector<Found> all_;
    QPointer<QWidget> before_; // who had the focus
};

} // namespace pipit::app
