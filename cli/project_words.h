// What the verbs on projects share: their options, and opening, editing, saving.
#pragma once

#include "cli/verbs.h"
#include "core/project/workspace.h"

#include <memory>

namespace pipit::cli
{

// Options of one verb, kept alive until it runs.
struct Words {
    std::string project, a, b, c, when, pacing, base, header, as, accepting, scope;
    std::vector<std::string> list;
    bool json = false, fix = false, reset = false, all = false, look = false, opens = false, after = false,
         textOnly = false;
};

using Run = std::function<int(const Words &)>;

inline CLI::App *verb(Registry &r, const std::string &name, const std::string &text,
                      const std::shared_ptr<Words> &w, Run run)
{
    CLI::App *sub = r.app.add_subcommand(name, text);
    sub->callback([&r, w, run = std::move(run)] { r.chosen = [w, run] { return run(*w); }; });
    return sub;
}

// Opens, edits, saves and generates.
inline int edit(const std::string &path, const std::function<Outcome(Workspace &)> &what)
{
    auto w = Workspace::open(q(path));
    if (!w)
        return fail(w.problem());
    if (auto ok = what(*w); !ok)
        return fail(ok.problem());
    if (auto ok = w->save(); !ok)
        return fail(ok.problem());
    if (auto ok = w->generate(); !ok) // the wiring may be unfinished; the edit itself is saved
        print("Note: " + ok.problem().text());
    return fine;
}

inline std::shared_ptr<Words> words()
{
    return std::make_shared<Words>();
}

} // namespace pipit::cli
