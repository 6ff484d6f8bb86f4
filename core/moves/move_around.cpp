// What else there is in the program beside a handler that is moved.
#include "core/moves/planner.h"
#include "core/userfiles/owned_members.h"

#include <QRegularExpression>

namespace pipit
{

// The handler's own file stays in front, so that offsets hold.
Result<CodeUnit> Planner::read(const Project &project, UserFiles files, const QString &function)
{
    if (wide_) {
        const auto text = files.text(handler_.file);
        if (!text)
            return text.problem();
        FileEdit more{handler_.file, text->size(), {}, "\n"};
        for (const QString &file : userSources(q_.place.folder, project))
            if (file != handler_.file)
                more.inserted += "#include \"" + file + "\"\n";
        if (auto ok = files.apply(more); !ok)
            return ok.problem();
    }
    if (auto ok = code_.lay(q_.place, project, files); !ok)
        return ok.problem();
    return code_.read(handler_.file, {function});
}

Surroundings Planner::surroundings(const CodeUnit &unit, const CodeFunction &f)
{
    QSet<QString> heard;
    for (const Connection &c : q_.project.connections) {
        heard.insert(c.from);
        if (!c.toMember.isEmpty())
            heard.insert("()" + c.toMember);
    }
    for (const Handler &h : q_.project.handlers)
        heard.insert("()" + h.name);
    QStringList others = userSources(q_.place.folder, q_.project), codes;
    others.removeAll(handler_.file);
    for (const QString &file : wide_ ? QStringList() : others)
        if (const auto text = files_.text(file))
            codes << codeOnly(*text);
    return surroundingsOf(unit, unit.decls[f.decl].qualified, codes, heard, fellowFunctions());
}

// Handlers that work in its queue, or will.
QList<const Handler *> Planner::queueMates() const
{
    QList<const Handler *> all;
    for (const Handler &h : q_.project.handlers)
        if (!q_.queue.isEmpty() && h.name != handler_.name &&
            (q_.queueMates.contains(h.name) || (h.isQueued() && h.queue == q_.queue)))
            all << &h;
    return all;
}

QSet<QString> Planner::fellowFunctions() const
{
    QSet<QString> names;
    for (const Handler *h : queueMates())
        for (const HandlerFunction &f : h->functions())
            names.insert(f.isFree() ? f.name : q_.project.windowFor(*h).className + "::" + f.name);
    return names;
}

// Whether of a handler that works already nothing but the work uses a member: the rest only says where it is,
// or has a copy of what the work came to.
bool isApart(const Handler &handler, const QString &className, const QString &text, const QString &member)
{
    if (handler.shape != Shape::Background)
        return true;
    for (const HandlerFunction &f : handler.functions()) {
        const auto d = definitionOf(text, f.isFree() ? QString() : className, f.name);
        if (!d || f.isFree())
            continue;
        const QString code = codeOnly(text).mid(d->bodyOpen, d->bodyClose - d->bodyOpen);
        if (usesMember(code, member, f.part == Part::Show || f.part == Part::Add))
            return false;
    }
    return true;
}

Planner::Owned Planner::ownedIn(const CodeUnit &unit, const CodeFunction &f, const Surroundings &around)
{
    Owned out;
    const int window = unit.decls[f.decl].record;
    const Effects types(unit, {}, class_);
    const auto fits = [&](int i) {
        const CodeDecl *d = unit.decl(i);
        const CodeType *t = d ? unit.type(d->type) : nullptr;
        if (!t || d->kind != CodeDecl::Field || !d->own || d->record != window || t->reference ||
            t->form != CodeType::Value || around.usedElsewhere.contains(i) || !types.bound(d->type).isEmpty())
            return false;
        for (const int inner : t->holds)
            if (!types.bound(inner).isEmpty())
                return false;
        for (const Handler *h : queueMates()) {
            const auto text = files_.text(h->file);
            if (!text || !isApart(*h, q_.project.windowFor(*h).className, *text, d->name))
                return false;
        }
        return true;
    };
    for (int i = 0; i < unit.decls.size(); ++i) {
        const CodeRecord *r = unit.recordOfType(unit.decls[i].type);
        if (!r || (r->name != "std::unique_ptr" && r->name != "QScopedPointer") || !fits(i))
            continue;
        // Nobody else may have it.
        const QRegularExpression given("\\b" + unit.decls[i].name + "\\s*\\.\\s*(get|data|release|take)\\b");
        bool alone = true;
        for (const QString &file : userSources(q_.place.folder, q_.project) +
                                       QStringList{q_.project.windowFor(handler_).file + ".h"})
            if (const auto text = files_.text(file))
                alone = alone && !text->contains(given);
        if (alone)
            out.pointers.insert(i);
    }
    const Effects effects(unit, out.pointers, class_);
    for (const Effect &e : effects.of(f.body)) {
        const bool uses = e.kind == Effect::ReadsShared || e.kind == Effect::WritesShared;
        if (!uses || (!e.ofThis && !e.through.isEmpty()) || !fits(e.decl))
            continue;
        const bool kept = !types.keptFromMoving(unit.decls[e.decl].type).isEmpty();
        if (kept || around.shared.contains(e.decl))
            out.must.insert(e.decl);
        if (kept || around.shared.contains(e.decl) || e.kind == Effect::WritesShared)
            out.may.insert(e.decl);
    }
    return out;
}

QSet<int> Planner::ownPointersIn(const CodeUnit &unit, const QSet<QString> &names)
{
    QSet<int> all;
    for (int i = 0; i < unit.decls.size() && !names.isEmpty(); ++i) {
        const CodeDecl &d = unit.decls[i];
        if ((d.kind == CodeDecl::Local || d.kind == CodeDecl::Parameter) &&
            (names.contains(d.name) || d.name == "input"))
            all.insert(i);
    }
    return all;
}

} // namespace pipit
