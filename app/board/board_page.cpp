#include "app/board/board_page.h"

#include "app/look/divider.h"
#include "core/catalog/catalog.h"
#include "core/sentences/sentence.h"

#include <QAbstractItemView>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace pipit::app
{

BoardPage::BoardPage(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    preview_ = new PreviewView(session);
    previewBar_ = new PreviewBar(preview_);
    outline_ = new Outline(session);
    wiring_ = new WiringView(session);
    drawer_ = new Drawer(session);
    tabWalk_ = new TabWalk(session);
    connect(outline_, &Outline::picked, tabWalk_, &TabWalk::choose);
    connect(tabWalk_, &TabWalk::changed, this, [this] {
        preview_->setNumbered(tabWalk_->order());
        for (PreviewView *v : windows_->views())
            v->setNumbered(tabWalk_->order());
    });
    windows_ = new WindowsRow(
        session, [this](PreviewView *v) { hearPreview(v); }, this);
    windows_->hide();
    connect_ = new QLineEdit;
    connect_->setObjectName("connectLine");
    connect_->setPlaceholderText("Connect (Alt+I): widget, signal or event, calls, handler");
    connect_->setAccessibleName("Add a connection");
    filter_ = new QLineEdit;
    filter_->setObjectName("filterLine");
    filter_->setPlaceholderText("Filter");
    filter_->setAccessibleName("Filter the connections");
    filter_->setClearButtonEnabled(true);
    changed_ = new QLabel;
    changed_->setFont(smallFont());
    said_ = new NoteLine;
    said_->setObjectName("connectNote");
    said_->setContentsMargins(20, 0, 12, 6);
    lookSoon_.setSingleShot(true);
    lookSoon_.setInterval(std::chrono::milliseconds(200));
    connect(&lookSoon_, &QTimer::timeout, this, &BoardPage::look);
    completions_ = new QStringListModel(this);
    auto *completer = new QCompleter(completions_, this);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setMaxVisibleItems(10);
    connect_->setCompleter(completer);

    layOut();

    connect(filter_, &QLineEdit::textChanged, wiring_, &WiringView::setFilter);
    connect(connect_, &QLineEdit::textEdited, this, &BoardPage::complete);
    connect(connect_, &QLineEdit::textChanged, this, [this] { lookSoon_.start(); });
    connect(connect_, &QLineEdit::returnPressed, this, &BoardPage::makeConnection);
    connect(outline_, &Outline::offerChosen, this, &BoardPage::beginLine);
    connect(outline_, &Outline::offerDropped, this, &BoardPage::dropOffer);
    connect(outline_, &Outline::renameAsked, drawer_, &Drawer::planRename);
    connect(wiring_, &WiringView::handlerOpened, drawer_, &Drawer::openHandler);
    connect(wiring_, &WiringView::moveAsked, drawer_, &Drawer::planMove);
    connect(wiring_, &WiringView::connectAsked, this, [this](const QString &object) {
        session_->selection.select({object, {}, {}});
        outline_->offers()->setFocus();
    });
    const auto tellChanged = [this] {
        const bool moved = session_->runs.wiringChangedSinceRun();
        changed_->setText(moved ? "The connections changed since this run" : QString());
        changed_->setVisible(moved);
    };
    connect(&session->document, &Document::changed, this, tellChanged);
    connect(&session->runs, &Runs::stateChanged, this, tellChanged);
    tellChanged();
    hearPreview(preview_);
    makeMenus();
}

void BoardPage::hearPreview(PreviewView *view)
{
    connect(view, &PreviewView::picked, tabWalk_, &TabWalk::choose);
    connect(view, &PreviewView::textChanged, this, &BoardPage::takeText);
    connect(view, &PreviewView::drawn, wiring_, &WiringView::strandsMoved);
    connect(view, &PreviewView::typed, this, [this](const QString &text) {
        outline_->addLine()->setFocus();
        outline_->addLine()->setText(outline_->addLine()->text() + text);
    });
    view->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(view, &QWidget::customContextMenuRequested, this,
            [this, view](const QPoint &at) { showThingMenu(view->mapToGlobal(at)); });
}

void BoardPage::layOut()
{
    left_ = new QWidget;
    auto *leftLayout = new QVBoxLayout(left_);
    leftLayout->setContentsMargins(0, 0, 0, 0);
    leftLayout->setSpacing(0);
    leftLayout->addWidget(preview_);
    leftLayout->addWidget(previewBar_);
    leftLayout->addWidget(outline_, 1);
    auto *line = new QHBoxLayout;
    line->setContentsMargins(8, 4, 8, 4);
    line->setSpacing(8);
    line->addWidget(connect_, 3);
    line->addWidget(filter_, 1);
    line->addWidget(changed_);
    auto *right = new QVBoxLayout;
    right->setContentsMargins(0, 0, 0, 0);
    right->setSpacing(0);
    right->addLayout(line);
    right->addWidget(said_);
    right->addWidget(tabWalk_);
    right->addWidget(wiring_, 1);
    right->addWidget(drawer_);
    auto *hair = new Divider("Width of the left column");
    connect(hair, &Divider::moved, this, [this](int by) {
        leftWidth_ = left_->width() + by;
        fitColumns();
        Q_EMIT columnsChanged();
    });
    connect(hair, &Divider::reset, this, [this] {
        leftWidth_ = 0;
        fitColumns();
        Q_EMIT columnsChanged();
    });
    connect(wiring_, &WiringView::cardsWidthChanged, this, &BoardPage::columnsChanged);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(left_);
    layout->addWidget(hair);
    layout->addLayout(right, 1);
}

void BoardPage::resizeEvent(QResizeEvent *event)
{
    fitColumns();
    QWidget::resizeEvent(event);
}

void BoardPage::setColumns(int left, int cards)
{
    leftWidth_ = std::max(0, left);
    wiring_->setCardsWidth(std::max(0, cards));
    fitColumns();
}

void BoardPage::fitColumns()
{
    const int usual = scaled(width() < scaled(1200) ? 208 : 264), least = scaled(140);
    if (leftWidth_)
        leftWidth_ = std::clamp(leftWidth_, least, std::max(least, width() / 2));
    left_->setFixedWidth(leftWidth_ ? leftWidth_ : std::min(usual, std::max(least, width() * 3 / 10)));
    const bool high = height() > 330; // with large type it gets lower before it goes
    preview_->setRoom(height() * 2 / 5);
    preview_->setVisible(large_ || high);
    previewBar_->setVisible(high);
}

void BoardPage::complete(const QString &typed)
{
    if (session_->document.isOpen())
        completions_->setStringList(
            sentenceCompletions(session_->document.project(), session_->document.workspace().files(), typed));
}

// The line is begun for a person: source and signal stand there, a handler's name is proposed and
// selected, so that typing replaces it.
void BoardPage::beginLine(const QString &object, const QString &what)
{
    QString name = object;
    for (const QString &word : what.section('(', 0, 0).split(' '))
        name += word.left(1).toUpper() + word.mid(1);
    const QString head = object + "." + what + " calls ";
    connect_->setText(head + name);
    connect_->setFocus();
    connect_->setSelection(int(head.size()), int(name.size()));
}

void BoardPage::connectLastInput()
{
    const auto [object, what] = session_->lastInput();
    if (object.isEmpty()) {
        Q_EMIT session_->messages.problem(
            "No input was recorded in this project's program yet. Run it, use it, and try again.");
        return;
    }
    session_->selection.select({object, {}, {}});
    beginLine(object, what);
}

// On a card: to that handler. Anywhere else on the wiring: to a new one, to be named.
void BoardPage::dropOffer(const QString &object, const QString &what, const QPoint &where)
{
    const QListView *cards = wiring_->cards();
    const QModelIndex i = cards->indexAt(cards->viewport()->mapFromGlobal(where));
    const bool onCards = cards->viewport()->rect().contains(cards->viewport()->mapFromGlobal(where));
    if (onCards && i.isValid() && wiring_->cardModel()->rows()[i.row()].kind == CardRow::Card) {
        connect_->setText(object + "." + what + " calls " + wiring_->cardModel()->rows()[i.row()].name);
        makeConnection();
    } else if (wiring_->rect().contains(wiring_->mapFromGlobal(where))) {
        beginLine(object, what);
    }
}

void BoardPage::look()
{
    QStringList says;
    auto request = parseSentence(connect_->text());
    if (!request) { // still being typed: said when Return asks for it
        said_->clearNote();
        return;
    }
    if (session_->document.isOpen()) {
        Workspace trial = session_->document.workspace(); // a copy, thrown away
        auto made = trial.connect(*request);
        if (!made) {
            said_->saysWrong(made.problem().text());
            return;
        } else {
            if (made->matches.size() > 1)
                says << QStringLiteral("%1 sources: %2.")
                            .arg(made->matches.size())
                            .arg(made->matches.join(", "));
            if (!made->leftovers.isEmpty())
                says << "Left over: " + made->leftovers.join(", ") + '.';
            if (made->stubAdded)
                says << QStringLiteral("A new handler, %1.").arg(made->handler);
            says += made->notes;
            const Connection *c = trial.project().connection(made->connection);
            if (const EventEntry *e = Catalog::get().event(c->event))
                says << "If the handler returns true: " + e->handled.left(1).toLower() + e->handled.mid(1);
        }
    }
    said_->say(said_->fontMetrics().elidedText(says.join(' '), Qt::ElideRight,
                                               std::max(300, connect_->width() * 3)));
}

void BoardPage::makeConnection()
{
    auto request = parseSentence(connect_->text());
    if (!request) {
        said_->saysWrong(request.problem().text());
        return;
    }
    Connected done;
    std::optional<Problem> wrong;
    session_->document.edit([&](Workspace &w) -> Outcome {
        if (auto made = w.connect(*request))
            done = *made;
        else
            wrong = made.problem();
        return Done{};
    });
    if (wrong) {
        said_->saysWrong(wrong->text());
        return;
    }
    connect_->clear();
    if (done.matches.size() > 1)
        Q_EMIT session_->messages.note(QStringLiteral("Connected %1 sources.").arg(done.matches.size()));
    const Connection *c = session_->document.project().connection(done.connection);
    session_->selection.select(
        {c && c->select.isEmpty() ? c->from : QString(), done.connection, done.handler});
    // The next line can be typed at once; the code is looked at, not entered.
    if (!done.handler.isEmpty()) {
        drawer_->showHandler(done.handler);
        if (done.stubAdded)
            said_->say(QStringLiteral("%1 is a new handler, at the end of the file below. Alt+C opens it.")
                           .arg(done.handler));
    }
}

} // namespace pipit::app
