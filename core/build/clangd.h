// What a word in the user's code stands for, asked of clangd where it is installed.
//
// clangd is spoken to over the Language Server Protocol 3.16 on its standard input and output; besides
// the protocol's own requests its documented extension `textDocument/symbolInfo` is used, whose `usr`
// names what a word refers to. It reads a copy of the code in a folder of its own, with Pipit's flags
// only: no project's settings, no user's, no compiler asked, no index kept.
//
// Threads: blocking, so on a worker; `cancel` may be set from any thread.
#pragma once

#include "core/codegen/generate.h"
#include "core/userfiles/code_words.h"

#include <atomic>
#include <chrono>
#include <functional>

namespace pipit
{

// The program, empty where it is not installed. PIPIT_CLANGD names another; "none" means none.
QString clangdProgram();

// For each word whether it is a member of one of the project's windows, or a function of a handler.
// What clangd could not tell is left out. A Problem when it is not there, dies, or takes too long.
Result<WordVerdicts> askClangd(const ProjectPlace &place, const Project &project, UserFiles &files,
                               const QList<CodeWord> &words, const std::atomic<bool> &cancel,
                               std::chrono::seconds patience = std::chrono::seconds(60));

} // namespace pipit
