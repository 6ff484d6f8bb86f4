#include "app/trace/trace_page.h"

#include "app/look/short_menu.h"
#include "app/session/background.h"

#include <QClipboard>
#include <QEvent>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QPainter>
#include <QScrollBar>
#include <QVBoxLayout>

#include <cmath>

namespace pipit::app
{

namespace
{

constexpr std::uint32_t idleRow = UINT32_MAX;
constexpr std::size_t mostRows = 200'000; // shown at once; the newest

// What a person wants to read first: turns, inputs, signals that lead somewhere, calls, messages.
bool worthTelling(const TraceModel &trace, Handlers &handlers, std::uint32_t i, bool everything)
{
    const Span &s = trace.span(i);
    if (everything)
        return true;
    switch (s.kind) {
    case SpanKind::Call:
        return isCall(trace, handlers, i);
    case SpanKind::Message:
    case SpanKind::ForcedPass:
    case SpanKind::Loop:
        return true;
    case SpanKind::Dispatch:
        return (isInputEvent(int(s.what)) || s.what == QEvent::UpdateRequest || s.what == QEvent::Close) &&
               !trace.object(s.object).className.endsWith("Window");
    case SpanKind::Signal: { // one that called a handler
        const std::uint32_t end = s.next ? s.next - 1 : trace.spanCount();
        for (std::uint32_t k = i + 1; k < std::min(end, i + 64); ++k)
            if (isCall(trace, handlers, k) && causeOf(trace, handlers, k) == i)
                return true;
        return false;
    }
    case SpanKind::Turn: { // one in which a handler ran
        const std::uint32_t end = s.next ? std::min(s.next - 1, trace.spanCount()) : trace.spanCount();
        for (std::uint32_t k = i + 1; k < std::min(end, i + 2000); ++k)
            if (trace.span(k).thread == s.thread && isCall(trace, handlers, k))
                return true;
        return false;
    }
    }
    return false;
}

std::vector<TraceRow> gatherRows(const TraceModel &trace, Handlers &handlers, const QString &filter,
                                 bool everything)
{
    std::vector<TraceRow> rows;
    const std::uint32_t count = trace.spanCount();
    const std::uint32_t first = count > 2'000'000 ? count - 2'000'000 : 0;
    std::unordered_map<std::uint32_t, int> depths; // of rows that are shown
    std::int64_t lastEnd = 0;
    for (std::uint32_t i = first; i < count; ++i) {
        const Span &s = trace.span(i);
        if (!worthTelling(trace, handlers, i, everything))
            continue;
        if (!filter.isEmpty() && !sentenceOf(trace, handlers, i).contains(filter, Qt::CaseInsensitive))
            continue;
        int depth = 0;
        for (std::uint32_t p = s.parent; p; p = trace.span(p - 1).parent)
            if (const auto it = depths.find(p - 1); it != depths.end()) {
                const bool loop = trace.span(p - 1).kind == SpanKind::Loop;
                depth = it->second + (loop ? 0 : 1);
                break;
            }
        if (depth == 0 && lastEnd && s.start - lastEnd > 20'000'000)
            rows.push_back({idleRow, 0, lastEnd, s.start - lastEnd});
        depths[i] = depth;
        rows.push_back({i, depth, s.start, 0});
        lastEnd = std::max(lastEnd, s.kind == SpanKind::Loop ? s.start
                                    : s.open()               ? trace.now()
                                                             : s.end.load());
        if (rows.size() > mostRows * 2)
            rows.erase(rows.begin(), rows.begin() + std::ptrdiff_t(mostRows));
    }
    return rows;
}

// What the columns are; the same measures as the rows below.
constexpr Measure timeColumn{72}, threadColumn{84}, tookColumn{88};

class TraceHeading : public QWidget
{
public:
    TraceHeading() { setFixedHeight(scaled(22)); }

protected:
    void paintEvent(QPaintEvent *) override
    {
        const Tokens &t = Tokens::current();
        QPainter p(this);
        p.setFont(smallFont());
        p.setPen(t.ink2);
        const QRect a = rect().adjusted(padding, 0, -padding, 0);
        const int right = a.right() - tookColumn - 2 - threadColumn * 2;
        p.drawText(QRect(a.left(), 0, timeColumn, height()), Qt::AlignRight | Qt::AlignVCenter, "time");
        p.drawText(QRect(a.left() + timeColumn + 20, 0, scaled(200), height()), Qt::AlignVCenter,
                   "what happened");
        p.drawText(QRect(right + 8, 0, threadColumn, height()), Qt::AlignVCenter, "loop");
        p.drawText(QRect(right + 8 + threadColumn, 0, threadColumn, height()), Qt::AlignVCenter, "threads");
        p.drawText(QRect(a.right() - tookColumn, 0, tookColumn, height()), Qt::AlignRight | Qt::AlignVCenter,
                   "took");
        p.setPen(t.hairline);
        p.drawLine(0, height() - 1, width(), height() - 1);
    }
};

class TraceDelegate : public QStyledItemDelegate
{
public:
    TraceDelegate(Session *s, TraceRows *m) : QStyledItemDelegate(m), session_(s), model_(m) {}
    QSize sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const override
    {
        return {200, scaled(26)};
    }
    void paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const override;

private:
    Session *session_;
    TraceRows *model_;
};

void TraceDelegate::paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace)
        return;
    const TraceRow &r = model_->rows()[std::size_t(index.row())];
    const Tokens &t = Tokens::current();
    const bool selected = option.state & QStyle::State_Selected;
    p->save();
    paintRowGround(p, option);
    const QRect a = option.rect.adjusted(padding, 0, -padding, 0);
    p->setFont(smallFont());
    p->setPen(selected ? t.ink : t.ink2);
    p->drawText(QRect(a.left(), a.top(), timeColumn, a.height()), Qt::AlignRight | Qt::AlignVCenter,
                QStringLiteral("%1 s").arg(double(r.start - trace->firstTime()) / 1e9, 0, 'f', 3));
    const int columns = threadColumn, story = a.left() + timeColumn + 20,
              right = a.right() - tookColumn - 2 - columns * 2;
    p->setPen(t.hairline);
    p->drawLine(a.left() + timeColumn + 10, option.rect.top(), a.left() + timeColumn + 10,
                option.rect.bottom());
    if (r.span != idleRow && trace->span(r.span).kind == SpanKind::Turn) { // where a turn begins
        p->setPen(t.hairline);
        p->drawLine(a.left(), option.rect.top(), a.right(), option.rect.top());
    }
    if (r.span == idleRow) {
        const QString waits = "the loop waits for " + durationText(r.idle);
        p->setPen(selected ? t.ink : t.ink2);
        p->drawText(QRect(story, a.top(), right - story, a.height()), Qt::AlignVCenter, waits);
        p->setPen(QPen(t.hairline, 1, Qt::DashLine));
        p->drawLine(story + p->fontMetrics().horizontalAdvance(waits) + 16, a.center().y(), right,
                    a.center().y());
        p->restore();
        return;
    }
    const Span &s = trace->span(r.span);
    const std::int64_t duration = s.judged() ? s.duration(trace->now()) : 0;
    const bool slow =
        overBudget(duration) && s.kind == SpanKind::Call && trace->threads().value(s.thread).main;
    const bool call = s.kind == SpanKind::Call;
    QFont f = textFont();
    f.setWeight(call ? QFont::Medium : QFont::Normal);
    p->setFont(f);
    p->setPen(slow && !selected                                ? t.vermilion
              : s.kind == SpanKind::Signal || call || selected ? t.ink
                                                               : t.ink2);
    const int x = story + std::min(r.depth, 12) * 18;
    p->drawText(QRect(x, a.top(), right - x, a.height()), Qt::AlignVCenter,
                p->fontMetrics().elidedText(model_->sentence(index.row()), Qt::ElideRight, right - x));
    // The thread columns: the loop's, then the others'; a bar as high as its row, wider when longer.
    const int column = right + 8 + (trace->threads().value(s.thread).main ? 0 : columns);
    const QColor colour = slow ? t.vermilion : trace->threads().value(s.thread).main ? t.slate : t.teal;
    const int w = int(
        std::clamp(8.0 + 60.0 * std::log10(1.0 + double(duration) / 1e5) / 4.0, 8.0, double(columns - 16)));
    if (call || s.kind == SpanKind::Dispatch)
        p->fillRect(QRect(column, a.center().y() - 3, w, 7), call ? colour : t.hairline);
    if (s.kind != SpanKind::Message && s.kind != SpanKind::Loop) {
        p->setFont(smallFont());
        p->setPen(slow && !selected ? t.vermilion : selected ? t.ink : t.ink2);
        p->drawText(QRect(a.right() - tookColumn, a.top(), tookColumn, a.height()),
                    Qt::AlignRight | Qt::AlignVCenter,
                    !s.judged() ? "not known"
                    : s.open()  ? "running"
                                : durationText(duration));
    }
    p->restore();
}

} // namespace

void TraceRows::setRows(std::vector<TraceRow> rows)
{
    const bool grows = rows.size() > rows_.size() && !rows_.empty() && rows[0].start == rows_[0].start;
    if (grows) {
        beginInsertRows({}, int(rows_.size()), int(rows.size()) - 1);
        rows_ = std::move(rows);
        endInsertRows();
    } else if (rows.size() == rows_.size() && !rows.empty() && rows[0].start == rows_[0].start) {
        rows_ = std::move(rows);
        Q_EMIT dataChanged(index(std::max(0, int(rows_.size()) - 60)), index(int(rows_.size()) - 1));
    } else {
        beginResetModel();
        rows_ = std::move(rows);
        endResetModel();
    }
}

QString TraceRows::sentence(int row) const
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || row < 0 || row >= int(rows_.size()))
        return {};
    const TraceRow &r = rows_[std::size_t(row)];
    if (r.span == idleRow)
        return "the loop waits for " + durationText(r.idle);
    return sentenceOf(*trace, *session_->shown.handlers(), r.span);
}

QVariant TraceRows::data(const QModelIndex &index, int role) const
{
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
        return sentence(index.row());
    return {};
}

TracePage::TracePage(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    model_ = new TraceRows(session);
    list_ = new QListView;
    list_->setObjectName("trace");
    list_->setAccessibleName("What happened, time downward");
    list_->setModel(model_);
    list_->setItemDelegate(new TraceDelegate(session, model_));
    list_->setUniformItemSizes(true);
    list_->setFrameShape(QFrame::NoFrame);
    list_->setMouseTracking(true);
    list_->setVerticalScrollMode(QListView::ScrollPerPixel);
    filter_ = new QLineEdit;
    filter_->setPlaceholderText("Filter by widget, handler, signal or event");
    filter_->setAccessibleName("Filter the trace");
    filter_->setClearButtonEnabled(true);
    pause_ = new QPushButton("Pause");
    pause_->setCheckable(true);
    all_ = new QPushButton("Every event");
    all_->setCheckable(true);
    about_ = new QLabel("Select a row to see what caused it and what it caused.");
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
    connect(filter_, &QLineEdit::textChanged, this, &TracePage::gather);
    connect(all_, &QPushButton::toggled, this, &TracePage::gather);
    connect(pause_, &QPushButton::toggled, this, [this](bool on) {
        pause_->setText(on ? "Follow" : "Pause");
        if (!on)
            gather();
    });
    connect(&session->shown, &ShownTrace::figuresChanged, this, [this] {
        if (!pause_->isChecked() && isVisible())
            gather();
    });
    connect(&session->shown, &ShownTrace::reset, this, [this] { model_->setRows({}); });
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, &TracePage::tellAbout);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(list_, &QWidget::customContextMenuRequested, this, [this](const QPoint &at) {
        showRowMenu(list_->indexAt(at).isValid() ? list_->indexAt(at) : list_->currentIndex(),
                    list_->viewport()->mapToGlobal(at));
    });
}

int TracePage::rowOfSpan(std::uint32_t span) const
{
    const auto &rows = model_->rows();
    const auto it = std::find_if(rows.begin(), rows.end(), [&](const TraceRow &r) { return r.span == span; });
    return it == rows.end() ? -1 : int(it - rows.begin());
}

// What can be done with one thing that happened. Of causes the nearest that is shown.
void TracePage::showRowMenu(const QModelIndex &index, const QPoint &global)
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || !index.isValid())
        return;
    list_->setCurrentIndex(index);
    const TraceRow r = model_->rows()[std::size_t(index.row())];
    if (r.span == idleRow)
        return;
    const Span &s = trace->span(r.span);
    int cause = s.cause ? rowOfSpan(s.cause - 1) : -1;
    for (std::uint32_t p = s.parent; p && cause < 0; p = trace->span(p - 1).parent)
        cause = rowOfSpan(p - 1);
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
    gather();
}

void TracePage::gather()
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || !isVisible())
        return;
    if (gathering_) {
        again_ = true;
        return;
    }
    gathering_ = true;
    auto owner = session_->shown.owner(); // stays alive while the worker reads it
    Handlers *handlers = session_->shown.handlers();
    inBackground(
        this,
        [trace, handlers, owner, filter = filter_->text(), everything = all_->isChecked()] {
            return gatherRows(*trace, *handlers, filter, everything);
        },
        [this, trace](std::vector<TraceRow> rows) {
            gathering_ = false;
            if (trace == session_->shown.trace()) {
                const bool atEnd =
                    list_->verticalScrollBar()->value() >= list_->verticalScrollBar()->maximum() - 4;
                model_->setRows(std::move(rows));
                if (wanted_)
                    showTime(std::exchange(wanted_, 0));
                else if (atEnd && session_->runs.state() == RunState::Running &&
                         !list_->currentIndex().isValid())
                    list_->scrollToBottom();
            }
            if (std::exchange(again_, false))
                gather();
        });
}

void TracePage::showTime(std::int64_t ns)
{
    if (model_->rows().empty()) {
        wanted_ = ns;
        return;
    }
    const auto &rows = model_->rows();
    auto it = std::upper_bound(rows.begin(), rows.end(), ns,
                               [](std::int64_t t, const TraceRow &r) { return t < r.start; });
    const int row = std::max(0, int(it - rows.begin()) - 1);
    list_->setCurrentIndex(model_->index(row));
    list_->scrollTo(model_->index(row), QListView::PositionAtCenter);
}

void TracePage::tellAbout(const QModelIndex &index)
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || !index.isValid() || index.row() >= int(model_->rows().size()))
        return;
    const TraceRow &r = model_->rows()[std::size_t(index.row())];
    if (r.span == idleRow) {
        about_->setText("Nothing was to be done in this time.");
        return;
    }
    const Span &s = trace->span(r.span);
    QStringList causes;
    const auto say = [&](std::uint32_t ref) {
        if (ref && trace->span(ref - 1).kind != SpanKind::Turn && trace->span(ref - 1).kind != SpanKind::Loop)
            causes << sentenceOf(*trace, *session_->shown.handlers(), ref - 1);
    };
    say(s.cause);
    for (std::uint32_t p = s.parent; p && causes.size() < 4; p = trace->span(p - 1).parent)
        say(p);
    int calls = 0;
    const std::uint32_t end = s.next ? std::min(s.next - 1, trace->spanCount()) : trace->spanCount();
    for (std::uint32_t i = r.span + 1; i < end && i < r.span + 10'000; ++i)
        calls += trace->span(i).thread == s.thread && isCall(*trace, *session_->shown.handlers(), i);
    QString text = causes.isEmpty() ? "The loop itself caused this" : "Because " + causes.join(", because ");
    if (calls)
        text += QStringLiteral(". It led to %1 %2 of handlers").arg(calls).arg(calls == 1 ? "call" : "calls");
    if (s.posted > 0)
        text += ". It waited " + durationText(std::max<std::int64_t>(0, s.start - s.posted));
    about_->setText(text + '.');
}

} // namespace pipit::app
