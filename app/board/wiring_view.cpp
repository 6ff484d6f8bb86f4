#include "app/board/gutter.h"

#include "app/look/divider.h"
#include "app/look/row_list.h"
#include "app/look/tokens.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QScrollBar>
#include <QShortcut>
#include <QVBoxLayout>

namespace pipit::app
{

namespace
{

// A list view that says what belongs in it while it is empty.
class SayingList : public QListView
{
public:
    SayingList(const QString &name, const QString &empty) : empty_(empty)
    {
        setAccessibleName(name);
        setFrameShape(QFrame::NoFrame);
        setMouseTracking(true);
        setVerticalScrollMode(ScrollPerPixel);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    }

protected:
    void paintEvent(QPaintEvent *e) override
    {
        QListView::paintEvent(e);
        if (model() && model()->rowCount() == 0) {
            QPainter p(viewport());
            paintEmpty(&p, viewport()->rect(), empty_);
        }
    }

private:
    QString empty_;
};

} // namespace

WiringView::WiringView(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    makeLists();
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    right_ = new QWidget;
    auto *right = new QVBoxLayout(right_);
    right->setContentsMargins(0, 0, 0, 0);
    right->setSpacing(0);
    right->addWidget(cards_, 1);
    right->addWidget(foot_);
    auto *between = new Divider("Width of the cards");
    connect(between, &Divider::moved, this, [this](int by) { setCardsWidth(right_->width() - by); });
    connect(between, &Divider::reset, this, [this] { setCardsWidth(0); });
    layout->addWidget(sentences_, 1);
    layout->addWidget(between);
    layout->addWidget(gutter_);
    layout->addWidget(right_);
    cards_->viewport()->installEventFilter(this);
    sentences_->viewport()->installEventFilter(this);
    hear();
    hearChoices();
    makeKeys();
}

void WiringView::makeLists()
{
    sentenceModel_ = new SentenceModel(this);
    cardModel_ = new CardModel(this);
    sentences_ = new SayingList("Connections", "Connections appear here as sentences. Select a widget on the "
                                               "left, choose a signal or event, and name the handler.");
    sentences_->setObjectName("sentences");
    sentences_->setModel(sentenceModel_);
    sentences_->setItemDelegate(new SentenceDelegate(session_, sentenceModel_, this));
    sentences_->setUniformItemSizes(true);
    cards_ = new SayingList("Handlers", {});
    cards_->setObjectName("cards");
    cards_->viewport()->setAutoFillBackground(false);
    cards_->setStyleSheet("QListView { background: transparent; }");
    cards_->setModel(cardModel_);
    cards_->setItemDelegate(new CardDelegate(session_, cardModel_, this));
    gutter_ = new Gutter(this);
    foot_ = new BandFoot(session_);
    connect(foot_, &BandFoot::bandAsked, this, [this](Shape shape) {
        for (int i = 0; i < cardModel_->rowCount(); ++i)
            if (cardModel_->rows()[i].kind == CardRow::Band && cardModel_->rows()[i].shape == shape)
                cards_->scrollTo(cardModel_->index(i), QAbstractItemView::PositionAtTop);
    });
}

void WiringView::setInPlaceOfSentences(QWidget *other, PlaceOf placeOf)
{
    auto *row = static_cast<QHBoxLayout *>(layout());
    if (inPlace_)
        row->removeWidget(inPlace_);
    inPlace_ = other;
    placeOf_ = other ? std::move(placeOf) : PlaceOf();
    if (other) {
        row->insertWidget(0, other, 1);
        other->show();
    }
    sentences_->setVisible(!other);
    fitCards();
    gutter_->update();
    if (auto *area = qobject_cast<QScrollArea *>(other))
        for (QScrollBar *bar : {area->verticalScrollBar(), area->horizontalScrollBar()})
            connect(bar, &QScrollBar::valueChanged, gutter_, qOverload<>(&QWidget::update),
                    Qt::UniqueConnection);
}

void WiringView::strandsMoved()
{
    gutter_->update();
}

void WiringView::setCardsWidth(int width)
{
    cardsWidth_ = width;
    fitCards();
    Q_EMIT cardsWidthChanged();
}

void WiringView::fitCards()
{
    gutter_->setFixedWidth(scaled(width() < scaled(860) ? 56 : 88));
    const int room = width() - gutter_->width(), least = scaled(160);
    if (cardsWidth_)
        cardsWidth_ = std::clamp(cardsWidth_, least, std::max(least, room - scaled(200)));
    const int share = inPlace_ ? 27 : 41; // per cent; a window at its true size needs the room
    right_->setFixedWidth(cardsWidth_ ? cardsWidth_ : std::max(least, room * share / 100));
}

void WiringView::hear()
{
    connect(sentences_, &QListView::entered, this,
            [this](const QModelIndex &i) { gutter_->setHovered(i.row()); });
    connect(sentences_, &QListView::viewportEntered, this, [this] { gutter_->setHovered(-1); });
    for (QListView *v : {sentences_, cards_})
        connect(v->verticalScrollBar(), &QScrollBar::valueChanged, gutter_, qOverload<>(&QWidget::update));
    connect(&session_->document, &Document::changed, this, &WiringView::rebuild);
    connect(&session_->document, &Document::findingsChanged, this, &WiringView::rebuild);
    connect(&session_->selection, &Selection::changed, this, &WiringView::takeSelection);
    connect(&session_->shown, &ShownTrace::figuresChanged, this, [this] {
        if (isVisible())
            showFigures();
        gutter_->takeFigures();
    });
}

// Paints those rows anew whose figures are others than before.
void WiringView::showFigures()
{
    const auto tell = [](QListView *view, QHash<int, CallFigures> *told, int rows, const auto &figuresOf) {
        const QRect area = view->viewport()->rect();
        QHash<int, CallFigures> now;
        for (int i = std::max(0, view->indexAt(QPoint(20, 1)).row()); i < rows; ++i) {
            const QRect at = view->visualRect(view->model()->index(i, 0));
            if (at.top() > area.bottom())
                break;
            now[i] = figuresOf(i);
            if (const auto was = told->constFind(i); was == told->constEnd() || *was != now[i])
                view->viewport()->update(at);
        }
        *told = now;
    };
    const auto &connections = session_->shown.figures().connections;
    if (std::exchange(anyFigures_, !connections.isEmpty()) != anyFigures_) {
        sentences_->viewport()->update(); // they have room for figures now, or none any more
        cards_->viewport()->update();
    }
    tell(sentences_, &sentenceFigures_, sentenceModel_->rowCount(),
         [&](int i) { return connections.value(sentenceModel_->row(i).connection); });
    tell(cards_, &cardFigures_, cardModel_->rowCount(),
         [&](int i) { return figuresOfHandler(*session_, cardModel_->rows()[i].name); });
}

void WiringView::hearChoices()
{
    connect(sentences_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex &i) {
                if (updating_ || !i.isValid() || !sentences_->selectionModel()->isSelected(i))
                    return; // made current by the focus alone
                const SentenceRow r = sentenceModel_->row(i.row());
                session_->selection.select({r.object, r.connection, r.handler});
            });
    connect(cards_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex &i) {
                if (updating_ || !i.isValid() || !cards_->selectionModel()->isSelected(i))
                    return;
                const CardRow &r = cardModel_->rows()[i.row()];
                if (r.kind == CardRow::Card)
                    session_->selection.select({{}, {}, r.name});
            });
    connect(sentences_, &QListView::activated, this, [this](const QModelIndex &i) {
        const SentenceRow r = sentenceModel_->row(i.row());
        if (r.connection.isEmpty())
            Q_EMIT connectAsked(r.object);
        else if (!r.handler.isEmpty())
            Q_EMIT handlerOpened(r.handler);
    });
    connect(cards_, &QListView::activated, this, [this](const QModelIndex &i) {
        if (cardModel_->rows()[i.row()].kind == CardRow::Card)
            Q_EMIT handlerOpened(cardModel_->rows()[i.row()].name);
    });
    auto *remove = new QShortcut(QKeySequence::Delete, sentences_);
    remove->setContext(Qt::WidgetShortcut);
    connect(remove, &QShortcut::activated, this, &WiringView::removeSelected);
}

void WiringView::makeKeys()
{
    const auto key = [this](const char *keys, auto what) {
        auto *s = new QShortcut(QKeySequence(QLatin1String(keys)), sentences_);
        s->setContext(Qt::WidgetShortcut);
        connect(s, &QShortcut::activated, this, what);
    };
    auto *away = new QShortcut(QKeySequence(QKeySequence::Delete), cards_);
    away->setContext(Qt::WidgetShortcut);
    connect(away, &QShortcut::activated, this, &WiringView::removeHandler);
    key("Space", [this] { switchSelected(); });
    key("Alt+Up", [this] { moveSelected(-1); });
    key("Alt+Down", [this] { moveSelected(1); });
}

void WiringView::resizeEvent(QResizeEvent *event)
{
    fitCards();
    QWidget::resizeEvent(event);
}

void WiringView::setFilter(const QString &text)
{
    filter_ = text;
    rebuild();
}

void WiringView::rebuild()
{
    updating_ = true;
    const int a = sentences_->verticalScrollBar()->value(), b = cards_->verticalScrollBar()->value();
    sentenceModel_->show(*session_, filter_);
    cardModel_->show(*session_, *sentenceModel_);
    sentences_->verticalScrollBar()->setValue(a);
    cards_->verticalScrollBar()->setValue(b);
    updating_ = false;
    takeSelection();
}

void WiringView::takeSelection()
{
    updating_ = true;
    const Selected &s = session_->selection.now();
    QModelIndex sentence, card;
    if (const int row = s.connection.isEmpty() ? -1 : sentenceModel_->rowOf(s.connection); row >= 0)
        sentence = sentenceModel_->index(row);
    for (int i = 0; i < cardModel_->rowCount() && !s.handler.isEmpty(); ++i)
        if (cardModel_->rows()[i].kind == CardRow::Card && cardModel_->rows()[i].name == s.handler)
            card = cardModel_->index(i);
    sentences_->setCurrentIndex(sentence);
    if (!sentence.isValid())
        sentences_->clearSelection();
    cards_->setCurrentIndex(card);
    if (!card.isValid())
        cards_->clearSelection();
    Q_EMIT cardModel_->layoutChanged(); // the opened card is taller
    updating_ = false;
    gutter_->update();
}

void WiringView::switchSelected()
{
    const QString id = session_->selection.now().connection;
    if (const Connection *c = session_->document.project().connection(id))
        session_->runs.switchConnection(id, !c->enabled);
}

// Before or after the next one of the same source: handlers are called in that order.
void WiringView::moveSelected(int by)
{
    const Project &p = session_->document.project();
    const Connection *mine = p.connection(session_->selection.now().connection);
    if (!mine)
        return;
    const QString id = mine->id;
    QStringList same; // ids of that source
    for (qsizetype i = 0; i < p.connections.size(); ++i)
        if (p.connections[i].from == mine->from && p.connections[i].select == mine->select)
            same << p.connections[i].id;
    const qsizetype at = same.indexOf(id), to = at + by;
    if (to < 0 || to >= same.size())
        return;
    QString before = same[to];
    if (by > 0)
        before = to + 1 < same.size() ? same[to + 1] : QString();
    session_->document.edit([&](Workspace &w) { return w.moveConnection(id, before); });
}

// With its connections and its code; one step of undo brings all of it back.
void WiringView::removeHandler()
{
    const QString name = session_->selection.now().handler;
    if (session_->document.isOpen() && session_->document.project().handler(name))
        session_->document.remove({name});
}

void WiringView::removeSelected()
{
    const QString id = session_->selection.now().connection;
    if (!id.isEmpty())
        session_->document.edit([&](Workspace &w) { return w.disconnect(id); });
}

bool WiringView::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == sentences_->viewport() && event->type() == QEvent::Leave)
        gutter_->setHovered(-1);
    if (watched != cards_->viewport())
        return QWidget::eventFilter(watched, event);
    if (event->type() == QEvent::MouseButtonPress &&
        static_cast<QMouseEvent *>(event)->button() == Qt::RightButton) { // its menu comes next
        const QModelIndex i = cards_->indexAt(static_cast<QMouseEvent *>(event)->position().toPoint());
        if (i.isValid() && cardModel_->rows()[i.row()].kind == CardRow::Card)
            session_->selection.select({{}, {}, cardModel_->rows()[i.row()].name});
        return true;
    }
    if (event->type() == QEvent::MouseButtonPress) {
        const QPoint at = static_cast<QMouseEvent *>(event)->position().toPoint();
        const QModelIndex i = cards_->indexAt(at);
        dragged_.clear();
        if (i.isValid() && cardModel_->rows()[i.row()].kind == CardRow::Card) {
            const CardRow &r = cardModel_->rows()[i.row()];
            const QRect card = cards_->visualRect(i).adjusted(4, 0, -8, -6);
            const bool opened = session_->selection.now().handler == r.name;
            if (opened && CardDelegate::openWord(card).contains(at)) {
                Q_EMIT handlerOpened(r.name);
            } else if (opened && CardDelegate::moveWord(card).contains(at)) {
                Q_EMIT moveAsked(r.name, r.shape == Shape::OneGo ? Shape::Background : Shape::OneGo);
            } else {
                dragged_ = r.name;
                pressedAt_ = at;
                cards_->setFocus();
            }
            return true; // it is selected when the button is let go: opening a card moves the others
        }
    } else if (event->type() == QEvent::MouseMove && !dragged_.isEmpty()) {
        const QPoint at = static_cast<QMouseEvent *>(event)->position().toPoint();
        if ((at - pressedAt_).manhattanLength() > 12) {
            cards_->viewport()->setCursor(Qt::ClosedHandCursor);
            foot_->setDragging(true, cards_->viewport()->mapToGlobal(at));
        }
        return true; // or the list would select what it passes
    } else if (event->type() == QEvent::MouseButtonRelease && !dragged_.isEmpty()) {
        cards_->viewport()->unsetCursor();
        const QPoint at = static_cast<QMouseEvent *>(event)->position().toPoint();
        const QString handler = dragged_;
        const auto band = foot_->bandAt(cards_->viewport()->mapToGlobal(at));
        foot_->setDragging(false);
        if ((at - pressedAt_).manhattanLength() > 12 && band)
            askMove(*band);
        else if ((at - pressedAt_).manhattanLength() > 12)
            dropCard(at);
        else
            session_->selection.select({{}, {}, handler});
        dragged_.clear();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

// The card was let go: the band it lies in is the last heading above it.
void WiringView::dropCard(const QPoint &at)
{
    Shape target = Shape::OneGo;
    for (int i = 0; i < cardModel_->rowCount(); ++i)
        if (cardModel_->rows()[i].kind == CardRow::Band &&
            cards_->visualRect(cardModel_->index(i)).top() <= at.y())
            target = cardModel_->rows()[i].shape;
    askMove(target);
}

void WiringView::askMove(Shape target)
{
    const Handler *h = session_->document.project().handler(dragged_);
    if (h && target != h->shape)
        Q_EMIT moveAsked(dragged_, target);
}

} // namespace pipit::app
