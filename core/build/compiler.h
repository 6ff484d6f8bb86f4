// The compilers at hand, their flags, and the header that is compiled once for all projects.
//
// clang++ loads such a header in a twentieth of the time that g++ takes for its own, so it is used where
// it is installed; PIPIT_CXX=g++ says otherwise. The flags are the same for both and never a project's.
//
// Threads: any; making a header blocks, so on a worker, and one at a time.
#pragma once

#include "core/base/result.h"

#include <QByteArray>
#include <QStringList>

#include <atomic>
#include <functional>
#include <optional>

namespace pipit
{

struct Compiler {
    QString program; // as it is started
    bool clang = false;
    QByteArray version;
    QString name() const { return clang ? "clang++" : "g++"; }

    QStringList flags() const; // for every unit
    // What makes a unit begin with the header that was compiled.
    QStringList beginWith(const QString &header) const;
    // What such units are linked with besides.
    QStringList toLink(const QString &header) const;
};

const Compiler &gcc();
const std::optional<Compiler> &clang(); // none: not installed
const Compiler &chosenCompiler();

// Where the header for these toolkit headers stands, or would stand, compiled by that compiler.
QString precompiledPath(const Compiler &compiler, const QStringList &headers);
// Whether it is there and made of the headers as they are now: every one that was read is known by its
// size and time, since neither compiler notices by itself when one has changed.
bool isPrecompiled(const Compiler &compiler, const QStringList &headers);
// Makes it unless it is there; the path to begin units with. One at a time in a process, and each in one
// process at a time: who comes second waits for the first. `progress` is called once a second while it is
// made or waited for, on the calling thread.
Result<QString> precompiled(const Compiler &compiler, const QStringList &headers,
                            const std::atomic<bool> &cancel,
                            const std::function<void(const QString &)> &progress = {});

// One run of a compiler or linker; what it says is in English. `alive` is called every 50 ms meanwhile.
struct Step {
    bool ok = false;
    QByteArray errors;
};
Step runStep(const QString &program, const QStringList &arguments, const QString &folder,
             const std::atomic<bool> &cancel, const std::function<void()> &alive = {});

} // namespace pipit
