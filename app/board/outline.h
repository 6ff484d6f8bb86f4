// The left column of the Board: the windows as short sentences with a line to add to them and a
// line to set what is selected, and what the selected widget offers.
//
// Threads: the loop's thread only. Widgets are moved by dragging, or with Alt and the arrow keys.
#pragma once

#include "app/look/note_line.h"
#include "app/look/row_list.h"
#include "app/session/session.h"

#include <QLabel>
#include <QLineEdit>
#include <QStringListModel>
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
    // What is to be said of the name that is being typed.
    QString addNote() const { return addNote_->said(); }
    QString valueNote() const { return valueNote_->said(); }
    QStringList selectedNames() const;

    void copy();
    void cut();
    void paste();
    void removeSelected();
    // Among its siblings, or into or out of a container.
    enum class Step { Up, Down, In, Out };
    void moveSelected(Step step);
    // Opens the sentence of what is selected as a line, where it stands.
    void editSentence();

Q_SIGNALS:
    void offerChosen(const QString &object, const QString &what);
    // An offer was dragged to a place on the screen.
    void offerDropped(const QString &object, const QString &what, const QPoint &globalPosition);
    void renameAsked(const QString &from, const QString &to, bool all);
    void picked(const QString &object); // with Space

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void makeLists();
    void makeLines();
    void hear();
    void makeKeys();
    void showProject();
    QString sentenceOf(const WidgetNode &widget);
    void showOffers();
    void add();
    void lookAtName(const QString &typed);
    void setValue();
    void completeValue(const QString &typed);
    void takeSelection();
    std::pair<QString, int> placeForNew() const;
    bool dragEvent(QEvent *event);
    bool offerEvent(QEvent *event);
    bool sentenceEvent(QEvent *event);
    void takeSentence();
    void leaveSentence();
    void noteUnderSentence(const QString &text);
    void dropAt(const QPoint &at);

    Session *session_;
    RowList *objects_, *offers_;
    QLineEdit *add_, *value_;
    QLineEdit *sentence_ = nullptr; // over the selected row while it is edited; the window owns it
    QString edited_;                // whose sentence it is
    QLabel *offersTitle_;
    NoteLine *addNote_, *valueNote_, *sentenceNote_ = nullptr;
    QStringListModel *addWords_, *valueWords_;
    struct Said {
        QString className, layout;
        QList<Property> properties;
        QString text;
    };
    QHash<QString, Said> sentences_; // by name, as they were last made
    QHash<QString, QString> says_;   // when each offer happens
    QString dragged_, offered_;
    QPoint pressedAt_;
};

} // namespace pipit::app
