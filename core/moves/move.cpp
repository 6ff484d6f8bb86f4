#include "core/moves/move.h"

#include "core/build/project_code.h"
#include "core/codegen/stubs.h"
#include "core/moves/back.h"
#include "core/moves/helpers.h"
#include "core/moves/neighbours.h"
#include "core/moves/pause.h"
#include "core/moves/rewrite.h"
#include "core/moves/surroundings.h"
#include "core/userfiles/cpp_scan.h"

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

namespace
{

class Planner
{
public:
    Planner(const MoveQuestion &question, const std::atomic<bool> &cancel)
        : q_(question), files_(question.files), code_(cancel)
    {
    }

    Result<Move> plan()
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
            return Problem{"The code of " + handler_.name + " does not compile as it stands: it has no end",
                           handler_.file, "Mend it first",
                           lineAt(text_, text_.indexOf(class_ + "::" + handler_.name))};
        if (!d || isStub(*d))
            return fresh(d);
        if (auto ok = code_.lay(q_.place, q_.project, files_); !ok)
            return ok.problem();
        const QString qualified = class_ + "::" + handler_.name;
        auto unit = code_.read(handler_.file, {qualified});
        if (!unit)
            return unit.problem();
        if (auto ok = compiles(*unit, "Its file does not compile as it stands"); !ok)
            return ok.problem();
        const CodeFunction *f = unit->function(qualified);
        if (!f)
            return Problem{q_.handler + " was not found in its file by who reads code", handler_.file,
                           "Look whether it stands behind an #if"};
        return cut(*unit, *f, *d);
    }

private:
    Outcome look()
    {
        const Handler *h = q_.project.handler(q_.handler);
        if (!h) {
            QStringList all;
            for (const Handler &each : q_.project.handlers)
                all << each.name;
            const QString near = nearestName(q_.handler, all);
            return Problem{QStringLiteral("There is no handler '%1'").arg(q_.handler.left(60)),
                           {},
                           near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
        }
        handler_ = *h;
        if (h->shape == q_.shape)
            return Problem{
                QStringLiteral("%1 already runs %2").arg(h->name, shapeSentence(q_.shape)), {}, {}};
        if (h->shape != Shape::OneGo && q_.shape != Shape::OneGo)
            return Problem{QStringLiteral("%1 runs %2").arg(h->name, shapeSentence(h->shape)),
                           {},
                           "Let it run in one go first"};
        if (h->kind == HandlerKind::Event)
            return Problem{QStringLiteral("%1 answers whether it handled its event, so it must run in one go")
                               .arg(h->name),
                           {},
                           "Let it start another handler's work"};
        class_ = q_.project.windowFor(*h).className;
        auto text = files_.text(h->file);
        if (!text)
            return text.problem();
        text_ = *text;
        return Done{};
    }

    // Nothing in it but what Pipit wrote.
    bool isStub(const Definition &d) const
    {
        QString body = codeOnly(text_.mid(d.bodyOpen + 1, d.bodyClose - d.bodyOpen - 1));
        body.remove(QRegularExpression("Q_UNUSED\\(\\w+\\)"));
        return body.remove(';').trimmed().isEmpty();
    }

    Result<Move> fresh(const std::optional<Definition> &d)
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
        move_.sentences << "It does nothing so far; these are the functions to fill.";
        return move_;
    }

    // One function again; what was made for the parts goes.
    Result<Move> back()
    {
        Project &p = move_.edit.after;
        const QString job = jobName(handler_);
        p.connections.removeIf([&](const Connection &c) { return c.from == job || c.to == job; });
        shaped();
        const auto header = files_.text(q_.project.windowFor(handler_).file + ".h");
        if (!header)
            return header.problem();
        const PutBack made = putBack(handler_, text_, class_, *header);
        if (!made.what.isEmpty())
            return refusedFor({made.what, {}, {}, made.line});
        QList<Definition> old;
        for (const HandlerFunction &f : handler_.functions())
            if (const auto d = definitionOf(text_, f.isFree() ? QString() : class_, f.name))
                old << *d;
        move_.newText = text_.mid(old[0].begin, old[0].headBegin - old[0].begin) + made.function;
        for (const Definition &d : old) {
            const QString whole = text_.mid(d.begin, d.bodyClose + 1 - d.begin);
            move_.oldText += (move_.oldText.isEmpty() ? "" : "\n\n") + whole;
            const bool first = &d == &old.first();
            // The empty line before it goes along.
            const qsizetype at = first ? d.begin : std::max<qsizetype>(0, d.begin - 2);
            const QString gap = first || text_.mid(at, 2) != "\n\n" ? QString() : QString("\n\n");
            move_.edit.files.append(
                {handler_.file, d.begin - gap.size(), gap + whole, first ? move_.newText : QString()});
        }
        if (auto ok = structsGone(); !ok)
            return ok.problem();
        order();
        move_.sentences << "One function again, on the loop.";
        return verified();
    }

    Outcome structsGone()
    {
        const QString file = q_.project.windowFor(handler_).file + ".h";
        auto text = files_.text(file);
        if (!text)
            return text.problem();
        for (const QString &type : handler_.ownTypes()) {
            const QRegularExpression form(
                "^// What \\w+ (?:works on|comes to|keeps from one step to the next)\\.\\nstruct " + type +
                    " \\{\\n(?:[^}]*\\n)?\\};\\n\\n?",
                QRegularExpression::MultilineOption);
            if (const auto m = form.match(*text); m.hasMatch())
                move_.edit.files.append({file, m.capturedStart(), m.captured(), {}});
        }
        return Done{};
    }

    // Later places first, so that the offsets hold.
    void order()
    {
        std::stable_sort(move_.edit.files.begin(), move_.edit.files.end(),
                         [](const FileEdit &a, const FileEdit &b) {
                             return a.file == b.file ? a.offset > b.offset : a.file < b.file;
                         });
    }

    Handler *shaped()
    {
        Handler *h = move_.edit.after.handler(q_.handler);
        h->shape = q_.shape;
        h->batches = false;
        return h;
    }

    static Outcome compiles(const CodeUnit &unit, const QString &what)
    {
        for (const CodeMessage &m : unit.messages)
            if (m.error)
                return Problem{what + ": " + m.text, m.file.section('/', -1), "Mend it first", m.line};
        return Done{};
    }

    Surroundings surroundings(const CodeUnit &unit, const CodeFunction &f)
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
        for (const QString &file : std::as_const(others))
            if (const auto text = files_.text(file))
                codes << codeOnly(*text);
        return surroundingsOf(unit, unit.decls[f.decl].qualified, codes, heard);
    }

    Result<Move> cut(const CodeUnit &unit, const CodeFunction &f, const Definition &d)
    {
        const Effects effects(unit);
        const bool steps = q_.shape == Shape::Steps;
        if (const auto p = steps ? pauseIn(effects, f, text_) : std::nullopt)
            return pause(unit, effects, f, d, *p);
        const Surroundings around = surroundings(unit, f);
        const CutQuestion question{unit,          effects,      f,     text_,          q_.trusted,
                                   around.shared, around.heard, steps, around.callers, q_.again};
        const Cut cut = steps ? cutForSteps(question) : cutForBackground(question);
        move_.oldText = text_.mid(d.begin, d.bodyClose + 1 - d.begin);
        describe(cut);
        for (const Refusal &r : cut.refused)
            move_.refused.append({handler_.file, lineAt(text_, std::max(r.at, 0)), r.reason});
        if (!move_.refused.isEmpty())
            return move_;
        const Rewritten made = steps ? rewriteForSteps(question, cut, handler_.name, int(d.begin))
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
        const auto helpers =
            freeHelpers({unit, effects, cut, class_, handler_.file, headerFile, text_, *headerText});
        if (!helpers)
            return refusedFor(helpers.problem());
        move_.edit.files.first().inserted.prepend(helpers->functions);
        move_.edit.files << helpers->edits;
        move_.sentences << helpers->sentences;
        wire(cut, made);
        order();
        return verified();
    }

    // Parted at a sleep: what follows it becomes a handler of a timer that is started in its place.
    Result<Move> pause(const CodeUnit &unit, const Effects &effects, const CodeFunction &f,
                       const Definition &d, const Pause &p)
    {
        for (const CodeNode &s : f.body.children) {
            // While it slept nothing could change; during a pause all can.
            for (const Effect &e : s.begin > p.sleep->begin ? effects.of(s) : QList<Effect>())
                if (e.kind != Effect::WritesWidget && !q_.trusted.contains(lineAt(text_, e.at)))
                    move_.refused.append({handler_.file, lineAt(text_, e.at),
                                          e.what + " after the pause, when it may have changed"});
            const Stage stage = s.begin > p.sleep->begin   ? Stage::Show
                                : s.begin < p.sleep->begin ? Stage::Take
                                                           : Stage::Work;
            const QString text = text_.mid(s.begin, s.end - s.begin).section('\n', 0, 0).trimmed();
            move_.lines.append({lineAt(text_, s.begin), text, stage, {}, {}});
        }
        for (const int decl : p.usedLater)
            if (const CodeDecl *v = unit.decl(decl))
                move_.refused.append(
                    {handler_.file, lineAt(text_, p.sleep->begin),
                     v->name + " is made before the pause and used after it: keep it in a member"});
        if (!move_.refused.isEmpty())
            return move_;
        const PausedHandler made = partAtPause(p, q_.project, handler_, class_, text_, d);
        move_.edit.after = made.after;
        move_.oldText = text_.mid(d.begin, d.bodyClose + 1 - d.begin);
        move_.newText = made.text;
        move_.sentences = made.sentences;
        move_.edit.files.append({handler_.file, d.begin, move_.oldText, move_.newText});
        return verified(class_ + "::" + handler_.name);
    }

    Result<Move> refusedFor(const Problem &why)
    {
        move_.refused.append({why.where.isEmpty() ? handler_.file : why.where, why.line, why.what});
        move_.edit.files.clear();
        move_.edit.after = q_.project;
        return move_;
    }

    // The structs stand before the class, with the headers that they need.
    Outcome header(const Rewritten &made)
    {
        if (made.structs.isEmpty())
            return Done{};
        const QString file = q_.project.windowFor(handler_).file + ".h";
        auto text = files_.text(file);
        if (!text)
            return text.problem();
        static const QRegularExpression comment("(?:^[ \\t]*//[^\\n]*\\n)+\\z",
                                                QRegularExpression::MultilineOption);
        const QRegularExpression head("^class\\s+" + class_ + "\\b[^;]*?\\{",
                                      QRegularExpression::MultilineOption);
        const auto m = head.match(*text);
        if (!m.hasMatch())
            return Problem{"The class " + class_ + " was not found in its header", file,
                           "Keep its declaration in " + file};
        qsizetype at = m.capturedStart();
        if (const auto above = comment.match(text->left(at)); above.hasMatch())
            at = above.capturedStart();
        move_.edit.files.append({file, at, {}, made.structs.trimmed() + "\n\n"});
        QStringList missing;
        for (const QString &each : made.includes) {
            const QRegularExpression there("#include\\s*[<\"](?:\\w+/)?" + each + "(?:\\.h)?[>\"]");
            if (!text->contains(there) && !missing.contains(each))
                missing << each;
        }
        missing.sort();
        QString lines;
        for (const QString &each : std::as_const(missing))
            lines += "#include <" + each + ">\n";
        static const QRegularExpression last("(?:#include[^\\n]*\\n)(?!(?:[\\s\\S]*?)#include[^\\n]*\\n)");
        // After the includes at its top, before the class.
        const qsizetype include = text->left(at).lastIndexOf("#include");
        const qsizetype end = include < 0 ? -1 : text->indexOf('\n', include);
        if (!lines.isEmpty() && end >= 0)
            move_.edit.files.append({file, end + 1, {}, '\n' + lines});
        return Done{};
    }

    void wire(const Cut &cut, const Rewritten &made)
    {
        Project &p = move_.edit.after;
        Handler *h = shaped();
        h->input = made.input;
        h->state = made.state;
        h->result = made.result;
        h->declines = cut.declines;
        h->batches = made.batches;
        h->again = !q_.again.isEmpty() ? q_.again : cut.takesInTurn ? "turn" : "queue";
        const QString job = jobName(*h);
        const auto connect = [&](const QString &from, const QString &signal, const QString &to,
                                 const QString &slot) {
            Connection c;
            c.id = p.newId("c");
            c.from = from;
            c.signal = signal;
            c.targetKind = Connection::Target::Slot;
            c.to = to;
            c.toMember = slot;
            p.connections.append(c);
        };
        for (const QString &bar : made.bars)
            if (p.widget(bar)) {
                connect(job, "progressValueChanged", bar, "setValue");
                move_.sentences << bar + " shows how far it is, while it works.";
            }
        for (const QString &label : made.labels)
            if (p.widget(label)) {
                connect(job, "progressTextChanged", label, "setText");
                move_.sentences << label + " says how far it is, while it works.";
            }
        if (!q_.cancelButton.isEmpty()) {
            connect(q_.cancelButton, "clicked", job, q_.shape == Shape::Steps ? "stop" : "cancel");
            move_.sentences << q_.cancelButton + " cancels it.";
        }
        move_.sentences
            << (h->again == "turn"
                    ? "Triggered again while it works, it waits: nothing is lost, and order is kept. What it "
                      "reads then is read when its turn comes, since its last run shows it."
                : h->again == "queue"
                    ? "Triggered again while it works, it reads the widgets then and works when its turn "
                      "comes: nothing is lost, and order is kept."
                : h->again == "ignore" ? "Triggered again while it works, it does nothing."
                                       : "Triggered again while it works, it begins anew.");
    }

    // What came out is read like any other code.
    // `function`: what is looked at in what comes out; empty: the work.
    Result<Move> verified(const QString &function = {})
    {
        UserFiles after = files_;
        for (FileEdit e : std::as_const(move_.edit.files))
            if (auto ok = after.apply(e); !ok)
                return ok.problem();
        if (auto ok = code_.lay(q_.place, move_.edit.after, after); !ok)
            return ok.problem();
        const bool steps = q_.shape == Shape::Steps;
        const bool whole = q_.shape == Shape::OneGo;
        const QString work = !function.isEmpty() ? function
                             : whole             ? class_ + "::" + handler_.name
                             : steps             ? class_ + "::" + functionName(handler_.name, Part::Step)
                                                 : functionName(handler_.name, Part::Work);
        auto unit = code_.read(handler_.file, {work});
        if (!unit)
            return unit.problem();
        for (const CodeMessage &m : unit->messages)
            if (m.error)
                return refusedFor({QStringLiteral("what would come out does not compile: %1").arg(m.text),
                                   {},
                                   {},
                                   lineInOld()});
        const CodeFunction *f = unit->function(work);
        if (!f)
            return refusedFor({"what would come out cannot be read", {}, {}, lineInOld()});
        if (steps || whole)
            return move_;
        const Effects effects(*unit);
        for (const Effect &e : effects.of(f->body)) {
            const CodeDecl *d = unit->decl(e.decl);
            const bool state = (e.kind == Effect::ReadsShared || e.kind == Effect::WritesShared) && d &&
                               (d->kind == CodeDecl::Static ||
                                (d->kind == CodeDecl::Global && e.kind == Effect::ReadsShared));
            if (!state && q_.trusted.isEmpty())
                return refusedFor(
                    {e.what + (e.through.isEmpty() ? "" : " in " + e.through) + ", on the other thread",
                     {},
                     {},
                     lineInOld()});
        }
        return move_;
    }

    int lineInOld() const
    {
        const auto d = definitionOf(text_, class_, handler_.name);
        return d ? d->line : 0;
    }

    void describe(const Cut &cut)
    {
        int counts[3] = {};
        for (const PlacedStatement &s : cut.statements) {
            const bool steps = q_.shape == Shape::Steps;
            const Part parts[] = {steps ? Part::Begin : Part::Take, steps ? Part::Step : Part::Work,
                                  steps ? Part::End : Part::Show};
            MovedLine m;
            m.line = lineAt(text_, s.node->begin);
            m.text = text_.mid(s.node->begin, s.node->end - s.node->begin).section('\n', 0, 0).trimmed();
            m.place = s.place;
            m.goesTo = functionName(handler_.name, parts[int(s.place)]);
            m.reason = s.reason;
            ++counts[int(s.place)];
            move_.lines << m;
        }
        if (!cut.refused.isEmpty())
            return;
        const auto say = [&](int n, const char *one, const char *many) {
            if (n > 0)
                move_.sentences << QStringLiteral("%1 %2").arg(n).arg(n == 1 ? one : many);
        };
        if (q_.shape == Shape::Steps) {
            say(counts[0], "statement begins it.", "statements begin it.");
            move_.sentences
                << "The loop goes on round by round, for 8 ms at a time, and other events come in between.";
            say(counts[2], "statement ends it.", "statements end it.");
            move_.sentences += cut.notes;
            return;
        }
        say(counts[0], "statement reads or sets widgets before the work, on the loop.",
            "statements read or set widgets before the work, on the loop.");
        say(counts[1], "statement is the work, on a thread.", "statements are the work, on a thread.");
        say(counts[2], "statement shows what came of it, on the loop.",
            "statements show what came of it, on the loop.");
        for (const Deferred &d : cut.deferred)
            if (!(d.list && cut.batches))
                move_.sentences << QStringLiteral("%1 is %2 when the result is shown.")
                                       .arg(d.widget, d.list ? "added to" : "set");
        move_.sentences += cut.notes + alsoAddedTo(cut, text_, class_, handler_.name);
    }

    const MoveQuestion &q_;
    UserFiles files_;
    ProjectCode code_;
    Handler handler_;
    QString class_, text_;
    Move move_;
};

} // namespace

Result<Move> planMove(const MoveQuestion &question, const std::atomic<bool> &cancel)
{
    return Planner(question, cancel).plan();
}

} // namespace pipit
