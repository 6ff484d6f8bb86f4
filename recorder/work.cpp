// What is given to thread pools, by QtConcurrent or by hand: told as work, on the thread that runs it.
//
// A function is wrapped. Of a runnable, run() is replaced in that one object, by a table of virtual
// functions that is otherwise a copy of its class's, so that whoever compares, takes back or deletes it
// finds the object that it made.
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"
#include "recorder/ties.h"

#include <QtCore/QRunnable>
#include <QtCore/QThreadPool>

#include <algorithm>
#include <cstring>
#include <functional>
#include <memory>
#include <mutex>
#include <typeinfo>
#include <unordered_map>

namespace pipit::recorder
{

using link::Kind;
using link::LinkKind;

namespace
{

std::uint64_t workSerial(std::uint64_t code)
{
    return code | std::uint64_t(3) << 62;
}

// The copy of a class's table. Kept for good: its objects may outlive anything of ours.
struct WorkClass {
    static constexpr int before = 16, after = 64; // words copied on both sides of its address point
    void *words[before + after];
    void (*run)(QRunnable *) = nullptr;
    LinkInfo info;
    void *table() { return words + before; }
    // Of an object that has ours.
    static WorkClass *of(const QRunnable *work)
    {
        void **table = *reinterpret_cast<void **const *>(work);
        return reinterpret_cast<WorkClass *>(table - before);
    }
};

std::mutex classesMutex;
std::unordered_map<const void *, WorkClass *> classes; // by the class's own table, and by ours

// QRunnable's first virtual function is run().
void runWork(QRunnable *work)
{
    WorkClass *is = WorkClass::of(work);
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return is->run(work);
    log->link(is->info);
    OpenSpan span(log, Kind::CallEnd, 0);
    log->begin(Kind::CallBegin, is->info.value(), 0, is->info.serial, is->info.code, 0);
    cameOf(log, link::Tie::Task, reinterpret_cast<std::uint64_t>(work));
    span.value = 1;
    is->run(work);
    span.value = 0;
}

// How many words, at most, lie beside the table in the module that holds it. No table reaches further.
int wordsBeside(std::uint64_t table, int most, int direction)
{
    pipit_module own, there;
    if (!pipit_module_at(table, &own))
        return 0;
    for (int n = most; n > 0; --n)
        if (pipit_module_at(table + std::uint64_t(std::int64_t(n) * direction * 8) - (direction > 0 ? 1 : 0),
                            &there) &&
            there.base == own.base)
            return n;
    return 0;
}

WorkClass *learnClass(void *const *table)
{
    const auto at = reinterpret_cast<std::uint64_t>(table);
    const int before = wordsBeside(at, WorkClass::before, -1), after = wordsBeside(at, WorkClass::after, 1);
    if (before < 2 || after < 3)
        return nullptr;
    auto *is = new WorkClass{};
    std::copy(table - before, table + after, is->words + WorkClass::before - before);
    is->run = reinterpret_cast<void (*)(QRunnable *)>(table[0]);
    is->words[WorkClass::before] = reinterpret_cast<void *>(&runWork);
    is->info.kind = LinkKind::Work;
    is->info.code = reinterpret_cast<std::uint64_t>(table[0]);
    is->info.codeIsFunction = true;
    is->info.serial = workSerial(at);
    is->info.signalKey = at;
    if (const auto *type = static_cast<const std::type_info *>(table[-1]))
        is->info.signalText = std::string(type->name()) + "\nrun()";
    classes[table] = classes[is->table()] = is;
    return is;
}

void watchWork(QRunnable *work)
{
    void **&table = *reinterpret_cast<void ***>(work);
    std::lock_guard lock(classesMutex);
    const auto it = classes.find(table);
    if (WorkClass *is = it == classes.end() ? learnClass(table) : it->second) {
        table = static_cast<void **>(is->table());
        began(link::Tie::Task, reinterpret_cast<std::uint64_t>(work));
    }
}

using WorkFunction = std::function<void()>;

// Its last word is what calls the function in it.
std::uint64_t codeOf(const WorkFunction &function)
{
    static_assert(sizeof(WorkFunction) == 4 * sizeof(std::uint64_t));
    return reinterpret_cast<const std::uint64_t *>(&function)[3];
}

WorkFunction watched(WorkFunction function)
{
    LinkInfo info;
    info.kind = LinkKind::Work;
    info.code = codeOf(function);
    info.serial = workSerial(info.code);
    const std::uint64_t token = freshToken();
    began(link::Tie::Task, token);
    return [function = std::move(function), info, token] {
        ThreadLog *log = ThreadLog::current();
        if (!log)
            return function();
        log->link(info);
        OpenSpan span(log, Kind::CallEnd, 0);
        log->begin(Kind::CallBegin, info.value(), 0, info.serial, info.code, 0);
        cameOf(log, link::Tie::Task, token);
        span.value = 1;
        function();
        span.value = 0;
    };
}

// Given by the program, or by the part of the toolkit that gives the program's work to pools.
bool isOurs(void *returnAddress)
{
    const auto address = reinterpret_cast<std::uint64_t>(returnAddress);
    if (fromProgram(address))
        return true;
    pipit_module module;
    return isRecording() && pipit_module_at(address, &module) &&
           std::strncmp(pipit_file_name(module.file), "libQt6Concurrent", 16) == 0;
}

void hookStart(QThreadPool *pool, QRunnable *work, int priority)
{
    static const auto real =
        reinterpret_cast<void (*)(QThreadPool *, QRunnable *, int)>(realFunction(StubPoolStart));
    if (work && isOurs(__builtin_return_address(0)))
        watchWork(work);
    real(pool, work, priority);
}

bool hookTryStart(QThreadPool *pool, QRunnable *work)
{
    static const auto real =
        reinterpret_cast<bool (*)(QThreadPool *, QRunnable *)>(realFunction(StubPoolTryStart));
    if (work && isOurs(__builtin_return_address(0)))
        watchWork(work);
    return real(pool, work);
}

void hookStartReserved(QThreadPool *pool, QRunnable *work)
{
    static const auto real =
        reinterpret_cast<void (*)(QThreadPool *, QRunnable *)>(realFunction(StubPoolStartReserved));
    if (work && isOurs(__builtin_return_address(0)))
        watchWork(work);
    real(pool, work);
}

void hookStartFunction(QThreadPool *pool, WorkFunction work, int priority)
{
    static const auto real =
        reinterpret_cast<void (*)(QThreadPool *, WorkFunction, int)>(realFunction(StubPoolStartFunction));
    if (work && isOurs(__builtin_return_address(0)))
        work = watched(std::move(work));
    real(pool, std::move(work), priority);
}

bool hookTryStartFunction(QThreadPool *pool, WorkFunction work)
{
    static const auto real =
        reinterpret_cast<bool (*)(QThreadPool *, WorkFunction)>(realFunction(StubPoolTryStartFunction));
    if (work && isOurs(__builtin_return_address(0)))
        work = watched(std::move(work));
    return real(pool, std::move(work));
}

void hookStartReservedFunction(QThreadPool *pool, WorkFunction work)
{
    static const auto real =
        reinterpret_cast<void (*)(QThreadPool *, WorkFunction)>(realFunction(StubPoolStartReservedFunction));
    if (work && isOurs(__builtin_return_address(0)))
        work = watched(std::move(work));
    real(pool, std::move(work));
}

} // namespace

void installWork()
{
    setStub(StubPoolStart, reinterpret_cast<void *>(&hookStart));
    setStub(StubPoolTryStart, reinterpret_cast<void *>(&hookTryStart));
    setStub(StubPoolStartReserved, reinterpret_cast<void *>(&hookStartReserved));
    setStub(StubPoolStartFunction, reinterpret_cast<void *>(&hookStartFunction));
    setStub(StubPoolTryStartFunction, reinterpret_cast<void *>(&hookTryStartFunction));
    setStub(StubPoolStartReservedFunction, reinterpret_cast<void *>(&hookStartReservedFunction));
}

} // namespace pipit::recorder
