#include "app/board/rename_panel.h"

#include "app/look/tokens.h"
#include "app/session/background.h"
#include "core/build/word_meanings.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace pipit::app
{

RenamePanel::RenamePanel(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setObjectName("renamePanel");
    title_ = new QLabel;
    QFont f = textFont();
    f.setWeight(QFont::DemiBold);
    title_->setFont(f);
    words_ = new QLabel;
    words_->setWordWrap(true);
    words_->setAlignment(Qt::AlignTop);
    code_ = new QPlainTextEdit;
    code_->setReadOnly(true);
    code_->setFont(codeFont());
    code_->setLineWrapMode(QPlainTextEdit::NoWrap);
    code_->setAccessibleName("Code after");
    apply_ = new QPushButton("Rename");
    apply_->setObjectName("applyRename");
    apply_->setProperty("main", true);
    auto *cancel = new QPushButton("Leave it");
    auto *left = new QVBoxLayout;
    left->setContentsMargins(padding, 8, padding, 8);
    left->addWidget(title_);
    left->addWidget(words_, 1);
    auto *buttons = new QHBoxLayout;
    buttons->addWidget(apply_);
    buttons->addWidget(cancel);
    buttons->setSpacing(8);
    buttons->addStretch();
    left->addLayout(buttons);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(left, 2);
    layout->addWidget(code_, 3);
    connect(apply_, &QPushButton::clicked, this, &RenamePanel::apply);
    connect(cancel, &QPushButton::clicked, this, [this] {
        forget();
        edit_.reset();
        Q_EMIT dismissed();
    });
}

// What has changed since the plan was made is not overwritten: the plan is made anew, to be looked at.
void RenamePanel::apply()
{
    if (!edit_)
        return;
    if (edit_->madeFrom != session_->document.workspace().stamp()) {
        if (const auto again = again_; again()) // which sets another one
            Q_EMIT session_->messages.note(
                "The project changed in the meantime. This is the new plan; check it again.");
        return;
    }
    if (session_->document.edit([this](Workspace &w) { return w.apply(*edit_); })) {
        edit_.reset();
        forget();
        Q_EMIT applied();
    }
}

bool RenamePanel::plan(const QString &from, const QString &to, bool all)
{
    const RenameRequest request{from, to, all};
    auto plan = pipit::planRename(session_->document.workspace(), request);
    if (!plan) {
        Q_EMIT session_->messages.problem(plan.problem().text());
        return false;
    }
    forget();
    again_ = [this, from, to, all] { return this->plan(from, to, all); };
    const bool more = !plan->places.isEmpty() || !plan->notes.isEmpty();
    const bool asks = more && canAskReader();
    showRename(*plan, asks ? "Pipit is reading your code. Until then, Rename goes by text." : "");
    apply_->setFocus();
    if (asks)
        lookWithReader(request);
    return true;
}

void RenamePanel::lookWithReader(const RenameRequest &request)
{
    cancel_ = std::make_shared<std::atomic<bool>>(false);
    Workspace &w = session_->document.workspace();
    auto asked = wordsToRename(w, request);
    if (!asked)
        return;
    inBackground(
        this,
        [place = w.place(), project = w.project(), files = w.files(), words = *asked,
         cancel = cancel_]() mutable { return askReader(place, project, files, words, *cancel); },
        [this, request, cancel = cancel_, asked = *asked](const Result<WordVerdicts> &said) {
            if (*cancel || cancel != cancel_ || !edit_)
                return; // something else is shown by now
            auto now = wordsToRename(session_->document.workspace(), request);
            if (!now || *now != asked)
                return; // the code was typed on meanwhile
            auto plan =
                pipit::planRename(session_->document.workspace(), request, said ? *said : WordVerdicts());
            if (plan)
                showRename(*plan, said ? "Names were resolved in your code." : said.problem().text());
        });
}

// A question that nobody waits for any more.
void RenamePanel::forget()
{
    if (cancel_)
        *cancel_ = true;
    cancel_.reset();
}

RenamePanel::~RenamePanel()
{
    forget();
}

void RenamePanel::showRename(const RenamePlan &plan, const QString &lookedAt)
{
    edit_ = plan.edit;
    QStringList names, says, lines;
    for (const auto &[old, now] : plan.names)
        names << old + " becomes " + now;
    title_->setText(names.size() == 1 ? names.first() : QStringLiteral("%1 new names").arg(names.size()));
    if (names.size() > 1)
        says << names.mid(0, 12);
    const qsizetype n = plan.places.size();
    says << (n == 0   ? QString("No line of your code changes.")
             : n == 1 ? QString("1 line of your code changes.")
                      : QStringLiteral("%1 lines of your code change.").arg(n));
    says << plan.notes.mid(0, 6) << lookedAt;
    says.removeAll(QString());
    words_->setText(says.join('\n'));
    for (const RenamePlace &p : plan.places)
        lines << QStringLiteral("%1:%2  %3").arg(p.file).arg(p.line).arg(p.after);
    code_->setPlainText(lines.join('\n'));
}

} // namespace pipit::app
