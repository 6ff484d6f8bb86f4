// A program's output on its way to the loop: gathered between two looks, so that one that never stops
// talking neither fills the memory nor keeps the loop busy.
//
// Threads: `put` on any thread, `take` on the loop. What is not taken in time is cut at the front, and
// says so.
#pragma once

#include <QList>
#include <QString>

#include <mutex>
#include <utility>

namespace pipit::app
{

class OutputBox
{
public:
    static constexpr qsizetype room = 256 * 1024; // characters

    // True when nobody was notified to take it yet.
    bool put(const QString &text, bool isError)
    {
        std::lock_guard lock(mutex_);
        if (!pieces_.isEmpty() && pieces_.last().second == isError)
            pieces_.last().first += text;
        else
            pieces_.append({text, isError});
        size_ += text.size();
        while (size_ > room) {
            QString &first = pieces_.first().first;
            const qsizetype cut = std::min(size_ - room / 2, first.size());
            size_ -= cut;
            cut_ = true;
            if (cut == first.size())
                pieces_.removeFirst();
            else
                first.remove(0, cut);
        }
        return !std::exchange(told_, true);
    }
    QList<std::pair<QString, bool>> take()
    {
        std::lock_guard lock(mutex_);
        told_ = false;
        size_ = 0;
        if (std::exchange(cut_, false))
            pieces_.prepend({QStringLiteral("\n[some output was left out here]\n"), false});
        return std::exchange(pieces_, {});
    }

private:
    std::mutex mutex_; // guards all
    QList<std::pair<QString, bool>> pieces_;
    qsizetype size_ = 0;
    bool told_ = false, cut_ = false;
};

} // namespace pipit::app
