#include "app/pace/pace_look.h"

#include "app/session/background.h"

#include <QElapsedTimer>

namespace pipit::app
{

namespace
{

constexpr std::chrono::milliseconds pause{2000};
constexpr int restFactor = 10; // a look may take a tenth of the time

} // namespace

PaceLook::PaceLook(Session *session, QObject *parent) : QObject(parent), session_(session)
{
    soon_.setSingleShot(true);
    connect(&soon_, &QTimer::timeout, this, &PaceLook::look);
    connect(&session->shown, &ShownTrace::reset, this, [this] {
        ++trace_;
        known_ = false;
        timers_.clear();
        strains_.clear();
        Q_EMIT changed();
        look();
    });
    connect(&session->shown, &ShownTrace::readToEnd, this, &PaceLook::look);
    connect(&session->runs, &Runs::stateChanged, this, &PaceLook::look);
}

void PaceLook::setWanted(bool wanted)
{
    if (std::exchange(wanted_, wanted) != wanted && wanted)
        look();
}

void PaceLook::look()
{
    const TraceModel *trace = session_->shown.trace();
    if (!wanted_ || !trace)
        return;
    if (looking_) {
        again_ = true;
        return;
    }
    looking_ = true;
    const bool ended = session_->runs.state() == RunState::Idle && !session_->shown.reading();
    inQuiet(
        this,
        [trace, handlers = session_->shown.handlers(), owner = session_->shown.owner(), ended,
         which = trace_] {
            QElapsedTimer clock;
            clock.start();
            Seen seen{timersOf(*trace), strainsOf(*trace, *handlers, {}, ended), {}};
            seen.took = std::chrono::milliseconds(clock.elapsed());
            return std::pair(which, std::move(seen));
        },
        [this](std::pair<int, Seen> answer) {
            looking_ = false;
            if (answer.first == trace_)
                take(std::move(answer.second));
            if (std::exchange(again_, false))
                look();
        });
}

void PaceLook::take(Seen seen)
{
    known_ = true;
    timers_ = std::move(seen.timers);
    strains_ = std::move(seen.strains);
    if (session_->runs.state() == RunState::Running || session_->shown.reading())
        soon_.start(std::max(pause, seen.took * restFactor));
    Q_EMIT changed();
}

} // namespace pipit::app
