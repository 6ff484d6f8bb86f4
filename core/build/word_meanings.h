// What a word in the user's code stands for, asked of pipit-reader.
//
// It reads a copy of the code in a folder of its own, with Pipit's flags only. Words are identified by
// clang's "unified symbol resolutions", which name what a word refers to.
//
// Threads: blocking, so on a worker; `cancel` may be set from any thread.
#pragma once

#include "core/codegen/generate.h"
#include "core/userfiles/code_words.h"

#include <atomic>
#include <chrono>

namespace pipit
{

// Where it is not installed, words are identified by the text around them.
[[nodiscard]] bool canAskReader();

// For each word whether it is a member of one of the project's windows, or a function of a handler.
// Words that no compiler sees, behind an #if for instance, are left out. A Problem when the reader is not
// there, dies, or takes too long.
[[nodiscard]] Result<WordVerdicts> askReader(const ProjectPlace &place, const Project &project,
                                             UserFiles &files, const QList<CodeWord> &words,
                                             const std::atomic<bool> &cancel,
                                             std::chrono::seconds patience = std::chrono::seconds(60));

// What may be typed at an offset of a user's file, where a word begins, the likeliest first.
[[nodiscard]] Result<QStringList>
completionsByReader(const ProjectPlace &place, const Project &project, UserFiles &files, const QString &file,
                    qsizetype at, const std::atomic<bool> &cancel,
                    std::chrono::seconds patience = std::chrono::seconds(10));

} // namespace pipit
