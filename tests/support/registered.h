// Test classes of one program: `tests-core RenameTest [what QtTest takes]` runs one of them. As programs of
// their own, the tests took longer to compile and link than all they test.
#pragma once

#include "tests/support/limit.h"

#include <QObject>
#include <QTest>

#include <map>
#include <memory>
#include <string>

namespace pipit::tests
{

using Make = std::unique_ptr<QObject> (*)();
inline std::map<std::string, Make> &registered()
{
    static std::map<std::string, Make> all;
    return all;
}

// Whether what takes long is tested as well, of which ./dev test has a slice: by ./dev proof tests.
inline bool inProof()
{
    return qEnvironmentVariableIsSet("PIPIT_PROOF");
}

// Runs the class that the first argument names, in a program that has its application object.
inline int runRegistered(int argc, char **argv)
{
    const auto it = registered().find(argc > 1 ? argv[1] : "");
    if (it == registered().end()) {
        std::fprintf(stderr, "Name one of these test classes:\n");
        for (const auto &[name, make] : registered())
            std::fprintf(stderr, "  %s\n", name.c_str());
        return 2;
    }
    limitWork();
    argv[1] = argv[0];
    const int failed = QTest::qExec(it->second().get(), argc - 1, argv + 1);
    std::printf("Processor time: %ld s of %s\n", long(processorTime().count()),
                std::getenv("PIPIT_TEST_SECONDS") ? std::getenv("PIPIT_TEST_SECONDS") : "any");
    return failed;
}

} // namespace pipit::tests

#define PIPIT_TEST(Class)                                                                                    \
    [[maybe_unused]] static const bool isRegistered##Class =                                                 \
        pipit::tests::registered()                                                                           \
            .emplace(#Class, []() -> std::unique_ptr<QObject> { return std::make_unique<Class>(); })         \
            .second;
