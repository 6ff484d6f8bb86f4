// The lab of one timer: what another interval would give and cost, as two curves over all intervals; the
// chosen one is dragged, tried in the running program, and kept in the project.
//
// Threads: the loop's thread only.
#pragma once

#include "core/pace/timers.h"

#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QWidget>

class QCustomPlot;
class QCPGraph;
class QCPItemStraightLine;
class QCPAxis;

namespace pipit::app
{

class TimerLab : public QWidget
{
    Q_OBJECT
public:
    explicit TimerLab(QWidget *parent = nullptr);
    // `running`: it can be tried; `kept`: it is the project's, so it can be kept.
    void set(const TimerRow &timer, bool running, bool ofProject);
    [[nodiscard]] std::chrono::milliseconds interval() const;
    [[nodiscard]] QSlider *slider() const { return slider_; }
    [[nodiscard]] QPushButton *tryButton() const { return try_; }
    [[nodiscard]] QPushButton *keepButton() const { return keep_; }
    [[nodiscard]] QString words() const { return words_->text(); }

Q_SIGNALS:
    void tryAsked(const QString &timer, std::chrono::milliseconds interval);
    void keepAsked(const QString &timer, std::chrono::milliseconds interval);

protected:
    void changeEvent(QEvent *event) override;

private:
    void makePlot();
    void colour();
    void drawCurves();
    void tell();

    TimerRow timer_;
    QCustomPlot *plot_;
    QCPGraph *delay_, *longest_, *ticks_;
    QCPItemStraightLine *now_, *chosen_;
    QSlider *slider_;
    QLabel *words_;
    QPushButton *try_, *keep_;
    bool filling_ = false;
};

} // namespace pipit::app
