#include "app/pace/pace_page.h"

#include "app/look/tokens.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>

namespace pipit::app
{

namespace
{

const QString startUpKey = "start-up";
const QString busyKey = "busy "; // rows of workers: their number among those
constexpr std::size_t mostBusy = 200;

// The handler's own name, for parts of one that runs in the background too.
QString handlerOf(const Session &session, const HandlerName &h)
{
    if (!session.document.isOpen())
        return {};
    for (const Handler &each : session.document.project().handlers)
        if (each.functionNames().contains(h.name))
            return each.name;
    return {};
}

bool isOfProject(Session &session, const QString &file)
{
    return session.document.isOpen() && (QFileInfo(file).isRelative() ||
                                         file.startsWith(session.document.workspace().place().folder + '/'));
}

} // namespace

PacePage::PacePage(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeLeft(), 5);
    auto *hair = new QFrame;
    hair->setObjectName("hair");
    hair->setFixedWidth(1);
    layout->addWidget(hair);
    compare_ = new ComparePanel(session);
    elsewhere_ = new ElsewherePanel(session);
    right_ = new QStackedWidget;
    right_->addWidget(compare_);
    right_->addWidget(elsewhere_);
    layout->addWidget(right_, 6);
    connect(elsewhere_, &ElsewherePanel::dismissed, this, [this] {
        right_->setCurrentWidget(compare_);
        stalls_->setFocus();
    });
    connect(&session->shown, &ShownTrace::figuresChanged, this, &PacePage::refresh);
    connect(&session->shown, &ShownTrace::reset, this, [this] {
        stallsShown_ = SIZE_MAX;
        right_->setCurrentWidget(compare_);
        refresh();
    });
    connect(compare_, &ComparePanel::elsewhereAsked, this, &PacePage::elsewhereAsked);
    refresh();
}

QWidget *PacePage::makeLeft()
{
    look_ = new PaceLook(session_, this);
    timers_ = new TimersPanel(session_, look_);
    connect(timers_, &TimersPanel::toldAsked, this, &PacePage::toldAsked);
    strains_ = new StrainsPanel(session_, look_);
    sides_ = new QStackedWidget;
    sides_->addWidget(makeStallSide());
    sides_->addWidget(timers_);
    sides_->addWidget(strains_);
    auto *tabs = new QHBoxLayout;
    tabs->setContentsMargins(padding - 8, 10, padding, 4);
    tabs->setSpacing(0);
    for (const Side side : {Stalls, Timers, Strains}) {
        auto *b = new QPushButton;
        b->setProperty("word", true);
        b->setCheckable(true);
        connect(b, &QPushButton::clicked, this, [this, side] { showSide(side); });
        tabs->addWidget(b);
        tabs_ << b;
    }
    tabs->addStretch();
    auto *left = new QWidget;
    auto *v = new QVBoxLayout(left);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    v->addLayout(tabs);
    v->addWidget(sides_, 1);
    connect(look_, &PaceLook::changed, this, &PacePage::nameSides);
    connect(strains_, &StrainsPanel::placeAsked, this, &PacePage::placeAsked);
    connect(strains_, &StrainsPanel::timeAsked, this, &PacePage::timeAsked);
    showSide(Stalls);
    return left;
}

void PacePage::showSide(Side side)
{
    sides_->setCurrentIndex(side);
    for (int i = 0; i < tabs_.size(); ++i)
        tabs_[i]->setChecked(i == side);
    nameSides();
}

void PacePage::focusSide()
{
    for (QWidget *list : {static_cast<QWidget *>(stalls_), static_cast<QWidget *>(timers_->list()),
                          static_cast<QWidget *>(strains_->list())})
        if (list->isVisible())
            list->setFocus();
}

// With how many there are of each, where that is known.
void PacePage::nameSides()
{
    const auto named = [](const QString &words, std::size_t n) {
        return n ? words + QStringLiteral("  %1").arg(n) : words;
    };
    const LiveFigures &f = session_->shown.figures();
    tabs_[Stalls]->setText(named(QStringLiteral("Stalls over %1 ms").arg(stallBudget.count()),
                                 f.stalls.size() + (f.open ? 1 : 0)));
    tabs_[Timers]->setText(named("Timers", look_->timers().size()));
    tabs_[Strains]->setText(named("Strains", look_->strains().size()));
}

void PacePage::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    look_->setWanted(true);
}

void PacePage::hideEvent(QHideEvent *event)
{
    QWidget::hideEvent(event);
    look_->setWanted(false);
}

QWidget *PacePage::makeStallSide()
{
    auto *side = new QWidget;
    auto *v = new QVBoxLayout(side);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    stalls_ = new RowList("Stalls", 84, 84);
    stalls_->setObjectName("stalls");
    tellEmpty();
    sentence_ = new QLabel;
    sentence_->setObjectName("stallSentence");
    sentence_->setWordWrap(true);
    sentence_->setContentsMargins(padding, 10, padding, 6);
    sentence_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    move_ = new QPushButton("Run it in the background…");
    move_->setObjectName("moveButton");
    move_->setProperty("main", true);
    open_ = new QPushButton("Open the code");
    trace_ = new QPushButton("Show the moment");
    auto *buttons = new QHBoxLayout;
    buttons->setContentsMargins(padding, 0, padding, 8);
    buttons->setSpacing(8);
    for (QPushButton *b : {move_, open_, trace_})
        buttons->addWidget(b);
    buttons->addStretch();
    waiting_ = new RowList("What waited", 0, 90);
    waiting_->setObjectName("waiting");
    v->addWidget(stalls_, 3);
    v->addWidget(sentence_);
    v->addLayout(buttons);
    v->addWidget(waiting_, 4);
    connect(stalls_, &RowList::chosen, this, &PacePage::showDetails);
    connect(move_, &QPushButton::clicked, this, &PacePage::moveCurrent);
    connect(open_, &QPushButton::clicked, this, [this] {
        if (const Stall *s = current())
            Q_EMIT placeAsked(s->contributors.front().handler.file, s->contributors.front().handler.line);
    });
    connect(trace_, &QPushButton::clicked, this, [this] {
        if (const Stall *s = current())
            Q_EMIT timeAsked(s->start + 2'000'000);
    });
    return side;
}

// In the project, or as a change for whoever has the code.
void PacePage::moveCurrent()
{
    const Stall *s = current();
    if (!s)
        return;
    const HandlerName &h = s->contributors.front().handler;
    if (const QString known = handlerOf(*session_, h); !known.isEmpty()) {
        Q_EMIT moveAsked(known, Shape::Background);
        return;
    }
    right_->setCurrentWidget(elsewhere_);
    elsewhere_->plan(h.name, h.file, h.line);
}

const Stall *PacePage::current() const
{
    const LiveFigures &f = session_->shown.figures();
    const QString key = stalls_->currentKey();
    if (key == "open")
        return f.open ? &*f.open : f.stalls.empty() ? nullptr : &f.stalls.back();
    if (key == startUpKey)
        return f.startUp ? &*f.startUp : nullptr;
    if (key.startsWith(busyKey)) {
        const std::size_t i = key.mid(busyKey.size()).toULong();
        return i < f.busy.size() ? &f.busy[i] : nullptr;
    }
    const Row *r = stalls_->rowModel()->row(stalls_->currentIndex());
    if (!r || r->number < 0 || std::size_t(r->number) >= f.stalls.size())
        return nullptr;
    return &f.stalls[std::size_t(r->number)];
}

// Of a recording that is not read to its end nothing is claimed.
void PacePage::tellEmpty()
{
    const Coverage seen = session_->shown.coverage();
    stalls_->setEmptyText(session_->shown.reading()
                              ? "Reading the recording. Its stalls appear here afterwards."
                          : seen.whole() ? "No stall yet. If the event loop is blocked for more than 50 ms, "
                                           "the stall appears here, with what blocked it and what waited."
                                         : seen.deniedStalls(stallBudget));
}

void PacePage::refresh()
{
    tellEmpty();
    nameSides();
    const LiveFigures &f = session_->shown.figures();
    const std::size_t shown = f.stalls.size() + f.busy.size() + (f.startUp ? 1 : 0);
    if (stallsShown_ != shown || f.open || (f.startUp && f.startUp->open) ||
        stalls_->rowModel()->indexOf("open") >= 0) {
        std::vector<Row> rows;
        const auto add = [&](const Stall &s, const QString &key, int number) {
            Row r;
            r.key = key;
            r.number = number;
            r.lead = QStringLiteral("%1 s").arg(double(s.start - f.first) / 1e9, 0, 'f', 2);
            r.text = s.contributors.front().handler.name;
            r.tail = durationText(s.duration);
            const bool stalls = s.worker.isEmpty() && !s.startUp;
            r.mark = stalls ? Tokens::current().vermilion : Tokens::current().teal;
            r.shape = stalls ? Mark::Finding : Mark::Background;
            r.broken = s.open && stalls;
            rows.push_back(r);
        };
        for (std::size_t i = 0; i < f.stalls.size(); ++i)
            add(f.stalls[i], QString::number(i), int(i));
        if (f.open)
            add(*f.open, "open", -1);
        const int stallRows = int(rows.size());
        if (const QString missing = session_->shown.coverage().notKnown(); stallRows && !missing.isEmpty()) {
            Row r;
            r.heading = true;
            r.text = missing;
            rows.push_back(r);
        }
        const auto head = [&](const QString &text) {
            Row r;
            r.heading = true;
            r.text = text;
            rows.push_back(r);
        };
        if ((!f.busy.empty() || f.startUp) && rows.empty())
            head(session_->shown.coverage().whole() ? "No stall" : "No stall in the recording");
        if (f.startUp) {
            head("Before the event loop (no stall)");
            add(*f.startUp, startUpKey, -1);
        }
        if (!f.busy.empty())
            head("Busy worker threads (no window stalls)");
        for (std::size_t i = f.busy.size() - std::min(f.busy.size(), mostBusy); i < f.busy.size(); ++i)
            add(f.busy[i], busyKey + QString::number(i), -1);
        // The last stall, or the last busy worker where there is no stall.
        const int below = stallRows ? int(rows.size()) - stallRows : 0;
        // Start-up is what there is to look at until the first stall comes.
        const bool none = !stalls_->currentIndex().isValid() ||
                          (stalls_->currentKey() == startUpKey && !anyStallShown_ && stallRows);
        anyStallShown_ = stallRows > 0;
        stalls_->rowModel()->setRows(std::move(rows));
        const int last = stalls_->rowModel()->rowCount() - 1 - below;
        if (none && last >= 0)
            stalls_->setCurrentIndex(stalls_->rowModel()->index(last));
        stallsShown_ = shown;
    }
    showDetails();
}

void PacePage::showStall(int index)
{
    showSide(Stalls);
    refresh();
    const auto &all = session_->shown.figures();
    const QString last = all.open ? QStringLiteral("open") : QString::number(int(all.stalls.size()) - 1);
    const int row = stalls_->rowModel()->indexOf(index < 0 ? last : QString::number(index));
    if (row >= 0)
        stalls_->setCurrentIndex(stalls_->rowModel()->index(row));
    stalls_->setFocus();
}

void PacePage::showDetails()
{
    const Stall *s = current();
    sentence_->setVisible(s);
    for (QPushButton *b : {move_, open_, trace_})
        b->setVisible(s);
    waiting_->setVisible(s);
    if (!s)
        return;
    sentence_->setText(s->hot.known() ? s->sentence() + "\nIt was " + blockingSentence(s->blocking) +
                                            ", most often in " + s->hot.text() + '.'
                                      : s->sentence());
    const HandlerName &h = s->contributors.front().handler;
    const QString handler = handlerOf(*session_, h);
    const Handler *known = handler.isEmpty() ? nullptr : session_->document.project().handler(handler);
    // What was not composed here moves as a change to its source file.
    const bool elsewhere = handler.isEmpty() && !h.file.isEmpty() && !isOfProject(*session_, h.file);
    move_->setVisible(
        s->worker.isEmpty() && !s->startUp &&
        (elsewhere || (known && known->shape == Shape::OneGo && known->kind == HandlerKind::Signal)));
    open_->setVisible(!h.file.isEmpty() && session_->document.isOpen());
    std::vector<Row> rows;
    for (const Unseen &u : s->unseen) {
        Row r;
        r.text = u.sentence();
        rows.push_back(r);
    }
    std::vector<WaitRow> waiting = s->waiting;
    std::stable_sort(waiting.begin(), waiting.end(),
                     [](const WaitRow &a, const WaitRow &b) { return a.wait > b.wait; });
    for (const WaitRow &w : waiting) {
        Row r;
        r.text = w.what + " waited";
        r.tail = durationText(w.wait);
        rows.push_back(r);
    }
    for (const QString &line : s->story) {
        Row r;
        r.depth = line.startsWith(' ') ? 1 : 0;
        r.text = line.trimmed();
        r.faint = r.depth > 0;
        rows.push_back(r);
    }
    for (std::size_t i = 1; i < s->contributors.size(); ++i) {
        Row r;
        r.text = s->contributors[i].handler.name + " took part";
        r.tail = durationText(s->contributors[i].ns);
        r.faint = true;
        rows.push_back(r);
    }
    waiting_->rowModel()->setRows(std::move(rows));
}

} // namespace pipit::app
