// Where the recorder starts: the shim loads it while the program builds its QCoreApplication.
#include "link/control.h"
#include "recorder/acts.h"
#include "recorder/control.h"
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>

#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <dlfcn.h>
#include <new>
#include <pthread.h>
#include <string>
#include <sys/mman.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace pipit::recorder
{

namespace
{

using RealFn = void *(*)(int);
char leftOut[256] = {}; // between commas; no object, since this runs before those are made
RealFn shimReal = nullptr, shimStub = nullptr;
void **shimSlots = nullptr;

// The program's children are not recorded, and do not load the shim.
void cleanEnvironment()
{
    unsetenv(link::envSocket);
    unsetenv(link::envRecorder);
    unsetenv(link::envTexts);
    unsetenv(link::envWithout);
    const char *preload = getenv("LD_PRELOAD");
    if (!preload)
        return;
    std::string rest, item;
    for (const char *p = preload;; ++p) {
        if (*p && *p != ':' && *p != ' ') {
            item += *p;
            continue;
        }
        if (!item.empty() && item.find("pipit-shim") == std::string::npos)
            rest += (rest.empty() ? "" : ":") + item;
        item.clear();
        if (!*p)
            break;
    }
    if (rest.empty())
        unsetenv("LD_PRELOAD");
    else
        setenv("LD_PRELOAD", rest.c_str(), 1);
}

// A page that a forked child finds empty, whichever way it was forked.
bool makeSwitch()
{
    const auto size = std::size_t(sysconf(_SC_PAGESIZE));
    void *page = mmap(nullptr, size, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
    if (page == MAP_FAILED || madvise(page, size, MADV_WIPEONFORK) != 0)
        return false;
    recordingSwitch = new (page) std::atomic<bool>(false);
    return true;
}

std::string refusal()
{
    if (std::strcmp(qVersion(), QT_VERSION_STR) == 0)
        return {};
    return std::string("The program runs with Qt ") + qVersion() +
           "; this recorder was built for Qt " QT_VERSION_STR " and records nothing.";
}

__attribute__((constructor)) void start()
{
    const char *socket = getenv(link::envSocket);
    shimReal = reinterpret_cast<RealFn>(dlsym(RTLD_DEFAULT, "pipit_real"));
    shimStub = reinterpret_cast<RealFn>(dlsym(RTLD_DEFAULT, "pipit_stub"));
    shimSlots = static_cast<void **>(dlsym(RTLD_DEFAULT, "pipit_slots"));
    if (!socket || !shimReal || !shimStub || !shimSlots)
        return;
    const std::string path = socket;
    const char *texts = getenv(link::envTexts);
    const bool captions = !texts || std::strcmp(texts, link::textsMasked) != 0;
    const bool own = texts && std::strcmp(texts, link::textsOwn) == 0;
    const char *without = getenv(link::envWithout);
    std::snprintf(leftOut, sizeof leftOut, ",%s,", without ? without : "");
    cleanEnvironment();
    muteThisThread(); // lifted below
    const std::string no = refusal();
    const char *why = openControl(path.c_str(), no.c_str());
    if (!why && !makeSwitch())
        why = "the system cannot tell a forked child from its parent";
    if (why) {
        std::fprintf(stderr, "pipit: nothing is recorded: %s\n", why);
        return;
    }
    applicationThread = pid_t(syscall(SYS_gettid));
    pthread_atfork(nullptr, nullptr, tellFork);
    textsMayBeTold = captions;
    ownTexts = own;
    loadActs(captions);
    const std::pair<const char *, void (*)()> installs[] = {
        {"", &installCalls},      {"", &installNamed},
        {"", &installWork},       {"", &installLoops},
        {"", &installMessages},   {"posts", &installPosts},
        {"ways", &installHops},   {"deaths", &installFacts},
        {"", &installEnds},       {"touches", &installTouches},
        {"causes", &installTies}, {"causes", &installPainting},
        {"files", &installFiles}, {"services", &installServices},
        {"", &installDispatch},
    };
    for (const auto &[part, install] : installs)
        if (!isLeftOut(part))
            install();
    startControlThread();
    unmuteThisThread();
    recordingSwitch->store(true);
}

} // namespace

bool textsMayBeTold = true;
bool ownTexts = false;

bool isLeftOut(const char *part)
{
    const std::string wanted = ',' + std::string(part) + ',';
    return *part && std::strstr(leftOut, wanted.c_str());
}

void *realFunction(StubId id)
{
    return shimReal(id);
}
const void *stubFunction(StubId id)
{
    return shimStub(id);
}
void setStub(StubId id, void *function)
{
    shimSlots[id] = function;
}

// What a file's name says is kept for each module, found by where it was loaded and its name's place.
bool inToolkit(std::uint64_t address)
{
    static constinit std::atomic<std::uint64_t> lately[32]{}; // the key, and in its last two bits what it is
    dl_find_object object;
    if (_dl_find_object(reinterpret_cast<void *>(address), &object) != 0)
        return false;
    const auto map = reinterpret_cast<std::uint64_t>(object.dlfo_map_start);
    const char *file = object.dlfo_link_map->l_name;
    const std::uint64_t key = (map ^ reinterpret_cast<std::uint64_t>(file) << 16) & ~std::uint64_t(3);
    std::atomic<std::uint64_t> &known = lately[(map >> 12 ^ map >> 21) & 31];
    if (const std::uint64_t is = known.load(std::memory_order_relaxed); (is & ~std::uint64_t(3)) == key && is)
        return is & 2;
    const bool is = pipit_is_toolkit(file);
    known.store(key | (is ? 2 : 0) | 1, std::memory_order_relaxed);
    return is;
}

bool fromProgram(std::uint64_t returnAddress)
{
    return isRecording() && !inToolkit(returnAddress);
}

bool isCode(std::uint64_t address)
{
    pipit_module module;
    return pipit_module_at(address, &module) && address >= module.from && address < module.to;
}

} // namespace pipit::recorder
