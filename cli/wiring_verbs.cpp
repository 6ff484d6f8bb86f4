// Verbs that connect, and that change how handlers run.
#include "cli/editing.h"

#include "core/sentences/sentence.h"

namespace pipit::cli
{

namespace
{

struct Connect {
    QString project, source, what, target, pacing, when, convert, accepting, scope;
    bool after = false, opens = false;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("SOURCE", source, Words::Needed, "A name, a selector, or the whole sentence");
        words.word("SIGNAL", what, Words::MayBeLeftOut,
                   "A signal, such as clicked, or an event, such as 'key press'");
        words.word("TARGET", target, Words::MayBeLeftOut,
                   "A handler, new or existing, object.slot, or name_* with a selector");
        words.word("--pacing", pacing, Words::MayBeLeftOut,
                   "'next turn', 'after a pause of 300 ms', 'at most every 100 ms'");
        words.word("--when", when, Words::MayBeLeftOut,
                   "A condition, such as 'key Return' or 'text not empty'");
        words.word("--as", convert, Words::MayBeLeftOut, "A conversion, such as 'number else skip'");
        words.word("--accepting", accepting, Words::MayBeLeftOut,
                   "What a drop accepts: copy, move, copy or move");
        words.oneOf("--scope", scope, Words::MayBeLeftOut, {"widget", "window", "application"},
                    "Where keys are received: in the whole window or application");
        words.flag("--after", after, "Call the handler after the widget's own handling");
        words.flag("--opens", opens, "The target is a window to open");
    }
    Result<ConnectRequest> request() const;
    int run() const;
};

Result<ConnectRequest> Connect::request() const
{
    if (what.isEmpty()) // a whole sentence
        return parseSentence(source);
    if (target.isEmpty())
        return Problem{"The target is missing", {}, "Name a handler, or write one sentence"};
    auto paced = Pacing::parse(pacing);
    if (!paced)
        return paced.problem();
    ConnectRequest r{source, what, when, target, *paced};
    r.opens = opens;
    r.after = after;
    r.convert = convert;
    r.drop = accepting;
    r.scope = scope == "window"        ? Connection::Scope::Window
              : scope == "application" ? Connection::Scope::Application
                                       : Connection::Scope::Widget;
    return r;
}

int Connect::run() const
{
    auto made = request();
    if (!made)
        return fail(made.problem());
    return edit(project, [&](Workspace &w) -> Outcome {
        auto done = w.connect(*made);
        if (!done)
            return done.problem();
        for (const QString &id : done->connections)
            print(id + ": " + sentenceFor(*w.project().connection(id)) + '.');
        if (done->stubAdded)
            print((done->connections.size() > 1 ? "Their stubs are at the end of "
                                                : "Its stub is at the end of ") +
                  w.project().handler(done->handler)->file + '.');
        if (done->matches.size() > 1)
            print(QStringLiteral("%1 sources: %2.").arg(done->matches.size()).arg(done->matches.join(", ")));
        if (!done->leftovers.isEmpty())
            print(QStringLiteral("Not connected, because they have no %1: %2.")
                      .arg(made->what, done->leftovers.join(", ")));
        for (const QString &note : done->notes)
            print("Note: " + note);
        return Done{};
    });
}

struct Switch {
    QString project, id, state;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("ID", id, Words::Needed);
        words.oneOf("STATE", state, Words::Needed, {"on", "off"});
    }
    int run() const;
};

int Switch::run() const
{
    return edit(project, [&](Workspace &w) { return w.setEnabled(id, state == "on"); });
}

struct Order {
    QString project, id, before;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("ID", id, Words::Needed);
        words.word("BEFORE", before, Words::MayBeLeftOut,
                   "The connection to move it before; the default is the end");
    }
    int run() const;
};

int Order::run() const
{
    return edit(project, [&](Workspace &w) { return w.moveConnection(id, before); });
}

struct Disconnect {
    QString project, id;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("ID", id, Words::Needed, "The id that 'pipit show' prints");
    }
    int run() const;
};

int Disconnect::run() const
{
    return edit(project, [&](Workspace &w) -> Outcome {
        const Connection *c = w.project().connection(id);
        const QString gone = c ? sentenceFor(*c) : QString();
        if (auto ok = w.disconnect(id); !ok)
            return ok;
        print(QStringLiteral("Removed %1: %2.").arg(id, gone));
        return Done{};
    });
}

} // namespace

void addWiringVerbs(Registry &r)
{
    r.add<Connect>("connect", "Connect a signal or an event to a handler, slot or window",
                   "pipit connect harbour-tickets 'buyButton.clicked calls buy'");
    r.add<Switch>("switch", "Switch a connection on or off", "pipit switch harbour-tickets c12 off");
    r.add<Order>("order", "Move a connection before another", "pipit order harbour-tickets c12 c10");
    r.add<Disconnect>("disconnect", "Remove a connection", "pipit disconnect harbour-tickets c12");
}

} // namespace pipit::cli
