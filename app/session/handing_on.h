// What is shown, as one file for somebody else: packed, or in another format.
//
// Threads: the loop's thread only; files are written by a worker, whole or not at all.
#pragma once

#include "app/session/messages.h"
#include "app/session/shown_trace.h"

namespace pipit::app
{

class HandingOn : public QObject
{
    Q_OBJECT
public:
    HandingOn(Messages *messages, ShownTrace *shown, QObject *parent = nullptr);

    // Why nothing of it can be written now; empty: it can.
    QString hindrance() const;
    void pack(const QString &to, bool withSources);
    void write(const QString &format, const QString &to); // see core/exports

Q_SIGNALS:
    void done(bool well);

private:
    using Work = std::function<Result<QString>(Recording &)>; // what is said of it
    void start(const QString &what, Work work);

    Messages *messages_;
    ShownTrace *shown_;
    bool working_ = false;
};

} // namespace pipit::app
