// What changes to a timer's part in a program have in common: which handler it calls, who else starts, stops
// or asks it, and whether what comes out compiles.
//
// Threads: as planMove.
#pragma once

#include "core/build/project_code.h"
#include "core/moves/move.h"
#include "core/userfiles/cpp_scan.h"

namespace pipit
{

class TimerPlan
{
protected:
    TimerPlan(const MoveQuestion &question, const std::atomic<bool> &cancel);

    // Finds the timer and its handler, and reads that; `what` begins the edit's name.
    [[nodiscard]] Result<CodeUnit> begin(const QString &what);
    [[nodiscard]] Result<CodeUnit> read(const QStringList &functions);
    [[nodiscard]] QString function() const { return class_ + "::" + handler_.name; } // qualified
    [[nodiscard]] Problem notFound() const;
    void tellOf(const Definition &tick); // what the move is about
    void refuse(int line, const QString &reason);
    void startedElsewhere();               // refused, since whoever does it means it
    [[nodiscard]] QStringList otherCode(); // of the other files, without comments and strings
    [[nodiscard]] Result<Move> verified(); // the move, if what comes out compiles

    const MoveQuestion &q_;
    UserFiles files_;
    ProjectCode code_;
    TimerNode timer_;
    Handler handler_;
    QString class_, text_; // of the handler
    int first_ = 1;        // the line that it begins in
    Move move_;

private:
    [[nodiscard]] Outcome look();
    [[nodiscard]] Problem unknownTimer() const;
};

} // namespace pipit
