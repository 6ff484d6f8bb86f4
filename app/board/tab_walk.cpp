#include "app/board/tab_walk.h"

#include "app/look/tokens.h"

#include <QHBoxLayout>
#include <QShortcut>

namespace pipit::app
{

TabWalk::TabWalk(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setObjectName("tabWalk");
    words_ = new QLabel;
    words_->setWordWrap(true);
    done_ = new QPushButton("Apply this order");
    done_->setObjectName("takeOrder");
    auto *leave = new QPushButton("Leave it");
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(padding, 6, padding, 6);
    layout->setSpacing(8);
    layout->addWidget(words_, 1);
    layout->addWidget(done_);
    layout->addWidget(leave);
    connect(done_, &QPushButton::clicked, this, &TabWalk::finish);
    connect(leave, &QPushButton::clicked, this, &TabWalk::leave);
    connect(&session->document, &Document::opened, this, &TabWalk::leave);
    hide();
}

void TabWalk::begin()
{
    if (!session_->document.isOpen())
        return;
    const Project &p = session_->document.project();
    window_ = p.windows[std::max(0, p.windowOf(session_->selection.now().object))].root.name;
    show({});
}

void TabWalk::choose(const QString &widget)
{
    if (!walking())
        return;
    const Project &p = session_->document.project();
    const int at = p.windowOf(widget);
    if (!p.widget(widget) || at < 0 || p.windows[at].root.name != window_ || widget == window_)
        return;
    QStringList order = order_;
    order.removeAll(widget);
    show(order << widget);
}

void TabWalk::show(const QStringList &order)
{
    order_ = order;
    words_->setText(order_.isEmpty()
                        ? QStringLiteral("Tab order of %1: click its widgets in order in the preview, or "
                                         "press Space on each in the outline.")
                              .arg(window_)
                        : QStringLiteral("Tab order of %1: %2").arg(window_, order_.join(", then ")));
    done_->setEnabled(order_.size() > 1);
    setVisible(true);
    Q_EMIT changed();
}

void TabWalk::finish()
{
    const QString window = window_;
    const QStringList order = order_;
    if (!walking() || order.size() < 2)
        return;
    if (session_->document.edit(
            [&](Workspace &w) { return w.setProperty(window, "tabOrder", order.join(", ")); }))
        leave();
}

void TabWalk::leave()
{
    window_.clear();
    order_.clear();
    hide();
    Q_EMIT changed();
}

} // namespace pipit::app
