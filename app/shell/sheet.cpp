#include "app/shell/sheet.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

namespace pipit::app
{

Sheet::Sheet(Actions *actions, QWidget *window) : QFrame(window), actions_(actions)
{
    setObjectName("sheet");
    hide();
    list_ = new RowList("All commands", 0, 150);
    list_->setObjectName("sheetList");
    note_ = new QLabel;
    note_->setFont(smallFont());
    note_->setWordWrap(true);
    change_ = new QPushButton("Change keys");
    usual_ = new QPushButton("Default keys");
    keys_ = new QKeySequenceEdit;
    keys_->setAccessibleName("New keys");
    keys_->hide();
    auto *foot = new QHBoxLayout;
    foot->addWidget(note_, 1);
    foot->addWidget(keys_);
    foot->addWidget(change_);
    foot->addWidget(usual_);
    auto *v = new QVBoxLayout(this);
    v->setContentsMargins(8, 8, 8, 8);
    v->addWidget(list_, 1);
    v->addLayout(foot);
    connect(list_, &RowList::activatedRow, this, [this](const QString &id, int) {
        hide();
        actions_->trigger(id);
    });
    connect(list_, &QListView::clicked, this, [this](const QModelIndex &i) {
        const Row *r = list_->rowModel()->row(i);
        const QString why = r && actions_->find(r->key) && actions_->find(r->key)->unable
                                ? actions_->find(r->key)->unable()
                                : QString();
        note_->setText(why);
    });
    connect(list_, &RowList::chosen, this, [this](const QString &id, int) {
        const Action *a = actions_->find(id);
        const QString why = a && a->unable ? a->unable() : QString();
        note_->setText(why.isEmpty() ? "Return or a double click runs the command." : why);
    });
    connect(change_, &QPushButton::clicked, this, &Sheet::beginKeys);
    connect(usual_, &QPushButton::clicked, this, [this] { takeKeys({}); });
    connect(keys_, &QKeySequenceEdit::editingFinished, this,
            [this] { takeKeys(keys_->keySequence().toString(QKeySequence::PortableText)); });
    qApp->installEventFilter(this);
}

void Sheet::fill()
{
    std::vector<Row> rows;
    QStringList groups; // in the order in which they come first
    for (const Action &a : actions_->all())
        if (!groups.contains(a.group))
            groups << a.group;
    for (const QString &group : std::as_const(groups)) {
        Row h;
        h.text = group;
        h.heading = true;
        rows.push_back(h);
        for (const Action &a : actions_->all()) {
            if (a.group != group)
                continue;
            Row r;
            r.key = a.id;
            r.text = a.words;
            r.tail = actions_->keyText(a);
            r.faint = a.unable && !a.unable().isEmpty();
            rows.push_back(std::move(r));
        }
    }
    list_->rowModel()->setRows(std::move(rows));
}

void Sheet::place()
{
    const QWidget *window = parentWidget();
    const int height = std::min(window->height() - headerHeight - 24, scaled(560));
    const int width = std::min(scaled(520), window->width() - 16);
    setGeometry(window->width() - width - 8, headerHeight + 2, width, height);
}

void Sheet::open()
{
    fill();
    note_->setText("Return runs the selected command, Escape closes.");
    keys_->hide();
    place();
    show();
    raise();
    list_->setFocus();
    list_->setCurrentIndex(list_->model()->index(1, 0));
}

void Sheet::beginKeys()
{
    if (!actions_->find(list_->currentKey()))
        return;
    keys_->clear();
    keys_->show();
    keys_->setFocus();
    note_->setText("Press the new keys.");
}

void Sheet::takeKeys(const QString &keys)
{
    if (!isVisible())
        return;
    const QString id = list_->currentKey();
    const Action *taken = keys.isEmpty() ? nullptr : actions_->takenBy(keys, id);
    if (taken) {
        note_->setText(keys + " is already used by: " + taken->words + ". Press others.");
        keys_->clear();
        return;
    }
    keys_->hide();
    actions_->setKeys(id, keys);
    fill();
    list_->selectKey(id);
    list_->setFocus();
    const Action *a = actions_->find(id);
    note_->setText(a ? a->words + ": " + actions_->keyText(*a) : QString());
}

// A click anywhere else leaves.
bool Sheet::eventFilter(QObject *watched, QEvent *event)
{
    if (isVisible() && event->type() == QEvent::MouseButtonPress && watched->isWidgetType()) {
        auto *w = static_cast<QWidget *>(watched);
        if (w != this && !isAncestorOf(w) && w->window() == window() && w->objectName() != "commandsButton")
            hide();
    }
    return QFrame::eventFilter(watched, event);
}

void Sheet::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Escape)
        hide();
    else if (event->key() == Qt::Key_F2)
        beginKeys();
    else
        QFrame::keyPressEvent(event);
}

} // namespace pipit::app
