#include "app/board/move_panel.h"

#include "app/look/divider.h"
#include "app/look/tokens.h"
#include "app/session/background.h"
#include "core/moves/ending.h"
#include "core/moves/notification.h"
#include "core/userfiles/cpp_scan.h"

#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

namespace pipit::app
{

MovePanel::MovePanel(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setObjectName("movePanel");
    title_ = new QLabel;
    QFont f = textFont();
    f.setWeight(QFont::DemiBold);
    title_->setFont(f);
    title_->setWordWrap(true);
    words_ = new QLabel;
    words_->setWordWrap(true);
    words_->setAlignment(Qt::AlignTop);
    before_ = new CodePane("Code before");
    after_ = new CodePane("Code after");
    reasons_ = new RowList("Why it is not moved", 64, 0);
    reasons_->setEmptyText("Nothing prevents the move.");
    right_ = new QStackedWidget;
    right_->addWidget(after_);
    right_->addWidget(reasons_);
    apply_ = new QPushButton("Apply the move");
    apply_->setObjectName("applyMove");
    apply_->setProperty("main", true);
    answer_ = new QPushButton("Treat as thread-safe; your responsibility");
    answer_->setObjectName("answerForLine");
    answer_->setToolTip("Pipit then assumes that this line uses nothing that other code uses");
    offer_ = new QPushButton;
    offer_->setObjectName("takeOffer");
    choices_ = new MoveChoices;
    leave_ = new QPushButton("Leave it");
    auto *left = new QVBoxLayout;
    left->setContentsMargins(padding, 8, padding, 8);
    auto *room = new QScrollArea;
    room->setWidget(words_);
    room->setWidgetResizable(true);
    room->setFrameShape(QFrame::NoFrame);
    room->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    room->setFocusPolicy(Qt::NoFocus);
    left->addWidget(title_);
    left->addWidget(room, 1);
    left->addWidget(choices_);
    auto *offers = new QHBoxLayout;
    offers->setContentsMargins(0, 0, 0, 4);
    offers->addWidget(offer_);
    offers->addStretch();
    left->addLayout(offers);
    auto *buttons = new QHBoxLayout;
    buttons->setSpacing(8);
    for (QPushButton *b : {apply_, answer_, offer_, leave_}) {
        b->setAutoDefault(true); // Return presses it
        if (b != offer_)
            buttons->addWidget(b);
    }
    buttons->addStretch();
    left->addLayout(buttons);
    makeColumns(left);
    connect(apply_, &QPushButton::clicked, this, &MovePanel::apply);
    connect(answer_, &QPushButton::clicked, this, &MovePanel::answerFor);
    connect(offer_, &QPushButton::clicked, this, [this] {
        if (offered_)
            choices_->choose(*offered_);
    });
    connect(choices_, &MoveChoices::changed, this, &MovePanel::ask);
    connect(reasons_, &RowList::activatedRow, this,
            [this](const QString &file, int line) { Q_EMIT placeAsked(file, line); });
    connect(reasons_, &RowList::chosen, this, [this](const QString &, int line) { tellReason(line); });
    connect(leave_, &QPushButton::clicked, this, [this] {
        forget();
        move_.reset();
        Q_EMIT dismissed();
    });
}

void MovePanel::makeColumns(QLayout *left)
{
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto *leftSide = new QWidget;
    leftSide->setLayout(left);
    columns_ = {leftSide, before_, right_};
    layout->addWidget(columns_[0]);
    for (int i = 1; i < 3; ++i) {
        auto *between = new Divider(i == 1 ? "Width of the description" : "Width of the code before");
        connect(between, &Divider::moved, this, [this, i](int by) { widen(i, by); });
        connect(between, &Divider::reset, this, [this] { setShares({4, 5, 5}); });
        layout->addWidget(between);
        layout->addWidget(columns_[i]);
    }
    setShares({4, 5, 5});
}

void MovePanel::setShares(const QList<int> &shares)
{
    auto *row = static_cast<QHBoxLayout *>(layout());
    for (int i = 0; i < 3; ++i)
        row->setStretchFactor(columns_[i], shares[i]);
}

// One column takes from the other what the line between them is moved.
void MovePanel::widen(int right, int by)
{
    constexpr int least = 120;
    QList<int> widths;
    for (const QWidget *w : columns_)
        widths << w->width();
    by = std::clamp(by, std::min(0, least - widths[right - 1]), std::max(0, widths[right] - least));
    widths[right - 1] += by;
    widths[right] -= by;
    setShares(widths);
}

MovePanel::~MovePanel()
{
    forget();
}

void MovePanel::forget()
{
    if (cancel_)
        *cancel_ = true;
    cancel_.reset();
}

void MovePanel::plan(const QString &handler, Shape shape)
{
    handler_ = handler;
    shape_ = shape;
    about_ = About::Handler;
    trusted_.clear();
    const Project &p = session_->document.project();
    if (const Handler *h = p.handler(handler))
        choices_->setFor(p, *h, shape);
    ask();
}

void MovePanel::planTold(const QString &timer)
{
    planTimer(timer, About::Told);
}

void MovePanel::planOnTime(const QString &timer)
{
    planTimer(timer, About::OnTime);
}

void MovePanel::planTimer(const QString &timer, About about)
{
    handler_ = timer;
    shape_ = Shape::Background;
    about_ = about;
    trusted_.clear();
    choices_->hide();
    ask();
}

QString MovePanel::title() const
{
    const Handler *h = session_->document.project().handler(handler_);
    switch (about_) {
    case About::Told:
        return "Replace the polling of " + handler_;
    case About::OnTime:
        return "Replace with a single-shot timer: " + handler_;
    case About::Handler:
        break;
    }
    return h && h->shape == shape_ ? handler_ + ", when triggered again while it runs"
                                   : QStringLiteral("Run %1 %2").arg(handler_, shapeSentence(shape_));
}

void MovePanel::ask()
{
    forget();
    move_.reset();
    const Handler *h = session_->document.project().handler(handler_);
    title_->setText(title());
    words_->setText(QStringLiteral("Reading the code of %1…").arg(handler_));
    before_->setCode({}, {});
    after_->setCode({}, {});
    right_->setCurrentWidget(after_);
    apply_->setText(about_ != About::Handler || (h && h->shape == shape_) ? "Apply it" : "Apply the move");
    apply_->show();
    apply_->setEnabled(false);
    answer_->hide();
    offer_->hide();
    offered_.reset();
    cancel_ = std::make_shared<std::atomic<bool>>(false);
    MoveQuestion q = MoveQuestion::of(session_->document.workspace(), handler_, shape_);
    q.trusted = trusted_;
    if (about_ == About::Handler)
        choices_->tell(q);
    inBackground(
        this,
        [q = std::move(q), about = about_, cancel = cancel_] {
            return about == About::Told     ? planNotification(q, *cancel)
                   : about == About::OnTime ? planEnding(q, *cancel)
                                            : planMove(q, *cancel);
        },
        [this, cancel = cancel_](const Result<Move> &move) {
            if (cancel != cancel_)
                return; // something else was asked by now
            cancel_.reset();
            take(move);
        });
}

void MovePanel::take(const Result<Move> &move)
{
    if (!move) {
        words_->setText(move.problem().text());
    } else if (!move->refused.isEmpty()) {
        showRefusal(*move);
    } else {
        showMove(*move);
    }
    // Who is choosing goes on choosing.
    if (const QWidget *at = focusWidget(); !at || !at->isVisible() || !choices_->isAncestorOf(at))
        (!move                      ? static_cast<QWidget *>(leave_)
         : !move->refused.isEmpty() ? reasons_
         : apply_->isEnabled()      ? static_cast<QWidget *>(apply_)
                                    : choices_->again())
            ->setFocus();
    Q_EMIT planned();
}

namespace
{

using Band = CodePane::Band;

Band bandOf(Stage place, Shape shape)
{
    if (shape == Shape::Steps)
        return Band::Timer;
    return place == Stage::Work ? Band::Background : Band::Loop;
}

// The functions that come out, each in the colour of where it runs.
QList<Band> bandsOf(const QString &text, Shape shape)
{
    QList<Band> bands(text.count('\n') + 1, Band::None);
    for (const Definition &d : definitionsIn(text)) {
        const Band band = d.className.isEmpty()   ? Band::Background
                          : shape == Shape::Steps ? Band::Timer
                                                  : Band::Loop;
        for (int line = d.line; line <= lineAt(text, d.bodyClose); ++line)
            if (line - 1 < bands.size())
                bands[line - 1] = band;
    }
    return bands;
}

} // namespace

void MovePanel::showMove(const Move &move)
{
    move_ = move;
    words_->setText(move.sentences.join("\n\n"));
    if (move.parts.size() > 1)
        title_->setText("Run " + move.parts.join(move.parts.size() == 2 ? " and " : ", ") + ' ' +
                        shapeSentence(shape_));
    QList<Band> old(move.oldText.count('\n') + 1, Band::None);
    const QStringList code = move.oldText.split('\n');
    for (const MovedLine &l : move.lines)
        for (int line = l.at; line >= 0 && line < old.size() && !code[line].startsWith('}'); ++line)
            old[line] = bandOf(l.place, shape_);
    before_->setCode(move.oldText, old);
    const QString head = move.headerText.isEmpty() ? QString() : move.headerText + "\n\n";
    const QString now = head + move.newText;
    after_->setCode(now, bandsOf(now, shape_));
    const Handler *then = move.edit.after.handler(handler_);
    choices_->setVisible(about_ == About::Handler && then &&
                         then->shape != Shape::OneGo); // parted at a pause it never works
    apply_->setEnabled(changesSomething(move));
    tellOffer(move);
}

// Whose pace is as it was has nothing to apply.
bool MovePanel::changesSomething(const Move &move) const
{
    const Handler *now = session_->document.project().handler(handler_),
                  *then = move.edit.after.handler(handler_);
    return about_ != About::Handler || !move.edit.files.isEmpty() ||
           (now && then &&
            (now->again != then->again || now->workers != then->workers || now->queue != then->queue));
}

static QString wordsFor(const MoveOffer &offer)
{
    if (offer.again == "ignore")
        return "Ignore it then";
    if (!offer.again.isEmpty())
        return "Restart it then";
    if (offer.with.isEmpty())
        return "Share queue " + offer.queue;
    const QString who =
        offer.with.size() == 1 ? offer.with.first() : QStringLiteral("%1 others").arg(offer.with.size());
    return (offer.queue.isEmpty() ? "Take back " : "Move ") + who + " as well";
}

// What would do, or what may be meant.
void MovePanel::tellOffer(const Move &move)
{
    if (move.offers.isEmpty())
        return;
    offered_ = move.offers.first();
    offer_->setText(wordsFor(*offered_));
    offer_->setToolTip(offered_->sentence);
    offer_->show();
    words_->setText(words_->text() + "\n\n" + offered_->sentence);
}

void MovePanel::showRefusal(const Move &move)
{
    title_->setText(QStringLiteral("%1 is not changed").arg(handler_));
    const bool one = move.refused.size() == 1;
    why_ = QStringLiteral(
               "Not moved: the behaviour would change. Fix the %1 at the right%2. Return goes to its code.")
               .arg(one ? "line" : "lines",
                    about_ == About::OnTime ? "" : ", or treat a line as thread-safe if you know that it is");
    QList<Band> old(move.oldText.count('\n') + 1, Band::None);
    std::vector<Row> rows;
    for (const MoveRefusal &r : move.refused) {
        Row row;
        row.key = r.file;
        row.number = r.line;
        row.lead = r.line > 0 ? QStringLiteral("line %1").arg(r.line) : QString();
        row.text = r.reason;
        rows.push_back(std::move(row));
        if (r.at >= 0 && r.at < old.size())
            old[r.at] = Band::Broken;
    }
    before_->setCode(move.oldText, old);
    reasons_->rowModel()->setRows(std::move(rows));
    reasons_->setCurrentIndex(reasons_->model()->index(0, 0));
    apply_->hide();
    right_->setCurrentWidget(reasons_);
    answer_->setVisible(about_ != About::OnTime && move.refused.first().line > 0);
    tellOffer(move);
    tellReason(move.refused.first().line);
}

// A reason is a whole sentence, and the list is narrow.
void MovePanel::tellReason(int line)
{
    QString reason;
    for (const Row &r : reasons_->rowModel()->rows())
        if (r.number == line && reason.isEmpty())
            reason = r.text;
    words_->setText((line > 0 ? QStringLiteral("Line %1: %2.").arg(line).arg(reason) : reason + '.') +
                    (offered_ ? "\n\n" + offered_->sentence : QString()) + "\n\n" + why_);
}

void MovePanel::answerFor()
{
    if (const Row *r = reasons_->rowModel()->row(reasons_->currentIndex())) {
        trusted_.insert(r->number);
        ask();
    }
}

// What has changed since the plan was made is not overwritten: the plan is made anew, to be looked at.
void MovePanel::apply()
{
    if (!move_)
        return;
    if (move_->edit.madeFrom != session_->document.workspace().stamp()) {
        ask();
        Q_EMIT session_->messages.note(
            "The project changed in the meantime. This is the new plan; check it again.");
        return;
    }
    const Edit edit = move_->edit;
    if (session_->document.edit([&](Workspace &w) { return w.apply(edit); })) {
        move_.reset();
        QString handler = handler_;
        for (const Connection &c : session_->document.project().connections)
            if (about_ != About::Handler && c.from == handler_ && c.targetKind == Connection::Target::Handler)
                handler = c.to;
        Q_EMIT applied(handler);
    }
}

} // namespace pipit::app
