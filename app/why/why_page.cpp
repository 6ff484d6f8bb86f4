#include "app/why/why_page.h"

#include "app/look/heading.h"
#include "app/session/background.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace pipit::app
{

using namespace std::chrono_literals;

namespace
{

QString secondsText(const TraceModel &trace, std::int64_t time)
{
    return QStringLiteral("%1 s").arg(double(time - trace.firstTime()) / 1e9, 0, 'f', 2);
}

} // namespace

WhyPage::WhyPage(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeDoneSide(), 3);
    auto *hair = new QFrame;
    hair->setObjectName("hair");
    hair->setFixedWidth(1);
    layout->addWidget(hair);
    layout->addWidget(makeAnswerSide(), 7);
    later_.setSingleShot(true);
    later_.setInterval(700ms);
    connect(&later_, &QTimer::timeout, this, &WhyPage::lookForMore);
    connect(&session->shown, &ShownTrace::figuresChanged, this, [this] {
        if (isVisible() && !later_.isActive())
            later_.start();
    });
    connect(&session->shown, &ShownTrace::reset, this, [this] {
        interactions_ = std::make_shared<Interactions>();
        all_.clear();
        ++question_;
        answer_.reset();
        looking_ = false;
        stations_->set({});
        done_->rowModel()->setRows({});
        showButtons();
        if (isVisible())
            lookForMore();
    });
    connect(&session->shown, &ShownTrace::readToEnd, this, &WhyPage::lookForMore);
    showEmpty();
    showButtons();
}

QWidget *WhyPage::makeDoneSide()
{
    auto *side = new QWidget;
    auto *v = new QVBoxLayout(side);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    line_ = new QLineEdit;
    line_->setObjectName("whyLine");
    line_->setPlaceholderText("A widget's name, then Return");
    line_->setAccessibleName("The widget to ask about");
    line_->setClearButtonEnabled(true);
    auto *top = new QVBoxLayout;
    top->setContentsMargins(padding, 8, padding, 8);
    top->addWidget(line_);
    done_ = new RowList("Inputs", 64, 110);
    done_->setObjectName("interactions");
    v->addLayout(top);
    v->addWidget(heading("Inputs, the latest first"));
    v->addWidget(done_, 1);
    connect(line_, &QLineEdit::returnPressed, this, [this] { askAbout(line_->text().trimmed()); });
    connect(done_, &RowList::chosen, this, [this](const QString &widget, int number) {
        const std::size_t i = std::size_t(number);
        if (i < all_.size())
            askAbout(widget, all_[i].time + 1'000'000);
    });
    return side;
}

QWidget *WhyPage::makeAnswerSide()
{
    auto *side = new QWidget;
    auto *v = new QVBoxLayout(side);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    title_ = heading({});
    sentence_ = new QLabel;
    sentence_->setObjectName("whySentence");
    sentence_->setFont(titleFont());
    fix_ = new QLabel;
    for (QLabel *l : {sentence_, fix_}) {
        l->setWordWrap(true);
        l->setContentsMargins(padding, l == fix_ ? 0 : 8, padding, 6);
        l->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
        l->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Minimum);
    }
    mend_ = new QPushButton;
    mend_->setProperty("main", true);
    mend_->setObjectName("mendButton");
    code_ = new QPushButton("Open the code");
    trace_ = new QPushButton("Show it in the Trace");
    auto *buttons = new QHBoxLayout;
    buttons->setContentsMargins(padding, 0, padding, 10);
    buttons->setSpacing(8);
    for (QPushButton *b : {mend_, code_, trace_})
        buttons->addWidget(b);
    buttons->addStretch();
    stations_ = new StationsView;
    changesTitle_ = heading({});
    changes_ = new RowList("Changes by the program", 64, 190);
    changes_->setObjectName("changes");
    v->addWidget(title_);
    v->addWidget(sentence_);
    v->addWidget(fix_);
    v->addLayout(buttons);
    v->addWidget(stations_, 3);
    v->addWidget(changesTitle_);
    v->addWidget(changes_, 1);
    connect(mend_, &QPushButton::clicked, this, &WhyPage::mend);
    connect(code_, &QPushButton::clicked, this, [this] { Q_EMIT placeAsked(answer_->file, answer_->line); });
    connect(trace_, &QPushButton::clicked, this, [this] { Q_EMIT timeAsked(answer_->at); });
    connect(changes_, &RowList::activatedRow, this, [this](const QString &, int number) {
        const WhyChange &c = answer_->changes[std::size_t(number)];
        if (!c.file.isEmpty())
            Q_EMIT placeAsked(c.file, c.line);
    });
    return side;
}

void WhyPage::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    lookForMore();
}

void WhyPage::showEmpty()
{
    const bool any = session_->shown.trace();
    done_->setEmptyText(!any                        ? "Your inputs appear here while you use a program."
                        : session_->shown.reading() ? QString()
                                                    : "The program has received no input yet.");
    stations_->setEmptyText(
        !any ? QString("Why did nothing happen? Run a program, click something, and press Alt+Y.")
             : QString("Choose an input at the left, or type a widget's name."));
}

// What came since is read by a worker: a recording may hold millions of steps.
void WhyPage::lookForMore()
{
    showEmpty();
    const TraceModel *trace = session_->shown.trace();
    if (!trace)
        return;
    if (std::exchange(looking_, true)) {
        again_ = true;
        return;
    }
    inBackground(
        this,
        [trace, owner = session_->shown.owner(), log = interactions_] {
            return std::pair(log, log->more(*trace));
        },
        [this](std::pair<std::shared_ptr<Interactions>, std::vector<Interaction>> found) {
            if (found.first != interactions_)
                return; // of another trace
            looking_ = false;
            add(std::move(found.second));
            if (std::exchange(again_, false))
                lookForMore();
        });
}

void WhyPage::add(std::vector<Interaction> more)
{
    constexpr std::size_t most = 1000; // shown
    const TraceModel *trace = session_->shown.trace();
    if (!more.empty()) {
        all_.insert(all_.end(), more.begin(), more.end());
        std::vector<Row> rows;
        for (std::size_t i = all_.size(); i-- > 0 && rows.size() < most;) {
            const Interaction &a = all_[i];
            // What is typed in one go is one row.
            const int last = int(i);
            int typed = 1;
            while (a.what == "a character" && i > 0 && all_[i - 1].what == a.what &&
                   all_[i - 1].widget == a.widget) {
                ++typed;
                --i;
            }
            Row r;
            r.lead = secondsText(*trace, a.time);
            r.text = a.widget;
            r.tail = typed > 1 ? QStringLiteral("%1 characters").arg(typed) : a.what;
            r.key = a.widget;
            r.number = last;
            rows.push_back(std::move(r));
        }
        done_->rowModel()->setRows(std::move(rows));
    }
    if (std::exchange(last_, false)) {
        if (all_.empty()) {
            title_->setText("The program has received no input yet.");
        } else {
            done_->setCurrentIndex(done_->rowModel()->index(0));
            askAbout(all_.back().widget, all_.back().time + 1'000'000);
        }
    }
}

void WhyPage::askAboutLast()
{
    last_ = true;
    lookForMore();
}

void WhyPage::askAbout(const QString &widget, std::optional<std::int64_t> at)
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace)
        return showEmpty();
    line_->setText(widget);
    const int mine = ++question_;
    title_->setText("Looking…");
    inBackground(
        this,
        [trace, handlers = session_->shown.handlers(), owner = session_->shown.owner(),
         recording = session_->shown.recording(), widget, at] {
            return recording ? why(*recording, widget, at) : why(*trace, *handlers, {widget, at, {}, 0});
        },
        [this, mine](const Result<WhyAnswer> &result) {
            if (mine == question_)
                show(result);
        });
}

void WhyPage::show(const Result<WhyAnswer> &result)
{
    const TraceModel *trace = session_->shown.trace();
    if (!result || !trace) {
        answer_.reset();
        stations_->set({});
        changes_->rowModel()->setRows({});
        title_->clear();
        sentence_->setText(result ? QString() : result.problem().text());
        fix_->clear();
        showButtons();
        Q_EMIT answered();
        return;
    }
    answer_ = *result;
    const WhyAnswer &a = *answer_;
    title_->setText(a.at ? QStringLiteral("%1 · %2 at %3")
                               .arg(a.widget, a.interaction.isEmpty() ? "nothing" : a.interaction,
                                    secondsText(*trace, a.at))
                         : a.widget);
    sentence_->setText(asSentence(a.sentence, a.widget));
    fix_->setText(asSentence(a.fix));
    stations_->set(a.stations);
    std::vector<Row> rows;
    for (std::size_t i = 0; i < a.changes.size(); ++i) {
        const WhyChange &c = a.changes[i];
        Row r;
        r.lead = secondsText(*trace, c.time);
        r.text = c.value.isEmpty() ? c.what : QStringLiteral("%1 to “%2”").arg(c.what, c.value);
        if (!c.by.isEmpty())
            r.text += ", while " + c.by;
        r.tail =
            c.file.isEmpty() ? QString() : QStringLiteral("%1:%2").arg(c.file.section('/', -1)).arg(c.line);
        r.number = int(i);
        r.key = QString::number(i);
        rows.push_back(std::move(r));
    }
    changesTitle_->setText("Changes by the program to " + a.widget);
    changes_->rowModel()->setRows(std::move(rows));
    showButtons();
    Q_EMIT answered();
}

void WhyPage::showButtons()
{
    const bool has = answer_.has_value();
    code_->setVisible(has && !answer_->file.isEmpty());
    trace_->setVisible(has && answer_->at != 0);
    const bool composed =
        has && session_->document.isOpen() && session_->document.project().widget(answer_->widget);
    const bool connect = composed && answer_->verdict == "not connected";
    const bool enable = composed && answer_->verdict == "disabled" &&
                        session_->document.project().widget(answer_->widget)->property("enabled");
    const bool move =
        has && session_->document.isOpen() && session_->document.project().handler(answer_->handler);
    mend_->setVisible(connect || enable || move);
    mend_->setText(connect ? "Connect it…" : enable ? "Enable it" : "Run it in the background…");
    const bool anyChange = has && !answer_->changes.empty();
    changesTitle_->setVisible(anyChange);
    changes_->setVisible(anyChange);
    sentence_->setVisible(!sentence_->text().isEmpty());
    fix_->setVisible(!fix_->text().isEmpty());
    sentence_->setStyleSheet(has && !answer_->station.isEmpty()
                                 ? QStringLiteral("color: %1").arg(Tokens::current().vermilion.name())
                                 : QString());
}

// One step: the wiring's own undo takes it back.
void WhyPage::mend()
{
    if (!answer_)
        return;
    const QString widget = answer_->widget;
    if (answer_->verdict == "not connected")
        Q_EMIT connectAsked(widget + ".clicked calls ");
    else if (!answer_->handler.isEmpty())
        Q_EMIT moveAsked(answer_->handler);
    else
        session_->document.edit([widget](Workspace &w) { return w.setProperty(widget, "enabled", "true"); });
}

} // namespace pipit::app
