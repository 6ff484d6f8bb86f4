// When each posted event was posted.
//
// postEvent() is called inside the toolkit's own library too, past any stub, so its entry is patched
// (recorder/patch.h). Where that cannot be, waits of posted events stay unknown and Pipit is told so.
#include "link/control.h"
#include "recorder/control.h"
#include "recorder/hooks.h"
#include "recorder/patch.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QEvent>
#include <QtCore/QJsonObject>

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

// push %r13; push %r12; push %rbp
constexpr unsigned char entryBytes[] = {0x41, 0x55, 0x41, 0x54, 0x55};

} // namespace

std::uint32_t generationOf(const QEvent *event)
{
    return stamps ? stampWord(const_cast<QEvent *>(event)) & link::generationMask : 0;
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
    else if (void *real = patchEntry(reinterpret_cast<void *>(post), {entryBytes, sizeof entryBytes},
                                     reinterpret_cast<const void *>(&hookPost)))
        realPost = reinterpret_cast<PostFn>(real);
    else
        tell("posts",
             "Waits and causes of posted events are unknown: this build of Qt's postEvent starts in a "
             "way the recorder does not know.");
}

} // namespace pipit::recorder
