// What a cut must not do though it holds: leave what takes long on the loop, or end half-way what lasts.
#include "core/moves/cutter.h"
#include "core/moves/lasting.h"

namespace pipit
{

void Cutter::refuseUnguarded()
{
    refuseWhatStays();
    refuseWhatLasts();
}

// Nothing is gained where what may take long stays on the loop, and what was not read may take long.
void Cutter::refuseWhatStays()
{
    for (qsizetype i = 0; i < pieces_.size(); ++i) {
        const Piece &p = pieces_[i];
        if (out_.statements[i].place == Stage::Work || isTrusted(p.node->begin))
            continue;
        for (const Effect &e : p.effects)
            if (e.unread)
                refuse(e.at, e.what + ", so it may take long, and it would stay on the event loop");
        if (p.slow)
            refuse(p.node->begin, "it may take long, and it would stay on the event loop");
    }
}

// Closing the window ends the work, and what comes after it never runs.
void Cutter::refuseWhatLasts()
{
    for (qsizetype i = 0; i < pieces_.size(); ++i) {
        const PlacedStatement &s = out_.statements[i];
        if (s.place == Stage::Take)
            continue;
        const auto answered = [this](int at) { return isTrusted(at); };
        if (const auto lasting = lastingIn(unit_, *s.node, q_.text, answered))
            refuse(lasting->at, lasting->what + ", which closing the window would end half-way");
    }
}

} // namespace pipit
