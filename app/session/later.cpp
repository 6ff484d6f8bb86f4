#include "app/session/later.h"

#include <QList>

namespace pipit::app
{

namespace
{

struct Stopped {
    bool is = false;
    std::chrono::milliseconds now{0};
    QList<Later *> all; // that there are, in the order in which they were made
};
Stopped &stopped()
{
    static Stopped s;
    return s;
}

} // namespace

Later::Later(std::chrono::milliseconds after, std::function<void()> then)
    : after_(after), then_(std::move(then))
{
    stopped().all << this;
    timer_.setSingleShot(true);
    timer_.setInterval(after);
    timer_.callOnTimeout(this, [this] { then_(); });
}

Later::~Later()
{
    stopped().all.removeOne(this);
}

void Later::start()
{
    if (stopped().is)
        due_ = stopped().now + after_;
    else
        timer_.start();
}

Later::StoppedTime::StoppedTime()
{
    stopped().is = true;
}

Later::StoppedTime::~StoppedTime()
{
    stopped().is = false;
}

void Later::StoppedTime::pass(std::chrono::milliseconds time)
{
    const auto end = stopped().now + time;
    for (;;) { // what is called may start others
        Later *next = nullptr;
        for (Later *each : std::as_const(stopped().all))
            if (each->due_.count() >= 0 && each->due_ <= end && (!next || each->due_ < next->due_))
                next = each;
        if (!next)
            break;
        stopped().now = std::exchange(next->due_, std::chrono::milliseconds(-1));
        next->then_();
    }
    stopped().now = end;
}

} // namespace pipit::app
