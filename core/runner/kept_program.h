// A program that a keeper started for Pipit, and holds the output of (link/keeper.h).
//
// Threads: one at a time. The keeper and its program go on when this is destroyed.
#pragma once

#include "core/base/result.h"
#include "core/runner/program.h"

#include <optional>
#include <sys/types.h>
#include <vector>

namespace pipit
{

class KeptProgram
{
public:
    // Waits until the program runs, or does not.
    static Result<std::unique_ptr<KeptProgram>> start(const QString &path, const ProgramSpec &spec,
                                                      const std::vector<QByteArray> &environment);
    ~KeptProgram();

    pid_t pid() const { return pid_; }
    int descriptor() const { return fd_; } // -1 once the keeper is gone
    struct End {
        bool known = false; // the keeper saw how it ended
        int code = 0, status = 0;
    };
    // Takes in what is there, without waiting.
    void read(const std::function<void(const QByteArray &, bool isError)> &output);
    std::optional<End> end() const { return end_; }    // once it has ended, or its keeper
    std::uint64_t leftOut() const { return leftOut_; } // bytes of output that Pipit was too slow for

private:
    KeptProgram() = default;
    void take(std::uint32_t kind, const QByteArray &bytes,
              const std::function<void(const QByteArray &, bool)> &output);

    int fd_ = -1;
    pid_t keeper_ = -1, pid_ = -1;
    bool starting_ = true;
    int error_ = 0; // why it was not started
    QByteArray pending_;
    std::vector<std::pair<QByteArray, bool>> early_; // output that came before anybody listened
    std::optional<End> end_;
    std::uint64_t leftOut_ = 0;
};

} // namespace pipit
