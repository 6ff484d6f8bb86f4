#include "core/moves/notification.h"

#include "core/build/project_code.h"
#include "core/moves/pause.h"
#include "core/moves/polled.h"
#include "core/moves/surroundings.h"
#include "core/userfiles/cpp_scan.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

class Teller
{
public:
    Teller(const MoveQuestion &q, const std::atomic<bool> &cancel) : q_(q), files_(q.files), code_(cancel) {}

    Result<Move> plan()
    {
        if (auto ok = look(); !ok)
            return ok.problem();
        if (auto ok = code_.lay(q_.place, q_.project, files_); !ok)
            return ok.problem();
        const QString qualified = class_ + "::" + handler_.name;
        const auto unit = code_.read(handler_.file, {qualified});
        if (!unit)
            return unit.problem();
        for (const CodeMessage &m : unit->messages)
            if (m.error)
                return Problem{"Its file does not compile as it stands: " + m.text, handler_.file,
                               "Mend it first", m.line};
        const CodeFunction *f = unit->function(qualified);
        const auto d = definitionOf(text_, class_, handler_.name);
        if (!f || !d)
            return Problem{handler_.name + " was not found in its file", handler_.file, {}};
        first_ = lineAt(text_, d->begin);
        move_.file = handler_.file;
        move_.oldText = text_.mid(d->begin, d->bodyClose + 1 - d->begin);
        move_.edit.text = "be told instead of " + timer_.name;
        move_.edit.madeFrom = q_.madeFrom;
        move_.edit.after = q_.project;
        startedElsewhere();
        judge(*unit, *f);
        if (!move_.refused.isEmpty())
            return move_;
        write(*d);
        return verified();
    }

private:
    Outcome look()
    {
        const TimerNode *t = q_.project.timer(q_.handler);
        if (!t)
            return unknownTimer();
        timer_ = *t;
        const Connection *calls = nullptr;
        for (const Connection &c : q_.project.connections) {
            if (c.from != t->name || c.signal.section('(', 0, 0) != "timeout")
                continue;
            if (calls || c.targetKind != Connection::Target::Handler)
                return Problem{t->name + " calls more than one handler", {}, "Leave it one"};
            calls = &c;
        }
        const Handler *h = calls ? q_.project.handler(calls->to) : nullptr;
        if (!h)
            return Problem{t->name + " calls no handler", {}, "Connect its timeout first"};
        if (!calls->when.isEmpty() || !h->source.isEmpty())
            return Problem{
                h->name + (h->source.isEmpty() ? " is called under a condition" : " is told of its source"),
                {},
                "Let it look by itself"};
        if (h->shape != Shape::OneGo)
            return Problem{h->name + " runs " + shapeSentence(h->shape), {}, "Let it run in one go first"};
        if (!t->repeat)
            return Problem{t->name + " ticks once, so it polls nothing", {}, {}};
        handler_ = *h;
        class_ = q_.project.windowFor(*h).className;
        const auto text = files_.text(h->file);
        if (!text)
            return text.problem();
        text_ = *text;
        return Done{};
    }

    Problem unknownTimer() const
    {
        QStringList all;
        for (const WindowNode &w : q_.project.windows)
            for (const TimerNode &t : w.timers)
                all << t.name;
        const QString near = nearestName(q_.handler, all);
        return {QStringLiteral("There is no timer '%1'").arg(q_.handler.left(60)),
                {},
                near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
    }

    void refuse(int line, const QString &reason)
    {
        move_.refused.append({handler_.file, line, reason, line > 0 ? line - first_ : -1});
    }

    // Who starts and stops it means it.
    void startedElsewhere()
    {
        for (const Connection &c : q_.project.connections)
            if (c.to == timer_.name)
                refuse(0,
                       QStringLiteral("%1 · %2 calls %3 · %4").arg(c.subject(), c.what(), c.to, c.toMember));
        if (!timer_.autostart)
            refuse(0, timer_.name + " is not started with the window, so something decides when to look");
        const QRegularExpression use("\\b" + timer_.name + "\\b");
        for (const QString &file : userSources(q_.place.folder, q_.project)) {
            const auto text = files_.text(file);
            if (const auto m = text ? use.match(codeOnly(*text)) : QRegularExpressionMatch(); m.hasMatch())
                move_.refused.append({file, lineAt(*text, m.capturedStart()),
                                      "the code starts, stops or asks " + timer_.name, -1});
        }
    }

    void judge(const CodeUnit &unit, const CodeFunction &f)
    {
        QSet<QString> heard;
        QStringList others;
        for (const Handler &h : q_.project.handlers)
            heard.insert("()" + h.name);
        for (const QString &file : userSources(q_.place.folder, q_.project))
            if (const auto text = files_.text(file); text && file != handler_.file)
                others << codeOnly(*text);
        const Surroundings around = surroundingsOf(unit, class_ + "::" + handler_.name, others, heard);
        const Effects effects(unit);
        const Polled polled =
            polledBy({unit, effects, f, text_, q_.project, around.shared, changedMembers(unit)});
        if (!polled.isSomething() && polled.against.isEmpty())
            refuse(
                lineAt(text_, f.body.begin),
                "it looks at no file and asks no device of the project, so nothing is known that would tell");
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
                               "%1 looks once, when the window is there, and never again: it was %2 "
                               "times a minute.")
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
        includeFor(files);
        const QString paths = watched.size() == 1 ? "addPath(" + watched.first() + ')'
                                                  : "addPaths({" + watched.join(", ") + "})";
        const QString line = "\n    // Again each time: what is replaced is watched no more.\n    " + o.name +
                             "->" + paths + ';';
        move_.newText.insert(at - d.begin, line);
        move_.edit.files.append({handler_.file, at, {}, line});
    }

    void sayOfWatch(const QString &watch, bool files)
    {
        move_.sentences << watch + " watches " +
                               (files ? "the file and its folder, since it may come, go, or be replaced."
                                      : "the folder.");
        if (files)
            move_.sentences << QStringLiteral("Of what is written into a file it is told %1 ms after the "
                                              "last of a row: who writes does it in pieces.")
                                   .arg(settleMs);
        move_.sentences << "Files on other machines' disks tell nothing: there the timer is right.";
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
        includes_ = {handler_.file, at, {}, "#include <QtCore/QFileInfo>\n"};
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
            return each.from == timer_.name && each.to == handler_.name;
        });
        p.connections.insert(at == p.connections.end() ? at : at + 1, c);
    }

    Result<Move> verified()
    {
        if (includes_)
            move_.edit.files.append(*includes_);
        UserFiles after = files_;
        for (FileEdit e : std::as_const(move_.edit.files))
            if (auto ok = after.apply(e); !ok)
                return ok.problem();
        if (auto ok = code_.lay(q_.place, move_.edit.after, after); !ok)
            return ok.problem();
        const auto unit = code_.read(handler_.file, {class_ + "::" + handler_.name});
        if (!unit)
            return unit.problem();
        for (const CodeMessage &m : unit->messages)
            if (m.error) {
                refuse(first_, "what would come out does not compile: " + m.text);
                move_.edit.files.clear();
                move_.edit.after = q_.project;
                return move_;
            }
        return move_;
    }

    const MoveQuestion &q_;
    UserFiles files_;
    ProjectCode code_;
    TimerNode timer_;
    Handler handler_;
    QString class_, text_;
    int first_ = 1;
    Polled polled_;
    std::optional<FileEdit> includes_;
    Move move_;
};

} // namespace

Result<Move> planNotification(const MoveQuestion &question, const std::atomic<bool> &cancel)
{
    return Teller(question, cancel).plan();
}

} // namespace pipit
