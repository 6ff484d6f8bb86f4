#include "app/shell/finder.h"

#include <QApplication>
#include <QKeyEvent>
#include <QPointer>
#include <QVBoxLayout>

namespace pipit::app
{

namespace
{

constexpr std::size_t mostRows = 400;

// How well it fits what is typed: smaller is better, negative not at all.
int rank(const Found &f, const QString &typed)
{
    if (typed.isEmpty())
        return 3;
    if (f.name.compare(typed, Qt::CaseInsensitive) == 0 || f.words.compare(typed, Qt::CaseInsensitive) == 0)
        return 0;
    if (f.name.startsWith(typed, Qt::CaseInsensitive) || f.words.startsWith(typed, Qt::CaseInsensitive))
        return 1;
    if (f.words.contains(typed, Qt::CaseInsensitive))
        return 2;
    for (const QString &word : typed.split(' ', Qt::SkipEmptyParts))
        if (!f.words.contains(word, Qt::CaseInsensitive) && !f.tail.contains(word, Qt::CaseInsensitive))
            return -1;
    return 3;
}

} // namespace

Finder::Finder(QWidget *window) : QWidget(window)
{
    setObjectName("finderSheet");
    setAttribute(Qt::WA_StyledBackground);
    line_ = new QLineEdit;
    line_->setObjectName("finder");
    line_->setPlaceholderText("Find commands, widgets, handlers, connections, plays, recordings");
    line_->setAccessibleName("Finder");
    line_->installEventFilter(this);
    list_ = new RowList("Results", 0, 150);
    list_->setEmptyText("Nothing has that name.");
    list_->setFocusPolicy(Qt::NoFocus);
    auto *v = new QVBoxLayout(this);
    v->setContentsMargins(8, 8, 8, 8);
    v->setSpacing(6);
    v->addWidget(line_);
    v->addWidget(list_, 1);
    hide();
    connect(line_, &QLineEdit::textChanged, this, &Finder::match);
    connect(line_, &QLineEdit::returnPressed, this, &Finder::go);
    connect(list_, &QListView::clicked, this, &Finder::go);
}

void Finder::open(std::vector<Found> all)
{
    before_ = QApplication::focusWidget();
    all_ = std::move(all);
    const QWidget *window = parentWidget();
    const int width = std::min(scaled(640), window->width() - 32);
    setGeometry((window->width() - width) / 2, headerHeight + 2, width,
                std::min(scaled(460), window->height() - headerHeight - 24));
    line_->clear();
    match();
    show();
    raise();
    line_->setFocus();
}

void Finder::leave()
{
    hide();
    if (before_)
        before_->setFocus();
}

void Finder::match()
{
    const QString typed = line_->text().trimmed();
    std::vector<std::pair<int, int>> fitting; // rank, number
    for (std::size_t i = 0; i < all_.size(); ++i)
        if (const int r = rank(all_[i], typed); r >= 0)
            fitting.push_back({r, int(i)});
    std::stable_sort(fitting.begin(), fitting.end(),
                     [](const auto &a, const auto &b) { return a.first < b.first; });
    std::vector<Row> rows;
    for (const auto &[r, i] : fitting) {
        Row row;
        row.text = all_[std::size_t(i)].words;
        row.tail = all_[std::size_t(i)].tail;
        row.number = i;
        rows.push_back(std::move(row));
        if (rows.size() >= mostRows)
            break;
    }
    list_->rowModel()->setRows(std::move(rows));
    list_->setCurrentIndex(list_->model()->index(0, 0));
    list_->scrollToTop();
}

void Finder::go()
{
    const Row *row = list_->rowModel()->row(list_->currentIndex());
    if (!row || row->number < 0)
        return;
    const auto what = all_[std::size_t(row->number)].go;
    leave();
    what();
}

// The arrows walk the list while the line keeps the focus.
bool Finder::eventFilter(QObject *watched, QEvent *event)
{
    if (event->type() == QEvent::FocusOut && isVisible() && watched == line_) {
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (!line_->hasFocus())
                    hide();
            },
            Qt::QueuedConnection);
        return false;
    }
    if (event->type() != QEvent::KeyPress && event->type() != QEvent::ShortcutOverride)
        return false;
    const int key = static_cast<QKeyEvent *>(event)->key();
    if (key == Qt::Key_Escape) {
        event->accept();
        if (event->type() == QEvent::KeyPress)
            leave();
        return true;
    }
    const int step = key == Qt::Key_Down       ? 1
                     : key == Qt::Key_Up       ? -1
                     : key == Qt::Key_PageDown ? 10
                     : key == Qt::Key_PageUp   ? -10
                                               : 0;
    if (!step || event->type() != QEvent::KeyPress)
        return false;
    const int rows = list_->model()->rowCount();
    list_->setCurrentIndex(
        list_->model()->index(std::clamp(list_->currentIndex().row() + step, 0, std::max(0, rows - 1)), 0));
    return true;
}

} // namespace pipit::app
