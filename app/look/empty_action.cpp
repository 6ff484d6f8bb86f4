#include "app/look/empty_action.h"

#include "app/look/tokens.h"

#include <QEvent>

namespace pipit::app
{

EmptyAction::EmptyAction(QAbstractItemView *view) : QPushButton(view->viewport()), view_(view)
{
    setObjectName("emptyAction");
    setAutoDefault(true);
    setCursor(Qt::ArrowCursor);
    hide();
    view->viewport()->installEventFilter(this);
    const QAbstractItemModel *model = view->model();
    connect(model, &QAbstractItemModel::rowsInserted, this, &EmptyAction::place);
    connect(model, &QAbstractItemModel::rowsRemoved, this, &EmptyAction::place);
    connect(model, &QAbstractItemModel::modelReset, this, &EmptyAction::place);
}

void EmptyAction::offer(const QString &words)
{
    setText(words);
    place();
}

bool EmptyAction::eventFilter(QObject *watched, QEvent *event)
{
    if (event->type() == QEvent::Resize)
        place();
    return QPushButton::eventFilter(watched, event);
}

// Below the words of an empty list, which begin in its middle.
void EmptyAction::place()
{
    const QRect area = view_->viewport()->rect();
    const int below = area.height() / 2 + 4 * QFontMetrics(textFont()).lineSpacing();
    adjustSize();
    move((area.width() - width()) / 2, std::min(below, area.height() - height() - 8));
    setVisible(!text().isEmpty() && view_->model()->rowCount(view_->rootIndex()) == 0);
}

} // namespace pipit::app
