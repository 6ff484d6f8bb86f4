// The verb that changes how a handler runs.
#include "cli/editing.h"

#include "core/moves/ending.h"
#include "core/moves/move.h"
#include "core/moves/notification.h"
#include "core/moves/other.h"

#include <QJsonArray>
#include <QJsonObject>
#include <QRegularExpression>

namespace pipit::cli
{

namespace
{

struct ShapeVerb {
    QString project, handler, shape, trusted, again, cancelButton, workers, queue, with;
    bool look = false, json = false, ownQueue = false;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("HANDLER", handler, Words::Needed, "A handler; for 'told' and 'on-time' a timer");
        words.oneOf("SHAPE", shape, Words::Needed, {"one-go", "steps", "background", "told", "on-time"});
        words.flag("--look", look, "Show the changes only");
        words.word("--trust", trusted, Words::MayBeLeftOut,
                   "Lines to treat as thread-safe, such as 12,15; your responsibility");
        words.oneOf("--again", again, Words::MayBeLeftOut, {"queue", "turn", "ignore", "restart", "together"},
                    "What to do when triggered again while it runs");
        words.word("--workers", workers, Words::MayBeLeftOut,
                   "With --again together: how many may run at once");
        words.word("--queue", queue, Words::MayBeLeftOut,
                   "A queue shared with others: one after the other, on one thread");
        words.flag("--own-queue", ownQueue, "Leave the shared queue");
        words.word("--with", with, Words::MayBeLeftOut,
                   "Handlers to move into the queue as well, such as a,b");
        words.word("--cancel", cancelButton, Words::MayBeLeftOut, "A button that cancels the work");
        words.flag("--json", json);
    }
    int run() const;
    int runOther(const QSet<int> &lines) const;
    Outcome pace(MoveQuestion &question) const; // what is said of it, or what is wrong with that
};

const char *placeWord(Stage place)
{
    return place == Stage::Take ? "before" : place == Stage::Work ? "work" : "after";
}

QJsonObject jsonOf(const Move &m)
{
    QJsonArray refused, lines;
    for (const MoveRefusal &r : m.refused)
        refused.append(QJsonObject{{"file", r.file}, {"line", r.line}, {"reason", r.reason}});
    for (const MovedLine &l : m.lines)
        lines.append(QJsonObject{{"line", l.line},
                                 {"text", l.text},
                                 {"goes_to", l.goesTo},
                                 {"place", placeWord(l.place)},
                                 {"reason", l.reason.isEmpty() ? QJsonValue() : QJsonValue(l.reason)}});
    QJsonArray offers;
    for (const MoveOffer &o : m.offers)
        offers.append(QJsonObject{{"again", o.again},
                                  {"queue", o.queue},
                                  {"with", QJsonArray::fromStringList(o.with)},
                                  {"says", o.sentence},
                                  {"helps", o.helps}});
    return QJsonObject{{"moved", m.refused.isEmpty()},
                       {"refused", refused},
                       {"offers", offers},
                       {"statements", lines},
                       {"says", QJsonArray::fromStringList(m.sentences)},
                       {"before", m.oldText},
                       {"after", m.newText},
                       {"header", m.headerText}};
}

void tellOffers(const Move &m)
{
    for (const MoveOffer &o : m.offers)
        print(o.sentence + " Say " +
              (o.queue.isEmpty() && o.again.isEmpty() ? "--with " + o.with.join(',')
               : !o.again.isEmpty()
                   ? "--again " + o.again
                   : "--queue " + o.queue + (o.with.isEmpty() ? QString() : " --with " + o.with.join(','))) +
              '.');
}

void tell(const Move &m, bool look)
{
    if (!m.refused.isEmpty()) {
        print("Not moved: the behaviour would change.");
        for (const MoveRefusal &r : m.refused)
            print(QStringLiteral("  %1: %2.")
                      .arg(r.line > 0 ? QStringLiteral("%1:%2").arg(r.file).arg(r.line) : r.file, r.reason));
        tellOffers(m);
        return;
    }
    for (const QString &s : m.sentences)
        print(s);
    tellOffers(m);
    if (!look)
        return;
    for (const MovedLine &l : m.lines)
        print(QStringLiteral("  %1 %2  %3%4")
                  .arg(l.line, 4)
                  .arg(QString::fromLatin1(placeWord(l.place)), -6)
                  .arg(l.text, l.reason.isEmpty() ? QString() : "  (" + l.reason + ')'));
    print({});
    if (!m.headerText.isEmpty())
        print(m.headerText + '\n');
    print(m.newText);
}

// Of code that Pipit did not compose: the change, for whoever applies it.
int ShapeVerb::runOther(const QSet<int> &lines) const
{
    if (shape != "background")
        return fail({"Code outside a Pipit project can be moved to the background only", {}, {}});
    auto move = planOtherMove(project, handler, lines, false);
    if (!move)
        return fail(move.problem());
    if (json) {
        QJsonArray refused;
        for (const MoveRefusal &r : move->refused)
            refused.append(QJsonObject{{"file", r.file}, {"line", r.line}, {"reason", r.reason}});
        printJson(
            QJsonObject{{"moved", move->refused.isEmpty()}, {"refused", refused}, {"diff", move->diff}});
    } else if (move->refused.isEmpty()) {
        std::fputs(qUtf8Printable(move->diff), stdout);
    } else {
        print("Not moved: the behaviour would change.");
        for (const MoveRefusal &r : move->refused)
            print(QStringLiteral("  %1:%2: %3.").arg(r.file).arg(r.line).arg(r.reason));
    }
    return move->refused.isEmpty() ? fine : findings;
}

Result<QSet<int>> linesIn(const QString &list)
{
    QSet<int> lines;
    for (const QString &line : list.split(',', Qt::SkipEmptyParts)) {
        bool ok = false;
        lines.insert(line.trimmed().toInt(&ok));
        if (!ok)
            return Problem{QStringLiteral("'%1' is not a line number").arg(line.left(40)), "--trust",
                           "Write numbers, such as 12,15"};
    }
    return lines;
}

Outcome ShapeVerb::pace(MoveQuestion &q) const
{
    const auto wrong = [](const QString &what, const char *where, const QString &remedy) {
        return Problem{what, QLatin1String(where), remedy};
    };
    q.again = again;
    q.queue = queue;
    q.ownQueue = ownQueue;
    q.with = with.split(',', Qt::SkipEmptyParts);
    const bool paced = !again.isEmpty() || !workers.isEmpty() || !queue.isEmpty();
    if (paced && q.shape == Shape::OneGo)
        return wrong("A handler that runs in one go is never triggered while it runs", "one-go",
                     "Leave out the other options");
    if (q.shape == Shape::Steps && (!workers.isEmpty() || !queue.isEmpty() || again == "together"))
        return wrong("Steps run on the event loop, one at a time", "steps",
                     "Queues and workers are for 'background'");
    if (!queue.isEmpty() && !isIdentifier(queue))
        return wrong(QStringLiteral("'%1' is not a valid queue name").arg(queue.left(60)), "--queue",
                     "Use letters, digits and underscores, such as gauge");
    if (!queue.isEmpty() && again == "together")
        return wrong("Handlers in a queue run one after the other", "--again",
                     "Use queue, turn, ignore or restart");
    if (ownQueue && !queue.isEmpty())
        return wrong("--queue and --own-queue contradict each other", "--own-queue", "Leave out one of them");
    if (!with.isEmpty() && queue.isEmpty() && q.shape != Shape::OneGo)
        return wrong("--with needs a queue", "--with", "Add --queue NAME");
    if (workers.isEmpty())
        return Done{};
    bool ok = false;
    q.workers = workers.toInt(&ok);
    if (!ok || q.workers < 1 || q.workers > Handler::mostWorkers)
        return wrong(QStringLiteral("'%1' is not a number of workers").arg(workers.left(40)), "--workers",
                     QStringLiteral("Give 1 to %1").arg(Handler::mostWorkers));
    if (again != "together")
        return wrong("--workers needs --again together", "--workers", "Add --again together");
    return Done{};
}

int ShapeVerb::run() const
{
    const auto lines = linesIn(trusted);
    if (!lines)
        return fail(lines.problem());
    static const QRegularExpression place("\\.\\w+:\\d+$");
    if ((handler.contains("::") || handler.contains(place)) && hasCompileCommands(project))
        return runOther(*lines);
    auto w = Workspace::open(project);
    if (!w)
        return fail(w.problem());
    w->takeOwnClasses(readOwnClasses(w->place(), w->project()));
    MoveQuestion q = MoveQuestion::of(*w, handler,
                                      shape == "background" ? Shape::Background
                                      : shape == "steps"    ? Shape::Steps
                                                            : Shape::OneGo);
    q.trusted = *lines;
    if (auto ok = pace(q); !ok)
        return fail(ok.problem());
    q.cancelButton = cancelButton;
    if (!cancelButton.isEmpty() && !w->project().widget(cancelButton))
        return fail({QStringLiteral("There is no button '%1'").arg(cancelButton.left(60)), "--cancel",
                     "Name a button of the window"});
    auto move = shape == "told"      ? planNotification(q, false)
                : shape == "on-time" ? planEnding(q, false)
                                     : planMove(q, false);
    if (!move)
        return fail(move.problem());
    if (json)
        printJson(jsonOf(*move));
    else
        tell(*move, look);
    if (!move->refused.isEmpty())
        return findings;
    if (look)
        return fine;
    if (auto ok = w->apply(move->edit); !ok)
        return fail(ok.problem());
    return keep(*w);
}

} // namespace

void addShapeVerb(Registry &r)
{
    r.add<ShapeVerb>("shape", "Change how a handler runs", "pipit shape harbour-tickets buy background");
}

} // namespace pipit::cli
