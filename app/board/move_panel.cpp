#include "app/board/move_panel.h"

#include "app/look/tokens.h"
#include "app/session/background.h"
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
    before_ = new CodePane("The code as it stands");
    after_ = new CodePane("The code as it will stand");
    reasons_ = new RowList("Why it is not moved", 64, 0);
    reasons_->setEmptyText("There is no reason against it.");
    right_ = new QStackedWidget;
    right_->addWidget(after_);
    right_->addWidget(reasons_);
    apply_ = new QPushButton("Apply the move");
    apply_->setObjectName("applyMove");
    apply_->setProperty("main", true);
    answer_ = new QPushButton("Take it to be harmless");
    answer_->setObjectName("answerForLine");
    answer_->setToolTip("You answer for this line: Pipit takes it to touch nothing that others use");
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
    auto *buttons = new QHBoxLayout;
    buttons->setSpacing(8);
    for (QPushButton *b : {apply_, answer_, leave_})
        buttons->addWidget(b);
    buttons->addStretch();
    left->addLayout(buttons);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(left, 4);
    layout->addWidget(before_, 5);
    layout->addWidget(right_, 5);
    connect(apply_, &QPushButton::clicked, this, &MovePanel::apply);
    connect(answer_, &QPushButton::clicked, this, &MovePanel::answerFor);
    connect(reasons_, &RowList::activatedRow, this,
            [this](const QString &file, int line) { Q_EMIT placeAsked(file, line); });
    connect(reasons_, &RowList::chosen, this, [this](const QString &, int line) { tellReason(line); });
    connect(leave_, &QPushButton::clicked, this, [this] {
        forget();
        move_.reset();
        Q_EMIT dismissed();
    });
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
    trusted_.clear();
    ask();
}

void MovePanel::ask()
{
    forget();
    move_.reset();
    title_->setText(QStringLiteral("Run %1 %2").arg(handler_, shapeSentence(shape_)));
    words_->setText(QStringLiteral("Reading the code of %1…").arg(handler_));
    before_->setCode({}, {});
    after_->setCode({}, {});
    right_->setCurrentWidget(after_);
    apply_->show();
    apply_->setEnabled(false);
    answer_->hide();
    cancel_ = std::make_shared<std::atomic<bool>>(false);
    MoveQuestion q = MoveQuestion::of(session_->document.workspace(), handler_, shape_);
    q.trusted = trusted_;
    inBackground(
        this, [q = std::move(q), cancel = cancel_] { return planMove(q, *cancel); },
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
        leave_->setFocus();
    } else if (!move->refused.isEmpty()) {
        showRefusal(*move);
    } else {
        showMove(*move);
    }
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
QList<Band> bandsOf(const QString &text, const QString &work, Shape shape)
{
    QList<Band> bands(text.count('\n') + 1, Band::None);
    for (const Definition &d : definitionsIn(text)) {
        const Band band = d.name == work          ? Band::Background
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
    auto text = session_->document.workspace().files().text(move.file);
    const int first = text && !move.oldText.isEmpty() ? lineAt(*text, text->indexOf(move.oldText)) : 1;
    QList<Band> old(move.oldText.count('\n') + 1, Band::None);
    for (qsizetype i = 0; i < move.lines.size(); ++i) {
        const int end = i + 1 < move.lines.size() ? move.lines[i + 1].line : first + int(old.size()) - 1;
        for (int line = move.lines[i].line; line < end; ++line)
            if (line - first >= 0 && line - first < old.size())
                old[line - first] = bandOf(move.lines[i].place, shape_);
    }
    before_->setCode(move.oldText, old);
    const QString head = move.headerText.isEmpty() ? QString() : move.headerText + "\n\n";
    const QString now = head + move.newText;
    after_->setCode(now, bandsOf(now, functionName(handler_, Part::Work), shape_));
    apply_->setEnabled(true);
    apply_->setFocus();
}

void MovePanel::showRefusal(const Move &move)
{
    title_->setText(QStringLiteral("%1 stays as it is").arg(handler_));
    why_ = QStringLiteral(
               "Moved, it would not do the same any more. Mend the %1 at the right, or take a line to be "
               "harmless if you know that it is. Return goes to its code.")
               .arg(move.refused.size() == 1 ? "line" : "lines");
    auto text = session_->document.workspace().files().text(move.file);
    const int first = text && !move.oldText.isEmpty() ? lineAt(*text, text->indexOf(move.oldText)) : 1;
    QList<Band> old(move.oldText.count('\n') + 1, Band::None);
    std::vector<Row> rows;
    for (const MoveRefusal &r : move.refused) {
        Row row;
        row.key = r.file;
        row.number = r.line;
        row.lead = QStringLiteral("line %1").arg(r.line);
        row.text = r.reason;
        rows.push_back(std::move(row));
        if (r.line - first >= 0 && r.line - first < old.size())
            old[r.line - first] = Band::Broken;
    }
    before_->setCode(move.oldText, old);
    reasons_->rowModel()->setRows(std::move(rows));
    reasons_->setCurrentIndex(reasons_->model()->index(0, 0));
    tellReason(move.refused.first().line);
    apply_->hide();
    right_->setCurrentWidget(reasons_);
    answer_->show();
    reasons_->setFocus();
}

// A reason is a whole sentence, and the list is narrow.
void MovePanel::tellReason(int line)
{
    QString reason;
    for (const Row &r : reasons_->rowModel()->rows())
        if (r.number == line && reason.isEmpty())
            reason = r.text;
    words_->setText(why_ + QStringLiteral("\n\nLine %1: %2.").arg(line).arg(reason));
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
        Q_EMIT session_->messages.note("Something changed meanwhile: this is the plan as it is now.");
        return;
    }
    const Edit edit = move_->edit;
    if (session_->document.edit([&](Workspace &w) { return w.apply(edit); })) {
        move_.reset();
        Q_EMIT applied(handler_);
    }
}

} // namespace pipit::app
