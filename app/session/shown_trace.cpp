#include "app/session/shown_trace.h"

#include "app/session/background.h"

namespace pipit::app
{

ShownTrace::ShownTrace(Messages *messages, QObject *parent) : QObject(parent), messages_(messages) {}

namespace
{

struct Opened {
    std::shared_ptr<Recording> recording;
    std::vector<Stall> stalls, busy;
    std::optional<Problem> problem;
};

} // namespace

void ShownTrace::openRecording(const QString &folder)
{
    Q_EMIT messages_->progress("Reading the recording");
    inBackground(
        this,
        [folder]() -> Opened {
            auto recording = Recording::open(folder);
            if (!recording)
                return {nullptr, {}, {}, recording.problem()};
            auto stalls = stallsOf((*recording)->trace, (*recording)->handlers, stallBudget);
            auto busy = busyWorkersOf((*recording)->trace, (*recording)->handlers, stallBudget);
            return {std::move(*recording), std::move(stalls), std::move(busy), std::nullopt};
        },
        [this](Opened opened) {
            Q_EMIT messages_->progress({});
            if (opened.problem) {
                Q_EMIT messages_->problem(opened.problem->text());
                return;
            }
            watch_.reset();
            run_.reset();
            recording_ = std::move(opened.recording);
            figures_ = {};
            figures_.stalls = std::move(opened.stalls);
            figures_.busy = std::move(opened.busy);
            figures_.spans = recording_->trace.spanCount();
            figures_.now = recording_->trace.now();
            figures_.first = recording_->trace.firstTime();
            ending_ = recording_->info.ending;
            Q_EMIT reset();
            Q_EMIT figuresChanged();
            for (const QString &n : recording_->report.notes)
                Q_EMIT messages_->note(n);
        });
}

void ShownTrace::follow(std::shared_ptr<LiveRun> run, bool ofOpenProject)
{
    watch_.reset();
    recording_.reset();
    run_ = std::move(run);
    figures_ = {};
    ending_.clear();
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

const TraceModel *ShownTrace::trace() const
{
    return run_ ? &run_->trace() : recording_ ? &recording_->trace : nullptr;
}

Handlers *ShownTrace::handlers() const
{
    return run_ ? &run_->handlers() : recording_ ? &recording_->handlers : nullptr;
}

} // namespace pipit::app
