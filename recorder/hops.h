// The way of an event: the filters that saw it, the receivers that it was offered to, and what each did with
// it.
//
// The toolkit offers an event to one receiver after the other in notify_helper(), whose entry is patched
// (recorder/patch.h), as are the two functions that ask the filters, which are called inside the toolkit's
// own library. Whoever calls notify_helper() owns the event, so whether it is accepted is read there, and
// exact. Most events have one receiver: its hop is not told, and the end of the dispatch says what
// became of it.
//
// Threads: a Way belongs to the thread of its dispatch, whose innermost one is found by the patched
// functions.
#pragma once

#include "recorder/thread_log.h"

#include <QtCore/QEvent>

namespace pipit::recorder
{

class Way
{
public:
    // `object`: the receiver's key.
    Way(ThreadLog *log, const QObject *receiver, std::uint64_t object);
    ~Way();
    Way(const Way &) = delete;
    Way &operator=(const Way &) = delete;

    // What is told of it at the end of the dispatch (link/record.h).
    std::uint32_t ending() const;

private:
    friend struct Hops;
    // As it stands in the record.
    std::uint32_t nextOrder()
    {
        const std::uint32_t order = order_ < 255 ? order_++ : 255;
        return order << link::hopOrderShift;
    }
    void tell(std::uint64_t object, std::uint32_t what, std::uint64_t before = 0);
    void tellFirst();

    ThreadLog *log_;
    const QObject *receiver_;
    std::uint64_t object_;
    Way *outer_;
    std::uint32_t order_ = 0;          // of the next hop
    std::uint32_t *offered_ = nullptr; // the order of the receiver whose filters are asked now
    std::uint32_t first_ = 0;          // the order of the only hop so far, and what became of it
    bool one_ = false;                 // there was that one, and it is not told
    bool told_ = false;                // receivers are told one by one
};

// Whether receivers and filters of every dispatch are seen.
bool waysAreKnown();

inline bool isKeyOrButton(int type) // QEvent::Type
{
    return (type >= QEvent::MouseButtonPress && type <= QEvent::MouseButtonDblClick) ||
           type == QEvent::KeyPress || type == QEvent::KeyRelease || type == QEvent::ShortcutOverride;
}

} // namespace pipit::recorder
