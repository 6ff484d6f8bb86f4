// Inputs in the trade's words: "left, at 12, 8", "Ctrl+S", "down".
//
// Threads: any.
#pragma once

#include "core/trace/model.h"

#include <optional>

namespace pipit
{

// Whether there may be such words for an event of this type.
bool isDescribed(int type);
// What is known of the input that a dispatch delivers; nothing for other events, and in older recordings.
std::optional<InputInfo> inputOf(const TraceModel &trace, const Span &dispatch);
// In words; `type` is the event's.
QString inputWords(int type, const InputInfo &input);
// "Ctrl+S", "Escape"; "a character" of one that was typed.
QString keyWords(const InputInfo &input);
// "left", "right", "middle", "button 8"; empty for none.
QString buttonWords(const InputInfo &input);

} // namespace pipit
