#include "app/board/clash_panel.h"

#include "app/look/tokens.h"

#include <QGridLayout>
#include <QHBoxLayout>

namespace pipit::app
{

ClashPanel::ClashPanel(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    const auto text = [](const QString &name) {
        auto *t = new QPlainTextEdit;
        t->setReadOnly(true);
        t->setFont(codeFont());
        t->setLineWrapMode(QPlainTextEdit::NoWrap);
        t->setAccessibleName(name);
        return t;
    };
    heading_ = new QLabel;
    mine_ = text("In Pipit");
    theirs_ = text("On disk");
    here_ = new QPushButton("Keep Pipit's text here");
    there_ = new QPushButton("Keep the text on disk here");
    allHere_ = new QPushButton("Keep all of Pipit's text");
    allThere_ = new QPushButton("Keep all text on disk");
    for (QPushButton *b : {allHere_, allThere_})
        b->setProperty("word", true);
    auto *grid = new QGridLayout(this);
    grid->setContentsMargins(padding, 6, padding, 6);
    grid->setSpacing(6);
    grid->addWidget(heading_, 0, 0, 1, 2);
    grid->addWidget(mine_, 1, 0);
    grid->addWidget(theirs_, 1, 1);
    for (const auto &[column, one, all] : {std::tuple{0, here_, allHere_}, {1, there_, allThere_}}) {
        auto *row = new QHBoxLayout;
        row->addWidget(one);
        row->addWidget(all);
        row->addStretch();
        grid->addLayout(row, 2, column);
    }
    connect(here_, &QPushButton::clicked, this, [this] { choose(true); });
    connect(there_, &QPushButton::clicked, this, [this] { choose(false); });
    connect(allHere_, &QPushButton::clicked, this, [this] {
        while (!file_.isEmpty())
            choose(true);
    });
    connect(allThere_, &QPushButton::clicked, this, [this] {
        while (!file_.isEmpty())
            choose(false);
    });
}

bool ClashPanel::showFirst()
{
    file_.clear();
    places_.clear();
    chosen_.clear();
    if (session_->document.isOpen()) {
        UserFiles &files = session_->document.workspace().files();
        file_ = files.clashing().value(0);
        if (const auto both = files.clashOf(file_))
            for (const MergePiece &p : both->pieces)
                if (p.clash)
                    places_ << p;
    }
    if (!file_.isEmpty() && places_.isEmpty()) { // it goes together by now
        session_->document.settle(std::exchange(file_, {}), {});
        return false;
    }
    showPlace();
    return !file_.isEmpty();
}

void ClashPanel::showPlace()
{
    const MergePiece p = places_.value(chosen_.size());
    mine_->setPlainText(p.mine.isEmpty() ? "(nothing)" : p.mine);
    theirs_->setPlainText(p.theirs.isEmpty() ? "(nothing)" : p.theirs);
    heading_->setText(
        QStringLiteral("%1 was changed in Pipit and on disk at line %2. Choose the text to keep. (%3 of %4)")
            .arg(file_)
            .arg(p.line)
            .arg(chosen_.size() + 1)
            .arg(places_.size()));
}

void ClashPanel::choose(bool mine)
{
    if (file_.isEmpty())
        return;
    chosen_ << mine;
    if (chosen_.size() < places_.size()) {
        showPlace();
        return;
    }
    session_->document.settle(std::exchange(file_, {}), chosen_);
    if (!showFirst())
        Q_EMIT settled();
}

} // namespace pipit::app
