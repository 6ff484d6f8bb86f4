#include "app/session/shown_trace.h"

#include "app/session/background.h"

namespace pipit::app
{

using namespace std::chrono_literals;

struct ShownTrace::Opened {
    std::shared_ptr<Recording> recording;
    std::vector<Stall> stalls, busy;
    std::optional<Stall> startUp;
    std::optional<Problem> problem;
};

ShownTrace::ShownTrace(Messages *messages, QObject *parent) : QObject(parent), messages_(messages)
{
    progress_.setInterval(100ms);
    connect(&progress_, &QTimer::timeout, this, &ShownTrace::figuresChanged);
}

ShownTrace::~ShownTrace()
{
    for (const Stop &stop : {asked_, reading_})
        if (stop)
            *stop = true;
}

// What is shown stays until something of it can be shown.
void ShownTrace::openRecording(const QString &path)
{
    if (asked_)
        *asked_ = true;
    asked_ = std::make_shared<std::atomic<bool>>(false);
    Q_EMIT messages_->progress("Reading the recording");
    const BackToLoop back(this);
    inBackground(
        this,
        [this, path, stop = asked_, back]() -> Opened {
            auto recording = Recording::open(path, stop.get(), [&](const std::shared_ptr<Recording> &begun) {
                back([this, begun, stop] {
                    if (!*stop)
                        begin(begun, stop);
                });
            });
            if (!recording)
                return {nullptr, {}, {}, {}, recording.problem()};
            if (*stop)
                return {};
            auto stalls = stallsOf((*recording)->trace, (*recording)->handlers, stallBudget);
            auto busy = busyWorkersOf((*recording)->trace, (*recording)->handlers, stallBudget);
            auto startUp = startUpOf((*recording)->trace, (*recording)->handlers, stallBudget);
            return {std::move(*recording), std::move(stalls), std::move(busy), std::move(startUp),
                    std::nullopt};
        },
        [this, stop = asked_](Opened opened) {
            if (*stop)
                return;
            Q_EMIT messages_->progress({});
            if (!opened.problem)
                finish(std::move(opened));
            else
                fail(*opened.problem);
        });
}

void ShownTrace::leave()
{
    if (reading_) {
        *reading_ = true;
        Q_EMIT messages_->progress({});
    }
    reading_.reset();
    progress_.stop();
    watch_.reset();
    run_.reset();
    recording_.reset();
    figures_ = {};
    ending_.clear();
}

// Its figures are told once all of it is read: of a part of it they would be wrong.
void ShownTrace::begin(const std::shared_ptr<Recording> &recording, const Stop &stop)
{
    leave();
    asked_.reset();
    reading_ = stop;
    recording_ = recording;
    progress_.start();
    Q_EMIT messages_->progress("Reading the recording");
    Q_EMIT reset();
}

void ShownTrace::finish(Opened opened)
{
    progress_.stop();
    reading_.reset();
    figures_.stalls = std::move(opened.stalls);
    figures_.busy = std::move(opened.busy);
    figures_.startUp = std::move(opened.startUp);
    figures_.spans = recording_->trace.spanCount();
    figures_.now = recording_->trace.now();
    figures_.first = recording_->trace.firstTime();
    ending_ = recording_->info.ending;
    Q_EMIT readToEnd();
    Q_EMIT figuresChanged();
    for (const QString &n : recording_->report.notes)
        Q_EMIT messages_->note(n);
}

void ShownTrace::fail(const Problem &problem)
{
    asked_.reset();
    Q_EMIT messages_->problem(problem.text());
}

void ShownTrace::follow(std::shared_ptr<LiveRun> run, bool ofOpenProject)
{
    if (asked_)
        *asked_ = true;
    leave();
    run_ = std::move(run);
    Q_EMIT reset();
    watch_ = std::make_unique<LiveWatch>(run_);
    connect(watch_.get(), &LiveWatch::figures, this, [this, ofOpenProject](const LiveFigures &f) {
        figures_ = f;
        if (!ofOpenProject) {
            figures_.connections.clear();
            figures_.handlers.clear();
        }
        Q_EMIT figuresChanged();
    });
}

void ShownTrace::ended(const QString &ending, std::vector<Stall> stalls, std::vector<Stall> busy)
{
    ending_ = ending;
    figures_.stalls = std::move(stalls);
    figures_.busy = std::move(busy);
    figures_.open.reset();
    Q_EMIT figuresChanged();
}

Coverage ShownTrace::coverage() const
{
    if (!trace() || reading())
        return {};
    return recording_
               ? coverageOf(recording_->trace, recording_->info, recording_->recordedTo, recording_->leftOut)
               : coverageOf(*trace());
}

QString ShownTrace::recordedAt() const
{
    if (recording_)
        return reading_ ? QString() : recordingPath();
    return run_ && !ending_.isEmpty() ? run_->spec().recordTo : QString();
}

const TraceModel *ShownTrace::trace() const
{
    return run_ ? &run_->trace() : recording_ ? &recording_->trace : nullptr;
}

Handlers *ShownTrace::handlers() const
{
    return run_ ? &run_->handlers() : recording_ ? &recording_->handlers : nullptr;
}

} // namespace pipit::app
