// The ruler of the Trace page: the whole of it at a glance, time downward. The longest turn at each height,
// stalls as notches, where what the filter fits is, and what of it the list shows now; a press or a drag goes
// there.
//
// Threads: the loop's thread only; what it shows is counted by a worker.
#pragma once

#include "app/session/session.h"
#include "core/trace/glance.h"

#include <QTimer>
#include <QWidget>

namespace pipit::app
{

class TraceRuler : public QWidget
{
    Q_OBJECT
public:
    explicit TraceRuler(Session *session);
    // What the list shows of it.
    void setView(std::int64_t from, std::int64_t to);
    // Where there is something that fits the filter; none without one.
    void setFits(const std::vector<std::int64_t> &times);
    void lookAgain(); // soon
    const Glance &glance() const { return glance_; }
    int heightOf(std::int64_t time) const;
    std::int64_t timeAt(int y) const;

Q_SIGNALS:
    void timeAsked(std::int64_t ns);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void showEvent(QShowEvent *event) override;

private:
    void look();
    void paintTimes(QPainter &p) const;

    Session *session_;
    Glance glance_;
    std::vector<int> fits_; // heights
    std::vector<std::int64_t> fitTimes_;
    std::int64_t viewFrom_ = 0, viewTo_ = 0;
    QTimer later_;
    bool looking_ = false, again_ = false;
};

} // namespace pipit::app
