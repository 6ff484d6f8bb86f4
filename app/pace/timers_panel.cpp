#include "app/pace/timers_panel.h"

#include "app/look/tokens.h"
#include "app/session/background.h"
#include "core/pace/polls.h"
#include "core/userfiles/cpp_scan.h"

#include <QVBoxLayout>

namespace pipit::app
{

TimersPanel::TimersPanel(Session *session, PaceLook *look, QWidget *parent)
    : QWidget(parent), session_(session), look_(look)
{
    list_ = new RowList("Timers", 0, 190);
    list_->setObjectName("timers");
    list_->setEmptyText(
        "No timer has ticked yet. Timers appear here with their interval and how well they kept it.");
    sentence_ = new QLabel;
    sentence_->setWordWrap(true);
    sentence_->setContentsMargins(padding, 8, padding, 4);
    sentence_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    told_ = new QPushButton("Replace polling with notifications…");
    told_->setObjectName("toldInstead");
    told_->setAutoDefault(true);
    told_->hide();
    auto *offer = new QHBoxLayout;
    offer->setContentsMargins(padding, 0, padding, 8);
    offer->addWidget(told_);
    offer->addStretch();
    lab_ = new TimerLab;
    auto *v = new QVBoxLayout(this);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    v->addWidget(list_, 2);
    v->addWidget(sentence_);
    v->addLayout(offer);
    v->addWidget(lab_, 5);
    connect(look_, &PaceLook::changed, this, &TimersPanel::fill);
    connect(list_, &RowList::chosen, this, &TimersPanel::showTimer);
    connect(lab_, &TimerLab::tryAsked, this, &TimersPanel::tryInterval);
    connect(lab_, &TimerLab::keepAsked, this, &TimersPanel::keepInterval);
    connect(told_, &QPushButton::clicked, this, [this] {
        if (const TimerRow *t = current())
            Q_EMIT toldAsked(t->name);
    });
    connect(&session_->runs, &Runs::stateChanged, this, &TimersPanel::showTimer);
    fill();
}

void TimersPanel::fill()
{
    std::vector<Row> rows;
    bool own = true;
    for (const TimerRow &t : look_->timers()) {
        if (std::exchange(own, t.known) && !t.known) {
            Row heading;
            heading.heading = true;
            heading.text = "Single shots, and timers of objects";
            rows.push_back(std::move(heading));
        }
        Row r;
        r.key = QString::number(t.object);
        r.text = t.name;
        r.tail = t.shots               ? counted(t.ticks, "shot", "shots")
                 : t.intervals.empty() ? counted(t.ticks, "tick", "ticks")
                                       : "every " + durationText(t.intervals.median());
        r.mark = Tokens::current().ochre;
        r.shape = Mark::Timer;
        rows.push_back(std::move(r));
    }
    const QString was = list_->currentKey();
    list_->rowModel()->setRows(std::move(rows));
    if (!was.isEmpty())
        list_->selectKey(was);
    if (!list_->currentIndex().isValid() && list_->rowModel()->rowCount() > 0)
        list_->setCurrentIndex(list_->rowModel()->index(0));
    showTimer();
}

const TimerRow *TimersPanel::current() const
{
    const QString key = list_->currentKey();
    for (const TimerRow &t : look_->timers())
        if (QString::number(t.object) == key)
            return &t;
    return nullptr;
}

void TimersPanel::showTimer()
{
    const TimerRow *t = current();
    sentence_->setVisible(t);
    lab_->setVisible(t && !t->intervals.empty());
    told_->hide();
    if (!t)
        return;
    const QString instead = notificationInstead(codeOf(t->name));
    sentence_->setText(instead.isEmpty() ? t->sentence() : t->sentence() + '\n' + instead);
    const bool ofProject = session_->document.isOpen() && session_->runs.isOfProject() && t->known &&
                           session_->document.project().timer(t->name);
    told_->setVisible(!instead.isEmpty() && ofProject);
    lab_->set(*t, session_->runs.state() == RunState::Running && session_->shown.liveRun(), ofProject);
}

// The bodies of what the project's timer calls.
QString TimersPanel::codeOf(const QString &timer) const
{
    if (!session_->document.isOpen() || !session_->runs.isOfProject())
        return {};
    const Project &p = session_->document.project();
    UserFiles files = session_->document.workspace().files(); // reads on first use
    QString code;
    for (const Connection &c : p.connections) {
        const Handler *h =
            c.from == timer && c.targetKind == Connection::Target::Handler ? p.handler(c.to) : nullptr;
        if (!h || p.windows.isEmpty())
            continue;
        const auto text = files.text(h->file);
        const QString window = h->window.isEmpty() ? p.windows.first().className : h->window;
        if (const auto d = text ? definitionOf(*text, window, h->name) : std::nullopt)
            code += text->mid(d->bodyOpen, d->bodyClose - d->bodyOpen) + '\n';
    }
    return code;
}

void TimersPanel::tryInterval(const QString &timer, std::chrono::milliseconds interval)
{
    if (const auto run = session_->shown.liveRun())
        inBackground(
            this, [run, timer, interval] { return run->setInterval(timer, interval); },
            [this, timer, interval](const Outcome &done) {
                done ? Q_EMIT session_->messages.note(
                           QStringLiteral(
                               "%1 ticks every %2 ms in the running program. The project is unchanged.")
                               .arg(timer)
                               .arg(interval.count()))
                     : Q_EMIT session_->messages.problem(done.problem().text());
            });
}

void TimersPanel::keepInterval(const QString &timer, std::chrono::milliseconds interval)
{
    if (session_->document.edit([&](Workspace &w) {
            return w.setProperty(timer, "interval", QString::number(interval.count()));
        }))
        Q_EMIT session_->messages.note(
            QStringLiteral("%1 ticks every %2 ms from the next run on.").arg(timer).arg(interval.count()));
}

} // namespace pipit::app
