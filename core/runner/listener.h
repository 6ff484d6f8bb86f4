// Where recorders say hello: a socket in a private folder.
//
// Threads: one at a time; `path` any. Nothing here waits. Ownership: a newcomer that is no Peer was refused.
#pragma once

#include "core/base/result.h"
#include "core/runner/peer.h"

#include <memory>
#include <vector>

namespace pipit
{

struct Newcomer {
    std::unique_ptr<Peer> peer; // null: nothing of it is recorded
    QString refused;            // why
};

class Listener
{
public:
    Listener();
    ~Listener();

    Outcome listen();
    QString path() const;
    // Descriptors that say when `accept` has something to do.
    std::vector<int> descriptors() const;
    // Takes in who has said hello since, and hands each an arena, with the clock that its records are to
    // have. What is no recorder is turned away.
    std::vector<Newcomer> accept(link::Clock clock);
    void close();

    static constexpr int mostPeers = 64; // of one run

private:
    struct Private;
    std::unique_ptr<Private> d;
};

} // namespace pipit
