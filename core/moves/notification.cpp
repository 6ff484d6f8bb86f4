#include "core/moves/notification.h"

#include "core/moves/pause.h"
#include "core/moves/polled.h"
#include "core/moves/surroundings.h"
#include "core/moves/timer_plan.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

class Teller : TimerPlan
{
public:
    Teller(const MoveQuestion &question, const std::atomic<bool> &cancel) : TimerPlan(question, cancel) {}

    Result<Move> plan()
    {
        const auto unit = begin("replace polling of ");
        if (!unit)
            return unit.problem();
        const CodeFunction *f = unit->function(function());
        const auto d = definitionOf(text_, class_, handler_.name);
        if (!f || !d)
            return notFound();
        tellOf(*d);
        startedElsewhere();
        judge(*unit, *f);
        if (!move_.refused.isEmpty())
            return move_;
        write(*d);
        return verified();
    }

private:
    void judge(const CodeUnit &unit, const CodeFunction &f)
    {
        QSet<QString> heard;
        const Surroundings around = surroundingsOf(unit, function(), otherCode(), heard);
        const Effects effects(unit);
        const Polled polled =
            polledBy({unit, effects, f, text_, q_.project, around.shared, changedMembers(unit)});
        if (!polled.isSomething() && polled.against.isEmpty())
            refuse(lineAt(text_, f.body.begin),
                   "it reads no file and no device of the project, so Pipit knows no notification for it");
        for (const Polled::Against &a : polled.against)
            if (!q_.trusted.contains(lineAt(text_, std::max(a.at, 0))))
                refuse(lineAt(text_, std::max(a.at, 0)), a.reason);
        polled_ = polled;
    }

    // Members that something but a constructor may change.
    QSet<QString> changedMembers(const CodeUnit &unit)
    {
        QSet<QString> names;
        for (const CodeDecl &d : unit.decls)
            if (d.own && (d.kind == CodeDecl::Field || d.kind == CodeDecl::Global) &&
                !(unit.type(d.type) && unit.type(d.type)->isConst))
                names.insert(d.name);
        QSet<QString> changed;
        static const QString changes =
            "\\s*(?:[-+*/|&^]?=(?!=)|\\+\\+|--|<<|\\[|\\.\\s*(?:set|append|prepend|clear|"
            "replace|remove|insert|swap|resize|chop|truncate)|->)";
        for (const QString &file : userSources(q_.place.folder, q_.project)) {
            const auto text = files_.text(file);
            if (!text)
                continue;
            const QString code = codeOnly(*text);
            for (const Definition &d : definitionsIn(*text))
                if (d.name != d.className)
                    for (const QString &name : std::as_const(names))
                        if (code.mid(d.bodyOpen, d.bodyClose - d.bodyOpen)
                                .contains(QRegularExpression("(?:\\b" + name + changes + "|(?:\\+\\+|--|&)" +
                                                             name + "\\b)")))
                            changed.insert(name);
        }
        return changed;
    }

    void write(const Definition &d)
    {
        Project &p = move_.edit.after;
        TimerNode *t = p.timer(timer_.name);
        t->repeat = false;
        t->interval = 0;
        for (const auto &[object, signal] : polled_.senders) {
            connect(object, signal, {});
            move_.sentences << QStringLiteral("%1 · %2 calls %3.").arg(object, signal, handler_.name);
        }
        move_.newText = move_.oldText;
        if (!polled_.places.isEmpty())
            watch(d);
        move_.sentences << QStringLiteral(
                               "%1 runs once when the window opens. The timer ran it %2 times a minute.")
                               .arg(timer_.name)
                               .arg(timer_.interval > 0 ? 60000 / timer_.interval : 0);
    }

    // Watched anew each time: a file that another one takes the place of is watched no more.
    void watch(const Definition &d)
    {
        Project &p = move_.edit.after;
        QString stem = timer_.name;
        if (stem.endsWith("Timer") && stem.size() > 5)
            stem.chop(5);
        ObjectNode o;
        o.id = p.newId("o");
        o.className = "QFileSystemWatcher";
        o.name = freeNameFor(p, class_, text_, stem + "Watch");
        p.windows[std::max(0, p.windowOf(timer_.name))].objects.append(o);
        QStringList watched;
        bool files = false, named = true;
        qsizetype at = d.bodyOpen + 1;
        for (const Polled::Place &place : std::as_const(polled_.places))
            named = named && !place.name.isEmpty();
        for (const Polled::Place &place : std::as_const(polled_.places)) {
            const QString path = named ? place.name : place.path;
            if (!place.folder)
                watched << "QFileInfo(" + path + ").path()";
            watched << path;
            files = files || !place.folder;
            if (named)
                at = std::max(at, qsizetype(place.declaredBy));
        }
        watched.removeDuplicates();
        if (files)
            connect(o.name, "fileChanged", {PacingKind::AfterPause, settleMs});
        connect(o.name, "directoryChanged", {PacingKind::AtMostEvery, settleMs});
        sayOfWatch(o.name, files);
        const QString paths = watched.size() == 1 ? "addPath(" + watched.first() + ')'
                                                  : "addPaths({" + watched.join(", ") + "})";
        const QString line = "\n    // Again each time: what is replaced is watched no more.\n    " + o.name +
                             "->" + paths + ';';
        move_.newText.insert(at - d.begin, line);
        move_.edit.files.append({handler_.file, at, {}, line});
        includeFor(files);
    }

    void sayOfWatch(const QString &watch, bool files)
    {
        move_.sentences
            << watch + " watches " +
                   (files ? "the file and its folder, because the file may appear, disappear or be replaced."
                          : "the folder.");
        if (files)
            move_.sentences << QStringLiteral(
                                   "Writes in quick succession are handled %1 ms after the last one.")
                                   .arg(settleMs);
        move_.sentences << "Files on network drives send no notifications. Keep the timer for those.";
    }

    void includeFor(bool files)
    {
        const QString header = q_.project.windowFor(handler_).file + ".h";
        const auto above = files_.text(header);
        static const QRegularExpression there("#include\\s*[<\"](?:\\w+/)?QFileInfo[>\"]");
        if (!files || text_.contains(there) || (above && above->contains(there)))
            return;
        const qsizetype last = text_.left(text_.indexOf('{')).lastIndexOf("#include");
        const qsizetype at = last < 0 ? 0 : text_.indexOf('\n', last) + 1;
        move_.edit.files.append({handler_.file, at, {}, "#include <QtCore/QFileInfo>\n"});
    }

    void connect(const QString &from, const QString &signal, const Pacing &pacing)
    {
        Project &p = move_.edit.after;
        Connection c;
        c.id = p.newId("c");
        c.from = from;
        c.signal = signal;
        c.to = handler_.name;
        c.pacing = pacing;
        const auto at = std::find_if(p.connections.begin(), p.connections.end(), [&](const Connection &each) {
            return each.from == timer_.name && each.callsHandler(handler_.name);
        });
        p.connections.insert(at == p.connections.end() ? at : at + 1, c);
    }

    Polled polled_;
};

} // namespace

Result<Move> planNotification(const MoveQuestion &question, const std::atomic<bool> &cancel)
{
    return Teller(question, cancel).plan();
}

} // namespace pipit
