// What a source gives, and whether a handler takes it: the one answer for connecting, for the wiring
// check and for generated code. Each of them says it in words of its own.
//
// Threads: any.
#pragma once

#include "core/project/convert.h"
#include "core/project/reach.h"

#include <optional>

namespace pipit
{

// One signal or event of a source.
struct Occasion {
    std::optional<SignalEntry> signal;
    const EventEntry *event = nullptr; // in the catalog
    QString stored;                    // as a connection names it
};
// By a signal's name or signature, or by an event's words; a Problem offers the nearest.
Result<Occasion> occasionOf(const Reach &reach, const QString &source, const QString &part,
                            const QString &what);

enum class Misfit {
    None,
    Kind,       // a signal handler for an event, or the other way round
    Event,      // it takes another kind of event
    Source,     // it takes a source of another class
    Arguments,  // it takes other arguments
    Conversion, // it takes what is given as it is, so there is nothing to convert
};
struct Fit {
    Misfit misfit = Misfit::None;
    // With None: how the argument is converted, null when it is taken as it is. With Arguments: a
    // conversion that would do, but that the connection does not name.
    const Conversion *how = nullptr;
};
// `convert` is the connection's choice, "number else skip".
Fit fitOf(const Handler &handler, const SignalEntry &signal, const Reach &reach, const QString &source,
          const QString &part, const QString &convert);
// A viewport's events come with the widget that it belongs to.
Fit fitOf(const Handler &handler, const EventEntry &event, const Reach &reach, const QString &source,
          const QString &part);

} // namespace pipit
