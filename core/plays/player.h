// Runs a play on a recorded program.
//
// Threads: blocking, so on a worker; `cancel` from any thread. Input is posted and not waited for,
// and waits run here, in Pipit's own process, so that a frozen loop delays neither: what is
// clicked meanwhile waits in the program's queue, as a person's click would. Only expectations
// wait for the loop to be idle.
#pragma once

#include "core/plays/play.h"
#include "core/runner/program.h"
#include "core/trace/handlers.h"

#include <QJsonObject>

#include <atomic>
#include <functional>

namespace pipit
{

struct StepResult {
    PlayStep step;
    bool ok = true;
    QString expected, found; // of an expectation that failed; or found alone: why it could not be done
    std::int64_t start = 0, end = 0; // CLOCK_MONOTONIC, ns
};

struct PlayReport {
    QString play;
    QByteArray fingerprint;
    QList<StepResult> steps;
    bool ok = true;
    bool held = true; // all but what was expected of the pace
    std::int64_t start = 0, end = 0;
    // From the last input before it to the moment its text was there; the longest of all. 0: none.
    std::int64_t timeToResult = 0;
    std::int64_t processorTime = -1; // that the program's threads ran meanwhile, ns; -1: not known
    QJsonObject toJson() const;
};

PlayReport runPlay(const Play &play, Program &program, const TraceModel &trace, Handlers &handlers,
                   const std::atomic<bool> &cancel,
                   const std::function<void(const StepResult &)> &progress = {});

} // namespace pipit
