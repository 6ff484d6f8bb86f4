#include "app/trace/trace_ruler.h"

#include "app/look/row_list.h"
#include "app/session/background.h"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace pipit::app
{

using namespace std::chrono_literals;

namespace
{

constexpr Measure rulerWidth{72}, barsLeft{40}, edgeRoom{6};

// From 0.1 ms to 10 s, as a share of the room for bars.
double lengthOf(std::int64_t ns)
{
    return std::clamp((std::log10(double(std::max<std::int64_t>(ns, 1))) - 5) / 5, 0.04, 1.0);
}

// Round steps so that labels stand some 60 pixels apart.
double stepFor(double seconds, int height)
{
    const double least = seconds * 60.0 / std::max(1, height),
                 ten = std::pow(10, std::floor(std::log10(least)));
    for (const double times : {1.0, 2.0, 5.0})
        if (ten * times >= least)
            return ten * times;
    return ten * 10;
}

} // namespace

TraceRuler::TraceRuler(Session *session) : session_(session)
{
    setFixedWidth(rulerWidth);
    setObjectName("traceRuler");
    setAccessibleName("The whole recording, in order of time");
    setToolTip("The longest turns over the whole recording. Click or drag to go there.");
    later_.setSingleShot(true);
    later_.setInterval(250ms);
    connect(&later_, &QTimer::timeout, this, &TraceRuler::look);
    connect(&session->shown, &ShownTrace::reset, this, [this] {
        glance_ = {};
        fits_.clear();
        fitTimes_.clear();
        lookAgain();
        update();
    });
    connect(&session->shown, &ShownTrace::figuresChanged, this, &TraceRuler::lookAgain);
}

void TraceRuler::lookAgain()
{
    if (isVisible() && !later_.isActive())
        later_.start();
}

void TraceRuler::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    look();
}

void TraceRuler::resizeEvent(QResizeEvent *event)
{
    QWidget::resizeEvent(event);
    lookAgain();
}

void TraceRuler::look()
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || !isVisible())
        return;
    if (std::exchange(looking_, true)) {
        again_ = true;
        return;
    }
    const int pieces = std::max(1, height() - 2 * edgeRoom);
    inBackground(
        this,
        [trace, owner = session_->shown.owner(), pieces] {
            return std::pair(trace, glanceOf(*trace, pieces));
        },
        [this](std::pair<const TraceModel *, Glance> found) {
            looking_ = false;
            if (found.first == session_->shown.trace()) {
                glance_ = std::move(found.second);
                setFits(std::vector(fitTimes_));
                update();
            }
            if (std::exchange(again_, false))
                later_.start();
        });
}

void TraceRuler::setView(std::int64_t from, std::int64_t to)
{
    if (from == viewFrom_ && to == viewTo_)
        return;
    viewFrom_ = from;
    viewTo_ = to;
    update();
}

void TraceRuler::setFits(const std::vector<std::int64_t> &times)
{
    fitTimes_ = times;
    fits_.clear();
    for (const std::int64_t t : times)
        if (const int y = heightOf(t); fits_.empty() || fits_.back() != y)
            fits_.push_back(y);
    update();
}

int TraceRuler::heightOf(std::int64_t time) const
{
    const double share =
        glance_.to > glance_.from ? double(time - glance_.from) / double(glance_.to - glance_.from) : 0;
    return edgeRoom + int(std::clamp(share, 0.0, 1.0) * (height() - 2 * edgeRoom));
}

std::int64_t TraceRuler::timeAt(int y) const
{
    const double share = double(y - edgeRoom) / std::max(1, height() - 2 * edgeRoom);
    return glance_.from + std::int64_t(std::clamp(share, 0.0, 1.0) * double(glance_.to - glance_.from));
}

void TraceRuler::paintTimes(QPainter &p) const
{
    const Tokens &t = Tokens::current();
    const double seconds = double(glance_.to - glance_.from) / 1e9, step = stepFor(seconds, height());
    const int digits = std::max(0, int(std::ceil(-std::log10(step) - 1e-9)));
    p.setFont(smallFont());
    p.setPen(t.ink2);
    const int line = p.fontMetrics().height();
    for (double s = 0; s <= seconds; s += step) {
        const int y =
            std::clamp(heightOf(glance_.from + std::int64_t(s * 1e9)), line / 2, height() - line / 2);
        p.drawText(QRect(0, y - line / 2, barsLeft - 6, line), Qt::AlignRight | Qt::AlignVCenter,
                   QString::number(s, 'f', digits));
    }
}

void TraceRuler::paintEvent(QPaintEvent *)
{
    const Tokens &t = Tokens::current();
    QPainter p(this);
    p.setPen(t.hairline);
    p.drawLine(width() - 1, 0, width() - 1, height());
    if (glance_.longest.empty())
        return;
    const int room = width() - barsLeft - 8;
    const int from = heightOf(viewFrom_), to = std::max(heightOf(viewTo_), from + 4);
    if (viewTo_ > 0)
        p.fillRect(QRect(barsLeft - 3, from - 2, width() - barsLeft + 2, to - from + 4), t.buff);
    for (std::size_t i = 0; i < glance_.longest.size(); ++i)
        if (const std::int64_t ns = glance_.longest[i])
            p.fillRect(QRectF(barsLeft, edgeRoom + double(i), lengthOf(ns) * room, 1), t.slate);
    for (const Stall &s : session_->shown.figures().stalls) {
        const int y = heightOf(s.start), end = std::max(heightOf(s.start + s.duration), y + 2);
        p.fillRect(QRectF(barsLeft, y, lengthOf(s.duration) * room, end - y), t.vermilion);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(Qt::NoPen);
        p.setBrush(t.vermilion);
        p.drawPolygon(QPolygonF{{double(width()) - 1, y - 4.0},
                                {double(width()) - 7, double(y)},
                                {double(width()) - 1, y + 4.0}});
        p.setRenderHint(QPainter::Antialiasing, false);
    }
    p.setRenderHint(QPainter::Antialiasing);
    for (const auto &[span, mark] : session_->bookmarks.all()) {
        const QPointF at(width() - 6.0, heightOf(mark.time));
        p.setPen(Qt::NoPen);
        p.setBrush(t.ink);
        p.drawPolygon(
            QPolygonF{at + QPointF(0, -4), at + QPointF(4, 0), at + QPointF(0, 4), at + QPointF(-4, 0)});
    }
    p.setRenderHint(QPainter::Antialiasing, false);
    for (const int y : fits_)
        p.fillRect(QRect(width() - 5, y, 3, 2), t.ink);
    paintTimes(p);
    if (viewTo_ > 0) {
        p.setPen(QPen(t.ink, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRect(barsLeft - 4, from - 3, width() - barsLeft + 2, to - from + 5));
    }
}

void TraceRuler::mousePressEvent(QMouseEvent *event)
{
    if (event->button() == Qt::LeftButton && !glance_.longest.empty())
        Q_EMIT timeAsked(timeAt(event->pos().y()));
}

void TraceRuler::mouseMoveEvent(QMouseEvent *event)
{
    if (event->buttons() & Qt::LeftButton && !glance_.longest.empty())
        Q_EMIT timeAsked(timeAt(event->pos().y()));
}

} // namespace pipit::app
