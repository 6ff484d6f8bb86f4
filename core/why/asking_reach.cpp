// Whether an input could and did reach the widget: window, widget, state, filters, receivers.
#include "core/why/asking.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

namespace
{
const QString windowStation = QStringLiteral("window"), widgetStation = QStringLiteral("widget"),
              stateStation = QStringLiteral("state"), filterStation = QStringLiteral("filters"),
              receiverStation = QStringLiteral("receivers");
} // namespace

bool Asking::isWhole(std::int64_t time)
{
    const ObjectState *w = self(time);
    if (!w) {
        unknown(stateStation, QStringLiteral("how %1 was is not told by then").arg(name()));
        return true;
    }
    if (w->gone)
        return broken(stateStation, QStringLiteral("gone"),
                      QStringLiteral("%1 was deleted at %2").arg(name(), secondsOf(trace_, w->time)),
                      QStringLiteral("Keep it alive as long as it is used"));
    // The outermost parent that is hidden or disabled itself is the reason; its children are for its sake.
    const ObjectState *hidden = nullptr, *disabled = nullptr;
    for (const ObjectState *p = w; p; p = p->has(link::IsWindow) ? nullptr : scene_.state(p->in, time)) {
        if (!p->has(link::IsVisible))
            hidden = p;
        if (!p->has(link::IsEnabled))
            disabled = p;
    }
    if (hidden) {
        const bool own = hidden == w;
        const QString never = own && !w->has(link::IsHiddenItself) && !w->has(link::IsWindow)
                                  ? QStringLiteral("; it was never shown, or was added after its parent was")
                                  : QString();
        if (const ObjectState *stack = own ? nullptr : scene_.state(hidden->in, time);
            stack && trace_.object(stack->object).className == "QStackedWidget") {
            const ObjectState *tabs = scene_.state(stack->in, time);
            const bool ofTabs = tabs && trace_.object(tabs->object).className == "QTabWidget";
            return broken(
                stateStation, QStringLiteral("hidden"),
                QStringLiteral("%1 is hidden: it stands on a page of %2 that is not the current one")
                    .arg(name(), nameOf(ofTabs ? *tabs : *stack)),
                QStringLiteral("Choose its page in %1 first").arg(nameOf(ofTabs ? *tabs : *stack)));
        }
        return broken(
            stateStation, QStringLiteral("hidden"),
            own ? QStringLiteral("%1 is hidden%2").arg(name(), never)
                : QStringLiteral("%1 is hidden, because %2 around it is").arg(name(), nameOf(*hidden)),
            QStringLiteral("Show %1").arg(nameOf(*hidden)));
    }
    if (disabled) {
        QString where;
        for (auto t = scene_.touches().rbegin(); t != scene_.touches().rend(); ++t)
            if (t->address == disabled->address && t->time <= time &&
                (t->what == "enabled" || t->what == "disabled")) {
                const Author by = authorOf(*t);
                lookAt(by);
                where = by.text.isEmpty() ? QString() : QStringLiteral(" (by %1)").arg(by.text);
                break;
            }
        return broken(stateStation, QStringLiteral("disabled"),
                      disabled == w
                          ? QStringLiteral("%1 is disabled%2: it takes no input").arg(name(), where)
                          : QStringLiteral("%1 is disabled, because %2 around it is%3: it takes no input")
                                .arg(name(), nameOf(*disabled), where),
                      QStringLiteral("Enable %1 when it is to be used").arg(nameOf(*disabled)));
    }
    return true;
}

bool Asking::isUncovered(const ObjectState &w, std::int64_t time)
{
    const ObjectState *window = scene_.windowOf(w, time);
    if (w.at.width() <= 0 || w.at.height() <= 0)
        return broken(stateStation, QStringLiteral("size nothing"),
                      QStringLiteral("%1 has no size (%2 by %3 pixels): there is nothing to hit")
                          .arg(name())
                          .arg(std::max(0, w.at.width()))
                          .arg(std::max(0, w.at.height())),
                      QStringLiteral("Give it a size: put it into a layout, or set a minimum"));
    const QRect shown = scene_.shown(w, time);
    if (shown.isEmpty())
        return broken(
            stateStation, QStringLiteral("outside its parent"),
            QStringLiteral("%1 lies outside its parent, so that nothing of it is shown").arg(name()),
            QStringLiteral("Move it into its parent, or put it into a layout"));
    if (w.has(link::IsTransparent))
        return broken(
            widgetStation, QStringLiteral("transparent to the mouse"),
            QStringLiteral("%1 is transparent to the mouse: what lies behind it gets the events").arg(name()),
            QStringLiteral("Do not set WA_TransparentForMouseEvents on it"));
    if (!window)
        return true;
    for (const ObjectState *p = scene_.state(w.in, time); p && !p->has(link::IsWindow);
         p = scene_.state(p->in, time))
        if (p->has(link::IsTransparent))
            return broken(widgetStation, QStringLiteral("transparent to the mouse"),
                          QStringLiteral("%1 around %2 is transparent to the mouse, and so is all in it")
                              .arg(nameOf(*p), name()),
                          QStringLiteral("Do not set WA_TransparentForMouseEvents on %1").arg(nameOf(*p)));
    const ObjectState *hit = scene_.widgetAt(*window, shown.center(), time);
    if (hit && !scene_.isInside(*hit, w.address, time)) {
        const bool above = !scene_.isInside(w, hit->address, time);
        if (above && !hit->has(link::HasMask))
            return broken(widgetStation, QStringLiteral("covered"),
                          QStringLiteral("%1 is covered by %2, which gets what happens there")
                              .arg(name(), nameOf(*hit)),
                          QStringLiteral("Raise %1, move one of them, or make %2 transparent to the mouse")
                              .arg(name(), nameOf(*hit)));
    }
    return true;
}

bool Asking::canBeReached(std::int64_t time)
{
    const ObjectState *w = self(time);
    const ObjectState *window = w && !w->gone ? scene_.windowOf(*w, time) : nullptr;
    if (window && window->has(link::IsBlocked)) {
        QString by = QStringLiteral("a modal window");
        for (const ObjectState *s : scene_.all(time))
            if (s->has(link::IsWindow) && s->has(link::IsModal) && s->has(link::IsVisible) && s != window)
                by = QStringLiteral("the modal dialog %1").arg(nameOf(*s));
        return broken(windowStation, QStringLiteral("blocked by a modal dialog"),
                      QStringLiteral("%1 keeps input from %2, and so from %3, as long as it is open")
                          .arg(by, nameOf(*window), name()),
                      QStringLiteral("Close it first, or open it without being modal"));
    }
    if (!isWhole(time))
        return false;
    if (w && w->has(link::IsWidget) && !isUncovered(*w, time))
        return false;
    if (!done_ && w)
        fine(stateStation, w->has(link::IsWidget)
                               ? QStringLiteral("%1 is visible, enabled and not covered").arg(name())
                               : QStringLiteral("%1 is there").arg(name()));
    return !done_;
}

// Nothing of the kind is in the recording: what would stop it is said, and what would follow.
void Asking::withoutInput(std::int64_t time)
{
    if (!canBeReached(time))
        return;
    const ObjectState *w = self(time);
    unknown(QStringLiteral("window system"),
            QStringLiteral("no input for %1 is in this recording").arg(name()));
    if (!w)
        return;
    QStringList signalNames;
    for (const WireRow &r : scene_.wires(address_, time))
        if (r.own)
            signalNames << r.signalName();
    if (w->has(link::IsButton) && signalNames.isEmpty()) {
        notConnected({QStringLiteral("clicked")}, time);
        return;
    }
    if (a_.verdict.isEmpty()) {
        a_.verdict = QStringLiteral("unknown");
        a_.sentence =
            QStringLiteral("No input for %1 is in this recording, and nothing is seen that would keep "
                           "it from %1")
                .arg(name());
        a_.fix = QStringLiteral("Click it or press a key in it, and ask again");
    }
}

bool Asking::wentTo(const InputEvent &press)
{
    const ObjectState *w = self(press.start), *r = scene_.state(press.address, press.start);
    const QString other = trace_.object(press.object).text();
    if (reached(press)) {
        if (const ObjectState *window = w ? scene_.windowOf(*w, press.start) : nullptr)
            fine(windowStation, QStringLiteral("%1 got it").arg(nameOf(*window)));
        fine(widgetStation,
             press.address == address_
                 ? QStringLiteral("%1 is under the pointer").arg(name())
                 : QStringLiteral("%1, a part of %2, is under the pointer").arg(other, name()));
        return true;
    }
    if (!w || !r)
        return broken(widgetStation, QStringLiteral("went to another widget"),
                      QStringLiteral("the press went to %1, not to %2").arg(other, name()), QString());
    const ObjectState *window = scene_.windowOf(*w, press.start), *its = scene_.windowOf(*r, press.start);
    if (window != its) {
        const bool popup = its && its->has(link::IsPopup);
        // One without a name is told by what it belongs to.
        const ObjectState *of =
            popup && trace_.object(its->object).name.isEmpty() ? scene_.state(its->in, press.start) : nullptr;
        const QString popupName = of ? "of " + nameOf(*of) : its ? nameOf(*its) : QString();
        return broken(
            windowStation, popup ? QStringLiteral("taken by a popup") : QStringLiteral("another window"),
            popup
                ? QStringLiteral("the popup %1 was open and took the press: it only closed it").arg(popupName)
                : QStringLiteral("the press went to %1, in another window over %2").arg(other, name()),
            popup ? QStringLiteral("Click again: the popup is closed then") : QString());
    }
    fine(windowStation, QStringLiteral("%1 got it").arg(window ? nameOf(*window) : other));
    if (!isWhole(press.start) || !isUncovered(*w, press.start))
        return false;
    if (r->has(link::GrabsMouse))
        return broken(widgetStation, QStringLiteral("the mouse is grabbed"),
                      QStringLiteral("%1 grabs the mouse, and gets every press").arg(other),
                      QStringLiteral("Call releaseMouse() on %1").arg(other));
    const bool behind = scene_.isInside(*w, r->address, press.start);
    if (!behind)
        return broken(widgetStation, QStringLiteral("covered"),
                      QStringLiteral("%1 is covered by %2, which got the press").arg(name(), other),
                      QStringLiteral("Raise %1, move one of them, or make %2 transparent to the mouse")
                          .arg(name(), other));
    if (w->has(link::HasMask))
        return broken(widgetStation, QStringLiteral("outside its mask"),
                      QStringLiteral("%1 has a mask, and the press was outside of it").arg(name()),
                      QString());
    unknown(widgetStation, QStringLiteral("the press went to %1 around it, and why is not known").arg(other));
    return false;
}

bool Asking::passedFilters(const InputEvent &e)
{
    const auto way = wayOf(trace_, trace_.span(e.span));
    if (!way) {
        unknown(filterStation, QStringLiteral("the way of the event is not known"));
        return true;
    }
    int passed = 0;
    for (const Hop &h : *way) {
        if (h.role != Hop::Filter && h.role != Hop::ApplicationFilter)
            continue;
        if (h.outcome != Hop::Kept) {
            ++passed;
            continue;
        }
        if (h.ofToolkit) {
            fine(filterStation, hopText(trace_, h));
            return true;
        }
        return broken(
            filterStation, QStringLiteral("swallowed by a filter"),
            QStringLiteral("%1: %2 never gets it").arg(hopText(trace_, h), trace_.object(h.before).text()),
            QStringLiteral("Let %1's eventFilter() return false for what it does not handle")
                .arg(trace_.object(h.object).text()));
    }
    fine(filterStation, passed ? QStringLiteral("%1 passed it on")
                                     .arg(passed == 1 ? QStringLiteral("one filter")
                                                      : QStringLiteral("%1 filters").arg(passed))
                               : QStringLiteral("no filter of the program stands before it"));
    return true;
}

// Whether the widget had it, and what it made of it.
bool Asking::wasTaken(const InputEvent &e)
{
    const auto way = wayOf(trace_, trace_.span(e.span));
    if (!way)
        return true;
    const Hop *own = nullptr, *taker = nullptr;
    for (const Hop &h : *way) {
        if (h.role == Hop::Filter || h.role == Hop::ApplicationFilter)
            continue;
        const std::uint64_t who = h.role == Hop::ScrollArea && h.before ? trace_.object(h.object).address
                                                                        : trace_.object(h.object).address;
        if (who == address_)
            own = &h;
        if (h.outcome == Hop::Accepted && !taker)
            taker = &h;
    }
    if (own && own->outcome == Hop::Accepted) {
        fine(receiverStation, QStringLiteral("%1 accepted it").arg(name()));
        return true;
    }
    if (!own && taker) { // a part of it took it: the scroll area's viewport, a field's inner line, or a child
        const QString part = trace_.object(taker->object).text();
        const std::uint64_t in = trace_.object(taker->object).address;
        const ObjectState *p = scene_.state(in, e.start), *w = self(e.start);
        const bool ownPart =
            taker->role == Hop::ScrollArea || part.startsWith("qt_") ||
            (w && isToolkitClass(trace_.object(w->object).className) &&
             isToolkitClass(trace_.object(taker->object).className) && !w->has(link::IsWindow) && p &&
             p->in == address_ && trace_.object(w->object).className != "QWidget" &&
             trace_.object(w->object).className != "QFrame");
        if (ownPart) {
            fine(receiverStation, QStringLiteral("its part %1 accepted it").arg(part));
            return true;
        }
        return broken(
            receiverStation, QStringLiteral("taken by a child"),
            QStringLiteral("its child %1 accepted it, so that %2 never got it").arg(part, name()),
            QStringLiteral("Let %1 ignore it, make it transparent to the mouse, or install an event "
                           "filter on it")
                .arg(part));
    }
    if (!own) {
        unknown(receiverStation, QStringLiteral("%1 is not on the event's way").arg(name()));
        return true;
    }
    const ObjectState *w = self(e.start);
    const bool mouse = e.type == QEvent::MouseButtonPress || e.type == QEvent::MouseButtonDblClick;
    if (mouse && w && w->has(link::IsButton) && e.info && e.info->button != Qt::LeftButton)
        return broken(receiverStation, QStringLiteral("ignored"),
                      QStringLiteral("%1 ignored it: a button answers the left mouse button, this was the %2")
                          .arg(name(), buttonWords(*e.info)),
                      QStringLiteral("Use the left button, or handle the event itself"));
    if (w && w->has(link::IsReadOnly) && e.type == QEvent::KeyPress)
        return broken(receiverStation, QStringLiteral("read only"),
                      QStringLiteral("%1 is read only: it takes no text").arg(name()),
                      QStringLiteral("Call setReadOnly(false) on it"));
    const QString next = taker ? QStringLiteral(", and %1 took it").arg(trace_.object(taker->object).text())
                               : QStringLiteral(", and so did everybody else");
    return broken(
        receiverStation, QStringLiteral("ignored"),
        QStringLiteral("%1 ignored it%2: it has no handler for it, or its handler does not accept it")
            .arg(name(), next),
        QStringLiteral("Handle the event in %1 and accept it").arg(name()));
}

// A filter may keep the release, so that the press leads to nothing.
bool Asking::releaseCame(const InputEvent &release, const Effects &e)
{
    for (const Span &s : e.emitted)
        if (trace_.signal(s.what).name() == "released")
            return true;
    if (const auto way = wayOf(trace_, trace_.span(release.span)))
        for (const Hop &h : *way)
            if ((h.role == Hop::Filter || h.role == Hop::ApplicationFilter) && h.outcome == Hop::Kept &&
                !h.ofToolkit)
                return broken(
                    filterStation, QStringLiteral("swallowed by a filter"),
                    QStringLiteral("%1: %2 never gets it, and is not clicked")
                        .arg(hopText(trace_, h).replace(" it before", " the release before"),
                             trace_.object(h.before).text()),
                    QStringLiteral("Let %1's eventFilter() return false for what it does not handle")
                        .arg(trace_.object(h.object).text()));
    return true;
}

const InputEvent *Asking::contextMenuOf(const InputEvent &press) const
{
    constexpr std::int64_t longest = 1'000'000'000;
    if (!press.info || buttonWords(*press.info) != "right")
        return nullptr;
    for (const InputEvent &e : events_) {
        if (e.type != QEvent::ContextMenu || e.start < press.start || e.start > press.start + longest ||
            !reached(e))
            continue;
        const auto way = wayOf(trace_, trace_.span(e.span));
        if (way && std::any_of(way->begin(), way->end(), [this](const Hop &h) {
                return trace_.object(h.object).address == address_ && h.outcome == Hop::Accepted;
            }))
            return &e;
    }
    return nullptr;
}

void Asking::byMouse(const InputEvent &press)
{
    a_.at = press.start;
    a_.span = press.span;
    const Posting p = trace_.posting(press.span);
    const std::int64_t waited = p.time ? press.start - p.time : 0;
    const bool wheel = press.type == QEvent::Wheel;
    a_.interaction = wheel ? QStringLiteral("wheel")
                           : buttonWords(*press.info) + (press.type == QEvent::MouseButtonDblClick
                                                             ? QStringLiteral(" double click")
                                                             : QStringLiteral(" click"));
    fine(QStringLiteral("window system"),
         QStringLiteral("%1 at %2%3")
             .arg(a_.interaction, secondsOf(trace_, press.start),
                  waited > 100'000'000
                      ? QStringLiteral(", after it had waited %1 ms for the loop").arg(waited / 1'000'000)
                      : QString()));
    if (!wentTo(press) || !isWhole(press.start))
        return;
    fine(stateStation, QStringLiteral("%1 is visible and enabled").arg(name()));
    const InputEvent *menu = contextMenuOf(press);
    if (!passedFilters(press) || !wasTaken(menu ? *menu : press))
        return;
    // What belongs to it: until the button is up again.
    std::vector<SpanId> roots{press.span};
    if (menu)
        roots.push_back(menu->span);
    std::int64_t to = press.end;
    const InputEvent *release = nullptr;
    for (const InputEvent &e : events_) {
        if (e.start < press.start || e.span == press.span)
            continue;
        if (e.type == QEvent::MouseButtonPress || e.type == QEvent::KeyPress)
            break;
        if (e.type == QEvent::MouseButtonRelease && e.info) {
            release = &e;
            roots.push_back(e.span);
            to = e.end;
            break;
        }
    }
    const Effects effects = effectsOf(press.start, to, roots);
    const ObjectState *w = self(press.start);
    QStringList expected;
    if (w && w->has(link::IsButton) && !wheel) {
        expected << QStringLiteral("clicked");
        if (!release && !effects.ran()) {
            unknown(QStringLiteral("signal"),
                    QStringLiteral("the button was not let go of in this recording"));
            return;
        }
        const ObjectState *r = release ? scene_.state(release->address, release->start) : nullptr;
        const auto where = release ? onScreen(*release) : std::nullopt;
        if (r && where && !scene_.onScreen(*w, press.start).contains(*where)) {
            broken(QStringLiteral("signal"), QStringLiteral("released outside"),
                   QStringLiteral("the mouse button was let go of outside %1: that is no click").arg(name()),
                   QStringLiteral("Let go over it"));
            return;
        }
    }
    if (!effects.ran() && dragNeverStarted(press))
        return;
    if (release && !expected.isEmpty() && !releaseCame(*release, effects))
        return;
    after(effects, expected);
}

// A click now would find it otherwise than the one that is told.
QString Asking::stateNow(std::int64_t then) const
{
    const ObjectState *before = self(then), *now = self(until_);
    if (!before || !now || now == before || now->gone)
        return {};
    const auto lost = [&](std::uint32_t bit) { return before->has(bit) && !now->has(bit); };
    const QString what = lost(link::IsVisible)   ? QStringLiteral("hidden")
                         : lost(link::IsEnabled) ? QStringLiteral("disabled")
                                                 : QString();
    return what.isEmpty() ? QString()
                          : QStringLiteral("; since %1 it is %2, and takes no input")
                                .arg(secondsOf(trace_, now->time), what);
}

} // namespace pipit
