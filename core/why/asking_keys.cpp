// Keys and shortcuts: who has the focus, who owns the key, in which context.
#include "core/why/asking.h"

#include <QEvent>
#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{

const QString focusStation = QStringLiteral("focus"), shortcutStation = QStringLiteral("shortcut");

enum Context {
    OfWidget = 0,
    OfWindow = 1,
    OfApplication = 2,
    OfWidgetAndChildren = 3
}; // Qt::ShortcutContext

// One key as a set of words: "Ctrl+Shift+Del" is {ctrl, shift, del}.
QSet<QString> wordsOf(const QString &key)
{
    static const QHash<QString, QString> other{
        {"escape", "esc"},      {"delete", "del"},     {"insert", "ins"},   {"pageup", "pgup"},
        {"pagedown", "pgdown"}, {"plus", "plus key"},  {"comma", ","},      {"period", "."},
        {"minus", "-"},         {"slash", "/"},        {"equal", "="},      {"semicolon", ";"},
        {"enter", "return"},    {"question", "?"},     {"asterisk", "*"},   {"backslash", "\\"},
        {"bracketleft", "["},   {"bracketright", "]"}, {"apostrophe", "'"}, {"quoteleft", "`"},
    };
    QString text = key.toLower();
    QSet<QString> words;
    if (text == "+" || text.endsWith("++")) {
        words << QStringLiteral("plus key");
        text.chop(text == "+" ? 1 : 2);
    }
    for (const QString &w : text.split('+', Qt::SkipEmptyParts))
        words << other.value(w, w);
    return words;
}

} // namespace

bool isSameKey(const QString &a, const QString &b)
{
    return wordsOf(a) == wordsOf(b);
}

const InputEvent *Asking::lastOf(const QStringList &keys, std::int64_t until) const
{
    for (auto e = events_.rbegin(); e != events_.rend(); ++e) {
        if (e->start > until || !e->info ||
            (e->type != QEvent::KeyPress && e->type != QEvent::ShortcutOverride))
            continue;
        for (const QString &k : keys)
            if (isSameKey(keyWords(*e->info), k))
                return &*e;
    }
    return nullptr;
}

bool Asking::keyWentTo(const InputEvent &key)
{
    if (reached(key)) {
        fine(focusStation,
             key.address == address_
                 ? QStringLiteral("%1 has the focus").arg(name())
                 : QStringLiteral("%1, in %2, has the focus").arg(trace_.object(key.object).text(), name()));
        return true;
    }
    const ObjectState *w = self(key.start);
    const QString other = trace_.object(key.object).text();
    if (w && !isWhole(key.start))
        return false;
    const ObjectState *r = scene_.state(key.address, key.start);
    if (r && r->has(link::GrabsKeyboard))
        return broken(focusStation, QStringLiteral("the keyboard is grabbed"),
                      QStringLiteral("%1 grabs the keyboard, and gets every key").arg(other),
                      QStringLiteral("Call releaseKeyboard() on %1").arg(other));
    if (w && w->focus == 0 && !w->proxy)
        return broken(
            focusStation, QStringLiteral("no focus policy"),
            QStringLiteral("the key went to %1, which has the focus: %2 takes none, for its focus policy "
                           "is NoFocus")
                .arg(other, name()),
            QStringLiteral("Call setFocusPolicy(Qt::StrongFocus) on %1, and give it the focus").arg(name()));
    if (w && w->proxy)
        return broken(
            focusStation, QStringLiteral("another widget has the focus"),
            QStringLiteral("%1 gives its focus to %2, its focus proxy").arg(name(), nameOf(w->proxy)),
            QStringLiteral("Handle the key in %1").arg(nameOf(w->proxy)));
    return broken(
        focusStation, QStringLiteral("another widget has the focus"),
        QStringLiteral("the key went to %1, which has the focus; %2 does not have it").arg(other, name()),
        QStringLiteral("Click %1 or call setFocus() on it; or use a shortcut, which works wherever the "
                       "focus is")
            .arg(name()));
}

void Asking::byKey(const InputEvent &key)
{
    a_.at = key.start;
    a_.span = key.span;
    a_.interaction = keyWords(*key.info);
    fine(QStringLiteral("window system"),
         QStringLiteral("%1 was pressed at %2").arg(a_.interaction, secondsOf(trace_, key.start)));
    if (!keyWentTo(key) || !isWhole(key.start))
        return;
    fine(QStringLiteral("state"), QStringLiteral("%1 is visible and enabled").arg(name()));
    if (!passedFilters(key))
        return;
    const ObjectState *w = self(key.start);
    std::vector<SpanId> roots{key.span};
    std::int64_t end = key.end;
    bool released = false;
    for (const InputEvent &r : events_)
        if (r.type == QEvent::KeyRelease && r.start >= key.start && r.info && r.info->key == key.info->key) {
            released = true;
            roots.push_back(r.span);
            end = r.end;
            break;
        }
    const Effects e = effectsOf(key.start, end, roots);
    const bool enters = isSameKey(a_.interaction, "Return");
    if (w && !e.ran() && w->has(link::TakesText) && !fieldTookIt(*w, key, e, enters))
        return;
    // What it emits shows that it handled it, whatever it says of the event.
    if (e.emitted.empty() && !e.ran() && !wasTaken(key))
        return;
    QStringList expected;
    if (enters && w && isLineOfText(*w))
        expected << QStringLiteral("returnPressed");
    else if (w && w->has(link::IsButton) && a_.interaction == "Space")
        expected << (released ? QStringLiteral("clicked") : QStringLiteral("pressed"));
    after(e, expected);
}

// Whom the key's shortcut event went to, and whether it triggered anything.
Asking::Match Asking::matchOf(const InputEvent &key, QString *other) const
{
    for (const InputEvent &e : events_) {
        if (e.type != QEvent::Shortcut || e.start < key.start || e.start > key.start + 1'000'000'000)
            continue;
        bool triggered = false;
        const ThreadRows &rows = trace_.rows(e.span.thread());
        for (std::uint32_t row = e.span.row() + 1; row < rows.after(e.span.row()); ++row)
            if (rows.kind(row) == SpanKind::Signal) {
                const QString name = trace_.signal(rows.at(row).what).name();
                triggered = triggered || name == "triggered" || name == "activated" || name == "clicked";
            }
        const ObjectState *to = scene_.state(e.address, e.start);
        *other = to ? nameOf(*to) : trace_.object(e.object).text();
        if (!triggered)
            return Match::Ambiguous;
        return e.address == address_ ? Match::Own : Match::Others;
    }
    return Match::None;
}

bool Asking::contextFits(const ObjectState &w, std::int64_t time, const QString &keys)
{
    const ObjectState *focus = nullptr, *active = nullptr;
    for (const ObjectState *s : scene_.all(time)) {
        focus = s->has(link::HasFocus) ? s : focus;
        active = s->has(link::IsActiveWindow) ? s : active;
    }
    const QList<std::uint64_t> owners = w.has(link::IsAction) ? w.on : QList<std::uint64_t>{w.in};
    const QString owner = owners.isEmpty() ? QString() : nameOf(owners.first());
    const auto anyOwner = [&](const auto &is) { return std::any_of(owners.begin(), owners.end(), is); };
    const auto wrong = [&](const QString &sentence, const char *context) {
        return broken(shortcutStation, QStringLiteral("wrong context"), sentence,
                      QStringLiteral("Set its context to %1").arg(QLatin1String(context)));
    };
    if (w.context == OfWidget && focus && !anyOwner([&](std::uint64_t o) { return o == focus->address; }))
        return wrong(
            QStringLiteral("%1 works only while %2 itself has the focus (its context), and %3 has it")
                .arg(keys, owner, nameOf(*focus)),
            "Qt::WindowShortcut");
    if (w.context == OfWidgetAndChildren && focus &&
        !anyOwner([&](std::uint64_t o) { return scene_.isInside(*focus, o, time); }))
        return wrong(QStringLiteral("%1 works only while the focus is in %2 (its context), and %3 has it")
                         .arg(keys, owner, nameOf(*focus)),
                     "Qt::WindowShortcut");
    const auto isIn = [&](std::uint64_t o) {
        const ObjectState *s = scene_.state(o, time);
        const ObjectState *window = s ? scene_.windowOf(*s, time) : nullptr;
        // An action in a menu has the menu's window, which belongs to another.
        for (int guard = 0; guard < 20 && window && window->has(link::IsPopup) && window != active; ++guard) {
            const ObjectState *in = scene_.state(window->in, time);
            window = in ? scene_.windowOf(*in, time) : nullptr;
        }
        return window && window == active;
    };
    if (w.context == OfWindow && active && !anyOwner(isIn))
        return wrong(
            QStringLiteral("%1 works only in the window of %2 (its context), and %3 is the active one")
                .arg(keys, owner, nameOf(*active)),
            "Qt::ApplicationShortcut");
    const bool shown = anyOwner([&](std::uint64_t o) {
        const ObjectState *s = scene_.state(o, time);
        return s && (s->has(link::IsVisible) || s->has(link::IsPopup) || !s->has(link::IsWidget));
    });
    if (!shown && !owners.isEmpty())
        return broken(shortcutStation, QStringLiteral("hidden"),
                      QStringLiteral("%1 belongs to %2, which is hidden").arg(keys, owner), "Show " + owner);
    return true;
}

bool Asking::shortcutFits(const ObjectState &w, std::int64_t time, const InputEvent *key)
{
    const QString keys = w.keys.join(", ");
    if (!w.has(link::IsEnabled)) {
        for (const TouchRow &t : scene_.touches())
            if (t.address == address_ && t.what == "enabled" && t.time <= time)
                lookAt(authorOf(t));
        return broken(shortcutStation, QStringLiteral("disabled"),
                      w.keys.isEmpty()
                          ? QStringLiteral("%1 is disabled").arg(name())
                          : QStringLiteral("%1 is disabled, and its shortcut with it").arg(name()),
                      QStringLiteral("Enable it when it is to be used"));
    }
    if (w.keys.isEmpty()) {
        const QString sentence =
            QStringLiteral("%1 was not triggered in this recording, and has no shortcut").arg(name());
        unknown(shortcutStation, sentence, QStringLiteral("unknown"), sentence);
        return false;
    }
    if (w.has(link::IsAction) && w.on.isEmpty())
        return broken(
            shortcutStation, QStringLiteral("on no widget"),
            QStringLiteral("%1 stands in no menu, tool bar or window, so that its key %2 is nobody's")
                .arg(name(), keys),
            QStringLiteral("Call addAction() on the window"));
    QStringList rivals; // others that have the same key
    for (const ObjectState *s : scene_.all(time))
        if (s->address != w.address && s->has(link::IsEnabled) &&
            !(s->has(link::IsAction) && s->on.isEmpty()))
            for (const QString &a : s->keys)
                for (const QString &b : w.keys)
                    if (isSameKey(a, b))
                        rivals << nameOf(*s);
    QString other;
    const Match match = key ? matchOf(*key, &other) : Match::None;
    if (match == Match::Own) {
        fine(shortcutStation, QStringLiteral("%1 is %2's, and was matched").arg(keys, name()));
        return true;
    }
    if (match == Match::Ambiguous && !rivals.isEmpty())
        return broken(shortcutStation, QStringLiteral("ambiguous shortcut"),
                      QStringLiteral("%1 is ambiguous: %2 has it too, so that none of them is triggered")
                          .arg(keys, rivals.join(" and ")),
                      QStringLiteral("Give one of them another key"));
    if (match == Match::Others)
        return broken(shortcutStation, QStringLiteral("another shortcut took it"),
                      QStringLiteral("%1 went to %2, which has this key too").arg(keys, other),
                      QStringLiteral("Give one of them another key"));
    // Who has the focus may keep it for itself.
    for (const InputEvent &e : events_) {
        if (!key || e.type != QEvent::ShortcutOverride || e.start > key->start ||
            e.end < key->start - 50'000'000 || !e.info || !isSameKey(keyWords(*e.info), keyWords(*key->info)))
            continue;
        if (const auto way = wayOf(trace_, trace_.span(e.span)))
            for (const Hop &h : *way) {
                const QString who = trace_.object(h.object).text();
                if (h.outcome == Hop::Accepted)
                    return broken(
                        shortcutStation, QStringLiteral("taken by the focus widget"),
                        QStringLiteral("%1, which has the focus, took %2 for itself before it could "
                                       "be a shortcut")
                            .arg(who, keys),
                        QStringLiteral("Choose another key, or let %1 ignore the ShortcutOverride").arg(who));
                if (h.outcome == Hop::Kept && !h.ofToolkit && h.accepted)
                    return broken(shortcutStation, QStringLiteral("swallowed by a filter"),
                                  hopText(trace_, h),
                                  QStringLiteral("Let its eventFilter() return false for other keys"));
            }
    }
    if (!contextFits(w, time, keys))
        return false;
    if (!key) {
        const QString more =
            rivals.isEmpty()
                ? QString()
                : QStringLiteral("; %1 has it too, which makes it ambiguous").arg(rivals.join(" and "));
        unknown(shortcutStation, QStringLiteral("%1 was not pressed in this recording%2").arg(keys, more),
                rivals.isEmpty() ? QStringLiteral("unknown") : QStringLiteral("ambiguous shortcut"),
                QStringLiteral("%1 was not pressed in this recording%2").arg(keys, more));
        return false;
    }
    unknown(shortcutStation,
            QStringLiteral("%1 was pressed, but did not match, and why is not known").arg(keys));
    return false;
}

void Asking::byShortcut(std::int64_t time, const InputEvent *key)
{
    const ObjectState *w = self(time);
    // An action is triggered by its key, or in its menu, whichever was last.
    std::optional<Span> last;
    for (std::uint16_t t = 0; t < trace_.threadCount(); ++t) {
        const ThreadRows &rows = trace_.rows(t);
        for (std::uint32_t row = 0; row < rows.count() && rows.start(row) <= time; ++row)
            if (rows.kind(row) == SpanKind::Signal)
                if (const Span s = rows.at(row); trace_.object(s.object).address == address_) {
                    const QString name = trace_.signal(s.what).name();
                    if (name == "triggered" || name == "activated")
                        last = s;
                }
    }
    const QStringList expected{w && w->has(link::IsShortcut) ? QStringLiteral("activated")
                                                             : QStringLiteral("triggered")};
    if (last && (!key || last->start >= key->start)) {
        a_.at = last->start;
        a_.span = last->id;
        a_.interaction = key ? keyWords(*key->info) : QStringLiteral("its menu or button");
        fine(shortcutStation,
             QStringLiteral("%1 was triggered at %2").arg(name(), secondsOf(trace_, last->start)));
        after(effectsOf(last->start, last->end < 0 ? trace_.now() : last->end, {last->id}), expected);
        return;
    }
    const std::int64_t at = key ? key->start : time;
    w = self(at) ? self(at) : w;
    if (key) {
        a_.at = key->start;
        a_.span = key->span;
        a_.interaction = keyWords(*key->info);
        fine(QStringLiteral("window system"),
             QStringLiteral("%1 was pressed at %2").arg(a_.interaction, secondsOf(trace_, key->start)));
    }
    if (!w || w->gone) {
        (void)isWhole(at);
        return;
    }
    if (!shortcutFits(*w, at, key))
        return;
    std::int64_t end = key->end;
    std::vector<SpanId> roots{key->span};
    for (const InputEvent &e : events_)
        if (e.type == QEvent::Shortcut && e.address == address_ && e.start >= key->start) {
            roots.push_back(e.span);
            end = std::max(end, e.end);
            break;
        }
    after(effectsOf(key->start, end, roots), expected);
}

} // namespace pipit
