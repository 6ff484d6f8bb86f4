// Where the recorder starts: the shim loads it while the program builds its QCoreApplication.
#include "link/control.h"
#include "recorder/captions.h"
#include "recorder/control.h"
#include "recorder/hands.h"
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QJsonObject>

#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <dlfcn.h>
#include <pthread.h>
#include <string>
#include <sys/syscall.h>
#include <unistd.h>

namespace pipit::recorder
{

namespace
{

using RealFn = void *(*)(int);
RealFn shimReal = nullptr;
void **shimSlots = nullptr;

// The program's children are not recorded, and do not load the shim.
void cleanEnvironment()
{
    unsetenv(link::envSocket);
    unsetenv(link::envRecorder);
    unsetenv(link::envTexts);
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

void inForkedChild()
{
    recordingOn = false;
    forgetControl();
}

__attribute__((constructor)) void start()
{
    const char *socket = getenv(link::envSocket);
    shimReal = reinterpret_cast<RealFn>(dlsym(RTLD_DEFAULT, "pipit_real"));
    shimSlots = static_cast<void **>(dlsym(RTLD_DEFAULT, "pipit_slots"));
    if (!socket || !shimReal || !shimSlots)
        return;
    const std::string path = socket;
    const char *texts = getenv(link::envTexts);
    captionsAllowed = !texts || std::strcmp(texts, link::textsMasked) != 0;
    cleanEnvironment();
    muteThisThread(); // lifted below
    if (!openControl(path.c_str())) {
        std::fprintf(stderr, "pipit: nobody listens at %s, so nothing is recorded\n", path.c_str());
        return;
    }
    if (std::strcmp(qVersion(), QT_VERSION_STR) != 0) {
        notifyPipit(link::tells::refused,
                    {{"text", QStringLiteral("The program runs with Qt %1; this recorder was "
                                             "built for Qt %2 and records nothing.")
                                  .arg(QLatin1String(qVersion()), QLatin1String(QT_VERSION_STR))}});
        return;
    }
    applicationThread = pid_t(syscall(SYS_gettid));
    pthread_atfork(nullptr, nullptr, inForkedChild);
    installCalls();
    installNamed();
    installWork();
    installLoops();
    installMessages();
    installPosts();
    installDispatch();
    startControlThread();
    unmuteThisThread();
    recordingOn = true;
}

} // namespace

void *realFunction(StubId id)
{
    return shimReal(id);
}
void setStub(StubId id, void *function)
{
    shimSlots[id] = function;
}

bool inToolkit(std::uint64_t address)
{
    pipit_module module;
    if (!pipit_module_at(address, &module))
        return false;
    const char *name = pipit_file_name(module.file);
    return std::strncmp(name, "libQt6", 6) == 0 || std::strncmp(name, "libpipit", 8) == 0;
}

bool fromProgram(std::uint64_t returnAddress)
{
    return recordingOn.load(std::memory_order_relaxed) && !inToolkit(returnAddress);
}

bool isCode(std::uint64_t address)
{
    pipit_module module;
    return pipit_module_at(address, &module) && address >= module.from && address < module.to;
}

} // namespace pipit::recorder
