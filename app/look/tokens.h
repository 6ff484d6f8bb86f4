// The look in one place: colours, type, measures. Everything painted takes them from here.
//
// Threads: the loop's thread only. `current()` follows the system's light or dark setting unless
// one was chosen.
#pragma once

#include <QColor>
#include <QFont>
#include <QPainter>
#include <QString>

#include <optional>

namespace pipit::app
{

struct Tokens {
    bool dark = false;
    QColor paper, surface, raised, ink, ink2, hairline, edge, buff;
    QColor slate, ochre, teal; // bands: on the loop, on a timer, in the background
    QColor vermilion;          // stalls and what is broken, nothing else

    static const Tokens &light();
    static const Tokens &dimmed();
    static const Tokens &current();
    static void choose(std::optional<bool> dark); // the person's choice; none: as the desktop has it
    static void follow(bool dark);                // what the desktop wants
    static void takeSystem(bool dark); // what the toolkit's palette is, where the desktop says nothing
    static std::optional<bool> choice();
};

// Whether anything may move: the desktop's wish, or the style's.
bool motionWanted();
void wantMotion(bool wanted);

// How large type is: 1 with the usual size of a desktop's, 1.5 where it is half as large again.
double typeScale();
// A measure that holds text, in device-independent pixels: given for the usual type, grown with it.
int scaled(int pixels);
struct Measure {
    int pixels;
    operator int() const { return scaled(pixels); }
};
inline constexpr Measure headerHeight{44}, ribbonHeight{28}, drawerTab{28}, rowHeight{28}, bandHeading{24},
    cardHeight{44}, cardOpen{112};
// Room between things does not grow.
inline constexpr int padding = 12, radius = 6;

QFont textFont();  // Inter 13, or the system's size
QFont smallFont(); // secondary
QFont titleFont(); // page titles
QFont codeFont();
// The same size in points, for those who ask a font only for these: a size in pixels reads as -1 there.
QFont inPoints(QFont font, const QPaintDevice *on);
void loadFonts();                    // once, before the first window
QString styleSheet(const Tokens &t); // for the few stock widgets: fields, buttons, scroll bars

enum class Mark { Loop, Timer, Background, Signal, Event, Finding, Bird };
// Small line drawings of our own, centred on a point.
void drawMark(QPainter &p, Mark mark, const QPointF &centre, const QColor &colour, qreal size = 12);

// WCAG contrast of two colours, 1 to 21.
double contrast(const QColor &a, const QColor &b);

} // namespace pipit::app
