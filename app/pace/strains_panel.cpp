#include "app/pace/strains_panel.h"

#include "app/look/tokens.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace pipit::app
{

StrainsPanel::StrainsPanel(Session *session, PaceLook *look, QWidget *parent)
    : QWidget(parent), session_(session), look_(look)
{
    list_ = new RowList("Strains", 0, 90);
    list_->setObjectName("strains");
    sentence_ = new QLabel;
    sentence_->setWordWrap(true);
    sentence_->setContentsMargins(padding, 10, padding, 6);
    sentence_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    open_ = new QPushButton("Open the code");
    moment_ = new QPushButton("Show the moment");
    auto *buttons = new QHBoxLayout;
    buttons->setContentsMargins(padding, 0, padding, 10);
    buttons->setSpacing(8);
    buttons->addWidget(open_);
    buttons->addWidget(moment_);
    buttons->addStretch();
    auto *v = new QVBoxLayout(this);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    v->addWidget(list_, 1);
    v->addWidget(sentence_);
    v->addLayout(buttons);
    connect(look_, &PaceLook::changed, this, &StrainsPanel::fill);
    connect(list_, &RowList::chosen, this, &StrainsPanel::showStrain);
    connect(open_, &QPushButton::clicked, this, [this] {
        if (const Strain *s = current())
            Q_EMIT placeAsked(s->file, s->line);
    });
    connect(moment_, &QPushButton::clicked, this, [this] {
        if (const Strain *s = current())
            Q_EMIT timeAsked(s->at);
    });
    fill();
}

void StrainsPanel::fill()
{
    list_->setEmptyText(look_->known() ? "No strains: no handler, repaint or timer is expensive by its "
                                         "count, and no widget was set on another thread."
                                       : "After a run, this list shows small costs that add up, and widgets "
                                         "that were set on other threads.");
    std::vector<Row> rows;
    for (std::size_t i = 0; i < look_->strains().size(); ++i) {
        const Strain &s = look_->strains()[i];
        Row r;
        r.key = Strain::id(s.kind) + ' ' + s.who + ' ' + s.file + ' ' + QString::number(s.line);
        r.number = int(i);
        r.text = s.sentence();
        const bool wrong = s.kind == StrainKind::OffTheLoop || s.kind == StrainKind::ReEntry;
        r.tail = s.took && !wrong ? durationText(s.took) : QString();
        r.mark = wrong ? Tokens::current().vermilion : Tokens::current().slate;
        r.shape = wrong ? Mark::Finding : Mark::Loop;
        rows.push_back(std::move(r));
    }
    const QString was = list_->currentKey();
    list_->rowModel()->setRows(std::move(rows));
    if (!was.isEmpty())
        list_->selectKey(was);
    if (!list_->currentIndex().isValid() && list_->rowModel()->rowCount() > 0)
        list_->setCurrentIndex(list_->rowModel()->index(0));
    showStrain();
}

const Strain *StrainsPanel::current() const
{
    const Row *r = list_->rowModel()->row(list_->currentIndex());
    return r && r->number >= 0 && std::size_t(r->number) < look_->strains().size()
               ? &look_->strains()[std::size_t(r->number)]
               : nullptr;
}

void StrainsPanel::showStrain()
{
    const Strain *s = current();
    for (QWidget *w :
         {static_cast<QWidget *>(sentence_), static_cast<QWidget *>(open_), static_cast<QWidget *>(moment_)})
        w->setVisible(s);
    if (!s)
        return;
    sentence_->setText(s->sentence() + '\n' + s->advice());
    open_->setVisible(!s->file.isEmpty());
}

} // namespace pipit::app
