// All spans of a recording, thread by thread, with their sentences, and a buffered way out.
//
// Threads: a worker's.
#pragma once

#include "core/runs/recording.h"
#include "core/trace/queries.h"

#include <QIODevice>

#include <functional>

namespace pipit
{

class SpansOut
{
public:
    SpansOut(Recording &recording, QIODevice &to) : r_(recording), to_(to) {}
    ~SpansOut() { flush(); }
    SpansOut(const SpansOut &) = delete;
    SpansOut &operator=(const SpansOut &) = delete;

    void write(const QByteArray &bytes);
    bool ok() const;
    void each(const std::function<void(const Span &, const ThreadInfo &, const QString &sentence)> &take);

private:
    void flush() const;

    Recording &r_;
    QIODevice &to_;
    mutable QByteArray buffer_;
    mutable bool ok_ = true;
};

QByteArray jsonText(const QString &text); // in quotes

} // namespace pipit
