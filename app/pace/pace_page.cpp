#include "app/pace/pace_page.h"

#include "app/look/choice_box.h"
#include "app/look/tokens.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

namespace pipit::app
{

namespace
{

const QString busyKey = "busy "; // rows of workers: their number among those
constexpr std::size_t mostBusy = 200;

QLabel *heading(const QString &text)
{
    auto *l = new QLabel(text);
    l->setFont(titleFont());
    l->setContentsMargins(padding, 14, padding, 6);
    return l;
}

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

} // namespace

ComparisonView::ComparisonView(QWidget *parent) : QWidget(parent)
{
    setAccessibleName("Comparison of two runs");
}

void ComparisonView::set(const Comparison &c)
{
    comparison_ = c;
    has_ = true;
    QStringList words;
    for (const Figure &f : c.figures)
        words << QStringLiteral("%1: %2 before, %3 after")
                     .arg(f.words, f.isTime ? durationText(f.before) : QString::number(f.before),
                          f.isTime ? durationText(f.after) : QString::number(f.after));
    setAccessibleDescription(words.join("; "));
    setMinimumHeight(scaled(44 + 36 * int(c.figures.size()) + 48));
    update();
}

void ComparisonView::paintEvent(QPaintEvent *)
{
    const Tokens &t = Tokens::current();
    QPainter p(this);
    if (!has_) {
        paintEmpty(&p, rect(),
                   "Play the same play before and after a change. The two runs stand here side by side.");
        return;
    }
    p.setRenderHint(QPainter::Antialiasing);
    const int left = padding, words = scaled(140), number = scaled(78), ratio = scaled(74), line = scaled(36);
    const int bars = std::max(40, width() - left - words - number * 2 - ratio - padding);
    p.setFont(smallFont());
    p.setPen(t.ink2);
    p.drawText(QRect(left + words, 6, number, scaled(22)), Qt::AlignRight | Qt::AlignVCenter, "before");
    p.drawText(QRect(left + words + number, 6, number, scaled(22)), Qt::AlignRight | Qt::AlignVCenter,
               "after");
    int y = scaled(32);
    for (const Figure &f : comparison_.figures) {
        p.setPen(t.hairline);
        p.drawLine(left, y, width() - padding, y);
        p.setFont(textFont());
        p.setPen(t.ink);
        p.drawText(QRect(left, y, words, line), Qt::AlignVCenter, f.words);
        const auto text = [&](std::int64_t v) {
            return v == 0 ? QStringLiteral("none") : f.isTime ? durationText(v) : QString::number(v);
        };
        const bool stall =
            f.name.contains("stall") || f.name == "longest_turn_ns" || f.name == "longest_wait_ns";
        const auto slow = [&](std::int64_t v) { return stall && (f.isTime ? overBudget(v) : v > 0); };
        p.setPen(slow(f.before) ? t.vermilion : t.ink);
        p.drawText(QRect(left + words, y, number, line), Qt::AlignRight | Qt::AlignVCenter, text(f.before));
        p.setPen(slow(f.after) ? t.vermilion : t.ink);
        p.drawText(QRect(left + words + number, y, number, line), Qt::AlignRight | Qt::AlignVCenter,
                   text(f.after));
        const int x = left + words + number * 2 + 16, room = bars - 24;
        const double most = double(std::max<std::int64_t>({f.before, f.after, 1}));
        p.fillRect(QRectF(x, y + line * 0.28, std::max(1.0, room * double(f.before) / most), 6), t.edge);
        p.fillRect(QRectF(x, y + line * 0.56, std::max(1.0, room * double(f.after) / most), 6), t.ink);
        if (const auto r = f.ratio(); r && f.after > 0 && comparison_.comparable) {
            p.setFont(smallFont());
            p.setPen(t.ink2);
            p.drawText(QRect(width() - padding - ratio, y, ratio, line), Qt::AlignRight | Qt::AlignVCenter,
                       "× " + QString::number(*r, 'g', 2));
        }
        y += line;
    }
    p.setFont(textFont());
    p.setPen(comparison_.comparable ? t.ink : t.vermilion);
    p.drawText(QRect(left, y + 8, width() - 2 * padding, scaled(40)), Qt::AlignLeft | Qt::TextWordWrap,
               comparison_.comparable ? "Comparable: the same play, the same build, every expectation met."
                                      : "Not comparable. " + comparison_.reason);
}

PacePage::PacePage(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeStallSide(), 5);
    auto *hair = new QFrame;
    hair->setObjectName("hair");
    hair->setFixedWidth(1);
    layout->addWidget(hair);
    layout->addWidget(makeCompareSide(), 5);
    connect(&session->shown, &ShownTrace::figuresChanged, this, &PacePage::refresh);
    connect(&session->shown, &ShownTrace::reset, this, [this] {
        stallsShown_ = SIZE_MAX;
        refresh();
    });
    connect(&session->runs, &Runs::pastChanged, this, &PacePage::fillRuns);
    const auto fillPlays = [this] {
        const QString was = plays_->currentText();
        plays_->clear();
        for (const QString &f : session_->document.playFiles())
            plays_->addItem(QFileInfo(f).fileName(), f);
        plays_->setCurrentText(was);
        const bool idle = session_->runs.state() == RunState::Idle;
        play_->setEnabled(plays_->count() > 0 && idle);
        elsewhere_->setEnabled(plays_->count() > 0 && idle);
    };
    connect(&session->document, &Document::opened, this, fillPlays);
    connect(&session->runs, &Runs::stateChanged, this, fillPlays);
    refresh();
}

QWidget *PacePage::makeStallSide()
{
    auto *side = new QWidget;
    auto *v = new QVBoxLayout(side);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    title_ = heading(QStringLiteral("Stalls over %1 ms").arg(stallBudget.count()));
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
    v->addWidget(title_);
    v->addWidget(stalls_, 3);
    v->addWidget(sentence_);
    v->addLayout(buttons);
    v->addWidget(waiting_, 4);
    connect(stalls_, &RowList::chosen, this, &PacePage::showDetails);
    connect(move_, &QPushButton::clicked, this, [this] {
        if (const Stall *s = current())
            if (const QString h = handlerOf(*session_, s->contributors.front().handler); !h.isEmpty())
                Q_EMIT moveAsked(h, Shape::Background);
    });
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

QWidget *PacePage::makeCompareSide()
{
    auto *side = new QWidget;
    auto *v = new QVBoxLayout(side);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    v->addWidget(heading("Before and after"));
    plays_ = new ChoiceBox;
    plays_->setObjectName("plays");
    plays_->setAccessibleName("Play");
    play_ = new QPushButton("Play it");
    play_->setObjectName("playButton");
    elsewhere_ = new QPushButton("Play it on another project…");
    auto *line = new QHBoxLayout;
    line->setContentsMargins(padding, 4, padding, 4);
    line->setSpacing(8);
    line->addWidget(plays_, 1);
    line->addWidget(play_);
    line->addWidget(elsewhere_);
    v->addLayout(line);
    before_ = new ChoiceBox;
    before_->setObjectName("before");
    before_->setAccessibleName("Before");
    after_ = new ChoiceBox;
    after_->setObjectName("after");
    after_->setAccessibleName("After");
    auto *runs = new QHBoxLayout;
    runs->setContentsMargins(padding, 4, padding, 8);
    runs->setSpacing(8);
    auto *with = new QLabel("with");
    for (QComboBox *b : {before_, after_})
        b->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    runs->addWidget(before_, 1);
    runs->addWidget(with);
    runs->addWidget(after_, 1);
    v->addLayout(runs);
    comparison_ = new ComparisonView;
    v->addWidget(comparison_);
    shown_ = new QLabel;
    shown_->setFont(smallFont());
    shown_->setContentsMargins(padding, 4, padding, 4);
    shown_->setWordWrap(true);
    v->addWidget(shown_);
    v->addStretch(1);
    connect(play_, &QPushButton::clicked, this,
            [this] { session_->runs.runPlayFile(plays_->currentData().toString()); });
    connect(elsewhere_, &QPushButton::clicked, this,
            [this] { Q_EMIT elsewhereAsked(plays_->currentData().toString()); });
    connect(before_, &QComboBox::activated, this, &PacePage::compare);
    connect(after_, &QComboBox::activated, this, &PacePage::compare);
    connect(&session_->runs, &Runs::playChanged, this, [this] {
        const auto &report = session_->runs.lastPlay();
        if (!report)
            return;
        QStringList failed;
        for (const StepResult &r : report->steps)
            if (!r.ok)
                failed << QStringLiteral("Line %1, %2: expected %3, found %4.")
                              .arg(r.step.line)
                              .arg(r.step.source, r.expected, r.found);
        shown_->setText(report->ok ? QStringLiteral("%1: every expectation was met.").arg(report->play)
                                   : failed.join('\n'));
    });
    return side;
}

const Stall *PacePage::current() const
{
    const LiveFigures &f = session_->shown.figures();
    const QString key = stalls_->currentKey();
    if (key == "open")
        return f.open ? &*f.open : f.stalls.empty() ? nullptr : &f.stalls.back();
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
    stalls_->setEmptyText(session_->shown.reading()
                              ? "The recording is being read. Its stalls stand here then."
                              : "No stall so far. When the loop is blocked for more than 50 ms, it stands "
                                "here with who blocked it and what waited.");
}

void PacePage::refresh()
{
    tellEmpty();
    const LiveFigures &f = session_->shown.figures();
    if (stallsShown_ != f.stalls.size() + f.busy.size() || f.open ||
        stalls_->rowModel()->indexOf("open") >= 0) {
        std::vector<Row> rows;
        const auto add = [&](const Stall &s, const QString &key, int number) {
            Row r;
            r.key = key;
            r.number = number;
            r.lead = QStringLiteral("%1 s").arg(double(s.start - f.first) / 1e9, 0, 'f', 2);
            r.text = s.contributors.front().handler.name;
            r.tail = durationText(s.duration);
            const bool worker = !s.worker.isEmpty();
            r.mark = worker ? Tokens::current().teal : Tokens::current().vermilion;
            r.shape = worker ? Mark::Background : Mark::Finding;
            r.broken = s.open && !worker;
            rows.push_back(r);
        };
        for (std::size_t i = 0; i < f.stalls.size(); ++i)
            add(f.stalls[i], QString::number(i), int(i));
        if (f.open)
            add(*f.open, "open", -1);
        const int stallRows = int(rows.size());
        if (!f.busy.empty() && rows.empty()) {
            Row r;
            r.heading = true;
            r.text = "No stall";
            rows.push_back(r);
        }
        if (!f.busy.empty()) {
            Row r;
            r.heading = true;
            r.text = "Worker threads busy as long, which stalls no window";
            rows.push_back(r);
        }
        for (std::size_t i = f.busy.size() - std::min(f.busy.size(), mostBusy); i < f.busy.size(); ++i)
            add(f.busy[i], busyKey + QString::number(i), -1);
        // The last stall, or the last busy worker where there is no stall.
        const int below = stallRows ? int(rows.size()) - stallRows : 0;
        const bool none = !stalls_->currentIndex().isValid();
        stalls_->rowModel()->setRows(std::move(rows));
        const int last = stalls_->rowModel()->rowCount() - 1 - below;
        if (none && last >= 0)
            stalls_->setCurrentIndex(stalls_->rowModel()->index(last));
        stallsShown_ = f.stalls.size() + f.busy.size();
    }
    showDetails();
}

void PacePage::showStall(int index)
{
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
    move_->setVisible(s->worker.isEmpty() && known && known->shape == Shape::OneGo &&
                      known->kind == HandlerKind::Signal);
    open_->setVisible(!h.file.isEmpty() && session_->document.isOpen());
    std::vector<Row> rows;
    for (const WaitRow &w : s->waiting) {
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

void PacePage::fillRuns()
{
    const auto &runs = session_->runs.past();
    for (QComboBox *box : {before_, after_}) {
        box->clear();
        for (const PastRun &r : runs)
            box->addItem(r.label);
    }
    if (runs.size() < 2)
        return;
    // The newest against the newest before it that played the same play.
    int other = int(runs.size()) - 2;
    for (int i = other; i >= 0; --i)
        if (runs[i].info.playFingerprint == runs.last().info.playFingerprint &&
            !runs.last().info.play.isEmpty()) {
            other = i;
            break;
        }
    before_->setCurrentIndex(other);
    after_->setCurrentIndex(int(runs.size()) - 1);
    compare();
}

void PacePage::compare()
{
    const auto &runs = session_->runs.past();
    const int b = before_->currentIndex(), a = after_->currentIndex();
    if (a < 0 || b < 0 || a >= runs.size() || b >= runs.size())
        return;
    comparison_->set(compareRuns(runs[b].info, runs[b].figures, runs[a].info, runs[a].figures));
}

} // namespace pipit::app
