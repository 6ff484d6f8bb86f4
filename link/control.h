// The control channel between Pipit and a recorded program: names shared by both ends.
//
// JSON-RPC 2.0, one message a line. The recorder says hello over a Unix socket that Pipit listens on (mode
// 0600, in a private folder, the peer's user checked) and is given the arena (link/arena.h) as ancillary data
// of the answer; the socket is closed then, and all else goes through the arena. docs/formats/control.md
// lists methods and answers.
#pragma once

namespace pipit::link
{

inline constexpr char envSocket[] = "PIPIT_SOCKET";     // where the recorder reports to
inline constexpr char envRecorder[] = "PIPIT_RECORDER"; // the recorder's library, loaded by the shim
// Parts of the recorder that are left out, parted by commas, for measuring what each takes: link::parts.
inline constexpr char envWithout[] = "PIPIT_RECORDER_WITHOUT";
inline constexpr const char *parts[] = {"objects", "ways",   "arguments", "inputs", "touches", "causes",
                                        "posts",   "deaths", "wires",     "files",  "services"};
inline constexpr char envTexts[] = "PIPIT_TEXTS"; // textsMasked, or anything else
inline constexpr char textsMasked[] = "masked";   // not even captions are recorded
inline constexpr char textsOwn[] = "own";         // of a program composed in Pipit: those of signals too
inline constexpr int controlVersion = 2;

// What the recorder sends.
namespace tells
{
inline constexpr char hello[] = "hello", limit[] = "limit", refused[] = "refused",
                      posting[] = "posting"; // an input, before it is posted: the program may end by it
inline constexpr const char *all[] = {hello, limit, refused, posting};
} // namespace tells

// What Pipit asks for.
namespace asks
{
inline constexpr char window[] = "window", click[] = "click", type[] = "type", press[] = "press",
                      hover[] = "hover", drag[] = "drag", wheel[] = "wheel", state[] = "state",
                      idle[] = "idle", targets[] = "targets", picture[] = "picture", switchOff[] = "switch",
                      interval[] = "interval", quit[] = "quit";
inline constexpr const char *all[] = {window, click, type,    press,   hover,     drag,     wheel,
                                      state,  idle,  targets, picture, switchOff, interval, quit};
} // namespace asks

} // namespace pipit::link
