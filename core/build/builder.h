// Building a project quickly: the quickest compiler and linker at hand, a precompiled header kept for
// all projects, units of their own for what Pipit made and for each of the user's files.
//
// Threads: blocking, so on a worker; one build of a project at a time. `cancel` may be set from any
// thread. The program of the last build that worked stays runnable while a new one fails.
#pragma once

#include "core/build/compiler.h"
#include "core/codegen/generate.h"

#include <atomic>
#include <functional>

namespace pipit
{

struct BuildMessage {
    QString file; // relative to the project's folder where it is in it
    int line = 0, column = 0;
    bool error = true;
    QString text;
};

struct BuildReport {
    bool ok = false;
    QString program;              // of the last build that worked; empty if there was none
    QList<BuildMessage> messages; // errors first
    std::int64_t ns = 0;
    QList<std::pair<QString, std::int64_t>> steps; // "compile", ns
    bool linked = false;                           // false: everything was up to date
};

class Builder
{
public:
    explicit Builder(ProjectPlace place, const Compiler &compiler = chosenCompiler())
        : place_(std::move(place)), compiler_(compiler)
    {
    }

    // Generates, compiles, links. A Problem is something that kept the compiler from being asked;
    // compiler messages are in the report. `progress` gets what is being done.
    Result<BuildReport> build(const Project &project, UserFiles &files,
                              const std::function<void(const QString &)> &progress = {});
    std::atomic<bool> cancel{false};

    QString programPath(const Project &project) const;

private:
    ProjectPlace place_;
    const Compiler &compiler_;
};

// Makes the precompiled header for these toolkit headers unless it is there, so that the first build
// need not. Blocking, so on a worker.
void warmCompiler(const QStringList &headers, const std::atomic<bool> &cancel);

// What the compiler says of one of the user's files as it is in the buffers, without building
// anything. Blocking, so on a worker; nothing is said when it was cancelled.
Result<QList<BuildMessage>> checkText(const ProjectPlace &place, const Project &project, UserFiles &files,
                                      const QString &file, const std::atomic<bool> &cancel);

// What g++ refuses of the user's files although clang++ took them: the project's own CMake uses g++.
// Empty where g++ is what Pipit builds with. Blocking, and slow the first time.
Result<QList<BuildMessage>> otherCompilersErrors(const ProjectPlace &place, const Project &project,
                                                 UserFiles &files, const std::atomic<bool> &cancel);

QString buildFlavour(); // kept in recordings: figures of different flavours are not comparable

} // namespace pipit
