// What a handler changed, and whether it was seen: value and repaint.
#include "core/why/asking.h"

#include "core/base/duration_text.h"

#include <QEvent>
#include <QHash>
#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{
const QString valueStation = QStringLiteral("value"), repaintStation = QStringLiteral("repaint");

bool shows(const QString &what) // something that is painted
{
    return what == "text" || what == "value" || what == "title" || what == "checked" || what == "index";
}
} // namespace

std::vector<const TouchRow *> Asking::touchesOf(const Effects &e) const
{
    std::vector<const TouchRow *> all;
    for (const TouchRow &t : scene_.touches()) {
        if (t.time < e.from || t.time > e.to || !t.span || t.what == "deleteLater")
            continue;
        for (const Ran &r : e.calls)
            if (t.span.thread() == r.call.thread && t.span.row() >= r.call.id.row() &&
                t.span.row() < trace_.rows(r.call.thread).after(r.call.id.row())) {
                all.push_back(&t);
                break;
            }
    }
    return all;
}

QStringList Asking::usedBy(const Effects &e) const
{
    QStringList all;
    for (std::uint32_t i = trace_.firstFactFrom(e.from); i < trace_.factCount(); ++i) {
        const FactRow &f = trace_.fact(i);
        if (f.time > e.to)
            break;
        const bool isFile = f.fact == link::Fact::File;
        const QString text = isFile || f.fact == link::Fact::Used ? trace_.factText(f) : QString();
        const bool changes = !text.isEmpty() && !text.startsWith(u"read\t");
        if (changes && std::any_of(e.calls.begin(), e.calls.end(), [&](const Ran &r) {
                return f.span && f.span.thread() == r.call.thread && f.span.row() >= r.call.id.row() &&
                       f.span.row() < trace_.rows(r.call.thread).after(r.call.id.row());
            }))
            all << (isFile ? fileText(text) : usedText(text));
    }
    all.removeDuplicates();
    return all;
}

// By the states before and after, and by what the program was seen to do.
QStringList Asking::changesSeen(const Effects &e) const
{
    QStringList seen;
    const auto add = [&seen](const QString &text) {
        if (!seen.contains(text))
            seen << text;
    };
    const std::int64_t looked = scene_.lookedAfter(e.to);
    for (const ObjectState *s : looked ? scene_.all(looked) : std::vector<const ObjectState *>()) {
        const ObjectState *before = scene_.state(s->address, e.from);
        const QString who = nameOf(*s);
        if (!before || before->gone) {
            if (s->time >= e.from && s->has(link::IsWindow) && s->has(link::IsVisible))
                add(who + " was opened");
            continue;
        }
        if (s->text != before->text)
            add(who + "'s text changed");
        if (s->value != before->value)
            add(who + "'s value changed");
        const auto flip = [&](std::uint32_t bit, const char *on, const char *off) {
            if (s->has(bit) != before->has(bit))
                add(who + (s->has(bit) ? on : off));
        };
        flip(link::IsEnabled, " was enabled", " was disabled");
        flip(link::IsVisible, " was shown", " was hidden");
        flip(link::IsChecked, " was checked", " was unchecked");
        flip(link::IsRunning, " was started", " was stopped");
        if (s->at != before->at)
            add(who + " was moved or resized");
    }
    for (const Ran &r : e.calls) {
        const ThreadRows &rows = trace_.rows(r.call.thread);
        for (std::uint32_t row = r.call.id.row() + 1; row < rows.after(r.call.id.row()); ++row) {
            const Span s = rows.at(row);
            if (s.kind == SpanKind::Signal && !isToolkitClass(trace_.object(s.object).className))
                add(trace_.object(s.object).text() + " emitted " + trace_.signal(s.what).name());
            else if (s.kind == SpanKind::Message)
                add("it wrote a message");
        }
    }
    return seen;
}

bool Asking::overwritten(const std::vector<const TouchRow *> &touched, std::int64_t before)
{
    QHash<std::pair<std::uint64_t, QString>, std::vector<const TouchRow *>> byTarget;
    for (const TouchRow *t : touched)
        if (shows(t->what) && t->value)
            byTarget[{t->address, t->what}].push_back(t);
    for (const auto &all : byTarget) {
        if (all.size() < 2 || *all.back()->value == *all.front()->value)
            continue;
        const ObjectState *was = scene_.state(all.back()->address, before);
        const bool back = was && all.back()->what == "text" && was->says == *all.back()->value;
        if (!back && all.back()->span == all.front()->span)
            continue;
        const Author by = authorOf(*all.back());
        const QString sentence =
            QStringLiteral(
                "%1's %2 was set to \"%3\" and then overwritten with \"%4\" before it was painted%5")
                .arg(nameOf(all.back()->address), all.back()->what, *all.front()->value, *all.back()->value,
                     by.text.isEmpty() ? QString() : QStringLiteral(", by %1").arg(by.text));
        lookAt(by);
        if (back) {
            broken(valueStation, QStringLiteral("overwritten"), sentence,
                   QStringLiteral("Set it once, or later"));
            return true;
        }
        // Two handlers that set one thing: it may be meant so.
        unknown(valueStation, sentence, QStringLiteral("overwritten"), sentence,
                QStringLiteral("Set it once, or later"));
        return true;
    }
    return false;
}

// Of a class that handles its events itself: whether anything came of it.
void Asking::judgeOwnHandling(const Effects &e)
{
    const ObjectState *w = self(e.from);
    if (w && trace_.object(w->object).className == "QQuickWidget") {
        unknown(repaintStation,
                QStringLiteral("what came of it within its QML scene is not in this recording"),
                QStringLiteral("unknown"),
                QStringLiteral("%1 took it; what came of it within its QML scene is not in this recording")
                    .arg(name()));
        return;
    }
    if (!w || !w->has(link::IsWidget) || !w->own)
        return;
    const std::int64_t looked = scene_.lookedAfter(e.to), until = std::max(e.to, looked);
    if (!looked || lostBetween(e.from, until))
        return;
    bool touched = false, painted = false;
    for (const TouchRow &t : scene_.touches())
        touched = touched || (t.time >= e.from && t.time <= e.to);
    for (std::uint16_t t = 0; t < trace_.threadCount() && !painted; ++t) {
        const ThreadRows &rows = trace_.rows(t);
        for (std::uint32_t row = rows.firstFrom(e.from);
             row < rows.count() && rows.start(row) <= until && !painted; ++row)
            if (rows.kind(row) == SpanKind::Dispatch)
                if (const Span s = rows.at(row); s.what == QEvent::Paint)
                    painted = trace_.object(s.object).address == address_;
    }
    if (touched || painted || !changesSeen(e).isEmpty())
        return;
    const QString sentence =
        QStringLiteral("%1 accepted it and changed nothing that is seen, and it was not repainted")
            .arg(name());
    unknown(QStringLiteral("repaint"), sentence, QStringLiteral("changed nothing"), sentence,
            QStringLiteral("If it changed what it shows, call update() on %1").arg(name()));
}

bool Asking::changedSomething(const Effects &e)
{
    if (!e.ran()) {
        judgeOwnHandling(e);
        return true;
    }
    const auto touched = touchesOf(e);
    if (paintedTooLate(e, touched) || overwritten(touched, e.from))
        return false;
    const QStringList seen = changesSeen(e);
    if (seen.isEmpty() && !scene_.lookedAfter(e.to)) {
        unknown(valueStation, QStringLiteral("how the widgets were afterwards is not in this recording"));
        return true;
    }
    if (const QStringList used = usedBy(e); seen.isEmpty() && touched.empty() && !used.isEmpty()) {
        fine(valueStation, used.mid(0, 4).join(", "));
        return true; // nothing of it is to be seen
    }
    if (seen.isEmpty() && touched.empty()) {
        const QString who = callText(e.calls.front());
        unknown(valueStation, QStringLiteral("%1 changed nothing that is seen").arg(who),
                QStringLiteral("changed nothing"),
                QStringLiteral(
                    "%1 ran for %2 and changed nothing that is seen: no text, value or state of a widget, "
                    "and no signal was emitted")
                    .arg(who, durationText(e.calls.front().call.duration(trace_.now()))),
                QStringLiteral("Look whether it returns early, or changes what nothing shows%1")
                    .arg(a_.file.isEmpty()
                             ? QString()
                             : QStringLiteral(": %1:%2").arg(a_.file.section('/', -1)).arg(a_.line)));
        return true;
    }
    QStringList words = seen.mid(0, 4);
    if (words.isEmpty()) {
        if (!setAnew(e, touched))
            return true;
        words
            << QStringLiteral("%1's %2 was set").arg(nameOf(touched.front()->address), touched.front()->what);
    }
    fine(valueStation, words.join(", "));
    return wasPainted(e, touched);
}

// Nothing is seen to have changed: whether it was set to what it was, or on something that is not shown.
bool Asking::setAnew(const Effects &e, const std::vector<const TouchRow *> &touched)
{
    bool same = true;
    for (const TouchRow *t : touched) {
        const ObjectState *was = scene_.state(t->address, e.from),
                          *now = scene_.state(t->address, scene_.lookedAfter(e.to));
        same = same && shows(t->what) && was && now && !now->gone && was->text == now->text &&
               was->value == now->value;
        if (!was && now && !now->gone && now->has(link::IsWidget) && !now->has(link::IsVisible) &&
            shows(t->what)) {
            const QString sentence =
                QStringLiteral("%1 set %2's %3, and nothing of that is shown: %2 is hidden")
                    .arg(callText(e.calls.front()), nameOf(*now), t->what);
            unknown(valueStation, sentence, QStringLiteral("changed nothing"), sentence,
                    QStringLiteral("Change the widget that is shown, or show %1").arg(nameOf(*now)));
            return false;
        }
    }
    if (!same)
        return true;
    const TouchRow *t = touched.front();
    const QString sentence = QStringLiteral("%1 set %2's %3 to what it was already, so that nothing changed")
                                 .arg(callText(e.calls.front()), nameOf(t->address), t->what);
    unknown(valueStation, sentence, QStringLiteral("changed nothing"), sentence,
            QStringLiteral("Look which value it sets%1")
                .arg(a_.file.isEmpty()
                         ? QString()
                         : QStringLiteral(": %1:%2").arg(a_.file.section('/', -1)).arg(a_.line)));
    return false;
}

// A text that is set at the beginning of long work is seen at its end.
bool Asking::paintedTooLate(const Effects &e, const std::vector<const TouchRow *> &touched)
{
    constexpr std::int64_t long_ = 100'000'000;
    for (const TouchRow *t : touched) {
        if (!shows(t->what))
            continue;
        for (const Ran &r : e.calls) {
            const std::int64_t end = r.call.end < 0 ? trace_.now() : r.call.end;
            const ThreadRows &rows = trace_.rows(r.call.thread);
            if (t->time < r.call.start || t->time > end || end - t->time < long_ ||
                r.call.thread != t->span.thread())
                continue;
            bool painted = false;
            for (std::uint32_t row = rows.firstFrom(t->time); row < rows.count() && rows.start(row) < end;
                 ++row)
                if (rows.kind(row) == SpanKind::Dispatch)
                    if (const Span s = rows.at(row); s.what == QEvent::Paint)
                        painted = painted || trace_.object(s.object).address == t->address;
            if (painted)
                continue;
            lookAt(authorOf(*t));
            if (const HandlerName &h = handlers_.of(r.call.what); !h.handler.isEmpty())
                a_.handler = h.name;
            broken(repaintStation, QStringLiteral("painted too late"),
                   QStringLiteral(
                       "%1's %2 was set, but could be painted only after %3 had ended, %4 later: it keeps "
                       "the loop from painting")
                       .arg(nameOf(t->address), t->what, callText(r), durationText(end - t->time)),
                   QStringLiteral("Move the slow work to a timer or a background thread"));
            return true;
        }
    }
    return false;
}

bool Asking::wasPainted(const Effects &e, const std::vector<const TouchRow *> &touched)
{
    QSet<std::uint64_t> targets;
    for (const TouchRow *t : touched)
        if (shows(t->what))
            targets.insert(t->address);
    const std::int64_t looked = scene_.lookedAfter(e.to), until = looked ? looked : e.to;
    QStringList painted, not_;
    for (const std::uint64_t address : targets) {
        const ObjectState *s = scene_.state(address, until), *was = scene_.state(address, e.from);
        if (!s || s->gone || !s->has(link::IsWidget) || !was)
            continue;
        const QString who = nameOf(*s);
        if (!s->has(link::IsVisible))
            return broken(repaintStation, QStringLiteral("hidden"),
                          QStringLiteral("%1 was changed, but is hidden").arg(who), "Show " + who);
        for (const ObjectState *p = s; p; p = p->has(link::IsWindow) ? nullptr : scene_.state(p->in, until))
            if (p->has(link::UpdatesAreOff))
                return broken(
                    repaintStation, QStringLiteral("updates are off"),
                    QStringLiteral("%1 was changed, but nothing is painted: the updates of %2 are off")
                        .arg(who, nameOf(*p)),
                    QStringLiteral("Call setUpdatesEnabled(true) on %1").arg(nameOf(*p)));
        const ObjectState *window = scene_.windowOf(*s, until);
        const QRect shown = scene_.shown(*s, until);
        if (shown.isEmpty())
            return broken(
                repaintStation, QStringLiteral("outside its parent"),
                QStringLiteral("%1 was changed, but nothing of it is shown: it has no size, or lies outside "
                               "its parent")
                    .arg(who),
                QStringLiteral("Put it into a layout"));
        if (const ObjectState *hit = window ? scene_.widgetAt(*window, shown.center(), until) : nullptr;
            hit && !scene_.isInside(*hit, address, until) && !scene_.isInside(*s, hit->address, until) &&
            scene_.shown(*hit, until).contains(shown) && !s->has(link::IsTransparent))
            return broken(repaintStation, QStringLiteral("covered"),
                          QStringLiteral("%1 was changed, but is covered by %2").arg(who, nameOf(*hit)),
                          QStringLiteral("Raise it, or move one of them"));
        bool found = false;
        for (std::uint16_t t = 0; t < trace_.threadCount() && !found; ++t) {
            const ThreadRows &rows = trace_.rows(t);
            for (std::uint32_t row = rows.firstFrom(e.from);
                 row < rows.count() && rows.start(row) <= until + 1'000'000'000 && !found; ++row)
                if (rows.kind(row) == SpanKind::Dispatch)
                    if (const Span p = rows.at(row); p.what == QEvent::Paint)
                        found = trace_.object(p.object).address == address;
        }
        (found ? painted : not_) << who;
    }
    if (!painted.isEmpty())
        fine(repaintStation, painted.join(", ") + " was painted");
    else if (!not_.isEmpty())
        unknown(repaintStation, not_.join(", ") + " was not painted, or needed not be");
    return true;
}

} // namespace pipit
