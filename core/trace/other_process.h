// Addresses and serials of one process say nothing in another. In a trace those of all processes but the
// first are told apart by a number of their process, in the words of a record as in the texts of facts.
//
// Threads: any.
#pragma once

#include "link/facts.h"
#include "link/record.h"

#include <QString>

namespace pipit
{

// The record with its addresses as the trace has them; `salt` is the process's number.
[[nodiscard]] link::Record ofProcess(link::Record record, std::uint64_t salt);

// The same of a fact's text: parents, models, filters and proxies of a state, receivers, serials and callers
// of connections.
[[nodiscard]] QString ofProcess(link::Fact fact, const QString &text, std::uint64_t salt);

} // namespace pipit
