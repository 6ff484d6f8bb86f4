#include "app/trace/trace_page.h"

#include "app/look/row_list.h"
#include "app/look/short_menu.h"
#include "app/trace/trace_delegate.h"
#include "core/trace/dispatches.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QScrollBar>
#include <QVBoxLayout>

namespace pipit::app
{

TracePage::TracePage(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    model_ = new TraceRows(session);
    list_ = new TallList;
    list_->setObjectName("trace");
    list_->setAccessibleName("What happened, time downward");
    list_->setModel(model_);
    list_->setItemDelegate(new TraceDelegate(session, model_));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setMouseTracking(true);
    filter_ = new QLineEdit;
    filter_->setPlaceholderText("Filter by widget, handler, signal or event");
    filter_->setAccessibleName("Filter the trace");
    filter_->setClearButtonEnabled(true);
    pause_ = new QPushButton("Pause");
    pause_->setCheckable(true);
    all_ = new QPushButton("Every event");
    all_->setCheckable(true);
    about_ = new QLabel;
    about_->setFont(smallFont());
    about_->setContentsMargins(padding, 0, padding, 0);
    about_->setFixedHeight(drawerTab + 8);
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
    layout->addWidget(new TraceHeading);
    layout->addWidget(list_, 1);
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
    connect(list_->verticalScrollBar(), &QScrollBar::valueChanged, this, [this] { atEnd_ = list_->atEnd(); });
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
         {object.isEmpty() ? QString("Only its object") : "Only " + object,
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
        !session_->shown.trace() ? "What a program does stands here, step by step. Run yours."
        : !model_->complete() || session_->shown.reading() ? QString()
        : text.isEmpty()
            ? "Nothing was called or emitted so far. Choose Every event to see all that was delivered."
            : QStringLiteral("Nothing that happened so far fits “%1”.").arg(text));
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
    if (wanted_)
        showTime(std::exchange(wanted_, 0));
    // What was chosen stays so while rows come before or around it.
    if (chosen_ && model_->at(list_->currentIndex().row()).span != chosen_)
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
        about_->setText("Select a row to see what caused it and what it caused.");
        return;
    }
    const SpanId id = model_->at(index.row()).span;
    if (id)
        chosen_ = id;
    if (!id) {
        about_->setText("Nothing was to be done in this time.");
        return;
    }
    Handlers &handlers = *session_->shown.handlers();
    const Span s = trace->span(id);
    const Posting posting = s.flags & WasPosted ? trace->posting(id) : Posting{};
    QStringList causes;
    const auto say = [&](SpanId by) {
        const Span c = by ? trace->span(by) : Span{};
        if (by && c.kind != SpanKind::Turn && c.kind != SpanKind::Loop)
            causes << sentenceOf(*trace, handlers, c);
    };
    say(posting.cause);
    for (SpanId p = s.parent; p && causes.size() < 4; p = trace->span(p).parent)
        say(p);
    int calls = 0;
    const ThreadRows &rows = trace->rows(s.thread);
    constexpr std::uint32_t far = 10'000;
    const std::uint32_t end = std::min(rows.after(id.row()), id.row() + far);
    for (std::uint32_t i = id.row() + 1; i < end; ++i)
        calls += rows.kind(i) == SpanKind::Call && isCall(handlers, rows.at(i));
    QString text = !causes.isEmpty()      ? "Because " + causes.join(", because ")
                   : s.flags & FromWindow ? "The window system sent it"
                                          : "The loop itself caused this";
    if (calls)
        text += QStringLiteral(". It led to %1 %2 of handlers").arg(calls).arg(calls == 1 ? "call" : "calls");
    if (posting.time > 0)
        text += ". It waited " + durationText(std::max<std::int64_t>(0, s.start - posting.time));
    if (const QString way = wayText(*trace, s); !way.isEmpty())
        text += ". " + way;
    about_->setText(text + '.');
}

} // namespace pipit::app
