// Moments of the shown trace that were marked, with notes. Kept beside the recording (pipit/bookmarks.json);
// of a packed one they last until another is shown.
//
// Threads: the loop's thread only; the file is written by a worker.
#pragma once

#include "app/session/messages.h"
#include "app/session/shown_trace.h"

#include <map>

namespace pipit::app
{

class Bookmarks : public QObject
{
    Q_OBJECT
public:
    Bookmarks(Messages *messages, ShownTrace *shown, QObject *parent = nullptr);

    struct Mark {
        std::int64_t time = 0; // of the span
        QString note;
    };
    const std::map<SpanId, Mark> &all() const { return marks_; }
    const Mark *of(SpanId span) const;
    void set(SpanId span, const QString &note); // marks it
    void remove(SpanId span);

Q_SIGNALS:
    void changed();

private:
    void load();
    void save();

    Messages *messages_;
    ShownTrace *shown_;
    std::map<SpanId, Mark> marks_;
    bool unsaved_ = false; // the recording is not complete yet
};

} // namespace pipit::app
