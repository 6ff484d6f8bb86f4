#include "app/trace/trace_page.h"

#include "app/look/heading.h"
#include "app/look/row_list.h"
#include "app/look/short_menu.h"
#include "app/session/background.h"
#include "app/trace/trace_delegate.h"
#include "core/trace/between.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QScrollBar>
#include <QShortcut>
#include <QVBoxLayout>

namespace pipit::app
{

TracePage::TracePage(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    model_ = new TraceRows(session);
    list_ = new TallList;
    list_->setObjectName("trace");
    list_->setAccessibleName("What happened, in order of time");
    list_->setModel(model_);
    list_->setFrameShape(QFrame::NoFrame);
    list_->setMouseTracking(true);
    filter_ = new QLineEdit;
    filter_->setPlaceholderText("Filter by widget, handler, signal or event, or over 5 ms");
    filter_->setAccessibleName("Filter the trace");
    filter_->setClearButtonEnabled(true);
    pause_ = new QPushButton("Pause");
    pause_->setCheckable(true);
    all_ = new QPushButton("Every event");
    all_->setCheckable(true);
    about_ = new AccountPanel(session);
    ruler_ = new TraceRuler(session);
    list_->setItemDelegate(new TraceDelegate(session, model_, &about_->lit()));
    list_->installEventFilter(this);
    auto *line = new QHBoxLayout;
    line->setContentsMargins(padding, 4, padding, 4);
    line->addWidget(filter_, 1);
    line->addWidget(all_);
    line->addWidget(pause_);
    line->setSpacing(8);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(line);
    auto *right = new QVBoxLayout;
    right->setSpacing(0);
    right->addWidget(new TraceHeading(session));
    right->addWidget(list_, 1);
    auto *both = new QHBoxLayout;
    both->setSpacing(0);
    both->addWidget(ruler_);
    both->addLayout(right, 1);
    layout->addLayout(both, 1);
    makeNote();
    layout->addWidget(note_);
    layout->addWidget(hairline(false));
    layout->addWidget(about_);
    connect(filter_, &QLineEdit::textChanged, this, &TracePage::tell);
    connect(all_, &QPushButton::toggled, this, &TracePage::tell);
    connect(pause_, &QPushButton::toggled, this, [this](bool on) {
        pause_->setText(on ? "Follow" : "Pause");
        if (!on)
            follow();
    });
    connect(&session->shown, &ShownTrace::figuresChanged, this, [this] {
        if (!pause_->isChecked())
            follow();
    });
    connect(&session->shown, &ShownTrace::reset, this, [this] {
        chosen_ = {};
        marked_ = {};
        note_->hide();
        stale_ = true;
        tell();
    });
    connect(&session->shown, &ShownTrace::readToEnd, this, [this] {
        readToEnd_ = true;
        if (!pause_->isChecked())
            follow();
    });
    connect(model_, &TraceRows::arrived, this, &TracePage::arrived);
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, &TracePage::tellAbout);
    connect(list_, &TallList::typed, this, [this](const QString &text) {
        filter_->setFocus();
        filter_->insert(text);
    });
    connect(list_->verticalScrollBar(), &QScrollBar::valueChanged, this, [this] {
        atEnd_ = list_->atEnd();
        tellRuler();
    });
    connect(about_, &AccountPanel::spanAsked, this, &TracePage::showSpan);
    connect(about_, &AccountPanel::told, list_->viewport(), qOverload<>(&QWidget::update));
    connect(ruler_, &TraceRuler::timeAsked, this, [this](std::int64_t ns) {
        if (const int row = model_->rowAt(ns); row >= 0)
            list_->scrollTo(model_->index(row), QAbstractItemView::PositionAtTop);
    });
    connect(list_, &QAbstractItemView::doubleClicked, this, [this] { foldOrUnfold(Qt::Key_Return); });
    tellEmpty();
    tellAbout({});
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(list_, &QWidget::customContextMenuRequested, this, [this](const QPoint &at) {
        showRowMenu(list_->indexAt(at).isValid() ? list_->indexAt(at) : list_->currentIndex(),
                    list_->viewport()->mapToGlobal(at));
    });
}

// What can be done with one thing that happened. Of causes the nearest that is shown.
void TracePage::showRowMenu(const QModelIndex &index, const QPoint &global)
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || !index.isValid())
        return;
    list_->setCurrentIndex(index);
    const SpanId id = model_->at(index.row()).span;
    if (!id)
        return;
    const Span s = trace->span(id);
    const SpanId by = s.flags & WasPosted ? trace->posting(id).cause : SpanId();
    int cause = by ? model_->rowOf(by) : -1;
    for (SpanId p = s.parent; p && cause < 0; p = trace->span(p).parent)
        cause = model_->rowOf(p);
    const QString object = trace->object(s.object).name;
    const HandlerName handler =
        s.kind == SpanKind::Call ? session_->shown.handlers()->of(s.what) : HandlerName();
    const auto unless = [](bool not_, std::function<void()> run) {
        return not_ ? std::function<void()>() : run;
    };
    showMenu(
        this, global,
        {{"What caused it",
          {},
          unless(cause < 0,
                 [this, cause] {
                     list_->setCurrentIndex(model_->index(cause));
                     list_->scrollTo(model_->index(cause), QListView::PositionAtCenter);
                 })},
         {"Why?",
          {},
          unless(s.kind != SpanKind::Dispatch && s.kind != SpanKind::Signal,
                 [this, what = trace->object(s.object).text(), at = s.start + 1'000'000] {
                     Q_EMIT whyAsked(what, at);
                 })},
         {object.isEmpty() ? QString("Show only its object") : "Only " + object,
          {},
          unless(object.isEmpty(), [this, object] { filter_->setText(object); })},
         {"Its code",
          {},
          unless(handler.file.isEmpty(), [this, handler] { Q_EMIT placeAsked(handler.file, handler.line); })},
         {"Copy the sentence", "Ctrl+C",
          [text = model_->sentence(index.row())] { QGuiApplication::clipboard()->setText(text); }}});
}

void TracePage::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    stale_ ? tell() : follow();
}

// From the beginning: another trace, or other rows of it.
void TracePage::tell()
{
    if (!isVisible()) {
        stale_ = true;
        return;
    }
    stale_ = false;
    model_->tell({filter_->text(), all_->isChecked()});
    tellEmpty();
    tellAbout(list_->currentIndex());
}

void TracePage::tellEmpty()
{
    const QString text = filter_->text();
    list_->setEmptyText(
        !session_->shown.trace()                           ? "A program's steps appear here while it runs."
        : !model_->complete() || session_->shown.reading() ? QString()
        : text.isEmpty()
            ? "No handler was called and no signal emitted yet. Choose Every event to see all events."
            : QStringLiteral("Nothing matches “%1” yet.").arg(text));
}

void TracePage::follow()
{
    if (isVisible() && !stale_)
        model_->refresh();
}

void TracePage::arrived()
{
    if (model_->complete() && std::exchange(readToEnd_, false) && model_->hurried()) {
        tell(); // what was told while the recording was read was not sure
        return;
    }
    tellEmpty();
    ruler_->setFits(filter_->text().isEmpty() ? std::vector<std::int64_t>() : model_->someTimes());
    tellRuler();
    if (wanted_)
        showTime(std::exchange(wanted_, 0));
    // What was chosen stays so while rows come before or around it.
    if (chosen_ && !chosenFold_ && model_->at(list_->currentIndex().row()).span != chosen_)
        if (const int row = model_->rowOf(chosen_); row >= 0)
            list_->setCurrentIndex(model_->index(row));
    if (atEnd_ && session_->runs.state() == RunState::Running && !list_->currentIndex().isValid())
        list_->scrollToEnd();
    // How long they take goes on, and at last is told.
    std::set<SpanId> open;
    list_->updateRows([&](int row) {
        const Span s = model_->spanAt(row);
        if (s.id && s.open())
            open.insert(s.id);
        return s.id && (s.open() || open_.count(s.id));
    });
    open_ = std::move(open);
}

void TracePage::showTime(std::int64_t ns)
{
    const int row = model_->rowAt(ns);
    if (row < 0 || (!model_->complete() && row == model_->rowCount() - 1)) {
        wanted_ = ns; // it is not told yet
        return;
    }
    list_->setCurrentIndex(model_->index(row));
    list_->scrollTo(model_->index(row), QAbstractItemView::PositionAtCenter);
}

void TracePage::tellAbout(const QModelIndex &index)
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || !index.isValid()) {
        about_->tell("Select a row to see its cause and its effects.");
        return;
    }
    const SpanId id = model_->at(index.row()).span;
    if (id) {
        chosen_ = id;
        chosenFold_ = model_->isFold(index.row());
    }
    if (!id) {
        about_->tell("The program was idle in this time.");
        return;
    }
    if (chosenFold_) {
        about_->tell("This repeats: " + model_->sentence(index.row()) + ". " +
                     (model_->at(index.row()).repeats->opened
                          ? "Each one is shown below. Return or Left folds them."
                          : "Return, Right or a double click shows each one."));
        return;
    }
    about_->tellOf(id);
}

// Opens what repeats, or closes it again; from a row in an opened one, goes to that.
bool TracePage::foldOrUnfold(int key)
{
    const int row = list_->currentIndex().row();
    if (row < 0)
        return false;
    const auto r = model_->at(row).repeats;
    if (r && (key == Qt::Key_Return || r->opened == (key == Qt::Key_Left))) {
        chosenFold_ = true;
        return model_->toggle(row);
    }
    if (const int fold = key == Qt::Key_Left ? model_->foldOf(row) : -1; fold >= 0) {
        goTo(fold);
        return true;
    }
    return false;
}

bool TracePage::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == list_ && event->type() == QEvent::KeyPress) {
        const auto *key = static_cast<QKeyEvent *>(event);
        const int which = key->key() == Qt::Key_Enter ? int(Qt::Key_Return) : key->key();
        if (!(key->modifiers() & ~Qt::KeypadModifier) &&
            (which == Qt::Key_Left || which == Qt::Key_Right || which == Qt::Key_Return) &&
            foldOrUnfold(which))
            return true;
    }
    return QWidget::eventFilter(watched, event);
}

void TracePage::goTo(int row)
{
    if (row < 0)
        return;
    list_->setCurrentIndex(model_->index(row));
    list_->scrollTo(model_->index(row), QListView::PositionAtCenter);
    list_->setFocus();
}

// What is not told by the rows that are shown is not gone to; that is said.
void TracePage::showSpan(SpanId span)
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || !trace->has(span))
        return;
    if (const int row = model_->reveal(span); row >= 0)
        goTo(row);
    else
        showTime(trace->span(span).start);
}

void TracePage::goToInput(bool next)
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace)
        return;
    const int row = list_->currentIndex().row();
    const std::int64_t from = row >= 0 ? model_->at(row).start : next ? INT64_MIN : INT64_MAX - 1;
    inBackground(
        this,
        [trace, owner = session_->shown.owner(), from, next] { return inputBeside(*trace, from, next); },
        [this, next, trace](SpanId found) {
            if (session_->shown.trace() != trace)
                return; // another one by now
            if (found)
                showSpan(found);
            else
                Q_EMIT session_->messages.note(next ? "There is no later input."
                                                    : "There is no earlier input.");
        });
}

void TracePage::goToCause()
{
    showSpan(about_->nearestCause());
}

void TracePage::goToEffect()
{
    showSpan(about_->firstEffect());
}

void TracePage::measure()
{
    const int row = list_->currentIndex().row();
    if (row < 0)
        return;
    about_->measureFrom(model_->at(row).start, model_->sentence(row));
    tellAbout(list_->currentIndex());
}

void TracePage::makeNote()
{
    note_ = new QLineEdit;
    note_->setObjectName("traceNote");
    note_->setPlaceholderText("A note for this moment. Return saves it.");
    note_->setAccessibleName("A note for the marked moment");
    note_->hide();
    connect(note_, &QLineEdit::returnPressed, this, [this] {
        session_->bookmarks.set(marked_, note_->text());
        endNote();
    });
    auto *leave = new QShortcut(Qt::Key_Escape, note_);
    leave->setContext(Qt::WidgetShortcut);
    connect(leave, &QShortcut::activated, this, &TracePage::endNote);
    connect(&session_->bookmarks, &Bookmarks::changed, this, [this] {
        list_->viewport()->update();
        ruler_->update();
    });
}

void TracePage::endNote()
{
    note_->hide();
    list_->setFocus();
}

void TracePage::mark()
{
    const int current = list_->currentIndex().row();
    int row = current >= 0 ? current : model_->rowCount() - 1;
    while (row >= 0 && !model_->at(row).span)
        --row;
    if (row < 0)
        return;
    marked_ = model_->at(row).span;
    if (note_->isVisible() || session_->bookmarks.of(marked_)) {
        session_->bookmarks.remove(marked_);
        return endNote();
    }
    session_->bookmarks.set(marked_, {});
    note_->clear();
    note_->show();
    note_->setFocus();
}

// What of the whole the list shows.
void TracePage::tellRuler()
{
    const int first = list_->indexAt({0, 0}).row();
    if (first < 0)
        return ruler_->setView(0, 0);
    const QModelIndex below = list_->indexAt({0, list_->viewport()->height() - 1});
    const int last = below.isValid() ? below.row() : model_->rowCount() - 1;
    const StoryRow end = model_->at(last);
    ruler_->setView(model_->at(first).start,
                    std::max(end.repeats ? end.repeats->end : 0, end.start + end.idle));
}

} // namespace pipit::app
