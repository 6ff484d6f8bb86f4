#include "app/board/gutter.h"

#include "app/look/tokens.h"
#include "core/project/selector.h"
#include "core/runner/program.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QScrollBar>
#include <QStyle>

namespace pipit::app
{

namespace
{

constexpr int mostStrands = 40; // above that only the selection's are drawn
constexpr int frameTime = 33;   // ms: at most 30 a second
constexpr int wordsHeight = 17; // of what a stub says

} // namespace

Gutter::Gutter(WiringView *view) : QWidget(view), view_(view)
{
    setObjectName("gutter");
    setAccessibleName("Strands");
    frames_.setInterval(frameTime);
    connect(&frames_, &QTimer::timeout, this, [this] {
        if (!traffic_.moves(monotonicNow()))
            frames_.stop();
        updateMoving();
    });
}

void Gutter::takeFigures()
{
    const Session *s = view_->session_;
    if (s->shown.figures().connections.isEmpty())
        traffic_.clear();
    const bool live = s->runs.state() == RunState::Running;
    const std::int64_t now = monotonicNow();
    traffic_.take(s->shown.figures().connections, now, live && motionWanted());
    if (traffic_.moves(now) && isVisible())
        frames_.start();
    updateMoving();
}

bool Gutter::movesNow(const Strand &s, std::int64_t now) const
{
    return traffic_.pulse(s.connection, now) || traffic_.steady(s.connection, now);
}

void Gutter::updateMoving()
{
    const std::int64_t now = monotonicNow();
    QRegion region;
    for (const Strand &s : std::as_const(drawn_)) {
        if (!movesNow(s, now))
            continue;
        const int from = s.row.center().y(), to = s.card.top() + scaled(20);
        region += QRect(0, std::min(from, to) - 6, width(), std::abs(to - from) + 12);
    }
    update(std::exchange(moving_, region) + region);
}

void Gutter::changeEvent(QEvent *event)
{
    base_ = {};
    QWidget::changeEvent(event);
}

void Gutter::setHovered(int row)
{
    if (std::exchange(hovered_, row) != row)
        update();
}

QList<Gutter::Strand> Gutter::strands() const
{
    QHash<QString, int> cards;
    for (int i = 0; i < view_->cardModel_->rowCount(); ++i)
        if (const CardRow &r = view_->cardModel_->rows()[i]; r.kind == CardRow::Card)
            cards.insert(r.name, i);
    const Selected &selected = view_->session_->selection.now();
    if (view_->placeOf_)
        return strandsFromWindow(cards);
    QList<Strand> all;
    const int first = std::max(0, view_->sentences_->indexAt(QPoint(20, 1)).row());
    for (int i = first; i < view_->sentenceModel_->rowCount(); ++i) {
        const QRect row = view_->sentences_->visualRect(view_->sentenceModel_->index(i));
        if (row.top() > height())
            break;
        const SentenceRow r = view_->sentenceModel_->row(i);
        const auto card = cards.constFind(r.handler);
        if (r.handler.isEmpty() || card == cards.constEnd())
            continue;
        const bool chosen = selected.connection.isEmpty() ? selected.handler == r.handler
                                                          : selected.connection == r.connection;
        all.append({r.connection, row, view_->cards_->visualRect(view_->cardModel_->index(*card)), *card,
                    chosen || i == hovered_, r.enabled});
    }
    return all;
}

// The window stands in place of the sentences: from each source that is seen in it.
QList<Gutter::Strand> Gutter::strandsFromWindow(const QHash<QString, int> &cards) const
{
    QList<Strand> all;
    const Session *s = view_->session_;
    if (!s->document.isOpen())
        return all;
    const Selected &selected = s->selection.now();
    const Project &p = s->document.project();
    const auto from = [&](const Connection &c, const QString &source, int card) {
        const QRect place = view_->placeOf_(source);
        if (!place.isValid())
            return;
        const int y = mapFromGlobal(view_->inPlace_->mapToGlobal(place.center())).y();
        const QRect at(0, y - 8, 1, 17);
        const bool mine =
            selected.connection.isEmpty()
                ? selected.handler == c.to || (selected.object == source && selected.handler.isEmpty())
                : selected.connection == c.id;
        all.append(
            {c.id, at, view_->cards_->visualRect(view_->cardModel_->index(card)), card, mine, c.enabled});
    };
    for (const Connection &c : p.connections) {
        const auto card = cards.constFind(c.to);
        if (c.targetKind != Connection::Target::Handler || card == cards.constEnd())
            continue;
        if (c.select.isEmpty()) {
            from(c, c.from, *card);
        } else if (auto parsed = Selector::parse(c.select)) {
            for (const SelectorMatch &m : parsed->matches(p))
                from(c, m.name, *card);
        }
        if (all.size() > 4 * mostStrands)
            break;
    }
    return all;
}

int Gutter::beyond(const Strand &s) const
{
    const auto cardAt = [&](int y) { return view_->cards_->indexAt(QPoint(20, y)).row(); };
    if (s.card.center().y() < 0)
        return std::min(-1, s.cardRow - std::max(0, cardAt(2)));
    if (s.card.top() + scaled(20) <= height())
        return 0;
    const int last = cardAt(height() - 20); // of those whose strand can end at it
    return std::max(1, last < 0 ? 1 : s.cardRow - last);
}

QList<Gutter::Stub> Gutter::stubsOf(const QList<Strand> &strands) const
{
    QList<Stub> stubs;
    for (const Strand &s : strands) {
        const int far = beyond(s);
        if (far == 0)
            continue;
        Stub stub{s.row.center().y(), far, far, s.cardRow, s.mine};
        const auto touches = [&](const Stub &other) { return std::abs(other.y - stub.y) < wordsHeight; };
        const auto same = std::find_if(stubs.begin(), stubs.end(), [&](const Stub &other) {
            return touches(other) && (other.nearest < 0) == (far < 0);
        });
        if (same != stubs.end()) {
            if (std::abs(far) < std::abs(same->nearest)) {
                same->nearest = far;
                same->cardRow = s.cardRow;
            }
            if (std::abs(far) > std::abs(same->farthest))
                same->farthest = far;
            same->mine = same->mine || s.mine;
            continue;
        }
        while (std::any_of(stubs.begin(), stubs.end(), touches))
            stub.y += far < 0 ? -wordsHeight : wordsHeight;
        stubs << stub;
    }
    return stubs;
}

QRect Gutter::paintStub(QPainter *p, const Stub &s) const
{
    const Tokens &t = Tokens::current();
    const int from = width() < 70 ? 7 : 16;
    p->setFont(smallFont());
    QString count = QString::number(std::abs(s.nearest));
    if (s.farthest != s.nearest)
        count += u'–' + QString::number(std::abs(s.farthest));
    QString text = count + (s.nearest < 0 ? " above" : " below");
    if (p->fontMetrics().horizontalAdvance(text) > width() - from)
        text = count + (s.nearest < 0 ? " ↑" : " ↓");
    p->setPen(QPen(s.mine ? t.ink : t.edge, s.mine ? 2 : 1));
    p->drawLine(QPointF(0, s.y), QPointF(from - 3, s.y));
    const QRect words(from - 2, s.y - wordsHeight / 2, p->fontMetrics().horizontalAdvance(text) + 4,
                      wordsHeight);
    p->fillRect(words, t.paper); // strands pass behind it
    p->setPen(s.mine ? t.ink : t.ink2);
    p->drawText(words.adjusted(2, 0, 0, 0), Qt::AlignVCenter | Qt::TextDontClip, text);
    return words;
}

void Gutter::paintStrand(QPainter *p, const Strand &s, bool pale, bool moving) const
{
    const Tokens &t = Tokens::current();
    const std::int64_t now = monotonicNow();
    const auto pulse = moving ? traffic_.pulse(s.connection, now) : std::nullopt;
    const bool steady = moving && traffic_.steady(s.connection, now);
    QColor colour = s.mine || pulse || steady ? t.ink : t.edge;
    if (pale && !s.mine && !pulse && !steady)
        colour.setAlphaF(0.3f);
    const QPointF from(0, s.row.center().y()), to(width(), s.card.top() + scaled(20));
    QPainterPath path(from);
    path.cubicTo(QPointF(width() * 0.5, from.y()), QPointF(width() * 0.5, to.y()), to);
    p->setPen(QPen(colour, steady ? 3 : s.mine ? 2 : 1, s.enabled ? Qt::SolidLine : Qt::DotLine));
    p->setBrush(Qt::NoBrush);
    p->drawPath(path);
    if (!pulse || steady)
        return;
    p->setPen(Qt::NoPen);
    p->setBrush(t.ink);
    p->drawEllipse(path.pointAtPercent(std::min(0.94, *pulse)), 3.5, 3.5);
}

QList<Gutter::Strand> Gutter::shownStrands() const
{
    QList<Strand> shown = strands();
    for (qsizetype i = shown.size(); i-- > mostStrands;)
        if (!shown[i].mine)
            shown.removeAt(i);
    return shown;
}

// All strands at rest, and where those out of sight lead to.
void Gutter::paintBase(bool pale)
{
    base_ = QPixmap(size() * devicePixelRatio());
    base_.setDevicePixelRatio(devicePixelRatio());
    base_.fill(Qt::transparent);
    basePale_ = pale;
    baseColour_ = Tokens::current().ink;
    QPainter p(&base_);
    p.setRenderHint(QPainter::Antialiasing);
    for (const Strand &s : std::as_const(drawn_))
        if (beyond(s) == 0)
            paintStrand(&p, s, pale, false);
    stubs_ = {};
    for (const Stub &s : stubsOf(drawn_))
        stubs_ += paintStub(&p, s);
}

void Gutter::paintEvent(QPaintEvent *)
{
    const Selected &selected = view_->session_->selection.now();
    const bool pale = hovered_ >= 0 || !selected.connection.isEmpty() || !selected.handler.isEmpty();
    QList<Strand> shown = shownStrands();
    if (shown != drawn_ || pale != basePale_ || baseColour_ != Tokens::current().ink ||
        base_.size() != size() * devicePixelRatio()) {
        drawn_ = std::move(shown);
        paintBase(pale);
        update(); // more may look different than what is painted now
    }
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.drawPixmap(0, 0, base_);
    const std::int64_t now = monotonicNow();
    for (const Strand &s : std::as_const(drawn_))
        if (movesNow(s, now) && beyond(s) == 0)
            paintStrand(&p, s, pale, true);
    p.setClipRegion(stubs_);
    p.drawPixmap(0, 0, base_);
}

// On a stub: to the card that it means.
void Gutter::mousePressEvent(QMouseEvent *event)
{
    const int y = int(event->position().y());
    for (const Stub &s : stubsOf(strands()))
        if (std::abs(y - s.y) <= wordsHeight / 2)
            view_->cards_->scrollTo(view_->cardModel_->index(s.cardRow), QListView::PositionAtCenter);
}

} // namespace pipit::app
