#include "app/board/move_choices.h"

#include "app/look/choice_box.h"
#include "core/catalog/catalog.h"

#include <QFormLayout>
#include <QLineEdit>
#include <QSignalBlocker>

namespace pipit::app
{

namespace
{

QLabel *nameOf(QComboBox *box, const char *words)
{
    auto *label = new QLabel(words);
    label->setBuddy(box);
    return label;
}

constexpr int together[] = {2, 4, 8};

} // namespace

MoveChoices::MoveChoices(QWidget *parent) : QWidget(parent)
{
    again_ = new ChoiceBox("againChoice", "When triggered again while it runs");
    cancel_ = new ChoiceBox("cancelChoice", "Button that cancels it");
    queue_ = new ChoiceBox("queueChoice", "Queue that it shares");
    for (QComboBox *box : {again_, cancel_, queue_})
        box->setMinimumContentsLength(8);
    queue_->setEditable(true);
    queue_->lineEdit()->setFrame(false);
    queue_->setInsertPolicy(QComboBox::NoInsert);
    queue_->setToolTip(
        "Handlers of one queue run one after the other, on one thread. Choose a queue, or type a name");
    againName_ = nameOf(again_, "Triggered again");
    cancelName_ = nameOf(cancel_, "Cancelled by");
    queueName_ = nameOf(queue_, "Queue");
    auto *form = new QFormLayout(this);
    form->setContentsMargins(0, 8, 0, 8);
    form->setVerticalSpacing(4);
    form->setLabelAlignment(Qt::AlignLeft);
    form->addRow(againName_, again_);
    form->addRow(cancelName_, cancel_);
    form->addRow(queueName_, queue_);
    connect(again_, &QComboBox::activated, this, &MoveChoices::changed);
    connect(cancel_, &QComboBox::activated, this, &MoveChoices::changed);
    connect(queue_, &QComboBox::activated, this, [this] {
        with_.clear();
        Q_EMIT changed();
    });
    connect(queue_->lineEdit(), &QLineEdit::editingFinished, this, [this] {
        if (!queue_->lineEdit()->isModified())
            return;
        queue_->lineEdit()->setModified(false);
        with_.clear();
        Q_EMIT changed();
    });
}

void MoveChoices::setFor(const Project &p, const Handler &handler, Shape shape)
{
    setVisible(shape != Shape::OneGo);
    const QSignalBlocker a(again_), c(cancel_), q(queue_);
    const bool background = shape == Shape::Background, works = handler.shape == Shape::Background;
    with_.clear();
    again_->clear();
    again_->addItem("wait in the queue", QString());
    again_->addItem("ignore the trigger", "ignore");
    again_->addItem("restart the work", "restart");
    for (const int n : background ? QList<int>(std::begin(together), std::end(together)) : QList<int>())
        again_->addItem(QStringLiteral("up to %1 at once").arg(n), QStringLiteral("together %1").arg(n));
    if (works) {
        const QString now =
            handler.isTogether() ? QStringLiteral("together %1").arg(handler.workers) : handler.again;
        int at = again_->findData(now);
        if (at < 0 && handler.isTogether()) {
            again_->addItem(QStringLiteral("up to %1 at once").arg(handler.workers), now);
            at = again_->count() - 1;
        }
        if (at < 0)
            again_->setItemData(0, handler.again);
        again_->setCurrentIndex(std::max(at, 0));
    }
    cancel_->clear();
    cancel_->addItem("nothing", QString());
    const int window = p.windowOfHandler(handler);
    p.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        if (Catalog::get().inherits(w.knownClass(), "QAbstractButton") && p.windowOf(w.name) == window)
            cancel_->addItem(w.name, w.name);
    });
    queue_->clear();
    queue_->addItem("its own");
    for (const Handler &h : p.handlers)
        if (h.isQueued() && p.windowOfHandler(h) == window && queue_->findText(h.queue) < 0)
            queue_->addItem(h.queue);
    queue_->setCurrentText(handler.isQueued() ? handler.queue : QString("its own"));
    for (QWidget *w : {static_cast<QWidget *>(cancelName_), static_cast<QWidget *>(cancel_)})
        w->setVisible(!works); // connected as anything else, later
    for (QWidget *w : {static_cast<QWidget *>(queueName_), static_cast<QWidget *>(queue_)})
        w->setVisible(background);
}

void MoveChoices::tell(MoveQuestion &q) const
{
    q.with = with_;
    if (q.shape == Shape::OneGo)
        return;
    const QStringList again = again_->currentData().toString().split(' ');
    q.again = again.value(0);
    q.workers = again.value(1).toInt();
    q.cancelButton = cancel_->currentData().toString();
    const QString queue = queue_->currentText().trimmed();
    q.ownQueue = queue == queue_->itemText(0) || queue.isEmpty();
    if (q.shape == Shape::Background && !q.ownQueue)
        q.queue = queue;
    else
        q.with.clear();
}

void MoveChoices::choose(const MoveOffer &offer)
{
    if (!offer.again.isEmpty())
        again_->setCurrentIndex(std::max(0, again_->findData(offer.again)));
    if (!offer.queue.isEmpty())
        queue_->setCurrentText(offer.queue);
    with_ = offer.with;
    Q_EMIT changed();
}

} // namespace pipit::app
