// Verbs that connect, and that change how handlers run.
#include "cli/project_words.h"

#include "core/moves/move.h"
#include "core/project/sentence.h"

namespace pipit::cli
{

namespace
{

Result<ConnectRequest> connectRequest(const Words &words)
{
    if (words.b.empty()) // a whole sentence
        return parseSentence(q(words.a));
    if (words.c.empty())
        return Problem{
            "The target is missing", {}, "Name a handler, or write the connection as one sentence"};
    auto pacing = Pacing::parse(q(words.pacing));
    if (!pacing)
        return pacing.problem();
    ConnectRequest r{q(words.a), q(words.b), q(words.when), q(words.c), *pacing};
    r.opens = words.opens;
    r.after = words.after;
    r.convert = q(words.as);
    r.drop = q(words.accepting);
    r.scope = words.scope == "window"        ? Connection::Scope::Window
              : words.scope == "application" ? Connection::Scope::Application
                                             : Connection::Scope::Widget;
    return r;
}

int connectVerb(const Words &words)
{
    auto request = connectRequest(words);
    if (!request)
        return fail(request.problem());
    return edit(words.project, [&](Workspace &w) -> Outcome {
        auto done = w.connect(*request);
        if (!done)
            return done.problem();
        for (const QString &id : done->connections)
            print(id + ": " + sentenceFor(*w.project().connection(id)) + '.');
        if (done->stubAdded)
            print("Its stub is at the end of " + w.project().handler(done->handler)->file + '.');
        if (done->matches.size() > 1)
            print(QStringLiteral("%1 sources: %2.").arg(done->matches.size()).arg(done->matches.join(", ")));
        if (!done->leftovers.isEmpty())
            print(
                QStringLiteral("Left over, without %1: %2.").arg(request->what, done->leftovers.join(", ")));
        for (const QString &note : done->notes)
            print("Note: " + note);
        return Done{};
    });
}

int shape(const Words &words)
{
    const QString word = q(words.b);
    const Shape to = word == "background" ? Shape::Background : word == "steps" ? Shape::Steps : Shape::OneGo;
    return edit(words.project, [&](Workspace &w) -> Outcome {
        auto move = planMove(w, w.files(), q(words.a), to);
        if (!move)
            return move.problem();
        for (const QString &s : move->sentences)
            print(s);
        return w.apply(move->edit);
    });
}

} // namespace

void addWiringVerbs(Registry &r)
{
    auto w = words();
    auto *sub =
        verb(r, "connect", "Connect a signal or an event to a handler, slot or window", w, connectVerb);
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("SOURCE", w->a, "A name, a selector, or the whole sentence")->required();
    sub->add_option("SIGNAL", w->b, "A signal, as in clicked, or an event, as in 'key press'");
    sub->add_option("TARGET", w->c, "A handler, new or existing, object.slot, or name_* with a selector");
    sub->add_option("--pacing", w->pacing, "'next turn', 'after a pause of 300 ms', 'at most every 100 ms'");
    sub->add_option("--when", w->when, "A condition, as in 'key Return' or 'text not empty'");
    sub->add_option("--as", w->as, "A conversion, as in 'number else skip'");
    sub->add_option("--accepting", w->accepting, "What a drop accepts: copy, move, copy or move");
    sub->add_option("--scope", w->scope, "Keys of the whole window or application")
        ->check(CLI::IsMember({"widget", "window", "application"}));
    sub->add_flag("--after", w->after, "After the widget's own handling of the event");
    sub->add_flag("--opens", w->opens, "The target is a window to open");

    w = words();
    sub = verb(r, "switch", "Switch a connection on or off", w, [](const Words &x) {
        return edit(x.project, [&](Workspace &ws) { return ws.setEnabled(q(x.a), x.b == "on"); });
    });
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("ID", w->a)->required();
    sub->add_option("STATE", w->b)->required()->check(CLI::IsMember({"on", "off"}));

    w = words();
    sub = verb(r, "order", "Move a connection before another", w, [](const Words &x) {
        return edit(x.project, [&](Workspace &ws) { return ws.moveConnection(q(x.a), q(x.b)); });
    });
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("ID", w->a)->required();
    sub->add_option("BEFORE", w->b, "Another id; the last if left out");

    w = words();
    sub = verb(r, "disconnect", "Remove a connection", w, [](const Words &x) {
        return edit(x.project, [&](Workspace &ws) { return ws.disconnect(q(x.a)); });
    });
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("ID", w->a, "As 'pipit show' prints it")->required();

    w = words();
    sub = verb(r, "shape", "Change how a handler runs", w, shape);
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("HANDLER", w->a)->required();
    sub->add_option("SHAPE", w->b)->required()->check(CLI::IsMember({"one-go", "steps", "background"}));
}

} // namespace pipit::cli
