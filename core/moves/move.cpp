#include "core/moves/move.h"

#include "core/codegen/stubs.h"
#include "core/moves/planner.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

MoveQuestion MoveQuestion::of(Workspace &workspace, const QString &handler, Shape shape)
{
    MoveQuestion q;
    q.project = workspace.project();
    q.place = workspace.place();
    q.files = workspace.files();
    q.madeFrom = workspace.stamp();
    q.handler = handler;
    q.shape = shape;
    return q;
}

Planner::Planner(const MoveQuestion &question, const std::atomic<bool> &cancel)
    : q_(question), files_(question.files), code_(cancel)
{
}

Result<Move> Planner::plan()
{
    if (auto ok = look(); !ok)
        return ok.problem();
    move_.edit.text = QStringLiteral("run %1 %2").arg(q_.handler, shapeSentence(q_.shape));
    move_.edit.after = q_.project;
    move_.edit.madeFrom = q_.madeFrom;
    move_.file = handler_.file;
    const auto d = definitionOf(text_, class_, handler_.name);
    if (q_.shape == Shape::OneGo)
        return back();
    if (!d && codeOnly(text_).contains(class_ + "::" + handler_.name))
        return Problem{"The code of " + handler_.name + " does not compile: its end is missing",
                       handler_.file, "Fix it first",
                       lineAt(text_, text_.indexOf(class_ + "::" + handler_.name))};
    if (!d || isStub(*d))
        return fresh(d);
    return moved(*d);
}

// What is not in the handler's own file is read only where it matters.
Result<Move> Planner::moved(const Definition &d)
{
    const QString qualified = class_ + "::" + handler_.name;
    auto unit = read(q_.project, files_, qualified);
    if (!unit)
        return unit.problem();
    if (auto ok = compiles(*unit, "Its file does not compile"); !ok)
        return ok.problem();
    const CodeFunction *f = unit->function(qualified);
    if (!f)
        return Problem{q_.handler + " was not found in its file", handler_.file,
                       "Check whether it is behind an #if"};
    const Move before = move_;
    auto made = cut(*unit, *f, d);
    const QList<Effect> effects = Effects(*unit).of(f->body);
    const bool unread = std::any_of(effects.begin(), effects.end(), [](const Effect &e) { return e.unread; });
    if (!made || made->refused.isEmpty() || !unread || userSources(q_.place.folder, q_.project).size() < 2)
        return made;
    wide_ = true;
    const auto more = read(q_.project, files_, qualified);
    const CodeFunction *again = more ? more->function(qualified) : nullptr;
    if (!again || !compiles(*more, {})) { // files that do not stand one another
        wide_ = false;
        return made;
    }
    move_ = before;
    return cut(*more, *again, d);
}

Outcome Planner::look()
{
    const Handler *h = q_.project.handler(q_.handler);
    if (!h)
        return noHandler(q_.project, q_.handler);
    handler_ = *h;
    if (h->shape == q_.shape)
        return Problem{QStringLiteral("%1 already runs %2").arg(h->name, shapeSentence(q_.shape)), {}, {}};
    if (h->shape != Shape::OneGo && q_.shape != Shape::OneGo)
        return Problem{QStringLiteral("%1 runs %2").arg(h->name, shapeSentence(h->shape)),
                       {},
                       "Move it back to one go first"};
    if (h->kind == HandlerKind::Event)
        return Problem{
            QStringLiteral(
                "%1 is an event handler and returns true or false at once, so it must run in one go")
                .arg(h->name),
            {},
            "Let it trigger another handler that can be moved"};
    class_ = q_.project.windowFor(*h).className;
    auto text = files_.text(h->file);
    if (!text)
        return text.problem();
    text_ = *text;
    return Done{};
}

// Nothing in it but what Pipit wrote.
bool Planner::isStub(const Definition &d) const
{
    QString body = codeOnly(text_.mid(d.bodyOpen + 1, d.bodyClose - d.bodyOpen - 1));
    body.remove(QRegularExpression("Q_UNUSED\\(\\w+\\)"));
    return body.remove(';').trimmed().isEmpty();
}

Result<Move> Planner::fresh(const std::optional<Definition> &d)
{
    Handler *h = shaped();
    h->again = q_.again.isEmpty() ? "queue" : q_.again;
    move_.newText = Stubs(move_.edit.after).text(*h).trimmed();
    if (d) {
        move_.oldText = text_.mid(d->begin, d->bodyClose + 1 - d->begin);
        move_.edit.files.append({handler_.file, d->begin, move_.oldText, move_.newText});
    } else {
        move_.edit.files.append({handler_.file, text_.size(), {}, '\n' + move_.newText + '\n'});
    }
    move_.sentences << "The handler is empty. These are the functions to fill.";
    return move_;
}

// Later places first, so that the offsets hold.
void Planner::order()
{
    std::stable_sort(move_.edit.files.begin(), move_.edit.files.end(),
                     [](const FileEdit &a, const FileEdit &b) {
                         return a.file == b.file ? a.offset > b.offset : a.file < b.file;
                     });
}

Handler *Planner::shaped()
{
    Handler *h = move_.edit.after.handler(q_.handler);
    h->shape = q_.shape;
    h->batches = false;
    h->queue.clear();
    return h;
}

Outcome Planner::compiles(const CodeUnit &unit, const QString &what)
{
    for (const CodeMessage &m : unit.messages)
        if (m.error)
            return Problem{what + ": " + m.text, m.file.section('/', -1), "Fix it first", m.line};
    return Done{};
}

// Whoever calls it as a function, or sets it off and goes on at once, would find what it leaves not there
// yet.
void Planner::beside(const CodeUnit &unit, const Effects &effects, const CodeFunction &f,
                     const OtherCode &other)
{
    QSet<QString> set;
    for (const Effect &e : effects.of(f.body))
        if (const CodeDecl *d = unit.decl(e.decl);
            d && (e.kind == Effect::WritesWidget || e.kind == Effect::WritesShared))
            set.insert(d->name);
    for (const Elsewhere &e : other.calls() + other.readsAtOnce(set))
        if (!(e.file == handler_.file && q_.trusted.contains(e.line)))
            move_.refused.append({e.file, e.line, e.reason, -1});
    for (const Effect &e : effects.of(f.body))
        if (q_.trusted.contains(lineAt(text_, std::max(e.at, 0))))
            answered_.insert(e.what);
}

// As little as possible is left to the work alone.
Result<Move> Planner::cut(const CodeUnit &unit, const CodeFunction &f, const Definition &d)
{
    const Effects effects(unit, {}, class_);
    const bool steps = q_.shape == Shape::Steps;
    const Surroundings around = surroundings(unit, f);
    const OtherCode elsewhere(q_.project, files_, q_.place.folder, handler_, class_);
    beside(unit, effects, f, elsewhere);
    if (const auto p = steps ? pauseIn(effects, f, text_) : std::nullopt)
        return pause(unit, effects, f, d, *p);
    const QSet<QString> restless = elsewhere.restless();
    CutQuestion question{unit,          effects,      f,     text_,          q_.trusted,
                         around.shared, around.heard, steps, around.callers, q_.again};
    question.restless = restless;
    const Cut plain = steps ? cutForSteps(question) : cutForBackground(question);
    const bool queueMates = !this->queueMates().isEmpty();
    if (!steps)
        offer(question, plain, around);
    if (steps || q_.again == "together" || (plain.refused.isEmpty() && !queueMates))
        return written(question, plain, d);
    const Owned own = ownedIn(unit, f, around);
    const Effects held(unit, own.pointers, class_);
    const std::pair<QSet<int>, QSet<int>> ways[] = {
        {own.must, own.must}, {own.may, own.must}, {own.may, own.may}};
    for (const auto &[owned, exclusive] : ways) {
        CutQuestion other{unit,          held,         f,     text_,          q_.trusted,
                          around.shared, around.heard, steps, around.callers, q_.again};
        other.owned = owned;
        other.exclusive = exclusive;
        other.restless = restless;
        const Cut cut = cutForBackground(other);
        if (cut.refused.isEmpty() && !owned.isEmpty()) {
            move_.offers.removeIf([](const MoveOffer &o) { return o.helps; });
            return written(other, cut, d);
        }
        if (queueMates && &owned == &std::end(ways)[-1].first)
            return written(other, cut, d);
    }
    return written(question, plain, d);
}

Result<Move> Planner::written(const CutQuestion &question, const Cut &cut, const Definition &d)
{
    move_.oldText = text_.mid(d.begin, d.bodyClose + 1 - d.begin);
    describe(cut);
    for (const Refusal &r : cut.refused) {
        const int line = lineAt(text_, std::max(r.at, 0));
        move_.refused.append({handler_.file, line, r.reason, line - lineAt(text_, d.begin)});
    }
    if (!move_.refused.isEmpty())
        return move_;
    const Rewritten made = question.steps ? rewriteForSteps(question, cut, handler_.name, int(d.begin))
                                          : rewriteForBackground(question, cut, handler_.name, int(d.begin));
    move_.newText = made.functions;
    move_.headerText = made.structs.trimmed();
    move_.edit.files.append({handler_.file, d.begin, move_.oldText, made.functions});
    if (auto ok = header(made); !ok)
        return ok.problem();
    const QString headerFile = q_.project.windowFor(handler_).file + ".h";
    const auto headerText = files_.text(headerFile);
    if (!headerText)
        return headerText.problem();
    const auto helpers = freeHelpers(
        {question.unit, question.effects, cut, class_, handler_.file, headerFile, text_, *headerText});
    if (!helpers)
        return refusedFor(helpers.problem());
    move_.edit.files.first().inserted.prepend(helpers->functions);
    move_.edit.files << helpers->edits;
    move_.sentences << helpers->sentences;
    for (const Handed &h : cut.input)
        if (h.asked) {
            owned_.insert(h.name);
            if (!madeAtomic(h.name, headerFile, *headerText))
                return refusedFor({h.name + " is not declared alone, as in bool " + h.name +
                                       " = false;, so it cannot become a std::atomic<bool>",
                                   headerFile,
                                   {},
                                   0});
        } else if (h.owned) {
            owned_.insert(h.name);
            move_.sentences << h.name +
                                   (queueMates().isEmpty() ? " is not used by other code"
                                                           : " is not used outside the queue") +
                                   ", so the work owns it.";
        }
    wire(cut, made);
    order();
    return verified();
}

// bool stop_ = false; → std::atomic<bool> stop_{false};
bool Planner::madeAtomic(const QString &name, const QString &file, const QString &text)
{
    const QRegularExpression form("\\bbool\\s+" + name + "\\s*(?:=\\s*(\\w+)|\\{\\s*(\\w*)\\s*\\})?\\s*;");
    const auto m = form.match(codeOnly(text));
    if (!m.hasMatch())
        return false;
    const QString value = m.captured(1) + m.captured(2);
    move_.edit.files.append({file, m.capturedStart(), text.mid(m.capturedStart(), m.capturedLength()),
                             "std::atomic<bool> " + name + '{' + (value.isEmpty() ? "false" : value) + "};"});
    return true;
}

Result<Move> Planner::refusedFor(const Problem &why)
{
    move_.refused.append({why.where.isEmpty() ? handler_.file : why.where, why.line, why.what});
    move_.edit.files.clear();
    move_.edit.after = q_.project;
    return move_;
}

// What came out is read like any other code.
// `function`: what is looked at in what comes out; empty: the work.
Result<Move> Planner::verified(const QString &function)
{
    UserFiles after = files_;
    for (FileEdit e : std::as_const(move_.edit.files))
        if (auto ok = after.apply(e); !ok)
            return ok.problem();
    const bool steps = q_.shape == Shape::Steps;
    const bool whole = q_.shape == Shape::OneGo;
    const QString work = !function.isEmpty() ? function
                         : whole             ? class_ + "::" + handler_.name
                         : steps             ? class_ + "::" + functionName(handler_.name, Part::Step)
                                             : functionName(handler_.name, Part::Work);
    auto unit = read(move_.edit.after, after, work);
    if (!unit)
        return unit.problem();
    for (const CodeMessage &m : unit->messages)
        if (m.error)
            return refusedFor(
                {QStringLiteral("the moved code would not compile: %1").arg(m.text), {}, {}, lineInOld()});
    const CodeFunction *f = unit->function(work);
    if (!f)
        return refusedFor({"the moved code cannot be read", {}, {}, lineInOld()});
    if (steps || whole)
        return move_;
    const Effects effects(*unit, ownPointersIn(*unit, owned_), class_);
    for (const Effect &e : effects.of(f->body)) {
        const CodeDecl *d = unit->decl(e.decl);
        const bool state =
            q_.again != "together" && (e.kind == Effect::ReadsShared || e.kind == Effect::WritesShared) &&
            d &&
            (d->kind == CodeDecl::Static || (d->kind == CodeDecl::Global && e.kind == Effect::ReadsShared));
        if (!state && !answered_.contains(e.what))
            return refusedFor(
                {e.what + (e.through.isEmpty() ? "" : " in " + e.through) + ", on the other thread",
                 {},
                 {},
                 lineInOld()});
    }
    return move_;
}

int Planner::lineInOld() const
{
    const auto d = definitionOf(text_, class_, handler_.name);
    return d ? d->line : 0;
}

Result<Move> planMove(const MoveQuestion &question, const std::atomic<bool> &cancel)
{
    const Handler *h = question.project.handler(question.handler);
    if (h && h->shape == Shape::Background && question.shape == h->shape && question.asksForPacing() &&
        question.with.isEmpty())
        return planPacing(question, cancel);
    if (!question.with.isEmpty())
        return planQueue(question, cancel);
    return Planner(question, cancel).plan();
}

} // namespace pipit
