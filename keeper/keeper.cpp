// The keeper: starts a program for Pipit's window, holds the terminals that its output goes to, and reaps it.
// The program depends on the keeper, which does little and outlives Pipit; so it goes on, printing or not,
// when Pipit is killed.
//
// Usage: pipit-keeper DESCRIPTOR PROGRAM ARGUMENTS…; DESCRIPTOR is the pipe to Pipit (link/keeper.h). Never
// waits for Pipit: what Pipit does not read in time is kept up to a limit and then left out, and told.
#include "link/keeper.h"

#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <string>
#include <sys/ioctl.h>
#include <sys/prctl.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <termios.h>
#include <unistd.h>

namespace
{

using pipit::link::KeeperFrame;

class ToPipit
{
public:
    explicit ToPipit(int fd) : fd_(fd) { fcntl(fd, F_SETFL, O_NONBLOCK); }

    // `must`: small, and kept however much waits.
    void tell(KeeperFrame::Kind kind, const void *bytes, std::size_t size, bool must = true)
    {
        constexpr std::size_t most = 8u << 20;
        if (fd_ < 0)
            return;
        if (!must && waiting_.size() - at_ + size > most) {
            leftOut_ += size;
            return;
        }
        if (leftOut_ != toldLeftOut_) {
            toldLeftOut_ = leftOut_;
            append(KeeperFrame::LeftOut, &leftOut_, sizeof leftOut_);
        }
        append(kind, bytes, size);
        flush();
    }

    void flush()
    {
        while (fd_ >= 0 && at_ < waiting_.size()) {
            const ssize_t n = write(fd_, waiting_.data() + at_, waiting_.size() - at_);
            if (n > 0) {
                at_ += std::size_t(n);
                continue;
            }
            if (n < 0 && errno == EINTR)
                continue;
            if (n < 0 && errno == EAGAIN)
                break;
            close(fd_); // Pipit is gone
            fd_ = -1;
        }
        if (fd_ < 0 || at_ == waiting_.size() || at_ > (1u << 20)) {
            waiting_.erase(0, fd_ < 0 ? waiting_.size() : at_);
            at_ = 0;
        }
    }

    int fd() const { return fd_; }
    bool waits() const { return fd_ >= 0 && at_ < waiting_.size(); }

private:
    void append(KeeperFrame::Kind kind, const void *bytes, std::size_t size)
    {
        const KeeperFrame frame{kind, std::uint32_t(size)};
        waiting_.append(reinterpret_cast<const char *>(&frame), sizeof frame);
        waiting_.append(static_cast<const char *>(bytes), size);
    }

    int fd_;
    std::string waiting_;
    std::size_t at_ = 0;
    std::uint64_t leftOut_ = 0, toldLeftOut_ = 0;
};

// A terminal that passes bytes on as they are. Its other end is -1 when there is none.
struct Terminal {
    int master = -1, slave = -1;

    // Where the system has no terminals to give.
    void openPipe()
    {
        int ends[2];
        if (master >= 0)
            close(master);
        if (pipe2(ends, O_CLOEXEC) != 0)
            return;
        master = ends[0];
        slave = ends[1];
        fcntl(master, F_SETFL, O_NONBLOCK);
    }

    void open()
    {
        master = posix_openpt(O_RDWR | O_NOCTTY | O_CLOEXEC);
        char name[128];
        if (master < 0 || grantpt(master) != 0 || unlockpt(master) != 0 ||
            ptsname_r(master, name, sizeof name) != 0)
            return openPipe();
        slave = ::open(name, O_RDWR | O_NOCTTY | O_CLOEXEC);
        termios t{};
        if (slave >= 0 && tcgetattr(slave, &t) == 0) {
            t.c_oflag &= ~tcflag_t(OPOST);
            t.c_lflag &= ~tcflag_t(ECHO);
            tcsetattr(slave, TCSANOW, &t);
        }
        if (slave < 0)
            return openPipe();
        const winsize size{24, 100, 0, 0};
        ioctl(master, TIOCSWINSZ, &size);
        fcntl(master, F_SETFL, O_NONBLOCK);
    }
};

// In the child; tells why when it comes back.
int become(char **words, const Terminal &out, const Terminal &err)
{
    setsid();
    ioctl(out.slave, TIOCSCTTY, 0);
    const int in = open("/dev/null", O_RDONLY);
    if (in < 0 || dup2(in, 0) < 0 || dup2(out.slave, 1) < 0 || dup2(err.slave, 2) < 0)
        return errno;
    close(in);
    for (int s : {SIGPIPE, SIGHUP, SIGINT, SIGTERM, SIGXFSZ})
        signal(s, SIG_DFL);
    execv(words[0], words);
    return errno;
}

// Starts it; 0 and its process, or errno.
int start(char **words, const Terminal &out, const Terminal &err, pid_t *pid)
{
    int why[2];
    if (pipe2(why, O_CLOEXEC) != 0)
        return errno;
    *pid = fork();
    if (*pid == 0) {
        const int error = become(words, out, err);
        (void)!write(why[1], &error, sizeof error);
        _exit(127);
    }
    const int forked = *pid < 0 ? errno : 0;
    close(why[1]);
    int error = forked;
    while (!forked && read(why[0], &error, sizeof error) < 0 && errno == EINTR) {
    }
    close(why[0]);
    return error;
}

// False once nobody can write to it any more.
bool drain(int fd, KeeperFrame::Kind kind, ToPipit &pipit)
{
    char buffer[16384];
    for (;;) {
        const ssize_t n = read(fd, buffer, sizeof buffer);
        if (n > 0)
            pipit.tell(kind, buffer, std::size_t(n), false);
        else
            return n < 0 && (errno == EAGAIN || errno == EINTR);
    }
}

} // namespace

int main(int argc, char **argv)
{
    if (argc < 3)
        return 2;
    ToPipit pipit(std::atoi(argv[1]));
    fcntl(pipit.fd(), F_SETFD, FD_CLOEXEC);
    setsid();
    prctl(PR_SET_CHILD_SUBREAPER, 1);
    for (int s : {SIGPIPE, SIGHUP, SIGINT, SIGTERM})
        signal(s, SIG_IGN);
    Terminal out, err;
    out.open();
    err.open();
    pid_t pid = -1;
    const int error = out.slave < 0 || err.slave < 0 ? errno : start(argv + 2, out, err, &pid);
    if (error) {
        const std::int32_t told = error;
        pipit.tell(KeeperFrame::Failed, &told, sizeof told);
        return 1;
    }
    const std::int32_t told = pid;
    pipit.tell(KeeperFrame::Started, &told, sizeof told);
    const int pidFd = int(syscall(SYS_pidfd_open, pid, 0));
    close(out.slave);
    close(err.slave);
    bool running = true, outOpen = true, errOpen = true;
    while (running || outOpen || errOpen || pipit.waits()) { // how it ended is the last that is told
        pollfd fds[] = {{running ? pidFd : -1, POLLIN, 0},
                        {outOpen ? out.master : -1, POLLIN, 0},
                        {errOpen ? err.master : -1, POLLIN, 0},
                        {pipit.waits() ? pipit.fd() : -1, POLLOUT, 0}};
        poll(fds, 4, -1);
        if (fds[1].revents)
            outOpen = drain(out.master, KeeperFrame::Output, pipit);
        if (fds[2].revents)
            errOpen = drain(err.master, KeeperFrame::ErrorOutput, pipit);
        pipit.flush();
        siginfo_t info{};
        if (running && fds[0].revents && waitid(P_PID, id_t(pid), &info, WEXITED | WNOHANG) == 0 &&
            info.si_pid == pid) {
            running = false;
            drain(out.master, KeeperFrame::Output, pipit);
            drain(err.master, KeeperFrame::ErrorOutput, pipit);
            const std::int32_t how[] = {info.si_code, info.si_status};
            pipit.tell(KeeperFrame::Ended, how, sizeof how);
        } else if (running && fds[0].revents)
            usleep(2000); // it has ended, and somebody who traces it is told first
        while (!running && waitpid(-1, nullptr, WNOHANG) > 0) { // what it left behind
        }
    }
    return 0;
}
