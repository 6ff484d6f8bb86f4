// What the parts of a plan share. Inner; include move.h instead.
//
// Threads: one plan belongs to one thread.
#pragma once

#include "core/build/project_code.h"
#include "core/moves/elsewhere.h"
#include "core/moves/helpers.h"
#include "core/moves/move.h"
#include "core/moves/pause.h"
#include "core/moves/rewrite.h"
#include "core/moves/surroundings.h"
#include "core/userfiles/cpp_scan.h"

namespace pipit
{

// Plans the move of one handler. Of its queueMates, handlers that share its queue, only the works touch what
// they have in common; they never work at the same time.
class Planner
{
public:
    Planner(const MoveQuestion &question, const std::atomic<bool> &cancel);
    Result<Move> plan();
    // Members that the work has for itself, by name, once it is planned.
    const QSet<QString> &owned() const { return owned_; }

private:
    // move.cpp
    Outcome look();
    bool isStub(const Definition &d) const;
    Result<Move> fresh(const std::optional<Definition> &d);
    Handler *shaped();
    Result<Move> moved(const Definition &d);
    Result<Move> cut(const CodeUnit &unit, const CodeFunction &f, const Definition &d);
    void beside(const CodeUnit &unit, const Effects &effects, const CodeFunction &f, const OtherCode &other);
    Result<Move> written(const CutQuestion &question, const Cut &cut, const Definition &d);
    Result<Move> verified(const QString &function = {});
    bool madeAtomic(const QString &name, const QString &file, const QString &text);
    Result<Move> refusedFor(const Problem &why);
    static Outcome compiles(const CodeUnit &unit, const QString &what);
    int lineInOld() const;
    void order();

    // move_around.cpp: what else there is in the program
    Result<CodeUnit> read(const Project &project, UserFiles files, const QString &function);
    Surroundings surroundings(const CodeUnit &unit, const CodeFunction &f);
    QList<const Handler *> queueMates() const;
    QSet<QString> fellowFunctions() const; // qualified
    // What the work may have for itself, and what it must.
    struct Owned {
        QSet<int> may, must, pointers;
    };
    Owned ownedIn(const CodeUnit &unit, const CodeFunction &f, const Surroundings &around);
    static QSet<int> ownPointersIn(const CodeUnit &unit, const QSet<QString> &names);

    // move_offers.cpp: what would do
    void offer(const CutQuestion &question, const Cut &cut, const Surroundings &around);
    void offerQueue(const CutQuestion &question, const Surroundings &around);
    void offerAgain(const CutQuestion &question, const Cut &cut);
    QStringList handlersThatUse(const CodeUnit &unit, int decl, const Surroundings &around) const;

    // move_parts.cpp: the header, the project, the words
    Outcome header(const Rewritten &made);
    void wire(const Cut &cut, const Rewritten &made);
    void describe(const Cut &cut);

    // move_back.cpp: one function again, and parting at a pause
    Result<Move> back();
    Outcome structsGone();
    Result<Move> pause(const CodeUnit &unit, const Effects &effects, const CodeFunction &f,
                       const Definition &d, const Pause &p);

    const MoveQuestion &q_;
    UserFiles files_;
    ProjectCode code_;
    bool wide_ = false; // the person's other sources are read as well
    Handler handler_;
    QString class_, text_;
    QSet<QString> owned_;
    QSet<QString> answered_; // what the lines do that the person answers for
    Move move_;
};

// A handler that runs in the background already: how it goes on when it is triggered again, and with whom.
[[nodiscard]] Result<Move> planPacing(const MoveQuestion &question, const std::atomic<bool> &cancel);
// Several handlers into one queue, as one step.
[[nodiscard]] Result<Move> planQueue(const MoveQuestion &question, const std::atomic<bool> &cancel);
// Why a handler must stay in its queue: another one of it uses the same. Empty for nothing.
[[nodiscard]] QString tie(const MoveQuestion &question, const Handler &now);
// There is none of that name, with the nearest.
[[nodiscard]] Problem noHandler(const Project &project, const QString &name);
// Whether nothing but the work of a handler in the background uses a member of its window's.
[[nodiscard]] bool isApart(const Handler &handler, const QString &className, const QString &text,
                           const QString &member);
// What a handler does when it is triggered again.
[[nodiscard]] QString againSentence(const Handler &handler);

} // namespace pipit
