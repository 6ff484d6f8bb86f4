// Before and after: plays a play, as often as wanted, and sets the runs against those from before a change.
//
// Threads: the loop's thread only.
#pragma once

#include "app/pace/comparison_view.h"
#include "app/session/session.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>

namespace pipit::app
{

class ComparePanel : public QWidget
{
    Q_OBJECT
public:
    explicit ComparePanel(Session *session, QWidget *parent = nullptr);
    ComparisonView *comparison() const { return comparison_; }
    QPushButton *playButton() const { return play_; }
    QPushButton *elsewhereButton() const { return elsewhere_; }
    QPushButton *pageButton() const { return page_; }
    QComboBox *plays() const { return plays_; }
    QComboBox *times() const { return times_; }
    void savePage(const QString &path);

Q_SIGNALS:
    void elsewhereAsked(const QString &play, int times);

private:
    struct Series { // runs that were asked for together
        QString label;
        std::vector<ComparedRun> runs;
    };
    void fillPlays();
    void fillRuns();
    void compare();
    void tellPlay();
    void askForPage();
    const Series *chosen(const QComboBox *box) const;

    Session *session_;
    QComboBox *plays_, *times_, *before_, *after_;
    QWidget *runs_; // which two are compared
    QPushButton *play_, *elsewhere_, *page_;
    ComparisonView *comparison_;
    QLabel *said_;
    std::vector<Series> series_;
};

} // namespace pipit::app
