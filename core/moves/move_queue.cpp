// Queues that handlers share, and what a handler in the background does when it is triggered again.
#include "core/moves/planner.h"
#include "core/userfiles/owned_members.h"

#include <QRegularExpression>

namespace pipit
{

QString againSentence(const Handler &h)
{
    if (h.again == "turn")
        return "Triggered again during the work: queued, in order. Widgets are read when its turn comes, "
               "because the last run shows what it reads.";
    if (h.again == "queue")
        return "Triggered again during the work: queued, in order. Widgets are read when triggered.";
    if (h.again == "together")
        return QStringLiteral("Triggered again during the work: up to %1 runs at once. Results are shown in "
                              "the order of the triggers.")
            .arg(h.workers);
    return h.again == "ignore"
               ? QStringLiteral("Triggered again during the work: ignored.")
               : QStringLiteral("Triggered again during the work: the work is cancelled and restarted.");
}

namespace
{

// Who is in a queue, by name.
QStringList inQueue(const Project &p, const QString &queue)
{
    QStringList names;
    for (const Handler &h : p.handlers)
        if (h.isQueued() && h.queue == queue)
            names << h.name;
    return names;
}

QString queueSentence(const Project &p, const QString &queue)
{
    const QStringList names = inQueue(p, queue);
    return QStringLiteral("The queue %1: %2, one after the other, on one thread.")
        .arg(queue, names.join(names.size() == 2 ? " and " : ", "));
}

void addTo(Move &all, const Move &one, const QString &handler)
{
    const int first = all.oldText.isEmpty() ? 0 : int(all.oldText.count('\n')) + 2;
    const auto join = [](QString &to, const QString &text) {
        if (!text.isEmpty())
            to += (to.isEmpty() ? "" : "\n\n") + text;
    };
    join(all.oldText, one.oldText);
    join(all.newText, one.newText);
    join(all.headerText, one.headerText);
    for (MovedLine l : one.lines) {
        l.at += first;
        all.lines << l;
    }
    for (MoveRefusal r : one.refused) {
        r.at += r.at < 0 ? 0 : first;
        r.reason = handler + ": " + r.reason;
        all.refused << r;
    }
    all.edit.files << one.edit.files;
    all.edit.after = one.edit.after;
    for (const QString &s : one.sentences)
        all.sentences << handler + ": " + s;
}

} // namespace

Problem noHandler(const Project &p, const QString &name)
{
    QStringList all;
    for (const Handler &h : p.handlers)
        all << h.name;
    const QString near = nearestName(name, all);
    return {QStringLiteral("There is no handler '%1'").arg(name.left(60)),
            {},
            near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
}

Result<Move> planQueue(const MoveQuestion &question, const std::atomic<bool> &cancel)
{
    const bool back = question.shape == Shape::OneGo;
    if (question.shape == Shape::Steps || (!back && question.queue.isEmpty()))
        return Problem{"Only handlers in the background can be moved together, into a queue",
                       {},
                       "Name the queue to share"};
    MoveQuestion one = question;
    one.with.clear();
    QStringList names{question.handler};
    for (const QString &name : question.with)
        if (!names.contains(name))
            names << name;
    for (const QString &name : std::as_const(names))
        if (!question.project.handler(name))
            return noHandler(question.project, name);
    Move all;
    all.parts = names;
    all.edit.text = "run " + names.join(" and ") + ' ' + shapeSentence(question.shape);
    all.edit.madeFrom = question.madeFrom;
    QSet<QString> owned;
    for (const QString &name : std::as_const(names)) {
        const Handler *h = one.project.handler(name);
        one.handler = name;
        one.queueMates = names;
        one.queueMates.removeAll(name);
        Planner planner(one, cancel);
        const auto move = h->shape == question.shape && !back ? planPacing(one, cancel) : planner.plan();
        if (!move)
            return move.problem();
        if (all.file.isEmpty())
            all.file = move->file;
        addTo(all, *move, name);
        if (!move->refused.isEmpty())
            break;
        owned += planner.owned();
        for (FileEdit e : move->edit.files)
            if (auto ok = one.files.apply(e); !ok)
                return ok.problem();
        one.project = move->edit.after;
    }
    for (const QString &name : back ? QStringList() : names + inQueue(one.project, question.queue)) {
        const Handler *h = one.project.handler(name);
        const auto text = one.files.text(h->file);
        for (const QString &member : std::as_const(owned))
            if (all.refused.isEmpty() && text &&
                !isApart(*h, one.project.windowFor(*h).className, *text, member))
                all.refused.append({h->file, 0, member + " is used by " + name + " on the event loop, too"});
    }
    if (!all.refused.isEmpty()) {
        all.edit.files.clear();
        all.edit.after = question.project;
    } else if (!back) {
        all.sentences << queueSentence(one.project, question.queue);
    }
    return all;
}

namespace
{

// What runs beside itself may neither wait for its last run nor have anything to itself.
class BesideItself
{
public:
    BesideItself(const MoveQuestion &q, const Handler &h, const std::atomic<bool> &cancel)
        : q_(q), h_(h), class_(q.project.windowFor(h).className), files_(q.files), code_(cancel)
    {
    }

    Result<QList<MoveRefusal>> obstacles()
    {
        for (const Connection &c : q_.project.connections)
            if (c.from == jobName(h_) && c.signal.startsWith("progress"))
                return refuse({}, -1,
                              c.to +
                                  " shows the progress of one run, and several runs have no common progress");
        if (h_.batches)
            return refuse({}, -1, "it sends partial results, and those of several runs would have no order");
        if (auto ok = code_.lay(q_.place, q_.project, files_); !ok)
            return ok.problem();
        QHash<Part, QString> names;
        for (const HandlerFunction &f : h_.functions())
            names.insert(f.part, f.isFree() ? f.name : class_ + "::" + f.name);
        auto unit = code_.read(h_.file, names.values());
        if (!unit)
            return unit.problem();
        for (const CodeMessage &m : unit->messages)
            if (m.error)
                return Problem{"Its file does not compile: " + m.text, h_.file, "Fix it first", m.line};
        judge(*unit, names);
        return refused_;
    }

private:
    QList<MoveRefusal> refuse(const QString &text, int at, const QString &why)
    {
        refused_.append({h_.file, at < 0 ? 0 : lineAt(text, at), why});
        return refused_;
    }

    void judge(const CodeUnit &unit, const QHash<Part, QString> &names)
    {
        const auto text = files_.text(h_.file);
        const CodeFunction *take = unit.function(names[Part::Take]), *work = unit.function(names[Part::Work]),
                           *show = unit.function(names[Part::Show]);
        if (!text || !take || !work || !show) {
            refuse({}, -1, "its functions cannot be read");
            return;
        }
        const Effects effects(unit);
        QSet<int> shown;
        for (const Effect &e : effects.of(show->body))
            if ((e.kind == Effect::WritesWidget || e.kind == Effect::WritesShared) && e.decl >= 0)
                shown.insert(e.decl);
        for (const Effect &e : effects.of(take->body))
            if ((e.kind == Effect::ReadsWidget || e.kind == Effect::ReadsShared) && shown.contains(e.decl))
                refuse(*text, e.at, e.what + ", which its last run will show");
        for (const Effect &e : effects.of(work->body))
            refuse(*text, e.at,
                   e.what + (e.through.isEmpty() ? "" : " in " + e.through) + ", by several runs at once");
    }

    const MoveQuestion &q_;
    const Handler &h_;
    QString class_;
    UserFiles files_;
    ProjectCode code_;
    QList<MoveRefusal> refused_;
};

// What the work of a handler has to itself.
QSet<QString> ownedBy(const Handler &h, UserFiles &files)
{
    const auto text = files.text(h.file);
    const auto d = text ? definitionOf(*text, {}, h.function(Part::Work)) : std::nullopt;
    return d ? membersOwnedIn(codeOnly(*text).mid(d->bodyOpen, d->bodyClose - d->bodyOpen)) : QSet<QString>();
}

} // namespace

QString tie(const MoveQuestion &q, const Handler &now)
{
    UserFiles files = q.files;
    const QSet<QString> own = ownedBy(now, files);
    for (const Handler &h : q.project.handlers)
        if (h.name != now.name && !q.queueMates.contains(h.name) && h.isQueued() && h.queue == now.queue)
            for (const QString &name : ownedBy(h, files) & own)
                return QStringLiteral("%1 uses %2 as well, so both must stay in one queue").arg(h.name, name);
    return {};
}

Result<Move> planPacing(const MoveQuestion &q, const std::atomic<bool> &cancel)
{
    const Handler &now = *q.project.handler(q.handler);
    Move move;
    move.file = now.file;
    move.edit.text = "pace " + now.name;
    move.edit.madeFrom = q.madeFrom;
    move.edit.after = q.project;
    Handler *h = move.edit.after.handler(q.handler);
    if (!q.again.isEmpty())
        h->again = q.again;
    if (q.workers > 0)
        h->workers = q.workers;
    if (!q.queue.isEmpty())
        h->queue = q.queue;
    if (q.again == "together" || q.ownQueue)
        h->queue.clear();
    else if (h->isTogether() && !q.queue.isEmpty())
        h->again = "queue";
    const auto refuse = [&](const QList<MoveRefusal> &why) {
        move.refused = why;
        move.edit.after = q.project;
        return move;
    };
    if (const QString why = now.isQueued() && h->queue != now.queue ? tie(q, now) : QString(); !why.isEmpty())
        return refuse({{now.file, 0, why}});
    // What waits with what it has read must not read what its last run shows.
    if (h->again != now.again && now.again == "turn" && h->again == "queue")
        return refuse(
            {{now.file, 0, "it reads what its last run shows, so it must wait for its turn in the queue"}});
    if (h->isTogether() && !now.isTogether()) {
        const auto obstacles = BesideItself(q, now, cancel).obstacles();
        if (!obstacles)
            return obstacles.problem();
        if (!obstacles->isEmpty())
            return refuse(*obstacles);
    }
    move.sentences << againSentence(*h);
    if (h->isQueued() && q.with.isEmpty() && q.queueMates.isEmpty())
        move.sentences << queueSentence(move.edit.after, h->queue);
    return move;
}

} // namespace pipit
