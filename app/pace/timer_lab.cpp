#include "app/pace/timer_lab.h"

#include "app/look/tokens.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include <qcustomplot.h>

#include <cmath>

namespace pipit::app
{

namespace
{

constexpr double least = 10, most = 10'000; // ms
constexpr int steps = 300;

double msAt(int step)
{
    return least * std::pow(most / least, double(step) / steps);
}
int stepOf(double ms)
{
    return int(std::lround(std::log(std::clamp(ms, least, most) / least) / std::log(most / least) * steps));
}
// As a person would choose it: two digits.
std::int64_t rounded(double ms)
{
    const double unit = std::pow(10, std::floor(std::log10(ms)) - 1);
    return std::int64_t(std::lround(std::round(ms / unit) * unit));
}

} // namespace

TimerLab::TimerLab(QWidget *parent) : QWidget(parent)
{
    makePlot();
    slider_ = new QSlider(Qt::Horizontal);
    slider_->setObjectName("intervalSlider");
    slider_->setAccessibleName("Interval");
    slider_->setRange(0, steps);
    slider_->setPageStep(steps / 20);
    words_ = new QLabel;
    words_->setWordWrap(true);
    words_->setMinimumHeight(scaled(40));
    words_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    try_ = new QPushButton("Try it in the running program");
    keep_ = new QPushButton("Keep it in the project");
    keep_->setProperty("main", true);
    auto *buttons = new QHBoxLayout;
    buttons->setSpacing(8);
    buttons->addWidget(try_);
    buttons->addWidget(keep_);
    buttons->addStretch();
    auto *v = new QVBoxLayout(this);
    v->setContentsMargins(padding, 4, padding, 8);
    v->setSpacing(6);
    v->addWidget(plot_, 1);
    v->addWidget(slider_);
    v->addWidget(words_);
    v->addLayout(buttons);
    connect(slider_, &QSlider::valueChanged, this, [this] {
        if (!filling_)
            tell();
    });
    connect(try_, &QPushButton::clicked, this, [this] { Q_EMIT tryAsked(timer_.name, interval()); });
    connect(keep_, &QPushButton::clicked, this, [this] { Q_EMIT keepAsked(timer_.name, interval()); });
}

void TimerLab::makePlot()
{
    plot_ = new QCustomPlot;
    plot_->setMinimumHeight(scaled(150));
    plot_->setAccessibleName("Delay and cost of each interval");
    for (QCPAxis *axis : {plot_->xAxis, plot_->yAxis, plot_->yAxis2}) {
        axis->setScaleType(QCPAxis::stLogarithmic);
        axis->setTicker(QSharedPointer<QCPAxisTickerLog>(new QCPAxisTickerLog));
        axis->setNumberFormat("f"); // not as powers
        axis->setNumberPrecision(axis == plot_->yAxis2 ? 1 : 0);
    }
    plot_->yAxis2->setVisible(true);
    plot_->xAxis->setLabel("interval, ms");
    plot_->yAxis->setLabel("noticed after, ms");
    plot_->yAxis2->setLabel("ticks a second");
    plot_->xAxis->setRange(least, most);
    plot_->yAxis->setRange(1, 20'000);
    plot_->yAxis2->setRange(0.05, 200);
    delay_ = plot_->addGraph();
    longest_ = plot_->addGraph();
    ticks_ = plot_->addGraph(plot_->xAxis, plot_->yAxis2);
    delay_->setName("mean delay");
    longest_->setName("longest delay");
    ticks_->setName("ticks a second");
    now_ = new QCPItemStraightLine(plot_);
    chosen_ = new QCPItemStraightLine(plot_);
    plot_->legend->setVisible(true);
    plot_->axisRect()->insetLayout()->setInsetAlignment(0, Qt::AlignTop | Qt::AlignHCenter);
    colour();
}

void TimerLab::colour()
{
    const Tokens &t = Tokens::current();
    plot_->setBackground(t.paper);
    for (QCPAxis *axis : {plot_->xAxis, plot_->yAxis, plot_->yAxis2}) {
        for (const QPen &pen : {QPen(t.edge)}) {
            axis->setBasePen(pen);
            axis->setTickPen(pen);
            axis->setSubTickPen(pen);
        }
        axis->setTickLabelColor(t.ink2);
        axis->setLabelColor(t.ink2);
        axis->setTickLabelFont(smallFont());
        axis->setLabelFont(smallFont());
        axis->grid()->setPen(QPen(t.hairline));
    }
    delay_->setPen(QPen(t.teal, 2));
    longest_->setPen(QPen(t.teal, 1, Qt::DashLine));
    ticks_->setPen(QPen(t.ochre, 2));
    now_->setPen(QPen(t.ink2, 1, Qt::DotLine));
    chosen_->setPen(QPen(t.ink, 1));
    plot_->legend->setBrush(t.surface);
    plot_->legend->setBorderPen(QPen(t.hairline));
    plot_->legend->setTextColor(t.ink);
    plot_->legend->setFont(smallFont());
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void TimerLab::changeEvent(QEvent *event)
{
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange || event->type() == QEvent::StyleChange)
        colour();
}

void TimerLab::set(const TimerRow &timer, bool running, bool ofProject)
{
    const bool other = timer.object != timer_.object || timer.name != timer_.name;
    timer_ = timer;
    try_->setVisible(running && timer.known);
    keep_->setVisible(ofProject);
    drawCurves();
    if (other) {
        const double is = double(timer.promised > 0 ? timer.promised : timer.intervals.median()) / 1e6;
        filling_ = true;
        slider_->setValue(stepOf(std::max(is, least)));
        filling_ = false;
    }
    tell();
}

std::chrono::milliseconds TimerLab::interval() const
{
    // Where it stands at first is what the timer has, to the millisecond.
    const std::int64_t own = (timer_.promised > 0 ? timer_.promised : timer_.intervals.median()) / 1'000'000;
    return std::chrono::milliseconds(
        stepOf(double(own)) == slider_->value() && own > 0 ? own : rounded(msAt(slider_->value())));
}

void TimerLab::drawCurves()
{
    constexpr int every = 6;
    QVector<double> x, mean, longest, ticks;
    for (int step = 0; step <= steps; step += every) {
        const double ms = msAt(step);
        const OtherInterval o = otherInterval(timer_, std::int64_t(ms * 1e6));
        x << ms;
        mean << double(o.delay.mean) / 1e6;
        longest << double(o.delay.longest) / 1e6;
        ticks << o.perSecond;
    }
    delay_->setData(x, mean, true);
    longest_->setData(x, longest, true);
    ticks_->setData(x, ticks, true);
}

void TimerLab::tell()
{
    const auto upright = [](QCPItemStraightLine *line, double x) {
        line->point1->setCoords(x, 1);
        line->point2->setCoords(x, 2);
    };
    const std::int64_t is = timer_.promised > 0 ? timer_.promised : timer_.intervals.median();
    const OtherInterval now = otherInterval(timer_, is),
                        then = otherInterval(timer_, std::chrono::nanoseconds(interval()).count());
    upright(now_, double(is) / 1e6);
    upright(chosen_, double(interval().count()));
    plot_->replot(QCustomPlot::rpQueuedReplot);
    const QString every =
        QStringLiteral("Every %1: a change is noticed after %2 on average and %3 at most. The timer ticks %4 "
                       "times a second and uses %5 % of a processor")
            .arg(durationText(then.interval), durationText(then.delay.mean), durationText(then.delay.longest))
            .arg(then.perSecond, 0, 'g', 3)
            .arg(100 * then.load, 0, 'g', 2);
    const bool same = then.interval == is;
    words_->setText(same ? every + ", as now."
                         : every + QStringLiteral(". Now: %1 on average, %2 ticks a second.")
                                       .arg(durationText(now.delay.mean))
                                       .arg(now.perSecond, 0, 'g', 3));
    try_->setEnabled(!same);
    keep_->setEnabled(!same);
}

} // namespace pipit::app
