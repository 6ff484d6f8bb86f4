// When each posted event was posted.
//
// postEvent() is called inside the tool-kit's own library too, past any stub, so its entry is
// patched: its first five bytes become a jump to a landing close by, which jumps to the hook; the
// bytes themselves run from a copy. Only the known prologue is patched, before other threads
// exist; with any other, waits of posted events stay unknown and Pipit is told so.
#include "link/control.h"
#include "recorder/control.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QEvent>
#include <QtCore/QJsonObject>

#include <cstring>
#include <dirent.h>
#include <sys/mman.h>
#include <unistd.h>

namespace pipit::recorder
{

namespace
{

using PostFn = void (*)(QObject *, QEvent *, int);
PostFn realPost = nullptr;

// An event has 13 bits that nobody uses, in the word behind its flags: there the generation is stamped.
constexpr std::size_t stampAt = 14;
bool stamps = false; // events of this build are laid out like that

std::uint16_t &stampWord(QEvent *event)
{
    return *reinterpret_cast<std::uint16_t *>(reinterpret_cast<char *>(event) + stampAt);
}

struct Input : QEvent {
    Input() : QEvent(QEvent::KeyPress, InputEventTag{}) {}
};

bool layoutIsKnown()
{
    static_assert(sizeof(QEvent) == 16);
    QEvent plain(QEvent::None);
    Input key;
    const bool was = stampWord(&plain) == 0 && stampWord(&key) == 0x2000;
    stampWord(&plain) |= std::uint16_t(link::generationMask);
    return was && !plain.isInputEvent() && plain.isAccepted() && !plain.spontaneous();
}

std::uint32_t stamp(QEvent *event)
{
    static thread_local std::uint32_t last = 0;
    if (!stamps)
        return 0;
    last = last % link::generationMask + 1;
    std::uint16_t &word = stampWord(event);
    word = std::uint16_t((word & ~link::generationMask) | last);
    return last;
}

void hookPost(QObject *receiver, QEvent *event, int priority)
{
    if (event)
        if (ThreadLog *log = ThreadLog::current())
            log->mark(link::Kind::Post,
                      (std::uint32_t(event->type()) & 0xffff) | stamp(event) << link::generationShift,
                      reinterpret_cast<std::uint64_t>(event), reinterpret_cast<std::uint64_t>(receiver));
    realPost(receiver, event, priority);
}

constexpr std::size_t prologueBytes = 5;
// push %r13; push %r12; push %rbp
constexpr unsigned char prologue[prologueBytes] = {0x41, 0x55, 0x41, 0x54, 0x55};

void jumpTo(unsigned char *at, const void *target) // 14 bytes: jmp *0(%rip); address
{
    const unsigned char code[6] = {0xff, 0x25, 0, 0, 0, 0};
    std::memcpy(at, code, sizeof code);
    std::memcpy(at + sizeof code, &target, sizeof target);
}

// A page within reach of a 32-bit jump from `near`, or null.
unsigned char *pageNear(std::uintptr_t near)
{
    const auto page = std::uintptr_t(sysconf(_SC_PAGESIZE));
    for (std::uintptr_t away = 1 << 20; away < (std::uintptr_t(1) << 30); away += 1 << 20) {
        for (const std::uintptr_t hint : {near - away, near + away}) {
            void *p = mmap(reinterpret_cast<void *>(hint & ~(page - 1)), page, PROT_READ | PROT_WRITE,
                           MAP_PRIVATE | MAP_ANONYMOUS | MAP_FIXED_NOREPLACE, -1, 0);
            if (p != MAP_FAILED)
                return static_cast<unsigned char *>(p);
        }
    }
    return nullptr;
}

bool patch(unsigned char *function)
{
    if (std::memcmp(function, prologue, prologueBytes) != 0)
        return false;
    const auto address = reinterpret_cast<std::uintptr_t>(function);
    unsigned char *landing = pageNear(address);
    if (!landing)
        return false;
    const auto page = std::uintptr_t(sysconf(_SC_PAGESIZE));
    jumpTo(landing, reinterpret_cast<const void *>(&hookPost));
    unsigned char *copy = landing + 32;
    std::memcpy(copy, function, prologueBytes);
    jumpTo(copy + prologueBytes, function + prologueBytes);
    if (mprotect(landing, page, PROT_READ | PROT_EXEC) != 0)
        return false;
    realPost = reinterpret_cast<PostFn>(copy);
    void *from = reinterpret_cast<void *>(address & ~(page - 1));
    if (mprotect(from, 2 * page, PROT_READ | PROT_WRITE | PROT_EXEC) != 0)
        return false;
    const auto distance = std::int32_t(landing - (function + prologueBytes));
    unsigned char jump[prologueBytes] = {0xe9};
    std::memcpy(jump + 1, &distance, sizeof distance);
    std::memcpy(function, jump, prologueBytes);
    mprotect(from, 2 * page, PROT_READ | PROT_EXEC);
    return true;
}

} // namespace

std::uint32_t generationOf(const QEvent *event)
{
    return stamps ? stampWord(const_cast<QEvent *>(event)) & link::generationMask : 0;
}

// Five bytes cannot be changed in one step while another thread may be running through them.
static bool otherThreadsRun()
{
    int threads = 0;
    if (DIR *folder = opendir("/proc/self/task")) {
        while (const dirent *e = readdir(folder))
            threads += e->d_name[0] != '.';
        closedir(folder);
    }
    return threads != 1;
}

static void tell(const char *what, const char *text)
{
    notifyPipit(link::tells::limit, {{"what", what}, {"text", text}});
}

void installPosts()
{
    PostFn post = &QCoreApplication::postEvent;
    stamps = layoutIsKnown();
    if (!stamps)
        tell("stamps",
             "Causes of posted events are unknown: events of this build of Qt are laid out in a way "
             "the recorder does not know.");
    if (otherThreadsRun())
        tell("posts",
             "Waits and causes of posted events are unknown: the program ran other threads before it "
             "made its application object.");
    else if (!patch(reinterpret_cast<unsigned char *>(post)))
        tell("posts",
             "Waits and causes of posted events are unknown: this build of Qt's postEvent starts in a "
             "way the recorder does not know.");
}

} // namespace pipit::recorder
