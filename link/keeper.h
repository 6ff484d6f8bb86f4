// What a keeper reports to Pipit about its program: frames on a pipe, each a kind, the length of
// what follows, and that. See keeper/keeper.cpp.
#pragma once

#include <cstdint>

namespace pipit::link
{

struct KeeperFrame {
    enum Kind : std::uint32_t {
        Started = 1, // std::int32_t: its process
        Failed,      // std::int32_t: errno; it was not started
        Output,      // bytes
        ErrorOutput, // bytes
        LeftOut,     // std::uint64_t: bytes of output that Pipit was too slow for, in all
        Ended,       // two std::int32_t: how, as si_code and si_status say it
    };
    std::uint32_t kind;
    std::uint32_t bytes;
};
inline constexpr std::uint32_t mostKeeperBytes = 1u << 20; // in one frame

} // namespace pipit::link
