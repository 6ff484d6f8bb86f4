#include "app/pace/comparison_view.h"

#include "app/look/row_list.h"
#include "app/look/tokens.h"

#include <QFontMetrics>
#include <QPainter>

#include <cmath>

namespace pipit::app
{

namespace
{

struct Columns {
    int left = padding, words = scaled(148), number = scaled(74), change = scaled(66);
    int before() const { return left + words; }
    int after() const { return before() + number; }
    int plot() const { return after() + number + scaled(14); }
    int plotWidth(int width) const { return std::max(30, width - plot() - change - padding); }
};
int lineHeight()
{
    return scaled(28);
}
int headHeight()
{
    return scaled(26);
}

// Where a value lies between 0.1 ms and 10 s, on a logarithmic scale.
double along(std::int64_t ns)
{
    return (std::log10(std::clamp(double(ns), 1e5, 1e10)) - 5) / 5;
}

void paintRuns(QPainter &p, const Spread &s, int x, int width, double y, const QColor &colour)
{
    QColor dot = colour;
    dot.setAlphaF(0.55F);
    p.setPen(Qt::NoPen);
    p.setBrush(dot);
    for (const std::int64_t v : s.values())
        if (v > 0)
            p.drawEllipse(QPointF(x + along(v) * width, y), 3, 3);
    if (s.median() <= 0)
        return;
    p.setPen(QPen(colour, 2));
    const double m = x + along(s.median()) * width;
    p.drawLine(QPointF(m, y - 4), QPointF(m, y + 4));
}

QString changeText(const Figure &f)
{
    switch (f.change) {
    case Change::Better:
        return "better";
    case Change::Worse:
        return "worse";
    case Change::Same:
        return "the same";
    case Change::Unknown:
        break;
    }
    return "not known";
}

} // namespace

ComparisonView::ComparisonView(QWidget *parent) : QWidget(parent)
{
    setAccessibleName("Comparison of runs");
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void ComparisonView::set(const Comparison &c)
{
    comparison_ = c;
    has_ = true;
    QStringList all;
    for (const Figure &f : c.figures)
        all << QStringLiteral("%1: %2 before, %3 after")
                   .arg(f.words, f.text(f.before.median()), f.text(f.after.median()));
    setAccessibleDescription(words() + ' ' + all.join("; "));
    updateGeometry();
    update();
}

void ComparisonView::setEmptyText(const QString &text)
{
    empty_ = text;
    update();
}

QString ComparisonView::words() const
{
    return comparison_.comparable ? comparison_.verdict : "Not comparable. " + comparison_.reason;
}

int ComparisonView::heightForWidth(int width) const
{
    if (!has_)
        return scaled(120);
    const QRect text = QFontMetrics(textFont())
                           .boundingRect(QRect(0, 0, width - 2 * padding, 10000), Qt::TextWordWrap, words());
    return text.height() + scaled(20) + headHeight() + lineHeight() * int(comparison_.figures.size()) +
           scaled(30);
}

void ComparisonView::paintEvent(QPaintEvent *)
{
    const Tokens &t = Tokens::current();
    QPainter p(this);
    if (!has_) {
        paintEmpty(&p, rect(), empty_);
        return;
    }
    p.setRenderHint(QPainter::Antialiasing);
    const Columns c;
    p.setFont(textFont());
    p.setPen(!comparison_.comparable || comparison_.change == Change::Worse ? t.vermilion : t.ink);
    QRect text(c.left, scaled(4), width() - 2 * padding, 10000);
    text = p.boundingRect(text, Qt::TextWordWrap, words());
    p.drawText(text, Qt::TextWordWrap, words());
    int y = text.bottom() + scaled(10);
    const int plotX = c.plot(), plotWidth = c.plotWidth(width());
    p.setFont(smallFont());
    p.setPen(t.ink2);
    p.drawText(QRect(c.before(), y, c.number, headHeight()), Qt::AlignRight | Qt::AlignVCenter, "before");
    p.drawText(QRect(c.after(), y, c.number, headHeight()), Qt::AlignRight | Qt::AlignVCenter, "after");
    const int bottom = y + headHeight() + lineHeight() * int(comparison_.figures.size());
    for (const auto &[ns, label] :
         {std::pair(1'000'000, "1 ms"), std::pair(50'000'000, "50 ms"), std::pair(1'000'000'000, "1 s")}) {
        const int x = plotX + int(along(ns) * plotWidth);
        p.setPen(t.hairline);
        p.drawLine(x, y + headHeight(), x, bottom);
        p.setPen(t.ink2);
        p.drawText(QRect(x - 40, y, 80, headHeight()), Qt::AlignCenter, label);
    }
    y += headHeight();
    for (const Figure &f : comparison_.figures) {
        p.setPen(t.hairline);
        p.drawLine(c.left, y, width() - padding, y);
        p.setFont(textFont());
        p.setPen(t.ink);
        p.drawText(QRect(c.left, y, c.words, lineHeight()), Qt::AlignVCenter, f.words);
        const auto slow = [&](std::int64_t v) { return f.ofResponse && (f.isTime ? overBudget(v) : v > 0); };
        const auto number = [&](int x, const Spread &s) {
            p.setPen(s.empty() ? t.ink2 : slow(s.median()) ? t.vermilion : t.ink);
            p.drawText(QRect(x, y, c.number, lineHeight()), Qt::AlignRight | Qt::AlignVCenter,
                       s.empty() ? QStringLiteral("—") : f.text(s.median()));
        };
        number(c.before(), f.before);
        number(c.after(), f.after);
        if (f.isTime) {
            paintRuns(p, f.before, plotX, plotWidth, y + lineHeight() * 0.34, t.ink2);
            paintRuns(p, f.after, plotX, plotWidth, y + lineHeight() * 0.68, t.teal);
        }
        if (comparison_.comparable) {
            p.setFont(smallFont());
            p.setPen(f.change == Change::Worse ? t.vermilion : f.change == Change::Better ? t.teal : t.ink2);
            p.drawText(QRect(width() - padding - c.change, y, c.change, lineHeight()),
                       Qt::AlignRight | Qt::AlignVCenter, changeText(f));
        }
        y += lineHeight();
    }
    p.setFont(smallFont());
    p.setPen(t.ink2);
    p.drawText(
        QRect(c.left, y + scaled(4), width() - 2 * padding, scaled(22)), Qt::AlignLeft | Qt::AlignVCenter,
        p.fontMetrics().elidedText("One dot for each run: grey before, green after. A line marks the median.",
                                   Qt::ElideRight, width() - 2 * padding));
}

} // namespace pipit::app
