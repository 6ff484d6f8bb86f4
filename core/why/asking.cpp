#include "core/why/asking.h"

#include "core/base/files.h"
#include "core/base/near.h"
#include "core/why/returns.h"

#include <QEvent>
#include <QJsonArray>
#include <QJsonObject>
#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

QString secondsOf(const TraceModel &trace, std::int64_t time)
{
    return QStringLiteral("%1 s").arg(double(time - trace.firstTime()) / 1e9, 0, 'f', 3);
}

bool isToolkitClass(const QString &name)
{
    return name.size() > 1 && name[0] == 'Q' && name[1].isUpper();
}

void Asking::fine(const QString &station, const QString &detail)
{
    if (!done_)
        a_.stations.push_back({station, Station::Fine, detail});
}

void Asking::unknown(const QString &station, const QString &detail, const QString &verdict,
                     const QString &sentence, const QString &fix)
{
    if (done_)
        return;
    a_.stations.push_back({station, Station::Unknown, detail});
    if (!verdict.isEmpty() && a_.verdict.isEmpty()) {
        a_.verdict = verdict;
        a_.sentence = sentence;
        a_.fix = fix;
    }
}

bool Asking::broken(const QString &station, const QString &verdict, const QString &sentence,
                    const QString &fix)
{
    if (done_)
        return false;
    done_ = true;
    a_.stations.push_back({station, Station::Broken, sentence});
    a_.station = station;
    a_.verdict = verdict;
    a_.sentence = sentence;
    a_.fix = fix;
    return false;
}

void Asking::lookAt(const std::vector<std::uint64_t> &places)
{
    if (const StackFrame f = handlers_.placeAt(places); !f.file.isEmpty()) {
        a_.file = f.file;
        a_.line = f.line;
    }
}

void Asking::lookAt(const Author &a)
{
    if (!a.file.isEmpty()) {
        a_.file = a.file;
        a_.line = a.line;
    }
}

// By its place; where that is not known, by the handler in which it was done.
Asking::Author Asking::authorOf(const TouchRow &t)
{
    if (const StackFrame f = t.place ? handlers_.placeAt(t.place) : StackFrame{}; !f.file.isEmpty())
        return {QStringLiteral("%1:%2").arg(f.file.section('/', -1)).arg(f.line), f.file, f.line};
    SpanId at = t.span;
    for (int guard = 0; at && guard < 500 && at.row() < trace_.rows(at.thread()).count(); ++guard) {
        const Span s = trace_.span(at);
        if (s.kind == SpanKind::Call && isCall(handlers_, s)) {
            const HandlerName &h = handlers_.of(s.what);
            return {h.name, h.file, h.line};
        }
        at = s.parent;
    }
    return {};
}

QString Asking::placeWords(const std::vector<std::uint64_t> &places)
{
    const StackFrame f = handlers_.placeAt(places);
    return f.file.isEmpty() ? QString() : QStringLiteral("%1:%2").arg(f.file.section('/', -1)).arg(f.line);
}

QString Asking::name() const
{
    return a_.widget;
}

QString Asking::nameOf(const ObjectState &s) const
{
    const ObjectInfo o = trace_.object(s.object);
    return !o.name.isEmpty() || !o.caption.isEmpty() || s.says.isEmpty() ? o.text()
                                                                         : o.className + " \"" + s.says + '"';
}

QString Asking::nameOf(std::uint64_t address) const
{
    const ObjectState *s = scene_.state(address, until_);
    return s ? nameOf(*s) : QStringLiteral("something");
}

bool Asking::lostBetween(std::int64_t from, std::int64_t to) const
{
    if (!trace_.lost())
        return false;
    for (std::uint16_t t = 0; t < trace_.threadCount(); ++t) {
        const ThreadRows &rows = trace_.rows(t);
        for (std::uint32_t row = rows.firstFrom(from); row < rows.count() && rows.start(row) <= to; ++row)
            if (rows.at(row).flags & BesideLoss)
                return true;
    }
    return false;
}

bool Asking::reached(const InputEvent &e) const
{
    if (e.address == address_)
        return true;
    const ObjectState *r = scene_.state(e.address, e.start);
    if (r && scene_.isInside(*r, address_, e.start))
        return true;
    if (const auto way = wayOf(trace_, trace_.span(e.span)))
        for (const Hop &h : *way)
            if (trace_.object(h.object).address == address_ || trace_.object(h.before).address == address_)
                return true;
    return false;
}

std::optional<QPoint> Asking::onScreen(const InputEvent &e) const
{
    const ObjectState *r = scene_.state(e.address, e.start);
    if (!r || r->gone || !e.info)
        return std::nullopt;
    return scene_.onScreen(*r, e.start).topLeft() + QPoint(e.info->x, e.info->y);
}

bool Asking::liesIn(const InputEvent &e) const
{
    const ObjectState *w = self(e.start);
    const auto point = onScreen(e);
    return w && !w->gone && w->has(link::IsWidget) && point && scene_.onScreen(*w, e.start).contains(*point);
}

namespace
{
bool isPress(int type)
{
    return type == QEvent::MouseButtonPress || type == QEvent::MouseButtonDblClick;
}
bool isModifierAlone(const InputEvent &e)
{
    return e.info && e.info->key >= Qt::Key_Shift && e.info->key <= Qt::Key_ScrollLock;
}
} // namespace

// The last press that reached it; else the last one where it is.
const InputEvent *Asking::lastMouse(std::int64_t until) const
{
    const InputEvent *lies = nullptr;
    for (auto e = events_.rbegin(); e != events_.rend(); ++e) {
        if (e->start > until || !(isPress(e->type) || e->type == QEvent::Wheel) || !e->info)
            continue;
        if (reached(*e))
            return lies && lies->start > e->start + 1'000'000'000 ? lies : &*e;
        if (!lies && e->type != QEvent::Wheel && liesIn(*e))
            lies = &*e;
    }
    return lies;
}

// No other widget was pressed after it.
bool Asking::wasPressedLast(const InputEvent &mouse) const
{
    return std::none_of(events_.begin(), events_.end(), [&](const InputEvent &e) {
        return e.start > mouse.start && e.start <= until_ && isPress(e.type) && e.info && !reached(e);
    });
}

const InputEvent *Asking::lastKey(std::int64_t until) const
{
    for (auto e = events_.rbegin(); e != events_.rend(); ++e)
        if (e->start <= until && e->type == QEvent::KeyPress && e->info && !isModifierAlone(*e) &&
            reached(*e))
            return &*e;
    return nullptr;
}

const InputEvent *Asking::lastDrag(std::int64_t until) const
{
    const InputEvent *lies = nullptr;
    for (auto e = events_.rbegin(); e != events_.rend(); ++e) {
        if (e->start > until || (e->type != QEvent::Drop && e->type != QEvent::DragEnter))
            continue;
        if (reached(*e))
            return &*e;
        if (!lies && liesIn(*e))
            lies = &*e;
    }
    return lies;
}

const OfferRow *Asking::lastOffer(std::int64_t until) const
{
    for (auto o = scene_.offers().rbegin(); o != scene_.offers().rend(); ++o) {
        const ObjectState *s = o->time <= until ? scene_.state(o->address, o->time) : nullptr;
        if (o->time <= until && (o->address == address_ || (s && scene_.isInside(*s, address_, o->time))))
            return &*o;
    }
    return nullptr;
}

void Asking::tellChanges(std::int64_t until)
{
    for (auto t = scene_.touches().rbegin(); t != scene_.touches().rend() && a_.changes.size() < 20; ++t) {
        if (t->address != address_ || t->time > until)
            continue;
        const Author by = authorOf(*t);
        WhyChange c{t->time, t->what, t->value.value_or(QString()), {}, by.file, by.line, t->span};
        if (t->span && t->span.row() < trace_.rows(t->span.thread()).count())
            c.by = sentenceOf(trace_, handlers_, trace_.span(t->span));
        a_.changes.push_back(std::move(c));
    }
}

const WhyAttempt *Asking::lastAttempt(std::int64_t until) const
{
    for (auto t = question_.attempts.rbegin(); t != question_.attempts.rend(); ++t)
        if (t->time <= until && t->target == question_.widget)
            return &*t;
    return nullptr;
}

void Asking::chooseAndAnswer(const ObjectState *s)
{
    const std::int64_t alive = until_;
    const InputEvent *mouse = lastMouse(alive), *key = lastKey(alive), *drag = lastDrag(alive);
    const OfferRow *offer = lastOffer(alive);
    const InputEvent *hot = s && !s->keys.isEmpty() ? lastOf(s->keys, alive) : nullptr;
    const InputEvent *last = nullptr;
    for (const InputEvent *e : {mouse, key, drag, hot})
        if (e && (!last || e->start > last->start))
            last = e;
    // A field that no key ever reached, while keys went elsewhere.
    const bool waitsForKeys =
        s && (s->has(link::TakesText) || !mouse || (s->focus == 0 && wasPressedLast(*mouse)));
    if (waitsForKeys && !key && (!last || last == mouse) && !drag && !offer && !s->has(link::IsButton))
        for (auto e = events_.rbegin(); e != events_.rend() && !key; ++e)
            if (e->start <= alive && e->type == QEvent::KeyPress && e->info && !isModifierAlone(*e) &&
                (!last || e->start > last->start))
                last = key = &*e;
    if (const WhyAttempt *tried = lastAttempt(alive); tried && (!last || tried->time > last->start)) {
        unknown(QStringLiteral("play"), QStringLiteral("a play could not give it its input at %1: %2")
                                            .arg(secondsOf(trace_, tried->time), tried->why));
        a_.at = tried->time;
        withoutInput(std::min(tried->time, alive));
    } else if (offer && (!last || offer->time > last->start + 50'000'000)) {
        byOffer(*offer);
    } else if (last && last == hot && last != key) {
        byShortcut(alive, hot);
    } else if (last && last == drag) {
        byDrag(*drag);
    } else if (last && last == key) {
        byKey(*key);
    } else if (last) {
        byMouse(*last);
    } else {
        withoutInput(alive);
    }
}

WhyAnswer Asking::answer(std::uint64_t address)
{
    address_ = address;
    until_ = question_.at.value_or(scene_.lastMoment());
    // At the end all is gone: then what counts is how it was before.
    const ObjectState *s = self(until_);
    if (s && s->gone && !question_.at) {
        until_ = s->time - 1;
        s = self(until_);
    }
    a_.widget = s ? nameOf(*s) : question_.widget;
    tellChanges(until_);
    if (s && s->has(link::IsTimer))
        ofTimer(until_);
    else if (s && (s->has(link::IsAction) || s->has(link::IsShortcut)))
        byShortcut(until_, s->keys.isEmpty() ? nullptr : lastOf(s->keys, until_));
    else
        chooseAndAnswer(s);
    if (a_.verdict.isEmpty()) {
        const auto open = std::find_if(a_.stations.begin(), a_.stations.end(),
                                       [](const Station &st) { return st.state == Station::Unknown; });
        a_.verdict = open != a_.stations.end() ? QStringLiteral("unknown") : QStringLiteral("ok");
        if (a_.sentence.isEmpty() && open != a_.stations.end())
            a_.sentence = open->detail;
    }
    return std::move(a_);
}

namespace
{

// All that came from the window system to widgets, and the shortcuts that it led to.
std::vector<InputEvent> eventsOf(const TraceModel &trace)
{
    std::vector<InputEvent> all;
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        for (std::uint32_t row = 0; row < rows.count(); ++row) {
            if (rows.kind(row) != SpanKind::Dispatch)
                continue;
            const Span s = rows.at(row);
            const int type = int(s.what);
            const bool drag = type == QEvent::DragEnter || type == QEvent::DragMove || type == QEvent::Drop;
            if (type != QEvent::Shortcut && !drag && !isDescribed(type))
                continue;
            const auto info = rows.input(row);
            if (!info && type != QEvent::Shortcut && !drag)
                continue; // of a window, which passes it on to a widget
            all.push_back({s.id, s.start, s.end < 0 ? trace.now() : s.end, type, s.object,
                           trace.object(s.object).address, info, bool(s.flags & FromWindow)});
        }
    }
    std::stable_sort(all.begin(), all.end(), [](auto &a, auto &b) { return a.start < b.start; });
    return all;
}

// An object whose state is never told, known by what it did: a device, a model, a worker.
QList<std::uint64_t> namedInSpans(const TraceModel &trace, const QString &name)
{
    for (std::uint32_t i = 0; i < trace.factCount(); ++i)
        if (const ObjectInfo o = trace.object(trace.fact(i).object); !name.isEmpty() && o.name == name)
            return {o.address};
    return {};
}

} // namespace

// Steps of the play that could not be done: those of which nothing was expected.
std::vector<WhyAttempt> attemptsOf(const RecordingFiles &recording)
{
    std::vector<WhyAttempt> all;
    const auto bytes = recording.read("pipit/play.json");
    const auto play = bytes ? jsonObjectOf(*bytes, recording.where("pipit/play.json")) : bytes.problem();
    if (!play)
        return all;
    for (const auto &v : (*play)["steps"].toArray()) {
        const QJsonObject o = v.toObject();
        if (o["ok"].toBool(true) || !o["expected"].toString().isEmpty())
            continue;
        QString target = o["step"].toString().section(": ", 0, 0).trimmed();
        target = target.section(" row ", 0, 0).trimmed();
        QString found = o["found"].toString();
        while (found.endsWith('.'))
            found.chop(1);
        all.push_back({std::int64_t(o["end_ns"].toDouble()), target, found});
    }
    return all;
}

static Result<WhyAnswer> answerOf(const TraceModel &trace, Handlers &handlers, const WhyQuestion &question)
{
    const Scene scene(trace);
    if (!scene.isKnown())
        return Problem{QStringLiteral("this recording does not tell how the program's widgets were"),
                       {},
                       QStringLiteral("Record it again: recordings tell that since version 0.4")};
    std::vector<InputEvent> events = eventsOf(trace);
    QList<std::uint64_t> called;
    if (question.widget.isEmpty()) {
        for (auto e = events.rbegin(); e != events.rend() && called.isEmpty(); ++e)
            if (e->start <= question.at.value_or(INT64_MAX) && e->type != QEvent::MouseMove &&
                e->type != QEvent::MouseButtonRelease && e->type != QEvent::KeyRelease)
                called << e->address;
        if (called.isEmpty())
            return Problem{
                QStringLiteral("no input is in this recording"), {}, QStringLiteral("Name a widget")};
    } else {
        called = scene.called(question.widget);
    }
    if (called.isEmpty())
        called = namedInSpans(trace, question.widget);
    if (called.isEmpty()) {
        const QString near = nearestName(question.widget, scene.names());
        return Problem{QStringLiteral("The recording has no widget '%1'").arg(question.widget),
                       {},
                       near.isEmpty()
                           ? QStringLiteral("Use a name that 'pipit wiring' or 'pipit dispatches' prints")
                           : QStringLiteral("The nearest name is %1").arg(near)};
    }
    // Of several that are called so, those that are seen; of these the one whose interaction was last.
    const std::int64_t then = question.at.value_or(scene.lastMoment());
    const auto isSeen = [&](std::uint64_t address) {
        const ObjectState *s = scene.state(address, then);
        if (s && s->gone && !question.at)
            s = scene.state(address, s->time - 1);
        return s && (!s->has(link::IsWidget) || s->has(link::IsVisible));
    };
    const qsizetype all = called.size();
    if (std::any_of(called.begin(), called.end(), isSeen))
        called.removeIf([&](std::uint64_t a) { return !isSeen(a); });
    std::optional<WhyAnswer> best;
    for (const std::uint64_t address : called) {
        WhyAnswer a = Asking(trace, handlers, scene, events, question).answer(address);
        if (!best || a.at > best->at)
            best = std::move(a);
    }
    if (all > 1)
        best->stations.insert(best->stations.begin(),
                              {QStringLiteral("name"), Station::Unknown,
                               QStringLiteral("%1 objects are called %2; this is the one that was used last")
                                   .arg(all)
                                   .arg(question.widget)});
    return std::move(*best);
}

// A handler that changed nothing may have returned before it did: where it could have is listed, none is
// asserted.
static void listReturns(WhyAnswer &a, const Excerpts &packed)
{
    if (a.verdict != "changed nothing" || a.file.isEmpty() || a.line <= 0)
        return;
    QList<int> lines;
    if (const auto piece = packed.around(a.file, a.line)) {
        lines = earlyReturns(piece->lines, piece->first, a.line);
    } else if (const auto text = readFile(a.file)) {
        lines = earlyReturns(QString::fromUtf8(*text).split('\n'), 1, a.line);
    }
    if (lines.isEmpty())
        return;
    QStringList words;
    constexpr qsizetype most = 5;
    for (const int l : lines.mid(0, most))
        words << QString::number(l);
    a.fix += QStringLiteral(". It may return early in %1 %2; which of them it took, if any, is not known")
                 .arg(lines.size() == 1 ? "line" : "lines", words.join(", "));
}

Result<WhyAnswer> why(Recording &recording, const QString &widget, std::optional<std::int64_t> at)
{
    auto answer = answerOf(recording.trace, recording.handlers,
                           {widget, at, attemptsOf(*recording.files), recording.info.signal});
    if (answer)
        listReturns(*answer, recording.sources);
    return answer;
}

Result<WhyAnswer> why(const TraceModel &trace, Handlers &handlers, const WhyQuestion &question)
{
    auto answer = answerOf(trace, handlers, question);
    if (answer)
        listReturns(*answer, {});
    return answer;
}

QString asSentence(const QString &clause, const QString &widget)
{
    static const QRegularExpression word("^[a-z]+ ");
    if (clause.isEmpty())
        return clause;
    const bool isWord = word.match(clause).hasMatch() && !clause.startsWith(widget + ' ');
    return (isWord ? clause.left(1).toUpper() + clause.mid(1) : clause) + '.';
}

QString stationWords(Station::State state)
{
    return state == Station::Fine     ? QStringLiteral("fine")
           : state == Station::Broken ? QStringLiteral("broken")
                                      : QStringLiteral("unknown");
}

} // namespace pipit
