// The left column of the Board: the outline as short sentences with a line to add to it, and what
// the selected widget offers.
//
// Threads: the loop's thread only.
#pragma once

#include "app/shell/row_list.h"
#include "app/shell/session.h"

#include <QLabel>
#include <QLineEdit>
#include <QWidget>

namespace pipit::app
{

class Outline : public QWidget
{
    Q_OBJECT
public:
    explicit Outline(Session *session, QWidget *parent = nullptr);
    QLineEdit *addLine() const { return add_; }
    RowList *objects() const { return objects_; }
    RowList *offers() const { return offers_; }
    QLineEdit *valueLine() const { return value_; }

Q_SIGNALS:
    void offerChosen(const QString &object, const QString &what);

private:
    void showProject();
    void showOffers();
    void add();
    void setValue();
    void takeSelection();

    Session *session_;
    RowList *objects_, *offers_;
    QLineEdit *add_, *value_;
    QLabel *offersTitle_;
    QHash<QString, QString> says_; // when each offer happens
};

} // namespace pipit::app
