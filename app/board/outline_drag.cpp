// Dragging in the outline: a widget to another place, an offer to a card.
#include "app/board/outline.h"

#include "core/catalog/catalog.h"

#include <QMouseEvent>

namespace pipit::app
{

bool Outline::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == objects_->viewport())
        return dragEvent(event);
    if (watched == offers_->viewport())
        return offerEvent(event);
    if (watched == sentence_ && sentenceEvent(event))
        return true;
    return QWidget::eventFilter(watched, event);
}

bool Outline::dragEvent(QEvent *event)
{
    if (event->type() == QEvent::MouseButtonPress) {
        pressedAt_ = static_cast<QMouseEvent *>(event)->position().toPoint();
        const Row *r = objects_->rowModel()->row(objects_->indexAt(pressedAt_));
        dragged_ = r ? r->key : QString();
        return false;
    }
    if (event->type() != QEvent::MouseMove && event->type() != QEvent::MouseButtonRelease)
        return false;
    const QPoint at = static_cast<QMouseEvent *>(event)->position().toPoint();
    const bool far = !dragged_.isEmpty() && (at - pressedAt_).manhattanLength() > 12;
    if (event->type() == QEvent::MouseMove) {
        if (far)
            objects_->viewport()->setCursor(Qt::ClosedHandCursor);
        return far; // or the list would select what it passes
    }
    objects_->viewport()->unsetCursor();
    if (far)
        dropAt(at);
    dragged_.clear();
    return far;
}

// Into a container when let go on it, before another widget otherwise.
void Outline::dropAt(const QPoint &at)
{
    const Row *r = objects_->rowModel()->row(objects_->indexAt(at));
    const Project &p = session_->document.project();
    if (!r || r->key == dragged_)
        return;
    const WidgetNode *over = p.widget(r->key);
    if (!over)
        return;
    QString parent = over->name;
    int index = -1;
    const bool upper = at.y() < objects_->visualRect(objects_->indexAt(at)).center().y() - 6;
    const WidgetNode *above = p.parentOf(over->name);
    if (above && (upper || !Catalog::holds(over->knownClass()))) {
        parent = above->name;
        for (int i = 0; i < above->children.size(); ++i)
            if (above->children[i].name == over->name)
                index = i;
    }
    const QString name = dragged_;
    session_->document.edit([&](Workspace &w) { return w.move(name, parent, index); });
}

bool Outline::offerEvent(QEvent *event)
{
    if (event->type() == QEvent::MouseButtonPress) {
        pressedAt_ = static_cast<QMouseEvent *>(event)->position().toPoint();
        const Row *r = offers_->rowModel()->row(offers_->indexAt(pressedAt_));
        offered_ = r ? r->key : QString();
        return false;
    }
    if (event->type() != QEvent::MouseMove && event->type() != QEvent::MouseButtonRelease)
        return false;
    const auto *mouse = static_cast<QMouseEvent *>(event);
    const bool out =
        !offered_.isEmpty() && !offers_->viewport()->rect().contains(mouse->position().toPoint());
    if (event->type() == QEvent::MouseMove) {
        offers_->viewport()->setCursor(out ? Qt::DragLinkCursor : Qt::ArrowCursor);
        return out;
    }
    offers_->viewport()->unsetCursor();
    if (out)
        Q_EMIT offerDropped(session_->selection.now().object, offered_, mouse->globalPosition().toPoint());
    offered_.clear();
    return out;
}

} // namespace pipit::app
