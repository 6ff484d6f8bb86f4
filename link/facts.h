// Facts: what the recorder records about objects besides their events. Their states, the connections they
// have, and what the program did to them, each when it changed.
//
// A Fact record holds the object, another number and a text; its value says which fact it is. The texts'
// forms are here, for both sides. What stands in them is the program's: nothing of it is trusted.
#pragma once

#include <cstdint>

namespace pipit::link
{

enum class Fact : std::uint32_t {
    // How an object is. Text: lines of "key=value", see below; "gone" once it was deleted.
    State = 0,
    // All connections from the object, a line each, the fields parted by tabs: signal; receiver, in
    // hexadecimal; its class; its name; slot; type; serial of the link, in hexadecimal, or 0; 1 if the
    // program made it, 0 if the toolkit did; how the receiver's thread is: "same" as the sender's, "loop" it
    // runs one, "none" it runs none, "unstarted", "ended".
    Wires = 1,
    // Every object in reach was looked at since the last time that this was told, and what had changed is
    // told. Text: how many.
    Swept = 2,
    // The program connected. Other: the address it was called from. Text: one line as in Wires. Behind it, in
    // hexadecimal or empty, where that function was called from, and the one around it: the connect may lie
    // in a template.
    Connected = 3,
    // The same, but it failed. Text: signal, receiver, class, name, slot, type, reason, the two addresses.
    NotConnected = 4,
    // The program called a function that changes the object. Other: the address it was called from. Text:
    // what it sets, a tab, and to what, where that is recorded.
    Touched = 5,
    // A drag came to the object's window, or was dropped there, while the pointer was over the object. Text:
    // the types that it offers, parted by commas.
    Offered = 6,
    // What the signal carries in which it is told. Text: its arguments, parted by ", "; a text in quotes, or
    // how many characters it has.
    Arguments = 7,
    // The object was deleted before it was handed an event that had been posted to it. Other: the event; in a
    // trace the number of the span that posted it, 0 where that is not known. Text: the event's type.
    NeverCame = 8,
    // It is of a class of its own that stands for a thread: what it is called for runs where it was made.
    IsThread = 9,
    // The application object goes, and these threads run on. Text: a line each: number, name, and how many ms
    // of a processor it has had, parted by tabs; number 0 is the global pool, with how many of its threads
    // work.
    ThreadsLeft = 10,
    // A file was opened, renamed (to this) or removed, and that did not fail. No object. Text, parted by
    // tabs: "read" or "write" (what it was opened for), "rename" or "remove"; the folder, which is "settings
    // folder", "cache", "working folder", "temporary folder", "home folder" or "elsewhere"; the path in it,
    // empty where texts are not told.
    File = 11,
    // The program's own code used something outside of its windows. No object. Other: the address it was
    // called from, 0 where that is not known. Text: "setting", "no setting", "clipboard", "desktop", "sound",
    // "attention" or "notice" (of the system tray). Behind a tab: the setting's key, empty where texts are
    // not told, or the kind of address that the desktop was to open.
    Used = 12,
};

// What is true of an object, in its state's "is", in hexadecimal.
enum StateBit : std::uint32_t {
    IsVisible = 1u << 0,
    IsHiddenItself = 1u << 1, // not only because its parent is
    IsEnabled = 1u << 2,
    IsDisabledItself = 1u << 3,
    IsWindow = 1u << 4,
    IsTransparent = 1u << 5, // to the mouse
    TakesDrops = 1u << 6,
    HasFocus = 1u << 7,
    TracksMouse = 1u << 8,
    IsCheckable = 1u << 9,
    IsChecked = 1u << 10,
    IsReadOnly = 1u << 11,
    UpdatesAreOff = 1u << 12,
    HasMask = 1u << 13,
    IsModal = 1u << 14,
    IsBlocked = 1u << 15, // by a modal window
    IsPopup = 1u << 16,
    SignalsAreBlocked = 1u << 17,
    IsButton = 1u << 18,
    DragsAway = 1u << 19, // of a view: rows may be dragged
    IsRunning = 1u << 20, // of a timer
    IsSingleShot = 1u << 21,
    IsActiveWindow = 1u << 22,
    TakesText = 1u << 23,
    IsAction = 1u << 24,
    IsShortcut = 1u << 25,
    IsTimer = 1u << 26,
    IsWidget = 1u << 27,
    IsAutoRepeat = 1u << 28,
    IsView = 1u << 29,
    GrabsMouse = 1u << 30,
    GrabsKeyboard = 1u << 31,
};

// Keys of a state's lines. All: "own" where its class is the program's. Widgets: "in" the parent's address;
// "at" x,y,width,height in it; "z" the place among the parent's children, later ones lie above; "focus"
// Qt::FocusPolicy; "proxy" who has the focus in its place; "menu" Qt::ContextMenuPolicy; "text" a number that
// changes with what it holds; "says" its caption, where captions are recorded; "value"; "model" an address;
// "limits" of a field, parted by tabs: its validator's class, "input mask", "at most N characters";
// "filters" those installed, addresses. Actions and shortcuts: "keys" parted by tabs; "context"
// Qt::ShortcutContext; "on" whose they are. Timers: "every", ms.

} // namespace pipit::link
