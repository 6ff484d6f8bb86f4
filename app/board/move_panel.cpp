#include "app/board/move_panel.h"

#include "app/shell/tokens.h"
#include "core/project/rename.h"

#include <QHBoxLayout>
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
    words_ = new QLabel;
    words_->setWordWrap(true);
    words_->setAlignment(Qt::AlignTop);
    code_ = new QPlainTextEdit;
    code_->setReadOnly(true);
    code_->setFont(codeFont());
    code_->setLineWrapMode(QPlainTextEdit::NoWrap);
    code_->setAccessibleName("The code as it will stand");
    apply_ = new QPushButton("Apply the move");
    apply_->setObjectName("applyMove");
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
    connect(apply_, &QPushButton::clicked, this, [this] {
        if (edit_ && session_->edit([this](Workspace &w) { return w.apply(*edit_); })) {
            edit_.reset();
            Q_EMIT applied(handler_);
        }
    });
    connect(cancel, &QPushButton::clicked, this, &MovePanel::dismissed);
}

bool MovePanel::plan(const QString &handler, Shape shape)
{
    auto move = planMove(session_->workspace(), session_->workspace().files(), handler, shape);
    if (!move) {
        Q_EMIT session_->problem(move.problem().text());
        return false;
    }
    handler_ = handler;
    edit_ = move->edit;
    apply_->setText("Apply the move");
    title_->setText(QStringLiteral("Run %1 %2").arg(handler, shapeSentence(shape)));
    words_->setText(move->sentences.join('\n'));
    code_->setPlainText(move->newText);
    apply_->setFocus();
    return true;
}

bool MovePanel::planRename(const QString &from, const QString &to, bool all)
{
    auto plan = all ? pipit::planRenames(session_->workspace(), from, to)
                    : pipit::planRename(session_->workspace(), from, to);
    if (!plan) {
        Q_EMIT session_->problem(plan.problem().text());
        return false;
    }
    handler_.clear();
    edit_ = plan->edit;
    apply_->setText("Rename");
    QStringList names, lines;
    for (const auto &[old, now] : plan->names)
        names << old + " becomes " + now;
    title_->setText(plan->names.size() == 1 ? names.first()
                                            : QStringLiteral("%1 new names").arg(plan->names.size()));
    words_->setText(
        (plan->names.size() == 1 ? QStringList() : names.mid(0, 12))
            .join('\n')
            .append(plan->places.size() == 1
                        ? QStringLiteral("\n1 line of your code follows.")
                        : QStringLiteral("\n%1 lines of your code follow.").arg(plan->places.size()))
            .append(plan->notes.isEmpty() ? QString() : '\n' + plan->notes.mid(0, 6).join('\n'))
            .trimmed());
    for (const RenamePlace &p : plan->places)
        lines << QStringLiteral("%1:%2  %3").arg(p.file).arg(p.line).arg(p.after);
    code_->setPlainText(lines.join('\n'));
    apply_->setFocus();
    return true;
}

} // namespace pipit::app
