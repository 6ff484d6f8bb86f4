#include "core/moves/timer_plan.h"

#include <QRegularExpression>

namespace pipit
{

TimerPlan::TimerPlan(const MoveQuestion &question, const std::atomic<bool> &cancel)
    : q_(question), files_(question.files), code_(cancel)
{
}

Result<CodeUnit> TimerPlan::begin(const QString &what)
{
    if (auto ok = look(); !ok)
        return ok.problem();
    if (auto ok = code_.lay(q_.place, q_.project, files_); !ok)
        return ok.problem();
    move_.file = handler_.file;
    move_.edit.text = what + timer_.name;
    move_.edit.madeFrom = q_.madeFrom;
    move_.edit.after = q_.project;
    return read({function()});
}

Result<CodeUnit> TimerPlan::read(const QStringList &functions)
{
    auto unit = code_.read(handler_.file, functions);
    if (!unit)
        return unit.problem();
    for (const CodeMessage &m : unit->messages)
        if (m.error)
            return Problem{"Its file does not compile: " + m.text, handler_.file, "Fix it first", m.line};
    return unit;
}

Problem TimerPlan::notFound() const
{
    return {handler_.name + " was not found in its file", handler_.file, {}};
}

void TimerPlan::tellOf(const Definition &tick)
{
    first_ = lineAt(text_, tick.begin);
    move_.oldText = text_.mid(tick.begin, tick.bodyClose + 1 - tick.begin);
}

QStringList TimerPlan::otherCode()
{
    QStringList others;
    for (const QString &file : userSources(q_.place.folder, q_.project))
        if (const auto text = files_.text(file); text && file != handler_.file)
            others << codeOnly(*text);
    return others;
}

Outcome TimerPlan::look()
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
            return Problem{t->name + " calls more than one handler", {}, "Keep one handler only"};
        calls = &c;
    }
    const Handler *h = calls ? q_.project.handler(calls->to) : nullptr;
    if (!h)
        return Problem{t->name + " calls no handler", {}, "Connect its timeout first"};
    if (!calls->when.isEmpty() || !h->source.isEmpty())
        return Problem{h->name + (h->source.isEmpty() ? " is called under a condition" : " gets its source"),
                       {},
                       "Let it read by itself"};
    if (h->shape != Shape::OneGo)
        return Problem{h->name + " runs " + shapeSentence(h->shape), {}, "Move it back to one go first"};
    if (!t->repeat)
        return Problem{t->name + " ticks once, so it does not poll", {}, {}};
    handler_ = *h;
    class_ = q_.project.windowFor(*h).className;
    const auto text = files_.text(h->file);
    if (!text)
        return text.problem();
    text_ = *text;
    return Done{};
}

Problem TimerPlan::unknownTimer() const
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

void TimerPlan::refuse(int line, const QString &reason)
{
    move_.refused.append({handler_.file, line, reason, line > 0 ? line - first_ : -1});
}

// Who starts and stops it means it.
void TimerPlan::startedElsewhere()
{
    for (const Connection &c : q_.project.connections)
        if (c.targetKind != Connection::Target::Handler && c.to == timer_.name)
            refuse(0, QStringLiteral("%1 · %2 calls %3 · %4").arg(c.subject(), c.what(), c.to, c.toMember));
    if (!timer_.autostart)
        refuse(0, timer_.name + " is not started with the window, so other code decides when to poll");
    const QRegularExpression use("\\b" + timer_.name + "\\b");
    for (const QString &file : userSources(q_.place.folder, q_.project)) {
        const auto text = files_.text(file);
        if (const auto m = text ? use.match(codeOnly(*text)) : QRegularExpressionMatch(); m.hasMatch())
            move_.refused.append({file, lineAt(*text, m.capturedStart()),
                                  "the code starts, stops or reads " + timer_.name, -1});
    }
}

Result<Move> TimerPlan::verified()
{
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
            refuse(first_, "the moved code would not compile: " + m.text);
            move_.edit.files.clear();
            move_.edit.after = q_.project;
            return move_;
        }
    return move_;
}

} // namespace pipit
