// The trace that is shown: of the last run, or of a recording that was opened.
//
// Threads: the loop's thread only; recordings are read on a worker.
#pragma once

#include "app/session/live_watch.h"
#include "app/session/messages.h"
#include "core/pace/coverage.h"
#include "core/runs/recording.h"

#include <QTimer>

#include <atomic>
#include <memory>

namespace pipit::app
{

class ShownTrace : public QObject
{
    Q_OBJECT
public:
    explicit ShownTrace(Messages *messages, QObject *parent = nullptr);
    ~ShownTrace() override;

    // Read by a worker, and shown while it is read.
    void openRecording(const QString &path);
    bool reading() const { return reading_ != nullptr; } // what is shown of it is not all yet
    // From now on this run's; figures by connection and handler only where they are of the open
    // project's.
    void follow(std::shared_ptr<LiveRun> run, bool ofOpenProject);
    // It ended, with these stalls and busy workers: the watch may not have reported the last of them.
    void ended(const QString &ending, std::vector<Stall> stalls, std::vector<Stall> busy);

    const TraceModel *trace() const; // null before the first one
    Handlers *handlers() const;
    // Keeps the trace alive for a worker that reads it.
    std::shared_ptr<const void> owner() const
    {
        return run_ ? std::shared_ptr<const void>(run_) : std::shared_ptr<const void>(recording_);
    }
    std::shared_ptr<LiveRun> liveRun() const { return run_; }           // null for a recording
    std::shared_ptr<Recording> recording() const { return recording_; } // null for a run
    QString recordingPath() const { return recording_ ? recording_->files->path() : QString(); }
    // Where all of it is on the disk; empty while it is read, or runs, and of a run that was not kept.
    QString recordedAt() const;
    const LiveFigures &figures() const { return figures_; }
    // What of it was not seen; whole before there is one, and while it is read.
    Coverage coverage() const;
    QString lastEnding() const { return ending_; }

Q_SIGNALS:
    void reset(); // another trace from now on
    void readToEnd();
    void figuresChanged();

private:
    struct Opened;
    using Stop = std::shared_ptr<std::atomic<bool>>; // what ends a reading
    void begin(const std::shared_ptr<Recording> &recording, const Stop &stop);
    void finish(Opened opened);
    void fail(const Problem &problem);
    void leave(); // what was shown before

    Messages *messages_;
    std::shared_ptr<LiveRun> run_;
    std::shared_ptr<Recording> recording_;
    Stop asked_;   // of which nothing is shown yet
    Stop reading_; // of what is shown
    QTimer progress_;
    std::unique_ptr<LiveWatch> watch_;
    LiveFigures figures_;
    QString ending_;
};

} // namespace pipit::app
