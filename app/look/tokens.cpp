#include "app/look/tokens.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPainterPath>
#include <QPalette>
#include <QScreen>
#include <QStyle>

#include <cmath>
#include <optional>

namespace pipit::app
{

namespace
{

std::optional<bool> chosen, followed, motion, systemIsDark;

Tokens make(bool dark, const QStringList &c)
{
    Tokens t;
    t.dark = dark;
    QColor *const all[] = {&t.paper, &t.surface, &t.raised, &t.ink,   &t.ink2, &t.hairline,
                           &t.edge,  &t.buff,    &t.slate,  &t.ochre, &t.teal, &t.vermilion};
    for (int i = 0; i < 12; ++i)
        *all[i] = QColor(c[i]);
    return t;
}

QFont family(const QString &name, double pixels, int weight = QFont::Normal)
{
    QFont f(name);
    f.setPixelSize(std::max(1, int(std::lround(pixels))));
    f.setWeight(QFont::Weight(weight));
    return f;
}

} // namespace

// A larger font, or more dots to the inch of text: desktops say it either way.
double typeScale()
{
    static const double factor = [] {
        const double points = QFontDatabase::systemFont(QFontDatabase::GeneralFont).pointSizeF();
        const QScreen *screen = QGuiApplication::primaryScreen();
        const double dots = screen ? screen->logicalDotsPerInchY() / 96 : 1.0;
        return std::clamp((points > 10.5 ? points / 10 : 1.0) * dots, 0.9, 3.0);
    }();
    return factor;
}

int scaled(int pixels)
{
    return int(std::lround(pixels * typeScale()));
}

const Tokens &Tokens::light()
{
    static const Tokens t = make(false, {"#FAF7F0", "#FFFFFF", "#F3EEE3", "#2B2723", "#6B6257", "#DDD5C6",
                                         "#857B6C", "#E9DCC3", "#4A5B73", "#8F6414", "#1B6F6D", "#C23B22"});
    return t;
}

const Tokens &Tokens::dimmed()
{
    static const Tokens t = make(true, {"#1E1B18", "#262320", "#2F2B27", "#EDE6DA", "#A99F91", "#403A33",
                                        "#8A7F71", "#4A3F2E", "#8FA3BF", "#D9A648", "#4FB3AE", "#F27358"});
    return t;
}

const Tokens &Tokens::current()
{
    if (!systemIsDark)
        systemIsDark = QApplication::palette().color(QPalette::Window).lightness() < 128;
    return chosen.value_or(followed.value_or(*systemIsDark)) ? dimmed() : light();
}

void Tokens::takeSystem(bool dark)
{
    systemIsDark = dark;
}

void Tokens::choose(std::optional<bool> dark)
{
    chosen = dark;
}

void Tokens::follow(bool dark)
{
    followed = dark;
}

std::optional<bool> Tokens::choice()
{
    return chosen;
}

bool motionWanted()
{
    return motion.value_or(QApplication::style()->styleHint(QStyle::SH_Widget_Animation_Duration) > 0);
}

void wantMotion(bool wanted)
{
    motion = wanted;
}

void loadFonts()
{
    for (const char *file : {"Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf", "Inter-Bold.otf"})
        for (const char *folder :
             {"/usr/share/fonts/opentype/inter/", "/usr/share/fonts/opentype/inter/static/"})
            QFontDatabase::addApplicationFont(QString::fromLatin1(folder) + file);
    for (const char *file : {"DejaVuSansMono.ttf", "DejaVuSansMono-Bold.ttf"})
        QFontDatabase::addApplicationFont(QStringLiteral("/usr/share/fonts/truetype/dejavu/") + file);
}

QFont textFont()
{
    return family("Inter", 13 * typeScale());
}
QFont smallFont()
{
    return family("Inter", 12 * typeScale());
}
QFont titleFont()
{
    return family("Inter", 16 * typeScale(), QFont::DemiBold);
}
QFont codeFont()
{
    return family("DejaVu Sans Mono", 12.5 * typeScale());
}

QFont inPoints(QFont font, const QPaintDevice *on)
{
    if (font.pixelSize() > 0)
        font.setPointSizeF(font.pixelSize() * 72.0 / on->logicalDpiY());
    return font;
}

QString styleSheet(const Tokens &t)
{
    QString s = R"(
QWidget { color: @ink; }
QLineEdit { background: @surface; border: 1px solid @edge; border-radius: 4px; padding: 3px 8px;
  selection-background-color: @buff; selection-color: @ink; }
QLineEdit:focus, QPlainTextEdit:focus { border: 2px solid @ink; padding: 2px 7px; }
QPushButton { background: @surface; border: 1px solid @edge; border-radius: 4px; padding: 4px 12px; }
QPushButton:hover { background: @raised; }
QPushButton:focus { border: 2px solid @ink; padding: 3px 11px; }
QPushButton[main="true"] { background: @ink; color: @paper; border: 1px solid @ink; }
QPushButton[main="true"]:focus { border: 2px solid @edge; }
QPushButton:disabled { color: @ink2; border-color: @hairline; }
QPushButton[main="true"]:disabled { background: @raised; color: @ink2; border-color: @hairline; }
#sheet, #finderSheet { background: @raised; border: 1px solid @edge; border-radius: 6px; }
QMenu { background: @surface; border: 1px solid @edge; padding: 4px; }
QMenu::item { padding: 5px 18px 5px 12px; border-radius: 4px; }
QMenu::item:selected { background: @buff; color: @ink; }
QMenu::item:disabled { color: @ink2; }
QMenu::separator { height: 1px; background: @hairline; margin: 4px 8px; }
QPushButton[word="true"] { background: transparent; border: none; padding: 4px 8px; }
QPushButton[word="true"]:hover { background: @raised; }
QPushButton[word="true"]:checked { border-bottom: 2px solid @ink; border-radius: 0; }
QPushButton[word="true"]:focus { border: 2px solid @ink; border-radius: 4px; padding: 2px 6px; }
QPlainTextEdit, QListView { background: @surface; border: none; selection-background-color: @buff;
  selection-color: @ink; }
QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
QScrollBar::handle:vertical { background: @hairline; border-radius: 4px; min-height: 24px; margin: 1px; }
QScrollBar::handle:vertical:hover { background: @edge; }
QScrollBar:horizontal { background: transparent; height: 10px; margin: 0; }
QScrollBar::handle:horizontal { background: @hairline; border-radius: 4px; min-width: 24px; margin: 1px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QToolTip { background: @surface; color: @ink; border: 1px solid @edge; padding: 4px 6px; }
QComboBox { background: @surface; border: 1px solid @edge; border-radius: 4px; padding: 3px 8px; }
QComboBox QLineEdit { background: transparent; border: none; padding: 0; }
QComboBox:focus { border: 2px solid @ink; }
QComboBox QAbstractItemView { background: @surface; selection-background-color: @buff; selection-color: @ink; }
)";
    const std::pair<const char *, QColor> names[] = {
        {"@ink2", t.ink2},     {"@ink", t.ink},           {"@paper", t.paper}, {"@surface", t.surface},
        {"@raised", t.raised}, {"@hairline", t.hairline}, {"@edge", t.edge},   {"@buff", t.buff}};
    for (const auto &[name, colour] : names)
        s.replace(QString::fromLatin1(name), colour.name());
    return s;
}

void drawMark(QPainter &p, Mark mark, const QPointF &c, const QColor &colour, qreal size)
{
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    const qreal r = size / 2;
    p.setPen(QPen(colour, 1.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.setBrush(Qt::NoBrush);
    switch (mark) {
    case Mark::Loop: // a ring, not quite closed
        p.drawArc(QRectF(c.x() - r + 1, c.y() - r + 1, size - 2, size - 2), 60 * 16, 300 * 16);
        break;
    case Mark::Timer: { // a wedge
        QPainterPath path(c);
        path.arcTo(QRectF(c.x() - r + 1, c.y() - r + 1, size - 2, size - 2), 0, 90);
        path.closeSubpath();
        p.setBrush(colour);
        p.drawPath(path);
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(c, r - 1, r - 1);
        break;
    }
    case Mark::Background: // two bars
        p.setPen(QPen(colour, 2.5, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(QPointF(c.x() - 2.5, c.y() - r + 2), QPointF(c.x() - 2.5, c.y() + r - 2));
        p.drawLine(QPointF(c.x() + 2.5, c.y() - r + 2), QPointF(c.x() + 2.5, c.y() + r - 2));
        break;
    case Mark::Signal:
        p.setBrush(colour);
        p.drawEllipse(c, r / 2.2, r / 2.2);
        break;
    case Mark::Event: {
        QPolygonF d;
        d << c + QPointF(0, -r * 0.6) << c + QPointF(r * 0.6, 0) << c + QPointF(0, r * 0.6)
          << c + QPointF(-r * 0.6, 0);
        p.setBrush(colour);
        p.drawPolygon(d);
        break;
    }
    case Mark::Finding: // a notch in a line
        p.drawPolyline(QPolygonF() << c + QPointF(-r, -2) << c + QPointF(-3, -2) << c + QPointF(0, 4)
                                   << c + QPointF(3, -2) << c + QPointF(r, -2));
        break;
    case Mark::Bird: { // the pipit: a body, a beak, a tail, an eye, two legs
        const qreal s = size / 24;
        p.translate(c);
        p.scale(s, s);
        p.setPen(QPen(colour, 1.6 / std::max(s, 0.6), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        QPainterPath body(QPointF(-11, 6));
        body.cubicTo(QPointF(-5, 4), QPointF(-3, -1), QPointF(2, -5));
        body.cubicTo(QPointF(4, -8), QPointF(8, -7), QPointF(8, -4));
        body.lineTo(QPointF(11, -3));
        body.lineTo(QPointF(8, -2));
        body.cubicTo(QPointF(8, 4), QPointF(2, 7), QPointF(-4, 5));
        body.lineTo(QPointF(-11, 6));
        p.drawPath(body);
        p.drawLine(QPointF(0, 6.5), QPointF(-1, 10));
        p.drawLine(QPointF(3, 5.5), QPointF(3, 10));
        p.setBrush(colour);
        p.drawEllipse(QPointF(5.6, -4.6), 0.6, 0.6);
        break;
    }
    }
    p.restore();
}

double contrast(const QColor &a, const QColor &b)
{
    const auto luminance = [](const QColor &c) {
        const auto channel = [](double v) {
            return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * channel(c.redF()) + 0.7152 * channel(c.greenF()) + 0.0722 * channel(c.blueF());
    };
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

} // namespace pipit::app
