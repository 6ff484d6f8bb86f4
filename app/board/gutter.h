// The strands between sentences and cards. Colours and widths by look.md: at rest an edge line,
// selected or under the pointer in ink, the others pale; traffic as pulses. A card that is off
// screen is a stub that says how far; a click on it scrolls there.
//
// Threads: the loop's thread only. Nothing is painted while nothing happens.
#pragma once

#include "app/board/traffic.h"
#include "app/board/wiring_view.h"

#include <QPixmap>
#include <QTimer>

namespace pipit::app
{

class Gutter : public QWidget
{
    Q_OBJECT
public:
    explicit Gutter(WiringView *view);
    void takeFigures();
    void setHovered(int row); // of the sentences; -1: none

protected:
    void paintEvent(QPaintEvent *event) override;
    void changeEvent(QEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    struct Strand {
        QString connection;
        QRect row, card;
        int cardRow = 0;
        bool mine = false; // selected or under the pointer
        bool enabled = true;
        bool operator==(const Strand &) const = default;
    };
    QList<Strand> shownStrands() const;
    void paintBase(bool pale);
    bool movesNow(const Strand &s, std::int64_t now) const;
    void updateMoving();
    QList<Strand> strands() const;
    QList<Strand> strandsFromWindow(const QHash<QString, int> &cards) const;
    void paintStrand(QPainter *p, const Strand &s, bool pale, bool moving) const;
    // Where strands to cards out of sight end: one for those that begin at one height, so that no words lie
    // over others.
    struct Stub {
        int y = 0, nearest = 0, farthest = 0; // cards above (negative) or below
        int cardRow = 0;                      // of the nearest
        bool mine = false;
    };
    QList<Stub> stubsOf(const QList<Strand> &strands) const;
    QRect paintStub(QPainter *p, const Stub &s) const; // where its words stand
    int beyond(const Strand &s) const; // how many cards it is above (negative) or below; 0: in sight

    WiringView *view_;
    Traffic traffic_;
    QTimer frames_;
    // What does not move, as it was drawn last: strands move many times a second.
    QPixmap base_;
    QList<Strand> drawn_;
    QRegion stubs_;  // their words
    QRegion moving_; // where something moved when it was looked at last
    bool basePale_ = false;
    QColor baseColour_;
    int hovered_ = -1;
};

} // namespace pipit::app
