// What the verbs on projects share: opening, editing, saving.
#pragma once

#include "cli/verbs.h"
#include "core/edits/own_headers.h"
#include "core/edits/workspace.h"

namespace pipit::cli
{

// What verbs have in common that print facts of a project.
struct OfProject {
    QString project;
    bool json = false;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed, "The project's folder or file");
        words.flag("--json", json);
    }
};

// Saves and generates; an unfinished wiring is a note, for the edit itself is saved.
inline int keep(Workspace &w)
{
    if (auto ok = w.save(); !ok)
        return fail(ok.problem());
    if (auto ok = w.generate(); !ok)
        print("Note: " + ok.problem().text());
    return fine;
}

// Opens, edits, saves and generates.
inline int edit(const QString &path, const std::function<Outcome(Workspace &)> &what)
{
    auto w = Workspace::open(path);
    if (!w)
        return fail(w.problem());
    w->takeOwnClasses(readOwnClasses(w->place(), w->project()));
    if (auto ok = what(*w); !ok)
        return fail(ok.problem());
    return keep(*w);
}

} // namespace pipit::cli
