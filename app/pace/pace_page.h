// Pace: stalls with who, where, how long and what waited; the move that mends one; two runs of the
// same play side by side.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/row_list.h"
#include "app/session/session.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>

namespace pipit::app
{

// The two runs as a small table of figures, painted.
class ComparisonView : public QWidget
{
    Q_OBJECT
public:
    explicit ComparisonView(QWidget *parent = nullptr);
    void set(const Comparison &c);
    const Comparison &comparison() const { return comparison_; }
    QSize sizeHint() const override { return {360, 240}; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    Comparison comparison_;
    bool has_ = false;
};

class PacePage : public QWidget
{
    Q_OBJECT
public:
    explicit PacePage(Session *session, QWidget *parent = nullptr);
    RowList *stalls() const { return stalls_; }
    RowList *waiting() const { return waiting_; }
    QLabel *sentence() const { return sentence_; }
    QPushButton *moveButton() const { return move_; }
    ComparisonView *comparison() const { return comparison_; }
    QPushButton *playButton() const { return play_; }
    QPushButton *elsewhereButton() const { return elsewhere_; }
    QComboBox *plays() const { return plays_; }
    void showStall(int index); // -1: the one that lasts now

Q_SIGNALS:
    void moveAsked(const QString &handler, pipit::Shape shape);
    void placeAsked(const QString &file, int line);
    void timeAsked(std::int64_t ns);
    void elsewhereAsked(const QString &play);

private:
    QWidget *makeStallSide();
    QWidget *makeCompareSide();
    void refresh();
    void tellEmpty();
    void showDetails();
    void fillRuns();
    void compare();
    const Stall *current() const;

    Session *session_;
    RowList *stalls_, *waiting_;
    QLabel *title_, *sentence_, *shown_;
    QPushButton *move_, *open_, *trace_, *play_, *elsewhere_;
    QComboBox *plays_, *before_, *after_;
    ComparisonView *comparison_;
    std::size_t stallsShown_ = SIZE_MAX;
};

} // namespace pipit::app
