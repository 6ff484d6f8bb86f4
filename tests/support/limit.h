// Ends a test program that works for too long or hangs, by itself, so that a busy machine ends none that is well.
//
// Work is processor time: the program's own, and that of the processes which it waited for. A program hangs when
// no test function or row of one began for ten minutes.
//
// Threads: starts one of its own, which reads what it needs without locks and lasts until the program ends.
#pragma once

#include <QTest>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <string>
#include <sys/resource.h>
#include <thread>
#include <unistd.h>

namespace pipit::tests
{

inline std::chrono::seconds processorTime()
{
    long seconds = 0;
    for (const int who : {RUSAGE_SELF, RUSAGE_CHILDREN}) {
        struct rusage used {
        };
        getrusage(who, &used);
        seconds += used.ru_utime.tv_sec + used.ru_stime.tv_sec;
    }
    return std::chrono::seconds(seconds);
}

// `seconds` is what PIPIT_TEST_SECONDS says; without it nothing is limited.
inline void limitWork()
{
    const char *text = std::getenv("PIPIT_TEST_SECONDS");
    if (!text)
        return;
    const std::chrono::seconds most(std::atoi(text));
    std::thread([most] {
        const auto end = [](const char *why, std::chrono::seconds after) {
            std::fprintf(stderr, "FAIL!  : %s in %s(%s) after %ld s\n", why,
                         QTest::currentTestFunction() ? QTest::currentTestFunction() : "?",
                         QTest::currentDataTag() ? QTest::currentDataTag() : "", long(after.count()));
            std::fflush(nullptr);
            _exit(124);
        };
        const void *function = nullptr, *row = nullptr;
        auto began = std::chrono::steady_clock::now();
        for (;; std::this_thread::sleep_for(std::chrono::seconds(1))) {
            const auto now = std::chrono::steady_clock::now();
            if (function != QTest::currentTestFunction() || row != QTest::currentDataTag()) {
                function = QTest::currentTestFunction();
                row = QTest::currentDataTag();
                began = now;
            }
            if (processorTime() > most)
                end("It took more of the processor's time than it may", processorTime());
            if (now - began > std::chrono::minutes(10))
                end("It hangs", std::chrono::duration_cast<std::chrono::seconds>(now - began));
        }
    }).detach();
}

} // namespace pipit::tests
