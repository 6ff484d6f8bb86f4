// The timers of the shown run: what each promised, kept and cost; and the lab of the chosen one.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/row_list.h"
#include "app/pace/pace_look.h"
#include "app/pace/timer_lab.h"

#include <QPushButton>

namespace pipit::app
{

class TimersPanel : public QWidget
{
    Q_OBJECT
public:
    TimersPanel(Session *session, PaceLook *look, QWidget *parent = nullptr);
    [[nodiscard]] RowList *list() const { return list_; }
    [[nodiscard]] TimerLab *lab() const { return lab_; }
    [[nodiscard]] QLabel *sentence() const { return sentence_; }
    [[nodiscard]] QPushButton *toldButton() const { return told_; }

Q_SIGNALS:
    void toldAsked(const QString &timer); // notifications instead of its polling

private:
    void fill();
    void showTimer();
    void tryInterval(const QString &timer, std::chrono::milliseconds interval);
    void keepInterval(const QString &timer, std::chrono::milliseconds interval);
    const TimerRow *current() const;
    QString codeOf(const QString &timer) const;

    Session *session_;
    PaceLook *look_;
    RowList *list_;
    QLabel *sentence_;
    QPushButton *told_;
    TimerLab *lab_;
};

} // namespace pipit::app
