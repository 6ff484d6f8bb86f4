#include "core/moves/ending.h"

#include "core/moves/swept.h"
#include "core/moves/timer_plan.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

class Ender : TimerPlan
{
public:
    Ender(const MoveQuestion &question, const std::atomic<bool> &cancel) : TimerPlan(question, cancel) {}

    Result<Move> plan()
    {
        const auto unit = begin("replace with a single-shot timer: ");
        if (!unit)
            return unit.problem();
        const CodeFunction *f = unit->function(function());
        const auto d = definitionOf(text_, class_, handler_.name);
        if (!f || !d)
            return notFound();
        tellOf(*d);
        startedElsewhere();
        const Effects effects(*unit);
        const Swept swept = sweptBy(*unit, effects, *f, text_);
        for (const Swept::Against &a : swept.against)
            refuse(lineAt(text_, std::max(a.at, 0)), a.reason);
        if (!move_.refused.isEmpty())
            return move_;
        names_ = swept.names(*unit);
        seenElsewhere();
        if (auto ok = findBeginnings(swept, *d); !ok)
            return ok.problem();
        if (!move_.refused.isEmpty())
            return move_;
        write(swept, *d);
        return verified();
    }

private:
    // What other files, or connections, begin is not followed.
    void seenElsewhere()
    {
        for (const QString &name : std::as_const(names_)) {
            const QRegularExpression use("\\b" + name + "\\b");
            for (const QString &file : userSources(q_.place.folder, q_.project)) {
                const auto text = file == handler_.file || file.endsWith(".h") ? Result<QString>(QString())
                                                                               : files_.text(file);
                if (const auto m = text ? use.match(codeOnly(*text)) : QRegularExpressionMatch();
                    m.hasMatch())
                    move_.refused.append({file, lineAt(*text, m.capturedStart()),
                                          name + " is used here too, which is not analysed", -1});
            }
            for (const Connection &c : q_.project.connections)
                if (c.targetKind == Connection::Target::Slot && c.to == name &&
                    !settingOf(c.toMember.section('(', 0, 0)).isEmpty())
                    refuse(0, QStringLiteral("%1 · %2 calls %3 · %4, which starts it without code")
                                  .arg(c.subject(), c.what(), c.to, c.toMember));
        }
    }

    // In all functions of the file that speak of it.
    Outcome findBeginnings(const Swept &swept, const Definition &tick)
    {
        const QString code = codeOnly(text_);
        const QRegularExpression use("\\b(?:" + names_.join('|') + ")\\b");
        QStringList functions{function()};
        for (const Definition &d : definitionsIn(text_))
            if (d.begin != tick.begin &&
                QStringView(code).mid(d.bodyOpen, d.bodyClose - d.bodyOpen).toString().contains(use))
                functions << (d.className.isEmpty() ? d.name : d.className + "::" + d.name);
        const auto unit = read(functions);
        if (!unit)
            return unit.problem();
        const CodeFunction *f = unit->function(function());
        if (!f)
            return notFound();
        const Swept again = sweptBy(*unit, Effects(*unit), *f, text_); // its numbers are the new unit's
        QList<Swept::Against> against;
        for (const CodeFunction &other : unit->functions) {
            const CodeDecl *d = unit->decl(other.decl);
            if (&other == f || other.file != f->file || !d)
                continue;
            // What stands there before the window is shown was always there.
            if (swept.how == Swept::How::Always && d->qualified == class_ + "::" + class_)
                continue;
            begun_ << begunIn(*unit, again, other, text_, &against);
        }
        for (const Swept::Against &a : std::as_const(against))
            refuse(lineAt(text_, a.at), a.reason);
        if (begun_.isEmpty() && move_.refused.isEmpty())
            refuse(lineAt(text_, f->body.begin), names_.join(" and ") + " is never started in this file");
        return Done{};
    }

    void write(const Swept &swept, const Definition &tick)
    {
        TimerNode *t = move_.edit.after.timer(timer_.name);
        const bool elapsed = swept.how == Swept::How::Elapsed;
        const int was = timer_.interval, lasts = elapsed ? int(swept.lasts.count()) : was;
        t->repeat = false;
        t->autostart = false;
        t->interval = lasts;
        QList<FileEdit> edits;
        for (const Begun &b : std::as_const(begun_))
            start(b, &edits);
        for (const Swept::Piece &p : swept.pieces)
            edits.append({handler_.file, p.begin, text_.mid(p.begin, p.end - p.begin), p.with});
        std::sort(edits.begin(), edits.end(),
                  [](const FileEdit &a, const FileEdit &b) { return a.offset > b.offset; });
        move_.edit.files = edits;
        show(edits, tick);
        move_.sentences
            << QStringLiteral("%1 starts in %2, where the state begins, and fires once.")
                   .arg(timer_.name)
                   .arg(begun_.size() == 1 ? QString("one place") : QString("%1 places").arg(begun_.size()))
            << QStringLiteral("It lasts %1 ms each time. Before, it lasted %2 to %3 ms, until the next tick.")
                   .arg(lasts)
                   .arg(elapsed ? lasts : 0)
                   .arg(elapsed ? lasts + was : was)
            << "Starting again before the end restarts the time."
            << QStringLiteral("No ticks while there is nothing to end. Before: %1 ticks a minute.")
                   .arg(was > 0 ? 60000 / was : 0);
    }

    void start(const Begun &b, QList<FileEdit> *edits)
    {
        const qsizetype line = text_.lastIndexOf('\n', b.begin) + 1;
        const QString indent = text_.mid(line, b.begin - line), call = timer_.name + "->start();";
        const bool own = indent.trimmed().isEmpty();
        const QString statement = text_.mid(b.begin, b.end - b.begin),
                      both = statement + (own ? '\n' + indent : QString(' ')) + call;
        const auto replace = [&](qsizetype from, const QString &with) {
            edits->append({handler_.file, from, text_.mid(from, b.end - from), with});
        };
        if (!b.alone)
            replace(b.begin, both);
        else if (own)
            replace(line - 1, " {\n" + indent + both + '\n' +
                                  indent.chopped(std::min<qsizetype>(4, indent.size())) + '}');
        else
            replace(b.begin, "{ " + both + " }");
    }

    // All functions that change, as they stand and as they will.
    void show(const QList<FileEdit> &edits, const Definition &tick)
    {
        QStringList before, now;
        for (const Definition &d : definitionsIn(text_)) {
            QString text = text_.mid(d.begin, d.bodyClose + 1 - d.begin);
            const QString old = text;
            for (const FileEdit &e : edits)
                if (e.offset >= d.begin && e.offset <= d.bodyClose)
                    text.replace(e.offset - d.begin, e.removed.size(), e.inserted);
            if (text == old && d.begin != tick.begin)
                continue;
            before << old;
            now << text;
        }
        move_.oldText = before.join("\n\n");
        move_.newText = now.join("\n\n");
    }

    QStringList names_;
    QList<Begun> begun_;
};

} // namespace

Result<Move> planEnding(const MoveQuestion &question, const std::atomic<bool> &cancel)
{
    return Ender(question, cancel).plan();
}

} // namespace pipit
