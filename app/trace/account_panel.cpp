#include "app/trace/account_panel.h"

#include "app/look/row_list.h"
#include "app/session/background.h"
#include "core/catalog/catalog.h"
#include "core/catalog/orders.h"
#include "core/trace/between.h"
#include "core/trace/dispatches.h"
#include "core/why/lesson.h"

#include <QScrollArea>
#include <QVBoxLayout>

namespace pipit::app
{

using namespace std::chrono_literals;

namespace
{

constexpr Measure panelHeight{88};

// What happened at the widget, and what the catalog calls an act that goes so.
QString lessonText(const Lesson &l)
{
    const Catalog &catalog = Catalog::get();
    const auto orders = actOrdersOf(catalog.has(l.className) ? catalog.lineage(l.className) : QStringList());
    const auto it =
        std::find_if(orders.begin(), orders.end(), [&](const ActOrder &o) { return o.steps == l.steps; });
    return QStringLiteral("In order at %1: %2.").arg(l.widget, l.steps.join(", ")) +
           (it == orders.end()
                ? QString()
                : QStringLiteral(" This is the order of %1 for a %2.").arg(it->act, it->className));
}

QString link(SpanId span, const QString &text)
{
    return QStringLiteral("<a href=\"%1\">%2</a>").arg(span.number()).arg(text.toHtmlEscaped());
}

} // namespace

AccountPanel::AccountPanel(Session *session) : session_(session)
{
    setFixedHeight(panelHeight);
    label_ = new QLabel;
    label_->setObjectName("traceAccount");
    label_->setWordWrap(true);
    label_->setTextFormat(Qt::RichText);
    label_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    label_->setContentsMargins(padding, 6, padding, 6);
    label_->setTextInteractionFlags(Qt::TextBrowserInteraction);
    auto *scroll = new QScrollArea;
    scroll->setWidget(label_);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(scroll);
    connect(&session->shown, &ShownTrace::reset, this, [this] { // its spans are no more
        from_.reset();
        tell({});
    });
    soon_.setSingleShot(true);
    soon_.setInterval(60ms);
    connect(&soon_, &QTimer::timeout, this, &AccountPanel::ask);
    connect(label_, &QLabel::linkActivated, this, [this](const QString &href) {
        const std::uint64_t n = href.toULongLong();
        if (n)
            Q_EMIT spanAsked(SpanId(std::uint16_t((n - 1) >> 32), std::uint32_t(n - 1)));
    });
}

void AccountPanel::tell(const QString &text)
{
    ++asked_;
    soon_.stop();
    lit_ = {};
    causes_.clear();
    effects_.clear();
    label_->setText(text.toHtmlEscaped());
    Q_EMIT told();
}

void AccountPanel::measureFrom(std::int64_t time, const QString &what)
{
    from_ = time ? std::optional(std::pair(time, what)) : std::nullopt;
}

AccountPanel::Told AccountPanel::account(const TraceModel &trace, Handlers &handlers, SpanId id,
                                         const std::optional<std::pair<std::int64_t, QString>> &from)
{
    const Span s = trace.span(id);
    const Account a = accountOf(trace, handlers, id);
    Told told;
    told.lit.from = told.lit.to = s.start;
    QStringList because;
    for (const AccountStep &c : a.causes) {
        because << link(c.span, c.text);
        told.causes.push_back(c.span);
        told.lit.causes.insert(c.span);
        told.lit.from = std::min(told.lit.from, c.time);
    }
    QString html = !because.isEmpty()     ? "Because " + because.join(", because ") + "."
                   : s.flags & FromWindow ? QString("It came from the window system.")
                                          : QString("The event loop caused it.");
    QStringList also;
    for (const AccountStep &c : a.otherCauses) {
        also << link(c.span, c.text);
        told.lit.causes.insert(c.span);
        told.lit.from = std::min(told.lit.from, c.time);
    }
    if (!also.isEmpty())
        html += " Also because " + also.join(", and because ") + ".";
    if (const Posting p = s.flags & WasPosted ? trace.posting(id) : Posting{}; p.time > 0)
        html +=
            QStringLiteral(" It waited %1.").arg(durationText(std::max<std::int64_t>(0, s.start - p.time)));
    if (const QString way = wayText(trace, s); !way.isEmpty())
        html += ' ' + way.toHtmlEscaped() + '.';
    QStringList then;
    for (const AccountStep &e : a.effects) {
        then << QStringLiteral("after %1 %2")
                    .arg(durationText(std::max<std::int64_t>(0, e.time - s.start)), link(e.span, e.text));
        if (e.span != id) {
            told.effects.push_back(e.span);
            told.lit.effects.insert(e.span);
        }
        told.lit.to = std::max(told.lit.to, e.time);
    }
    if (!then.isEmpty())
        html += "<br>Effects: " + then.join("; ") + (a.more ? "; and more." : ".");
    if (const Lesson l = lessonOf(trace, id); l.steps.size() > 1)
        html += "<br>" + lessonText(l).toHtmlEscaped();
    if (from)
        html += "<br>" + QStringLiteral("%1 %2 “%3”; %4.")
                             .arg(durationText(std::abs(s.start - from->first)),
                                  s.start < from->first ? "before" : "after", from->second.toHtmlEscaped(),
                                  betweenText(between(trace, handlers, std::min(s.start, from->first),
                                                      std::max(s.start, from->first)))
                                      .toHtmlEscaped());
    told.html = html;
    return told;
}

void AccountPanel::tellOf(SpanId span)
{
    ++asked_;
    of_ = span;
    soon_.start();
}

void AccountPanel::ask()
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace)
        return;
    inBackground(
        this,
        [trace, handlers = session_->shown.handlers(), owner = session_->shown.owner(), span = of_,
         from = from_] { return account(*trace, *handlers, span, from); },
        [this, mine = ++asked_](Told t) {
            if (mine != asked_)
                return;
            lit_ = std::move(t.lit);
            causes_ = std::move(t.causes);
            effects_ = std::move(t.effects);
            const QString ink = Tokens::current().ink.name();
            label_->setText(QStringLiteral("<style>a{color:%1}</style>").arg(ink) + t.html);
            Q_EMIT told();
        });
}

} // namespace pipit::app
