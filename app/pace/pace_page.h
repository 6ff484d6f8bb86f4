// Pace: stalls with who, where, how long and what waited, and the move that mends one; timers; what wears on
// the loop; runs of the same play side by side.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/row_list.h"
#include "app/pace/compare_panel.h"
#include "app/pace/elsewhere_panel.h"
#include "app/pace/strains_panel.h"
#include "app/pace/timers_panel.h"

#include <QStackedWidget>

namespace pipit::app
{

class PacePage : public QWidget
{
    Q_OBJECT
public:
    explicit PacePage(Session *session, QWidget *parent = nullptr);
    RowList *stalls() const { return stalls_; }
    RowList *waiting() const { return waiting_; }
    QLabel *sentence() const { return sentence_; }
    ElsewherePanel *elsewhere() const { return elsewhere_; }
    QPushButton *moveButton() const { return move_; }
    ComparePanel *compare() const { return compare_; }
    TimersPanel *timers() const { return timers_; }
    StrainsPanel *strains() const { return strains_; }
    enum Side { Stalls, Timers, Strains };
    void showSide(Side side);
    void focusSide(); // the keyboard goes to its list
    Side side() const { return Side(sides_->currentIndex()); }
    ComparisonView *comparison() const { return compare_->comparison(); }
    QPushButton *playButton() const { return compare_->playButton(); }
    QPushButton *elsewhereButton() const { return compare_->elsewhereButton(); }
    QComboBox *plays() const { return compare_->plays(); }
    void showStall(int index); // -1: the one that lasts now

Q_SIGNALS:
    void moveAsked(const QString &handler, pipit::Shape shape);
    void toldAsked(const QString &timer); // notifications instead of its polling
    void placeAsked(const QString &file, int line);
    void timeAsked(std::int64_t ns);
    void elsewhereAsked(const QString &play, int times);

protected:
    void showEvent(QShowEvent *event) override;
    void hideEvent(QHideEvent *event) override;

private:
    QWidget *makeLeft();
    void nameSides();
    QWidget *makeStallSide();
    void refresh();
    void tellEmpty();
    void showDetails();
    const Stall *current() const;
    void moveCurrent();

    Session *session_;
    RowList *stalls_, *waiting_;
    PaceLook *look_;
    QList<QPushButton *> tabs_;
    QStackedWidget *sides_;
    TimersPanel *timers_;
    StrainsPanel *strains_;
    QLabel *sentence_;
    QPushButton *move_, *open_, *trace_;
    ElsewherePanel *elsewhere_; // in the place of the comparison, while it is asked for
    QStackedWidget *right_;
    ComparePanel *compare_;
    std::size_t stallsShown_ = SIZE_MAX; // rows
    bool anyStallShown_ = false;
};

} // namespace pipit::app
