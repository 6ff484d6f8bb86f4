#include "core/recordings/compact.h"

#include <algorithm>
#include <cstring>
#include <utility>

namespace pipit::compact
{

using link::Kind;
using link::Record;

namespace
{

constexpr std::uint64_t timeMask = (std::uint64_t(1) << timeBits) - 1;
constexpr int eventBits = 48;                   // of an address; a generation above it
constexpr std::uint32_t mostMissing = 1u << 16; // numbers that damaged packets may have told

template <class T> void put(std::vector<char> &to, T value)
{
    const std::size_t at = to.size();
    to.resize(at + sizeof value);
    std::memcpy(to.data() + at, &value, sizeof value);
}

void putText(std::vector<char> &to, const char *text, std::size_t bytes)
{
    for (std::size_t i = 0; i < bytes; ++i)
        to.push_back(text[i] ? text[i] : ' ');
    to.push_back('\0');
}

std::uint32_t typeAndFlags(std::uint32_t value) // three bytes
{
    return (value & 0xffff) | (value & (link::FromWindowSystem | link::SlotUnknown));
}

std::uint64_t eventOf(const Record &r)
{
    const std::uint64_t generation = r.value >> link::generationShift & link::generationMask;
    return (r.words[r.kind == idOf(Kind::Post) ? 0 : 1] & ((std::uint64_t(1) << eventBits) - 1)) |
           generation << eventBits;
}

} // namespace

void Encoder::beginPiece()
{
    addresses_.clear();
    calls_.clear();
    called_.clear();
    addressCount_ = 0;
}

void Encoder::beginPacket(std::uint64_t time)
{
    last_ = time;
    first_ = true;
}

void Encoder::begin(std::vector<char> &to, std::uint8_t id, std::uint64_t time)
{
    if (id < longer && time - last_ < timeMask) {
        compact::put(to, std::uint32_t(id | (time & timeMask) << 5));
    } else {
        compact::put(to, std::uint8_t(longer));
        compact::put(to, std::uint32_t(id));
        compact::put(to, time);
    }
    last_ = time;
}

std::uint32_t Encoder::address(std::vector<char> &to, std::uint64_t value)
{
    if (value == 0)
        return 0;
    std::uint32_t n = addresses_.find(value);
    if (n == 0) {
        addresses_.set(value, n = ++addressCount_);
        begin(to, Address, last_);
        compact::put(to, n);
        compact::put(to, value);
    }
    return n;
}

// A connection is told anew when another stands for its serial; a slot called by index is told by its code.
std::uint32_t Encoder::call(std::vector<char> &to, const Record &r)
{
    const Call call{r.words[1], r.words[2], r.value};
    const std::uint64_t key = call.serial ? call.serial : call.code ^ 0x8000'0000'0000'0000u;
    std::uint32_t n = calls_.find(key);
    if (n == 0 || called_[n - 1] != call) {
        called_.push_back(call);
        calls_.set(key, n = std::uint32_t(called_.size()));
        begin(to, Called, last_);
        compact::put(to, n);
        compact::put(to, call.serial);
        compact::put(to, call.code);
        compact::put(to, call.value);
    }
    return n;
}

void Encoder::put(std::vector<char> &to, const Record &r, std::uint64_t time, const char *text,
                  std::size_t bytes)
{
    const Kind kind = Kind(r.kind);
    const int depth = link::closes(kind) ? r.depth + 1 : r.depth;
    if (depth != depth_ || (std::exchange(first_, false) && depth != 0)) {
        begin(to, Depth, last_);
        compact::put(to, std::uint16_t(depth));
    }
    depth_ = link::opens(kind) ? depth + 1 : link::closes(kind) ? depth - 1 : depth;
    body(to, r, time, text, bytes);
}

void Encoder::body(std::vector<char> &to, const Record &r, std::uint64_t time, const char *text,
                   std::size_t bytes)
{
    const Kind kind = Kind(r.kind);
    switch (kind) {
    case Kind::DispatchBegin: {
        const std::uint32_t receiver = address(to, r.words[0]);
        const bool posted = r.value >> link::generationShift & link::generationMask;
        begin(to,
              posted       ? std::uint8_t(DispatchPosted)
              : r.words[2] ? std::uint8_t(DispatchInput)
                           : idOf(kind),
              time);
        compact::put(to, receiver);
        compact::put(to, std::uint16_t(r.value));
        compact::put(to, std::uint8_t(typeAndFlags(r.value) >> 16));
        if (posted)
            compact::put(to, eventOf(r));
        else if (r.words[2])
            compact::put(to, r.words[2]);
        return;
    }
    case Kind::SignalBegin: {
        const std::uint32_t sender = address(to, r.words[0]), signal = address(to, r.words[1]);
        begin(to, idOf(kind), time);
        compact::put(to, sender);
        compact::put(to, signal);
        return;
    }
    case Kind::CallBegin: {
        const std::uint32_t receiver = address(to, r.words[0]), called = call(to, r);
        begin(to, idOf(kind), time);
        compact::put(to, receiver);
        compact::put(to, called);
        return;
    }
    case Kind::LoopBegin: {
        const std::uint32_t loop = address(to, r.words[0]);
        begin(to, idOf(kind), time);
        compact::put(to, loop);
        return;
    }
    case Kind::Post: {
        const std::uint32_t receiver = address(to, r.words[1]);
        begin(to, idOf(kind), time);
        compact::put(to, receiver);
        compact::put(to, std::uint16_t(r.value));
        compact::put(to, eventOf(r));
        return;
    }
    case Kind::Hop: {
        const bool filter = r.value & link::HopFilter;
        const std::uint32_t object = address(to, r.words[0]), before = filter ? address(to, r.words[1]) : 0;
        begin(to, filter ? std::uint8_t(FilterHop) : std::uint8_t(ReceiverHop), time);
        compact::put(to, object);
        if (filter)
            compact::put(to, before);
        compact::put(to, std::uint16_t(r.value));
        return;
    }
    default:
        break;
    }
    begin(to, idOf(kind), time);
    switch (kind) {
    case Kind::DispatchEnd:
    case Kind::CallEnd:
        compact::put(to, std::uint8_t(r.value));
        return;
    case Kind::ProcessEventsBegin:
    case Kind::WaitBegin:
    case Kind::ThreadRole:
        compact::put(to, r.value);
        return;
    case Kind::Lost:
        compact::put(to, r.words[0]);
        return;
    case Kind::Input:
        compact::put(to, r.value);
        compact::put(to, std::uint32_t(r.words[0]));
        return;
    case Kind::Began:
    case Kind::CameOf:
        compact::put(to, std::uint8_t(r.value));
        compact::put(to, r.words[0]);
        if (kind == Kind::Began)
            compact::put(to, r.words[1]);
        return;
    case Kind::Message:
        compact::put(to, r.value);
        break;
    case Kind::Fact:
        compact::put(to, r.value);
        compact::put(to, r.words[0]);
        compact::put(to, r.words[1]);
        break;
    default:
        break;
    }
    const link::KindInfo *info = link::infoOf(r.kind);
    if (r.kind < idOf(Kind::DispatchBegin)) // of the dictionary: as it is
        for (int i = 0; i < info->words; ++i)
            compact::put(to, r.words[i]);
    if (kind == Kind::Link)
        compact::put(to, r.value);
    if (info->text)
        putText(to, text, bytes);
}

void Decoder::beginPiece()
{
    *this = Decoder(minor_);
}

std::uint16_t Decoder::kindOf(std::uint32_t event) const
{
    if (event == DispatchPosted || event == DispatchInput)
        return std::uint16_t(Kind::DispatchBegin);
    if (minor_ < 3)
        return std::uint16_t(std::min(event, std::uint32_t(UINT16_MAX)));
    if (event == FilterHop || event == ReceiverHop)
        return std::uint16_t(Kind::Hop);
    for (const Kind kind :
         {Kind::Mark, Kind::Note, Kind::ThreadRole, Kind::Input, Kind::Fact, Kind::Began, Kind::CameOf})
        if (event == idOf(kind))
            return std::uint16_t(kind);
    return event < longer ? std::uint16_t(event) : std::uint16_t(0);
}

void Decoder::beginPacket(std::uint64_t time)
{
    last_ = time;
    depth_ = 0;
}

namespace
{

// Takes what is there and says whether all was.
class Bytes
{
public:
    Bytes(const unsigned char *at, const unsigned char *end) : at(at), end(end) {}
    template <class T> T take()
    {
        T v{};
        if (std::size_t(end - at) < sizeof v) {
            torn = true;
            return v;
        }
        std::memcpy(&v, at, sizeof v);
        at += sizeof v;
        return v;
    }
    const unsigned char *at, *const end;
    bool torn = false;
};

template <class T> void keepAt(std::vector<T> &all, std::uint32_t number, const T &value)
{
    if (number == 0 || number > all.size() + mostMissing)
        return; // not as it is written
    if (number > all.size())
        all.resize(number);
    all[number - 1] = value;
}

template <class T> T valueAt(const std::vector<T> &all, std::uint32_t number)
{
    return number && number <= all.size() ? all[number - 1] : T{};
}

void splitEvent(Record &r, int word, std::uint64_t event)
{
    r.words[word] = event & ((std::uint64_t(1) << eventBits) - 1);
    r.value |= std::uint32_t(event >> eventBits & link::generationMask) << link::generationShift;
}

} // namespace

Decoder::Answer Decoder::next(const unsigned char *&at, const unsigned char *end, Record &r,
                              const char *&text, std::size_t &bytes)
{
    Bytes b(at, end);
    for (;;) {
        r = Record{};
        text = nullptr;
        bytes = 0;
        if (b.at == end) {
            at = b.at;
            return Read;
        }
        std::uint32_t event = *b.at & 31;
        if (event == longer) {
            ++b.at;
            event = b.take<std::uint32_t>();
            last_ = b.take<std::uint64_t>();
        } else {
            const std::uint64_t low = b.take<std::uint32_t>() >> 5;
            last_ += (low - last_) & timeMask;
        }
        if (event == Address) {
            const auto number = b.take<std::uint32_t>();
            keepAt(addresses_, number, b.take<std::uint64_t>());
        } else if (event == Depth) {
            depth_ = b.take<std::uint16_t>();
        } else if (event == Called) {
            const auto number = b.take<std::uint32_t>();
            Call c;
            c.serial = b.take<std::uint64_t>();
            c.code = b.take<std::uint64_t>();
            c.value = b.take<std::uint32_t>();
            keepAt(calls_, number, c);
        } else {
            r.kind = kindOf(event);
        }
        if (b.torn)
            return Torn;
        if (r.kind == 0 && event != Address && event != Depth && event != Called)
            return Unknown;
        if (r.kind == 0)
            continue;
        const link::KindInfo *info = link::infoOf(r.kind);
        if (!info)
            return Unknown;
        r.time = last_;
        const Kind kind = Kind(r.kind);
        switch (kind) {
        case Kind::DispatchBegin:
            r.words[0] = valueAt(addresses_, b.take<std::uint32_t>());
            r.value = b.take<std::uint16_t>();
            r.value |= std::uint32_t(b.take<std::uint8_t>() & 3) << 16;
            if (event == DispatchPosted)
                splitEvent(r, 1, b.take<std::uint64_t>());
            else if (event == DispatchInput)
                r.words[2] = b.take<std::uint64_t>();
            break;
        case Kind::SignalBegin:
            r.words[0] = valueAt(addresses_, b.take<std::uint32_t>());
            r.words[1] = valueAt(addresses_, b.take<std::uint32_t>());
            break;
        case Kind::CallBegin: {
            r.words[0] = valueAt(addresses_, b.take<std::uint32_t>());
            const Call c = valueAt(calls_, b.take<std::uint32_t>());
            r.words[1] = c.serial;
            r.words[2] = c.code;
            r.value = c.value;
            break;
        }
        case Kind::LoopBegin:
            r.words[0] = valueAt(addresses_, b.take<std::uint32_t>());
            break;
        case Kind::Post:
            r.words[1] = valueAt(addresses_, b.take<std::uint32_t>());
            r.value = b.take<std::uint16_t>();
            splitEvent(r, 0, b.take<std::uint64_t>());
            break;
        case Kind::DispatchEnd:
        case Kind::CallEnd:
            r.value = b.take<std::uint8_t>();
            break;
        case Kind::ProcessEventsBegin:
        case Kind::WaitBegin:
        case Kind::ThreadRole:
        case Kind::Message:
            r.value = b.take<std::uint32_t>();
            break;
        case Kind::Lost:
            r.words[0] = b.take<std::uint64_t>();
            break;
        case Kind::Fact:
            r.value = b.take<std::uint32_t>();
            r.words[0] = b.take<std::uint64_t>();
            r.words[1] = b.take<std::uint64_t>();
            break;
        case Kind::Input:
            r.value = b.take<std::uint32_t>();
            r.words[0] = b.take<std::uint32_t>();
            break;
        case Kind::Began:
        case Kind::CameOf:
            r.value = b.take<std::uint8_t>();
            r.words[0] = b.take<std::uint64_t>();
            if (kind == Kind::Began)
                r.words[1] = b.take<std::uint64_t>();
            break;
        case Kind::Hop:
            r.words[0] = valueAt(addresses_, b.take<std::uint32_t>());
            if (event == FilterHop)
                r.words[1] = valueAt(addresses_, b.take<std::uint32_t>());
            r.value = b.take<std::uint16_t>();
            break;
        default:
            if (r.kind < idOf(Kind::DispatchBegin))
                for (int i = 0; i < info->words; ++i)
                    r.words[i] = b.take<std::uint64_t>();
            if (kind == Kind::Link)
                r.value = b.take<std::uint32_t>();
        }
        if (info->text && !b.torn) {
            const void *nul = std::memchr(b.at, 0, std::size_t(end - b.at));
            if (!nul)
                return Torn;
            text = reinterpret_cast<const char *>(b.at);
            bytes = std::size_t(static_cast<const unsigned char *>(nul) - b.at);
            r.words[3] = bytes;
            b.at += bytes + 1;
        }
        if (b.torn)
            return Torn;
        r.depth = std::uint16_t(link::closes(kind) ? depth_ - 1 : depth_);
        depth_ += link::opens(kind) ? 1 : link::closes(kind) ? -1 : 0;
        depth_ = std::max(depth_, 0);
        at = b.at;
        return Read;
    }
}

} // namespace pipit::compact
