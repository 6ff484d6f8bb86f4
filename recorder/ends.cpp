// What is left when the application object goes: threads that nobody waited for.
#include "link/facts.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QThreadPool>

#include <cctype>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <dirent.h>
#include <string>
#include <sys/syscall.h>
#include <thread>
#include <unistd.h>
#include <vector>

namespace pipit::recorder
{

namespace
{

struct Left {
    long tid = 0;
    std::string name;
    unsigned long long ms = 0; // of a processor
};

// /proc/self/task/N/stat, see proc(5).
bool readTask(const char *number, Left &left)
{
    const std::string path = std::string("/proc/self/task/") + number + "/stat";
    std::FILE *file = std::fopen(path.c_str(), "re");
    if (!file)
        return false;
    char line[1024];
    const std::size_t size = std::fread(line, 1, sizeof line - 1, file);
    std::fclose(file);
    line[size] = 0;
    char *open = std::strchr(line, '('), *close = std::strrchr(line, ')');
    if (!open || !close || close < open)
        return false;
    left.tid = std::atol(number);
    left.name.assign(open + 1, close);
    unsigned long long user = 0, system = 0;
    if (std::sscanf(close + 1, " %*c %*d %*d %*d %*d %*d %*u %*u %*u %*u %*u %llu %llu", &user, &system) != 2)
        return false;
    const long ticks = sysconf(_SC_CLK_TCK);
    left.ms = (user + system) * 1000 / (ticks > 0 ? static_cast<unsigned long long>(ticks) : 100);
    return true;
}

// Threads that libraries keep for themselves. A pool's are told by whether the pool works.
bool isOfLibrary(const std::string &name)
{
    for (const char *own : {"Thread (pooled)", "gdbus", "gmain", "dconf worker", "pool-", "llvmpipe",
                            "threaded-ml", "pulseaudio", "pipewire", "data-loop", "pipit-recorder"})
        if (name.compare(0, std::strlen(own), own) == 0)
            return true;
    if (name.find(':') != std::string::npos || name.find('[') != std::string::npos) // of graphics drivers
        return true;
    return name.size() > 1 && name[0] == 'Q' && std::isupper(static_cast<unsigned char>(name[1])) &&
           name != "QThread";
}

// Drivers keep threads that they give no name, so they have the program's: these are told only where they do
// something else than to wait for something to do.
bool isIdleDrivers(const char *number, const Left &left, const std::string &program)
{
    if (left.name != program)
        return false;
    const std::string path = std::string("/proc/self/task/") + number + "/syscall";
    std::FILE *file = std::fopen(path.c_str(), "re");
    long call = -1;
    if (file) {
        if (std::fscanf(file, "%ld", &call) != 1)
            call = -1; // "running"
        std::fclose(file);
    }
    return call == SYS_futex;
}

std::string programsName()
{
    char name[32] = {};
    if (std::FILE *file = std::fopen("/proc/self/comm", "re")) {
        if (!std::fgets(name, sizeof name, file))
            name[0] = 0;
        std::fclose(file);
    }
    name[std::strcspn(name, "\n")] = 0;
    return name;
}

std::vector<Left> threadsLeft()
{
    std::vector<Left> all;
    const pid_t self = getpid();
    const std::string program = programsName();
    DIR *tasks = opendir("/proc/self/task");
    for (dirent *entry = tasks ? readdir(tasks) : nullptr; entry; entry = readdir(tasks)) {
        Left left;
        if (std::isdigit(static_cast<unsigned char>(entry->d_name[0])) && readTask(entry->d_name, left) &&
            left.tid != self && !isOfLibrary(left.name) && !isIdleDrivers(entry->d_name, left, program))
            all.push_back(left);
    }
    if (tasks)
        closedir(tasks);
    return all;
}

// A thread that was waited for is there for some microseconds more: only where one is left, it is looked
// for again.
void tellThreadsLeft()
{
    ThreadLog *log = isRecording() ? ThreadLog::existing() : nullptr;
    if (!log || !log->isMain())
        return;
    std::string text;
    if (const int active = QThreadPool::globalInstance()->activeThreadCount(); active > 0)
        text += "0\tthe global thread pool\t" + std::to_string(active) + '\n';
    std::vector<Left> left = threadsLeft();
    for (int again = 0; again < 4 && !left.empty(); ++again) {
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
        left = threadsLeft();
    }
    for (const Left &each : left)
        text += std::to_string(each.tid) + '\t' + each.name + '\t' + std::to_string(each.ms) + '\n';
    if (!text.empty())
        log->text(link::Kind::Fact, std::uint32_t(link::Fact::ThreadsLeft), text.data(), text.size());
}

} // namespace

void installEnds()
{
    qAddPostRoutine(tellThreadsLeft);
}

} // namespace pipit::recorder
