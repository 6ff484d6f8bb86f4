#include "core/runner/kept_program.h"

#include "core/runner/spawn.h"
#include "link/keeper.h"

#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace pipit
{

using link::KeeperFrame;

Result<std::unique_ptr<KeptProgram>> KeptProgram::start(const QString &path, const ProgramSpec &spec,
                                                        const std::vector<QByteArray> &environment)
{
    auto keeper = recorderLibrary("pipit-keeper");
    if (!keeper)
        return keeper.problem();
    int ends[2];
    if (pipe2(ends, O_CLOEXEC) != 0)
        return Problem{
            "No pipe could be made for the program's output", {}, "Close some programs and try again"};
    std::unique_ptr<KeptProgram> k(new KeptProgram);
    k->fd_ = ends[0];
    fcntl(ends[0], F_SETFL, O_NONBLOCK);
    const int error = spawnKeeper(&k->keeper_, *keeper, ends[1], path, spec, environment);
    close(ends[1]);
    while (!error && k->pid_ < 0 && !k->error_ && !k->end_) {
        pollfd p{k->fd_, POLLIN, 0};
        poll(&p, 1, -1);
        k->read({});
    }
    k->starting_ = false;
    if (const int why = error ? error : k->pid_ < 0 ? (k->error_ ? k->error_ : ECHILD) : 0)
        return Problem{QStringLiteral("The program could not be started: %1").arg(strerror(why)), path,
                       "Check that it runs without Pipit"};
    return k;
}

// The keeper may outlive us by far; while we live, it is ours to reap.
KeptProgram::~KeptProgram()
{
    if (fd_ >= 0)
        close(fd_);
    if (keeper_ > 0 && waitpid(keeper_, nullptr, WNOHANG) == 0)
        std::thread([keeper = keeper_] { waitpid(keeper, nullptr, 0); }).detach();
}

void KeptProgram::take(std::uint32_t kind, const QByteArray &bytes,
                       const std::function<void(const QByteArray &, bool)> &output)
{
    std::int32_t numbers[2] = {};
    std::memcpy(numbers, bytes.constData(), std::min(std::size_t(bytes.size()), sizeof numbers));
    switch (kind) {
    case KeeperFrame::Started:
        pid_ = numbers[0];
        break;
    case KeeperFrame::Failed:
        error_ = numbers[0];
        break;
    case KeeperFrame::Output:
    case KeeperFrame::ErrorOutput:
        if (output)
            output(bytes, kind == KeeperFrame::ErrorOutput);
        else if (starting_)
            early_.push_back({bytes, kind == KeeperFrame::ErrorOutput});
        break;
    case KeeperFrame::LeftOut:
        std::memcpy(&leftOut_, bytes.constData(), std::min(std::size_t(bytes.size()), sizeof leftOut_));
        break;
    case KeeperFrame::Ended:
        end_ = End{true, numbers[0], numbers[1]};
        break;
    default:
        break;
    }
}

void KeptProgram::read(const std::function<void(const QByteArray &, bool)> &output)
{
    if (output)
        for (const auto &[bytes, isError] : std::exchange(early_, {}))
            output(bytes, isError);
    char buffer[65536];
    while (fd_ >= 0) {
        const ssize_t n = ::read(fd_, buffer, sizeof buffer);
        if (n > 0) {
            pending_.append(buffer, n);
            continue;
        }
        if (n == 0) {
            close(fd_);
            fd_ = -1;
        }
        break;
    }
    qsizetype at = 0;
    for (KeeperFrame frame; pending_.size() - at >= qsizetype(sizeof frame);) {
        std::memcpy(&frame, pending_.constData() + at, sizeof frame);
        if (frame.bytes > link::mostKeeperBytes) { // none of a keeper's
            close(fd_);
            fd_ = -1;
            pending_.clear();
            at = 0;
            break;
        }
        if (pending_.size() - at - qsizetype(sizeof frame) < qsizetype(frame.bytes))
            break;
        take(frame.kind, pending_.mid(at + qsizetype(sizeof frame), frame.bytes), output);
        at += qsizetype(sizeof frame) + frame.bytes;
    }
    pending_.remove(0, at);
    if (fd_ < 0 && !end_)
        end_ = End{};
}

} // namespace pipit
