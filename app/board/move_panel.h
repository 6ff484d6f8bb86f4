// The preview of a move: the code as it stands beside the code as it will, with the bands' colours at their
// edges, or why it is not moved, line by line. Inline, never modal.
//
// Threads: the loop's thread only. Plans are made on a worker; a plan that is out of date is made anew.
#pragma once

#include "app/board/move_choices.h"
#include "app/look/code_pane.h"
#include "app/look/row_list.h"
#include "app/session/session.h"
#include "core/moves/move.h"

#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QWidget>

namespace pipit::app
{

class MovePanel : public QWidget
{
    Q_OBJECT
public:
    explicit MovePanel(Session *session, QWidget *parent = nullptr);
    ~MovePanel() override;
    // What comes of it is shown when it is known.
    void plan(const QString &handler, Shape shape);
    // In the place of a timer that polls, or of one that sweeps.
    void planTold(const QString &timer);
    void planOnTime(const QString &timer);
    bool isReady() const { return move_.has_value(); } // it can be applied
    bool isPlanning() const { return cancel_ != nullptr; }
    QPushButton *applyButton() const { return apply_; }
    RowList *reasons() const { return reasons_; }
    QPushButton *answerButton() const { return answer_; }
    QPushButton *offerButton() const { return offer_; }
    MoveChoices *choices() const { return choices_; }
    QString sentences() const { return words_->text(); }
    CodePane *before() const { return before_; }
    CodePane *after() const { return after_; }

Q_SIGNALS:
    void applied(const QString &handler);
    void dismissed();
    void planned(); // shown, or refused
    void placeAsked(const QString &file, int line);

private:
    enum class About { Handler, Told, OnTime };
    void makeColumns(QLayout *left);
    void setShares(const QList<int> &shares);
    void widen(int right, int by); // pixels
    void planTimer(const QString &timer, About about);
    void ask();
    [[nodiscard]] QString title() const;
    void take(const Result<Move> &move);
    void showMove(const Move &move);
    void showRefusal(const Move &move);
    void apply();
    void forget();
    void tellReason(int line);
    void tellOffer(const Move &move);
    bool changesSomething(const Move &move) const;
    void answerFor(); // the reason that is chosen

    Session *session_;
    QLabel *title_, *words_;
    CodePane *before_, *after_;
    RowList *reasons_;
    QStackedWidget *right_;    // the code, or the reasons
    QList<QWidget *> columns_; // what it says, the code as it stands, the code as it will stand
    QPushButton *apply_, *answer_, *offer_, *leave_;
    MoveChoices *choices_;
    QString handler_, why_;
    Shape shape_ = Shape::Background;
    About about_ = About::Handler; // the others are about a timer
    QSet<int> trusted_;
    std::optional<Move> move_;
    std::optional<MoveOffer> offered_;
    std::shared_ptr<std::atomic<bool>> cancel_; // of the plan that is being made
};

} // namespace pipit::app
