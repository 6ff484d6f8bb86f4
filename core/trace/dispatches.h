// Dispatches and the way that their events went: past which filters, to which receivers, and what each did.
//
// Threads: any; they read the model's published part.
#pragma once

#include "core/trace/queries.h"

namespace pipit
{

// The way of a dispatched event, in its order; nothing where it is not known. Empty: no receiver got it, for
// notify() did not pass it on: the program's own, or the toolkit's while the application ends. Not known
// before the dispatch has ended.
std::optional<std::vector<Hop>> wayOf(const TraceModel &trace, const Span &dispatch);

// "filter", "application filter", "receiver", "scroll area" for what it gets from its viewport; "accepted",
// "ignored", "swallowed", "passed on".
QString roleWords(Hop::Role role);
QString outcomeWords(Hop::Outcome outcome);
// One of them: "boardButton accepted it", "the application's filter KeyEater swallowed it before
// ticketField".
QString hopText(const TraceModel &trace, const Hop &hop);
// Whether somebody would ask for it: more than one receiver was asked, or none, a filter swallowed it, or the
// event is one that means something when it is ignored.
bool isWorthTelling(const Span &dispatch, const std::vector<Hop> &way);
// The whole way as a sentence without its full stop; empty where it is not known, or not worth telling.
QString wayText(const TraceModel &trace, const Span &dispatch);
// Whether it means something that an event of this type is accepted: input, drags, closing and the like.
bool canBeRefused(int type);

} // namespace pipit
