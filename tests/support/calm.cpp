#include "tests/support/calm.h"

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <mutex>
#include <sched.h>
#include <string>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>
#include <vector>

namespace pipit::tests
{

namespace
{

using Clock = std::chrono::steady_clock;

struct HeldUp {
    Clock::time_point from, to;
};

class Gauge
{
public:
    Gauge()
    {
        cpu_set_t all;
        CPU_ZERO(&all);
        if (sched_getaffinity(0, sizeof all, &all) != 0)
            return;
        const std::lock_guard lock(mutex);
        for (int cpu = 0; cpu < CPU_SETSIZE; ++cpu)
            if (CPU_ISSET(cpu, &all))
                dues[cpu] = Clock::now(); // one that cannot begin is held up, too
        for (int cpu = 0; cpu < CPU_SETSIZE; ++cpu)
            if (CPU_ISSET(cpu, &all))
                std::thread([this, cpu] { watch(cpu); }).detach();
    }

    // The longest that a processor was held up since then.
    Clock::duration longestSince(Clock::time_point from)
    {
        std::this_thread::sleep_for(std::chrono::milliseconds(10)); // one that has just ended is noted
        const std::lock_guard lock(mutex);
        Clock::duration most{};
        for (const auto &[cpu, due] : dues) // one that lasts still
            most = std::max(most, Clock::now() - due);
        for (const HeldUp &h : noted)
            if (h.to > from)
                most = std::max(most, h.to - h.from);
        return most;
    }

private:
    [[noreturn]] void watch(int cpu)
    {
        cpu_set_t one;
        CPU_ZERO(&one);
        CPU_SET(cpu, &one);
        sched_setaffinity(0, sizeof one, &one);
        for (;;) {
            const Clock::time_point due = Clock::now() + std::chrono::milliseconds(2);
            std::this_thread::sleep_until(due);
            const Clock::time_point now = Clock::now();
            const std::lock_guard lock(mutex);
            dues[cpu] = now + std::chrono::milliseconds(2);
            if (now - due >= heldUp)
                noted.push_back({due, now});
        }
    }

    std::mutex mutex;
    std::vector<HeldUp> noted;
    std::map<int, Clock::time_point> dues; // of each processor: when it wants to be woken next
};

struct Round {
    int status = 0;                  // as waitpid() gives it
    std::vector<std::string> failed; // function:row
    bool quiet = false;              // one of them failed in a quiet time
};

// "FAIL!  : Class::function(row) why" as the test runner writes it: what runs that again.
std::string failedOf(const std::string &line)
{
    static const std::string mark = "FAIL!  : ";
    if (line.compare(0, mark.size(), mark) != 0)
        return {};
    const std::size_t name = line.find("::", mark.size()), open = line.find('(', mark.size());
    if (name == std::string::npos || open == std::string::npos || name > open)
        return {};
    const std::size_t why = std::min(line.find(") '", open), line.find(") Compared", open));
    const std::size_t close = why != std::string::npos ? why : line.find(')', open);
    const std::string row = line.substr(open + 1, close - open - 1);
    const std::string function = line.substr(name + 2, open - name - 2);
    return row.empty() ? function : function + ':' + row;
}

Round run(const std::vector<std::string> &words, Gauge &gauge)
{
    Round round;
    int ends[2];
    if (pipe(ends) != 0) {
        std::perror("pipe");
        std::exit(2);
    }
    std::vector<char *> argv;
    for (const std::string &word : words)
        argv.push_back(const_cast<char *>(word.c_str()));
    argv.push_back(nullptr);
    const pid_t child = fork();
    if (child == 0) {
        dup2(ends[1], STDOUT_FILENO);
        close(ends[0]);
        close(ends[1]);
        unsetenv("PIPIT_TEST_ALONE");
        execv("/proc/self/exe", argv.data());
        _exit(2);
    }
    close(ends[1]);
    // Since when a test ran is not known where this process was held up, too: what was held up before it
    // counts as well. The next round has only what failed.
    const Clock::time_point began = Clock::now();
    std::FILE *out = fdopen(ends[0], "r");
    char *text = nullptr;
    std::size_t room = 0;
    while (getline(&text, &room, out) > 0) {
        std::fputs(text, stdout);
        std::fflush(stdout);
        const std::string failed = failedOf(text);
        if (failed.empty())
            continue;
        const Clock::duration longest = gauge.longestSince(began);
        round.failed.push_back(failed);
        round.quiet = round.quiet || longest < heldUp;
        std::printf("   Until then a processor was held up for at most %.0f ms.\n",
                    std::chrono::duration<double, std::milli>(longest).count());
    }
    std::free(text);
    std::fclose(out);
    while (waitpid(child, &round.status, 0) < 0 && errno == EINTR)
        ;
    return round;
}

} // namespace

bool measuresTime()
{
    return std::getenv("PIPIT_TEST_ALONE") != nullptr;
}

int judgedInQuiet(int argc, char **argv)
{
    static Gauge gauge; // its threads outlive this call
    std::vector<std::string> words(argv, argv + argc);
    const std::vector<std::string> first(words.begin(), words.begin() + std::min(argc, 2));
    for (int i = 1;; ++i) {
        const Round round = run(words, gauge);
        const int code = WIFEXITED(round.status) ? WEXITSTATUS(round.status) : 128 + WTERMSIG(round.status);
        // Of a test that crashed or was ended nothing is excused.
        const bool onlyFailed = WIFEXITED(round.status) && code == int(round.failed.size());
        if (code == 0 || round.quiet || !onlyFailed)
            return code;
        if (i == rounds) {
            std::printf("Not judged: in %d rounds the machine had no quiet time for %zu tests that failed.\n",
                        rounds, round.failed.size());
            return notJudged;
        }
        std::printf("Run again, since the machine did other things:\n");
        words = first;
        words.insert(words.end(), round.failed.begin(), round.failed.end());
    }
}

} // namespace pipit::tests
