// What is told beside the spans: hops, inputs, facts.
#include "core/trace/model_thread.h"
#include "core/trace/other_process.h"

namespace pipit
{

using link::Record;

// It is of the dispatch that is open innermost, at the depth at which it is told.
void TraceModel::takeHop(Thread &t, const Record &s)
{
    if (t.open.empty() || t.open.back().kind != SpanKind::Dispatch || t.open.back().depth + 1 != s.depth)
        return; // its dispatch was lost
    Hop hop;
    hop.object = t.objects.find(s.words[0]);
    hop.before = s.words[1] ? t.objects.find(s.words[1]) : 0;
    hop.outcome = Hop::Outcome(s.value & link::hopOutcome);
    hop.accepted = s.value & link::HopKeptAccepted;
    hop.ofToolkit = s.value & link::HopOfToolkit;
    hop.role = !(s.value & link::HopFilter)       ? Hop::Receiver
               : s.value & link::HopOfApplication ? Hop::ApplicationFilter
                                                  : Hop::Filter;
    t.hops.push_back({t.open.back().row, s.value >> link::hopOrderShift & 0xff, hop});
}

// It comes at once after the beginning of what it describes.
void TraceModel::takeInput(Thread &t, const Record &s)
{
    if (t.open.empty() || t.open.back().kind != SpanKind::Dispatch || t.open.back().depth + 1 != s.depth ||
        t.open.back().row + 1 != t.rows.written())
        return; // its dispatch was lost
    InputInfo i;
    i.key = std::int32_t(s.words[0]);
    i.x = std::int16_t(s.words[0]);
    i.y = std::int16_t(s.words[0] >> 16);
    i.button = std::uint16_t(s.value);
    i.modifiers = std::uint8_t(s.value >> link::inputModifierShift & link::inputModifiers);
    i.repeated = s.value & link::InputRepeated;
    i.typed = s.value & link::InputIsTyped;
    i.byKeyboard = s.value & link::InputByKeyboard;
    t.rows.describe(i);
}

void TraceModel::takeFact(Thread &t, const Record &s, const char *text, std::size_t bytes)
{
    if (s.value > std::uint32_t(link::Fact::Used))
        return; // of a later version
    std::uint64_t other = s.words[1];
    if (link::Fact(s.value) == link::Fact::NeverCame) {
        const auto it = posted_.find(other);
        other = it == posted_.end() ? 0 : it->second.cause.number();
        if (it != posted_.end())
            posted_.erase(it);
    }
    const QString words = ofProcess(link::Fact(s.value), QString::fromUtf8(text, qsizetype(bytes)), t.salt);
    if (link::Fact(s.value) == link::Fact::State && words == u"gone")
        names_.forget(s.words[0]);
    facts_.add({std::int64_t(s.time), other, t.objects.find(s.words[0]), names_.intern(words), t.top(),
                link::Fact(s.value), t.index});
}

std::uint32_t TraceModel::firstFactFrom(std::int64_t time) const
{
    std::uint32_t low = 0, high = facts_.size();
    while (low < high) {
        const std::uint32_t middle = low + (high - low) / 2;
        facts_[middle].time < time ? low = middle + 1 : high = middle;
    }
    return low;
}

// It is told at once after the signal's beginning, within it.
QString TraceModel::argumentsOf(const Span &signal) const
{
    const std::uint32_t low = firstFactFrom(signal.start);
    constexpr std::uint32_t far = 64; // of other threads, meanwhile
    for (std::uint32_t i = low; i < facts_.size() && i < low + far; ++i)
        if (facts_[i].fact == link::Fact::Arguments && facts_[i].span == signal.id)
            return factText(facts_[i]);
    return {};
}

} // namespace pipit
