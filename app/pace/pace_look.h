// Reads timers and strains from the shown trace, off the loop: one look at a time, and again if it was asked
// for meanwhile. While a program runs it looks again every few seconds, and less often where a look takes
// long.
//
// Threads: the loop's thread only.
#pragma once

#include "app/session/session.h"
#include "core/pace/strains.h"

#include <QTimer>

namespace pipit::app
{

class PaceLook : public QObject
{
    Q_OBJECT
public:
    explicit PaceLook(Session *session, QObject *parent = nullptr);
    // Whether somebody wants to see it; nothing is read otherwise.
    void setWanted(bool wanted);
    [[nodiscard]] const std::vector<TimerRow> &timers() const { return timers_; }
    [[nodiscard]] const std::vector<Strain> &strains() const { return strains_; }
    [[nodiscard]] bool known() const { return known_; } // the shown trace was read at least once

Q_SIGNALS:
    void changed();

private:
    void look();
    struct Seen {
        std::vector<TimerRow> timers;
        std::vector<Strain> strains;
        std::chrono::milliseconds took{0};
    };
    void take(Seen seen);

    Session *session_;
    QTimer soon_;
    bool wanted_ = false, looking_ = false, again_ = false, known_ = false;
    int trace_ = 0; // counts those that were shown
    std::vector<TimerRow> timers_;
    std::vector<Strain> strains_;
};

} // namespace pipit::app
