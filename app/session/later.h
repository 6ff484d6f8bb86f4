// A call that comes once, a while after it was last asked for: what is typed or written in several steps
// is looked at when it is done.
//
// Threads: the loop's thread only. Time is the loop's own, unless a test has stopped it.
#pragma once

#include <QObject>
#include <QTimer>

#include <chrono>
#include <functional>

namespace pipit::app
{

class Later : public QObject
{
public:
    Later(std::chrono::milliseconds after, std::function<void()> then);
    ~Later() override;
    void start(); // anew, if it was under way

    // While one of these exists no time passes for any Later but by `pass`. Tests only.
    class StoppedTime
    {
    public:
        StoppedTime();
        ~StoppedTime();
        void pass(std::chrono::milliseconds time);
    };

private:
    std::chrono::milliseconds after_;
    std::function<void()> then_;
    QTimer timer_;
    std::chrono::milliseconds due_{-1}; // by the stopped time; -1: not under way
};

} // namespace pipit::app
