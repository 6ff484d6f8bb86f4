// The Trace: what happened, as sentences, time downward; idle time folded to one row.
//
// Threads: the loop's thread only; rows are counted on a worker (TraceRows). While the program runs the view
// follows the end unless a row is selected or it is paused.
#pragma once

#include "app/look/tall_list.h"
#include "app/trace/account_panel.h"
#include "app/trace/trace_rows.h"
#include "app/trace/trace_ruler.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include <optional>
#include <set>

namespace pipit::app
{

class TracePage : public QWidget
{
    Q_OBJECT
public:
    explicit TracePage(Session *session, QWidget *parent = nullptr);
    TallList *list() const { return list_; }
    TraceRows *model() const { return model_; }
    QLineEdit *filter() const { return filter_; }
    void showTime(std::int64_t ns); // selects the row at or before it
    void showSpan(SpanId span);     // opens what it is folded away in
    void goToInput(bool next);
    void goToCause();
    void goToEffect();
    void measure(); // from the selected row on
    void mark();    // the selected row, or what came last: a line asks for a note; once more: no mark
    QLineEdit *note() const { return note_; }
    AccountPanel *account() const { return about_; }
    TraceRuler *ruler() const { return ruler_; }

Q_SIGNALS:
    void placeAsked(const QString &file, int line);
    void whyAsked(const QString &widget, std::optional<std::int64_t> at);

protected:
    void showEvent(QShowEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    bool foldOrUnfold(int key);
    void goTo(int row);
    void tellRuler();
    void makeNote();
    void endNote();
    void tell();
    void tellEmpty();
    void follow();
    void arrived();
    void tellAbout(const QModelIndex &index);
    void showRowMenu(const QModelIndex &index, const QPoint &global);

    Session *session_;
    TallList *list_;
    TraceRows *model_;
    QLineEdit *filter_, *note_;
    QPushButton *pause_, *all_;
    AccountPanel *about_;
    TraceRuler *ruler_;
    std::set<SpanId> open_;   // in sight, when they were painted
    SpanId marked_;           // what the note is of
    SpanId chosen_;           // in the row that is selected
    bool chosenFold_ = false; // that row is a fold
    bool stale_ = true;       // the shown account belongs to another trace, or to other rows
    bool atEnd_ = true;
    std::int64_t wanted_ = 0; // to be shown once it is computed
    bool readToEnd_ = false;  // and not looked at since
};

} // namespace pipit::app
