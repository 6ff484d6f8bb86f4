#include "app/board/windows_row.h"

#include "app/look/tokens.h"

#include <QLabel>
#include <QScrollBar>
#include <QVBoxLayout>

namespace pipit::app
{

WindowsRow::WindowsRow(Session *session, std::function<void(PreviewView *)> hear, QWidget *parent)
    : QScrollArea(parent), session_(session), hear_(std::move(hear)), inside_(new QWidget)
{
    setObjectName("windowsRow");
    setAccessibleName("The windows at full size");
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    row_ = new QHBoxLayout(inside_);
    row_->setContentsMargins(0, 0, 0, 0);
    row_->setSpacing(0);
    setWidget(inside_);
    connect(&session->document, &Document::changed, this, [this] {
        if (first_ && windows() != shown_)
            rebuild();
    });
    connect(&session->selection, &Selection::changed, this, [this] {
        if (first_ && isVisible())
            goToSelected();
    });
}

QStringList WindowsRow::windows() const
{
    QStringList names;
    if (session_->document.isOpen())
        for (const WindowNode &w : session_->document.project().windows)
            names << w.root.name;
    return names;
}

void WindowsRow::show(PreviewView *first)
{
    first_ = first;
    rebuild();
    QScrollArea::show();
}

void WindowsRow::rebuild()
{
    if (first_)
        first_->setParent(nullptr);
    qDeleteAll(std::exchange(columns_, {}));
    views_.clear();
    shown_ = windows();
    for (const QString &name : std::as_const(shown_)) {
        PreviewView *view = views_.isEmpty() ? first_ : new PreviewView(session_);
        if (view != first_)
            hear_(view);
        view->setLarge(true);
        view->setWindow(name);
        auto *column = new QWidget;
        auto *layout = new QVBoxLayout(column);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(0);
        if (shown_.size() > 1) {
            auto *caption = new QLabel(name);
            caption->setFont(smallFont());
            caption->setContentsMargins(padding, 6, padding, 0);
            layout->addWidget(caption);
        }
        layout->addWidget(view, 1);
        row_->addWidget(column, 1);
        columns_ << column;
        views_ << view;
        view->show();
    }
}

void WindowsRow::giveBack()
{
    if (!first_)
        return;
    first_->setParent(nullptr);
    first_->setWindow({});
    first_->setLarge(false);
    first_ = nullptr;
    qDeleteAll(std::exchange(columns_, {}));
    views_.clear();
}

QRect WindowsRow::placeOf(const QString &object) const
{
    for (const PreviewView *v : views_) {
        const QRect place = v->shownAt(object).toRect();
        if (!place.isValid())
            continue;
        const QRect here(v->mapTo(const_cast<WindowsRow *>(this), place.topLeft()), place.size());
        return rect().intersects(here) ? here : QRect();
    }
    return {};
}

void WindowsRow::goToSelected()
{
    const QString object = session_->selection.now().object;
    const int at = session_->document.isOpen() ? session_->document.project().windowOf(object) : -1;
    PreviewView *view = views_.value(std::max(0, at));
    if (!view)
        return;
    if (const QRect place = view->shownAt(object).toRect(); place.isValid()) {
        const QPoint middle = view->mapTo(inside_, place.center());
        ensureVisible(middle.x(), middle.y(), place.width() / 2 + padding, place.height() / 2 + padding);
    }
}

} // namespace pipit::app
