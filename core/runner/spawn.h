// Starting a process as a program of its own: its environment, its descriptors.
//
// Threads: any.
#pragma once

#include "core/runner/program.h"

#include <sys/types.h>
#include <vector>

namespace pipit
{

// Pipit's own environment with what the program is given, and what loads the recorder into it.
std::vector<QByteArray> environmentOf(const ProgramSpec &spec, const QString &socket, const QString &shim,
                                      const QString &recorder);
// Starts it with Pipit's own three descriptors. 0, or what is wrong as errno says it.
int spawnProgram(pid_t *pid, const QString &path, const ProgramSpec &spec,
                 const std::vector<QByteArray> &environment);
// Starts a keeper that starts it; `pipe` is the end that the keeper writes to.
int spawnKeeper(pid_t *pid, const QString &keeper, int pipe, const QString &path, const ProgramSpec &spec,
                const std::vector<QByteArray> &environment);

} // namespace pipit
