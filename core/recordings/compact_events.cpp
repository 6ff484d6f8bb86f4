// The events as a reader of the format is told of them.
#include "core/recordings/compact.h"

namespace pipit::compact
{

using link::Kind;

std::uint8_t idOf(Kind kind)
{
    switch (kind) {
    case Kind::Mark:
        return LateMark;
    case Kind::Note:
        return LateNote;
    case Kind::ThreadRole:
        return LateRole;
    case Kind::Input:
        return InputOf;
    case Kind::Fact:
        return LateFact;
    case Kind::Began:
        return LateBegan;
    case Kind::CameOf:
        return LateCameOf;
    default:
        return std::uint8_t(kind);
    }
}

namespace
{

enum class Form : std::uint8_t { Number, Hex, Text };

// A field of an event, for the description: its name, its size in bytes, how it is read.
struct Field {
    const char *name;
    int bytes;
    Form form = Form::Number;
};

struct Event {
    std::uint8_t id;
    const char *name;
    std::vector<Field> fields;
};

const std::vector<Event> &events()
{
    constexpr Form hex = Form::Hex, text = Form::Text;
    static const std::vector<Event> all = {
        {Address, "address", {{"number", 4}, {"value", 8, hex}}},
        {Depth, "depth", {{"depth", 2}}},
        {Called, "called", {{"number", 4}, {"serial", 8, hex}, {"code", 8, hex}, {"value", 4}}},
        {idOf(Kind::ObjectName), "object_name", {{"object", 8, hex}, {"text", 0, text}}},
        {idOf(Kind::SignalName), "signal_name", {{"key", 8, hex}, {"text", 0, text}}},
        {idOf(Kind::CodePlace), "code_place", {{"address", 8, hex}, {"offset", 8, hex}, {"text", 0, text}}},
        {idOf(Kind::Link),
         "connection",
         {{"serial", 8, hex}, {"sender", 8, hex}, {"signal", 8, hex}, {"code", 8, hex}, {"value", 4}}},
        {idOf(Kind::LinkPlace),
         "connection_place",
         {{"serial", 8, hex}, {"place", 8, hex}, {"outer_place", 8, hex}, {"outermost_place", 8, hex}}},
        {idOf(Kind::ThreadName), "thread_name", {{"text", 0, text}}},
        {idOf(Kind::LinkWords),
         "connection_words",
         {{"serial", 8, hex}, {"first", 8, hex}, {"second", 8, hex}, {"fourth", 8, hex}}},
        {idOf(Kind::ThreadRole), "thread_role", {{"value", 4}}},
        {idOf(Kind::DispatchBegin), "dispatch_begin", {{"receiver", 4}, {"type", 2}, {"flags", 1}}},
        {DispatchPosted,
         "dispatch_begin_posted",
         {{"receiver", 4}, {"type", 2}, {"flags", 1}, {"event_address", 8, hex}}},
        {DispatchInput, "dispatch_begin_input", {{"receiver", 4}, {"type", 2}, {"flags", 1}, {"stamp", 8}}},
        {idOf(Kind::DispatchEnd), "dispatch_end", {{"outcome", 1}}},
        {idOf(Kind::SignalBegin), "signal_begin", {{"sender", 4}, {"signal", 4}}},
        {idOf(Kind::SignalEnd), "signal_end", {}},
        {idOf(Kind::CallBegin), "call_begin", {{"receiver", 4}, {"called", 4}}},
        {idOf(Kind::CallEnd), "call_end", {{"outcome", 1}}},
        {idOf(Kind::LoopBegin), "loop_begin", {{"loop", 4}}},
        {idOf(Kind::LoopEnd), "loop_end", {}},
        {idOf(Kind::ProcessEventsBegin), "process_events_begin", {{"flags", 4}}},
        {idOf(Kind::ProcessEventsEnd), "process_events_end", {}},
        {idOf(Kind::WaitBegin), "wait_begin", {{"timeout", 4}}},
        {idOf(Kind::WaitEnd), "wait_end", {}},
        {idOf(Kind::FullPoll), "full_poll", {}},
        {idOf(Kind::Post), "post", {{"receiver", 4}, {"type", 2}, {"event_address", 8, hex}}},
        {idOf(Kind::Message), "message", {{"severity", 4}, {"text", 0, text}}},
        {idOf(Kind::Lost), "lost", {{"count", 8}}},
        {idOf(Kind::Note), "note", {{"text", 0, text}}},
        {idOf(Kind::Mark), "mark", {{"text", 0, text}}},
        {idOf(Kind::Input), "input", {{"value", 4}, {"what", 4}}},
        {idOf(Kind::Fact), "fact", {{"which", 4}, {"object", 8, hex}, {"other", 8, hex}, {"text", 0, text}}},
        {idOf(Kind::Began), "began", {{"tie", 1}, {"token", 8, hex}, {"object", 8, hex}}},
        {idOf(Kind::CameOf), "came_of", {{"tie", 1}, {"token", 8, hex}}},
        {ReceiverHop, "hop", {{"receiver", 4}, {"outcome", 1}, {"order", 1}}},
        {FilterHop, "hop_filter", {{"filter", 4}, {"receiver", 4}, {"outcome", 1}, {"order", 1}}},
    };
    return all;
}

} // namespace

QByteArray eventDescriptions()
{
    QByteArray m;
    for (const Event &e : events()) {
        m += QByteArray("event {\n    name = \"") + e.name +
             "\";\n    id = " + QByteArray::number(int(e.id)) +
             ";\n    stream_id = 0;\n    fields := struct {\n";
        for (const Field &f : e.fields)
            m += f.form == Form::Text
                     ? QByteArray("        string { encoding = UTF8; } ") + f.name + ";\n"
                     : QByteArray("        integer { size = ") + QByteArray::number(8 * f.bytes) +
                           "; align = 8; signed = false;" + (f.form == Form::Hex ? " base = 16;" : "") +
                           " } " + f.name + ";\n";
        m += "    };\n};\n\n";
    }
    return m;
}

} // namespace pipit::compact
