// The record: what the recorder writes for every step of a dispatch, and what Pipit reads.
//
// Threads: plain data, no rules. Units: times are CLOCK_MONOTONIC nanoseconds, but in a ring, where they may
// be the processor's counter (link/clock.h).
// A record fills one 48-byte cell of a ring; one with a text is followed by as many cells of raw
// text bytes as it needs. A recording's events have the kinds' numbers for their ids
// (docs/formats/recording.md), so a kind's number and words never change once released.
#pragma once

#include <cstdint>

namespace pipit::link
{

enum class Kind : std::uint16_t {
    None = 0,
    // Dictionary: names, written again on each stream before they are first used there.
    ObjectName = 1, // words: object; text "Class\nobjectName", and for one without a name "Class\n\ncaption"
    SignalName = 2, // words: key; text "Class\nsignature"
    CodePlace = 3,  // words: address, offset in module; text module path
    Link = 4,       // one connect call. words: serial, sender, signal key, code address; value: LinkKind
    LinkPlace = 5,  // words: serial, return address, the two return addresses further out (0 unknown)
    ThreadName = 6, // text
    LinkWords = 7,  // words: serial, the first, second and fourth word that the slot object holds
    ThreadRole = 8, // value: 1 for the thread of the application object, 0 for others
    // What the span that begins just before it came of. value: Tie (link/ties.h); words: token
    CameOf = 9,
    // What happened.
    DispatchBegin = 10, // value: event type and flags below. words: receiver, event, stamp
    DispatchEnd = 11,   // value: 1 handled, and what is known of its way below. words: event
    SignalBegin = 12,   // words: sender, signal key
    SignalEnd = 13,     // words: sender
    CallBegin = 14,     // value: LinkKind. words: receiver, link serial, code address, sender
    CallEnd = 15,       // value: 1 left by an exception. words: receiver
    LoopBegin = 16,     // words: loop object
    LoopEnd = 17,
    ProcessEventsBegin = 18, // value: flags. A pass asked for in the middle of other work
    ProcessEventsEnd = 19,
    WaitBegin = 20, // value: timeout in ms, 0xffffffff for none; 0: no wait, but the recorder's own work
    WaitEnd = 21,
    FullPoll = 22, // the loop looked at all its sources without waiting
    Post = 23,     // value: event type and generation. words: event, receiver
    Message = 24,  // value: 0 debug, 1 warning, 2 critical, 3 fatal, 4 info; text
    Lost = 25,     // words: records lost on this stream so far
    Note = 26,     // text: something the recorder says about itself
    Began = 27,    // the innermost span began something. value: Tie; words: token, the object that it is for
    Mark = 28,     // text: a moment marked by a play or a person
    // Of the innermost dispatch. value: what became of it there, and who that is; words: the
    // receiver or filter, and of a filter the receiver that it stands before
    Hop = 29,
    // Of the dispatch that begins just before it, an input. value: see below; words: the key, or 16 bits each
    // of x and y: where in the widget it happened, or how far a wheel turned
    Input = 30,
    // value: which (link/facts.h). words: the object, another number; text
    Fact = 31,
};

// How a handler was bound. Stored in Link and CallBegin.
enum class LinkKind : std::uint32_t {
    Functor = 0,
    Member = 1,
    NamedMethod = 2, // a slot called by method index
    Invoked = 3,     // QMetaObject::invokeMethod with a function
    SingleShot = 4,
    Work = 5, // given to a thread pool
};

// In the value of Link and CallBegin, beside the LinkKind: the code is the function that is called, not the
// template around it.
inline constexpr std::uint32_t CodeIsFunction = 1u << 8;

// In the value of DispatchEnd, beside bit 0. Most events are offered to one receiver, the dispatch's own: of
// that no hop is recorded.
inline constexpr std::uint32_t EventAccepted = 1u << 1; // by the only receiver
inline constexpr std::uint32_t WayKnown = 1u << 2;
inline constexpr std::uint32_t OneReceiver = 1u << 3;

// In the value of Hop: what became of the event there,
inline constexpr std::uint32_t HopIgnored = 0, HopAccepted = 1; // by a receiver
inline constexpr std::uint32_t HopPassed = 2, HopKept = 3;      // by a filter: passed on, or swallowed
inline constexpr std::uint32_t hopOutcome = 3;
// and whose filter it is.
inline constexpr std::uint32_t HopFilter = 1u << 2;
inline constexpr std::uint32_t HopOfApplication = 1u << 3;
// Of a filter that swallowed it: the event was accepted then; if not, the receiver's parent may be asked
// next.
inline constexpr std::uint32_t HopKeptAccepted = 1u << 4;
inline constexpr std::uint32_t HopOfToolkit = 1u << 5; // a filter of a class of the toolkit's own
// Position in the calling order, up to 255: one that calls others itself is recorded after them.
inline constexpr int hopOrderShift = 8;

// In the value of Input: 16 bits of Qt::MouseButton, those that are held where the pointer moved; then
// Qt::KeyboardModifiers without the bits below them; then what follows. Characters that are typed are not
// recorded.
inline constexpr int qtModifierShift = 25, inputModifierShift = 16;
inline constexpr std::uint32_t inputModifiers = 0x3f;
inline constexpr std::uint32_t InputRepeated = 1u << 24;
inline constexpr std::uint32_t InputIsTyped = 1u << 25; // a character without Ctrl, Alt or Meta, and no space
inline constexpr std::uint32_t InputByKeyboard = 1u << 26; // a context menu

// In the value of Post and DispatchBegin, beside the event type. The generation is stamped into an event
// when it is posted, to tell it apart from another one at the same address; 0: never posted.
inline constexpr std::uint32_t FromWindowSystem = 1u << 16;
inline constexpr std::uint32_t SlotUnknown = 1u << 17; // it calls a slot, and which is not known
inline constexpr int generationShift = 18;
inline constexpr std::uint32_t generationMask = 0x1fff;
inline constexpr std::uint32_t NoTimeout = 0xffffffffu;

struct Record {
    std::uint64_t time = 0;  // CLOCK_MONOTONIC, ns; in a ring see link/clock.h
    std::uint16_t kind = 0;  // Kind
    std::uint16_t depth = 0; // open begin records on this thread before this one; resynchronises after a loss
    std::uint32_t value = 0; // by kind; for records with a text see `words[3]`
    std::uint64_t words[4] = {};
};
static_assert(sizeof(Record) == 48);

constexpr std::uint32_t generationOf(const Record &s)
{
    return s.value >> generationShift & generationMask;
}

// What a kind holds: `words` counts its payload words, those of a version 0.1 recording as well.
struct KindInfo {
    Kind kind;
    const char *name;
    int words;
    bool text; // the text's length in bytes is in words[3]
};

inline constexpr KindInfo kinds[] = {
    {Kind::ObjectName, "object_name", 1, true},
    {Kind::SignalName, "signal_name", 1, true},
    {Kind::CodePlace, "code_place", 2, true},
    {Kind::Link, "connection", 4, false},
    {Kind::LinkPlace, "connection_place", 4, false},
    {Kind::ThreadName, "thread_name", 0, true},
    {Kind::LinkWords, "connection_words", 4, false},
    {Kind::ThreadRole, "thread_role", 0, false},
    {Kind::DispatchBegin, "dispatch_begin", 3, false},
    {Kind::DispatchEnd, "dispatch_end", 1, false},
    {Kind::SignalBegin, "signal_begin", 2, false},
    {Kind::SignalEnd, "signal_end", 1, false},
    {Kind::CallBegin, "call_begin", 4, false},
    {Kind::CallEnd, "call_end", 1, false},
    {Kind::LoopBegin, "loop_begin", 1, false},
    {Kind::LoopEnd, "loop_end", 0, false},
    {Kind::ProcessEventsBegin, "process_events_begin", 0, false},
    {Kind::ProcessEventsEnd, "process_events_end", 0, false},
    {Kind::WaitBegin, "wait_begin", 0, false},
    {Kind::WaitEnd, "wait_end", 0, false},
    {Kind::FullPoll, "full_poll", 0, false},
    {Kind::Post, "post", 2, false},
    {Kind::Message, "message", 0, true},
    {Kind::Lost, "lost", 1, false},
    {Kind::Note, "note", 0, true},
    {Kind::Mark, "mark", 0, true},
    {Kind::Hop, "hop", 2, false},
    {Kind::Input, "input", 1, false},
    {Kind::Fact, "fact", 2, true},
    {Kind::CameOf, "came_of", 1, false},
    {Kind::Began, "began", 2, false},
};

// The entry for a kind, or null for a number that this version does not know.
inline constexpr std::uint16_t kindNumbers = 32; // all kinds are below this

namespace detail
{
struct KindTable {
    const KindInfo *at[kindNumbers] = {};
    constexpr KindTable()
    {
        for (const auto &k : kinds)
            at[static_cast<std::uint16_t>(k.kind)] = &k;
    }
};
inline constexpr KindTable kindTable;
} // namespace detail

constexpr const KindInfo *infoOf(std::uint16_t kind)
{
    return kind < kindNumbers ? detail::kindTable.at[kind] : nullptr;
}

// Begin records open one level of nesting, end records close it.
constexpr bool opens(Kind k)
{
    return k == Kind::DispatchBegin || k == Kind::SignalBegin || k == Kind::CallBegin ||
           k == Kind::LoopBegin || k == Kind::ProcessEventsBegin;
}
constexpr bool closes(Kind k)
{
    return k == Kind::DispatchEnd || k == Kind::SignalEnd || k == Kind::CallEnd || k == Kind::LoopEnd ||
           k == Kind::ProcessEventsEnd;
}

} // namespace pipit::link
