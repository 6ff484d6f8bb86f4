// Verbs that compose: add, set, rename, move, remove.
#include "cli/editing.h"

#include "core/build/word_meanings.h"
#include "core/edits/rename.h"
#include "core/findings/names.h"
#include "core/sentences/sentence.h"

namespace pipit::cli
{

namespace
{

Result<std::pair<QString, QString>> assignment(const QString &text)
{
    if (!text.contains('='))
        return Problem{"'" + text + "' is not a property", {}, "Write name=value, such as text=Buy" + text};
    // Escapes as in the lines of the window: \n is a break, \\ a backslash.
    const QString written = text.section('=', 1);
    QString value = "";
    for (qsizetype i = 0; i < written.size(); ++i) {
        const QChar next = i + 1 < written.size() ? written[i + 1] : QChar();
        const bool escape = written[i] == '\\' && (next == 'n' || next == '\\');
        value += escape ? next == 'n' ? QChar('\n') : QChar('\\') : written[i];
        i += escape;
    }
    return std::pair{text.section('=', 0, 0), value};
}

struct Add {
    QString project, parent, className, name, base, header;
    QStringList properties;
    bool thread = false;

    Result<AddRequest> request() const;
    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word(
            "PARENT", parent, Words::Needed,
            "The parent, . for the window; or the whole sentence, such as 'button go \"Go\" in keypad'");
        words.word("CLASS", className, Words::MayBeLeftOut, "A class or a plain word, such as button");
        words.word("NAME", name, Words::MayBeLeftOut, "A name, or several, such as key_{0..9}");
        words.list("PROPERTY", properties, Words::MayBeLeftOut,
                   "name=value; {} is replaced as in the name's braces");
        words.word("--like", base, Words::MayBeLeftOut,
                   "The base class of your own class, if its header does not show it");
        words.word("--from", header, Words::MayBeLeftOut, "The header of your own class");
        words.flag("--thread", thread, "Let the object live on its own thread");
    }
    int run() const;
};

// A whole sentence, as the window's line takes it, or its parts as words.
Result<AddRequest> Add::request() const
{
    if (className.isEmpty()) {
        auto said = parseAddLine(parent);
        if (said && !header.isEmpty())
            return Problem{"--from does not go with a sentence", {}, "Write 'from HEADER' in the sentence"};
        return said;
    }
    if (name.isEmpty())
        return Problem{"The name is missing", {}, "Write PARENT CLASS NAME, or one sentence"};
    AddRequest r;
    r.words = className;
    r.name = name;
    r.base = base;
    r.header = header;
    r.thread = thread;
    if (header.isEmpty() && (thread || !base.isEmpty()))
        return Problem{"--like and --thread are for your own classes", {}, "Name its header with --from"};
    for (const QString &one : properties) {
        auto pair = assignment(one);
        if (!pair)
            return pair.problem();
        r.properties.append(*pair);
    }
    r.parent = parent;
    return r;
}

int Add::run() const
{
    const auto wanted = request();
    if (!wanted)
        return fail(wanted.problem());
    return edit(project, [&](Workspace &w) -> Outcome {
        if (!wanted->header.isEmpty()) // its properties can be set with it
            w.takeOwnClasses(readOwnClasses(w.place(), w.project(), wanted->header));
        auto made = w.add(*wanted, wanted->parent.isEmpty() ? QString(".") : wanted->parent);
        if (!made)
            return made.problem();
        print(made->size() > 1 ? QStringLiteral("Added %1: %2.").arg(made->size()).arg(made->join(", "))
                               : "Added " + made->value(0) + '.');
        for (const QString &n : *made)
            if (hidesMember(n, w.project().windows.first().root.className))
                print("Note: " + n + " hides a function of the window's class.");
        return Done{};
    });
}

struct Set {
    QString project, subject;
    QStringList properties;
    bool reset = false;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("NAME", subject, Words::Needed, "A name or a selector, such as '#key_*'");
        words.list("PROPERTY", properties, Words::Needed, "name=value");
        words.flag("--reset", reset, "Reset to the default; write name=");
    }
    int run() const;
};

int Set::run() const
{
    return edit(project, [&](Workspace &w) -> Outcome {
        for (const QString &one : properties) {
            auto pair = assignment(one);
            if (!pair)
                return pair.problem();
            auto done = w.setProperties(subject, pair->first, reset ? QString() : pair->second);
            if (!done)
                return done.problem();
            print(done->size() > 1 ? QStringLiteral("Set %1 of %2: %3.")
                                         .arg(pair->first)
                                         .arg(done->size())
                                         .arg(done->join(", "))
                                   : QStringLiteral("Set %1 of %2.").arg(pair->first, done->value(0)));
        }
        return Done{};
    });
}

struct Rename {
    QString project, from, to;
    bool all = false, look = false, textOnly = false;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("OLD", from, Words::Needed, "The old name; with --all a regular expression");
        words.word("NEW", to, Words::Needed, "The new name; $1 is the first group");
        words.flag("--all", all, "Rename all names that match a regular expression");
        words.flag("--look", look, "Show the changes only");
        words.flag("--text-only", textOnly, "Rename by text, without reading the code (fast)");
    }
    int run() const;
};

int Rename::run() const
{
    auto w = Workspace::open(project);
    if (!w)
        return fail(w.problem());
    const RenameRequest request{from, to, all};
    auto places = wordsToRename(*w, request);
    if (!places)
        return fail(places.problem());
    WordVerdicts verdicts;
    if (!textOnly && canAskReader() && !places->isEmpty()) {
        auto said = askReader(w->place(), w->project(), w->files(), *places, false);
        if (said)
            verdicts = *said;
        else
            print("Note: " + said.problem().text());
    }
    auto plan = planRename(*w, request, verdicts);
    if (!plan)
        return fail(plan.problem());
    for (const auto &[old, now] : plan->names)
        print(old + " becomes " + now);
    for (const RenamePlace &p : plan->places)
        print(QStringLiteral("  %1:%2: %3").arg(p.file).arg(p.line).arg(p.after));
    for (const QString &note : plan->notes)
        print("Note: " + note);
    if (look)
        return fine;
    if (auto ok = w->apply(plan->edit); !ok)
        return fail(ok.problem());
    return keep(*w);
}

struct MoveWidget {
    QString project, name, parent, index;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("NAME", name, Words::Needed);
        words.word("PARENT", parent, Words::Needed, "The new parent; . is the window");
        words.word("INDEX", index, Words::MayBeLeftOut, "The index there, from 0; the default is last");
    }
    int run() const;
};

int MoveWidget::run() const
{
    return edit(project,
                [&](Workspace &w) { return w.move(name, parent, index.isEmpty() ? -1 : index.toInt()); });
}

struct Undo {
    QString project;
    bool redo = false;

    void takes(Words &words) { words.word("PROJECT", project, Words::Needed); }
    int run() const;
};

int Undo::run() const
{
    return edit(project, [&](Workspace &w) -> Outcome {
        const auto taken = w.undo();
        if (!taken)
            return taken.problem();
        print("Undone: " + taken->text + '.');
        for (const StepTaken::Left &left : taken->left)
            print("Note: " + left.sentence() + (left.text.isEmpty() ? "." : ":\n" + left.text));
        return Done{};
    });
}

struct Remove {
    QString project, name;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed);
        words.word("NAME", name, Words::Needed);
    }
    int run() const;
};

int Remove::run() const
{
    return edit(project, [&](Workspace &w) -> Outcome {
        const auto removed = w.remove(name);
        if (!removed)
            return removed.problem();
        print("Removed " + name + '.');
        for (const QString &also : removed->sentences({name}))
            print(also + '.');
        for (const QString &use : w.usesInCode({name}))
            print("Note: " + use + '.');
        return Done{};
    });
}

} // namespace

void addComposingVerbs(Registry &r)
{
    r.add<Add>("add", "Add widgets, windows, timers, actions, devices",
               "pipit add harbour-tickets . button buyButton text=Buy");
    r.add<Set>("set", "Set properties of one or several widgets",
               "pipit set harbour-tickets '#key_*' minimumWidth=48");
    r.add<Rename>("rename", "Rename, in your code as well",
                  "pipit rename harbour-tickets buyButton orderButton");
    r.add<MoveWidget>("move", "Move a widget to another parent or index",
                      "pipit move harbour-tickets buyButton buttonRow");
    r.add<Undo>("undo", "Undo the last step, made in the window or by a verb", "pipit undo harbour-tickets");
    r.add<Remove>("remove", "Remove a widget, timer, window or handler, with its connections",
                  "pipit remove harbour-tickets closeButton");
}

} // namespace pipit::cli
