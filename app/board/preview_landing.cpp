// Where a widget that is dragged in the preview would land.
#include "app/board/preview_view.h"

#include "app/look/tokens.h"
#include "core/catalog/catalog.h"
#include "core/sentences/sentence.h"

#include <QPainter>

namespace pipit::app
{

namespace
{

// What lies between two children, or beside the only one there is.
QRectF between(const QRectF &before, const QRectF &after, const QRectF &room, bool across, bool mirrored)
{
    if (!before.isValid() && !after.isValid())
        return room.adjusted(2, 2, -2, -2);
    if (!across) {
        const double y = !before.isValid()  ? after.top() - 3
                         : !after.isValid() ? before.bottom() + 3
                                            : (before.bottom() + after.top()) / 2;
        return QRectF(room.left() + 2, y - 1, room.width() - 4, 2);
    }
    const QRectF &left = mirrored ? after : before, &right = mirrored ? before : after;
    const double x = !left.isValid()    ? right.left() - 3
                     : !right.isValid() ? left.right() + 3
                                        : (left.right() + right.left()) / 2;
    const QRectF &high = before.isValid() ? before : after;
    return QRectF(x - 1, high.top(), 2, high.height());
}

bool holdsInOrder(const WidgetNode &node)
{
    return Catalog::holds(node.knownClass()) && !node.layout.isEmpty();
}

} // namespace

PreviewView::Landing PreviewView::landingAt(const QPointF &point, const QString &moved) const
{
    if (!session_->document.isOpen() || !target().contains(point))
        return {};
    const Project &p = session_->document.project();
    const QString over = widgetAt(point);
    const WidgetNode *node = p.widget(over.isEmpty() ? window_ : over);
    if (!node || p.windowOf(moved) != p.windowOf(node->name))
        return {};
    const WidgetNode *into =
        Catalog::holds(node->knownClass()) && node->className != "QFrame" ? node : p.parentOf(node->name);
    for (const WidgetNode *up = into; up; up = p.parentOf(up->name))
        if (up->name == moved)
            return {}; // not into itself
    if (!into)
        return {};
    Landing landing{into->name, -1, shownAt(into->name)};
    if (!landing.where.isValid())
        landing.where = target();
    if (!holdsInOrder(*into))
        return landing;
    const bool across = into->layout == "row" || into->layout == "grid", mirrored = options_.rightToLeft;
    const QRectF room = landing.where;
    QRectF before, after;
    int at = 0;
    for (const WidgetNode &child : into->children) {
        const QRectF place = shownAt(child.name);
        const QPointF middle = place.center();
        bool past =
            across ? (mirrored ? point.x() < middle.x() : point.x() > middle.x()) : point.y() > middle.y();
        if (into->layout == "grid" && place.isValid()) // row by row
            past = point.y() > place.bottom() || (point.y() > place.top() && past);
        if (place.isValid() && !past) {
            after = place;
            break;
        }
        if (place.isValid())
            before = place;
        ++at;
    }
    if (into->layout == "grid" && before.isValid() && after.isValid() && before.top() != after.top())
        before = {}; // the last of the row above
    landing.index = at;
    landing.where = between(before, after, room, across, mirrored);
    return landing;
}

void PreviewView::paintLanding(QPainter *p) const
{
    const Landing landing = landingAt(pointer_, dragged_);
    const WidgetNode *node = session_->document.project().widget(dragged_);
    if (landing.parent.isEmpty() || !node)
        return;
    const Tokens &t = Tokens::current();
    const bool line = landing.where.width() <= 2 || landing.where.height() <= 2;
    p->setPen(line ? Qt::NoPen : QPen(t.ink, 1, Qt::DashLine));
    p->setBrush(line ? QBrush(t.ink) : QBrush(Qt::NoBrush));
    p->drawRect(landing.where);
    // Its sentence beside it, within what is seen.
    const QString words =
        widgetSentence(*node) + (landing.parent == window_ ? QString() : " in " + landing.parent);
    p->setFont(smallFont());
    const QFontMetrics metrics = p->fontMetrics();
    QRectF box(0, 0, metrics.horizontalAdvance(words) + 12, metrics.height() + 4);
    box.moveTopLeft(landing.where.topRight() + QPointF(6, 4));
    box.moveLeft(std::max(2.0, std::min(box.left(), width() - box.width() - 2)));
    box.moveTop(std::max(2.0, std::min(box.top(), height() - box.height() - 2)));
    p->setPen(t.edge);
    p->setBrush(t.surface);
    p->drawRoundedRect(box, 4, 4);
    p->setPen(t.ink);
    p->drawText(box, Qt::AlignCenter, words);
}

void PreviewView::drop(const QPointF &point)
{
    const QString moved = dragged_;
    const Landing landing = landingAt(point, moved);
    if (landing.parent.isEmpty())
        Q_EMIT session_->messages.note(moved +
                                       " can be dropped only in its own window, and not into itself.");
    else
        session_->document.edit([&](Workspace &w) { return w.move(moved, landing.parent, landing.index); });
}

} // namespace pipit::app
