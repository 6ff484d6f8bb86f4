#include "core/pace/blocking.h"

#include <QFileInfo>

#include <algorithm>
#include <map>
#include <numeric>
#include <sys/syscall.h>

namespace pipit
{

namespace
{

bool isOneOf(int call, std::initializer_list<int> list)
{
    return std::find(list.begin(), list.end(), call) != list.end();
}

// Whether a function of the libraries between the program's own code and the system call has such a name.
bool passes(const StackSample &s, std::initializer_list<const char *> names)
{
    for (const StackFrame &f : s.frames) {
        if (f.own)
            return false;
        for (const char *n : names)
            if (f.function.contains(QLatin1String(n)))
                return true;
    }
    return false;
}

// The same of the libraries themselves: for whom they wait, their threads do.
std::optional<Blocking> ofLibrary(const StackSample &s)
{
    for (const StackFrame &f : s.frames) {
        if (f.own)
            break;
        const QString file = QFileInfo(f.module).fileName();
        const auto is = [&file](const char *name) { return file.startsWith(QLatin1String(name)); };
        if (is("libQt6DBus.") || is("libdbus-1."))
            return Blocking::Bus;
        if (is("libxcb.") || is("libX11.") || is("libwayland-client."))
            return Blocking::Display;
    }
    return std::nullopt;
}

Blocking ofFutex(const StackSample &s)
{
    if (s.interpretersLock)
        return Blocking::Lock;
    if (const auto library = ofLibrary(s))
        return *library;
    if (passes(s, {"QThread::wait", "pthread_join", "QWaitCondition", "QFutureInterfaceBase::waitFor",
                   "QThreadPool::waitForDone", "pthread_cond", "condition_variable", "QSemaphore", "sem_wait",
                   "QFutureWatcherBase::waitFor", "pthread_timedjoin", "pthread_clockjoin",
                   "__futex_abstimed_wait_common"}))
        return Blocking::Thread;
    if (passes(s, {"pthread_mutex", "lll_lock", "QBasicMutex", "QMutex", "QRecursiveMutex", "QReadWriteLock",
                   "pthread_rwlock", "mutex"}))
        return Blocking::Lock;
    return Blocking::Waiting;
}

Blocking ofPoll(const StackSample &s)
{
    if (const auto library = ofLibrary(s))
        return *library;
    if (passes(s, {"QProcess", "QProcessPrivate"}))
        return Blocking::Process;
    if (passes(s, {"QAbstractSocket", "QLocalSocket", "QNativeSocketEngine", "QTcpSocket", "QUdpSocket",
                   "QTcpServer", "QLocalServer", "getaddrinfo", "res_"}))
        return Blocking::Network;
    return Blocking::Waiting;
}

} // namespace

Blocking blockingOf(const StackSample &s)
{
    if (s.running || s.call < 0) {
        static const QStringList syncs{"fsync", "fdatasync", "syncfs", "sync", "msync", "sync_file_range"};
        return !s.frames.empty() && syncs.contains(s.frames.front().function) ? Blocking::File
                                                                              : Blocking::Computing;
    }
    if (isOneOf(s.call, {SYS_nanosleep, SYS_clock_nanosleep, SYS_pause}))
        return Blocking::Sleeping;
    if (s.call == SYS_restart_syscall) { // of a wait that was looked at: which one, its function says
        if (passes(s, {"nanosleep", "usleep"}))
            return Blocking::Sleeping;
        return passes(s, {"poll", "select", "epoll"}) ? ofPoll(s) : ofFutex(s);
    }
    if (isOneOf(s.call, {SYS_wait4, SYS_waitid}))
        return Blocking::Process;
    if (s.call == SYS_futex)
        return ofFutex(s);
    if (isOneOf(s.call, {SYS_poll, SYS_ppoll, SYS_select, SYS_pselect6, SYS_epoll_wait, SYS_epoll_pwait}))
        return ofPoll(s);
    if (isOneOf(s.call,
                {SYS_recvfrom, SYS_sendto, SYS_recvmsg, SYS_sendmsg, SYS_connect, SYS_accept, SYS_accept4}))
        return ofLibrary(s).value_or(Blocking::Network);
    if (isOneOf(s.call, {SYS_flock, SYS_fcntl}))
        return Blocking::Lock;
    if (isOneOf(s.call,
                {SYS_read,   SYS_write,     SYS_pread64,   SYS_pwrite64,  SYS_readv,           SYS_writev,
                 SYS_open,   SYS_openat,    SYS_fsync,     SYS_fdatasync, SYS_msync,           SYS_syncfs,
                 SYS_sync,   SYS_ftruncate, SYS_fallocate, SYS_stat,      SYS_newfstatat,      SYS_getdents64,
                 SYS_unlink, SYS_unlinkat,  SYS_rename,    SYS_renameat2, SYS_copy_file_range, SYS_sendfile,
                 SYS_statx}))
        return passes(s, {"QProcess"}) ? Blocking::Process : ofLibrary(s).value_or(Blocking::File);
    return Blocking::Waiting;
}

QString blockingWords(Blocking b)
{
    switch (b) {
    case Blocking::Computing:
        return "computing";
    case Blocking::Sleeping:
        return "sleeping";
    case Blocking::Lock:
        return "waiting for a lock";
    case Blocking::Thread:
        return "waiting for another thread";
    case Blocking::Process:
        return "waiting for another process";
    case Blocking::File:
        return "reading or writing a file";
    case Blocking::Network:
        return "waiting for the network";
    case Blocking::Display:
        return "waiting for the display server";
    case Blocking::Bus:
        return "waiting for an answer over D-Bus";
    case Blocking::Waiting:
        break;
    }
    return "waiting for the system";
}

std::vector<double> sharesOf(const std::vector<StackSample> &samples, std::int64_t from, std::int64_t to)
{
    std::vector<double> shares;
    std::int64_t begin = from;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const std::int64_t end =
            i + 1 < samples.size() ? std::midpoint(samples[i].time, samples[i + 1].time) : to;
        shares.push_back(double(end - begin) / double(std::max<std::int64_t>(1, to - from)));
        begin = end;
    }
    return shares;
}

std::vector<BlockingShare> blockingOf(const std::vector<StackSample> &samples,
                                      const std::vector<double> &shares)
{
    std::map<Blocking, double> sums;
    for (std::size_t i = 0; i < samples.size(); ++i)
        sums[blockingOf(samples[i])] += shares[i];
    std::vector<BlockingShare> all;
    for (const auto &[blocking, share] : sums)
        all.push_back({blocking, share});
    std::stable_sort(all.begin(), all.end(),
                     [](const BlockingShare &a, const BlockingShare &b) { return a.share > b.share; });
    return all;
}

QString blockingSentence(const std::vector<BlockingShare> &shares)
{
    if (shares.empty())
        return {};
    QString text = blockingWords(shares.front().blocking);
    for (std::size_t i = 1; i < shares.size(); ++i)
        if (shares[i].share >= 0.1)
            text += (i == 1 ? ", at times " : " or ") + blockingWords(shares[i].blocking);
    return text;
}

} // namespace pipit
