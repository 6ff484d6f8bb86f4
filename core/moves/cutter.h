// What the parts of the cutter share. Inner; include cut.h instead.
//
// Threads: one cut belongs to one thread.
#pragma once

#include "core/moves/cut.h"

#include <list>
#include <optional>

namespace pipit
{

class Cutter
{
public:
    explicit Cutter(const CutQuestion &question);
    Cut cut();
    Cut cutIntoSteps();

private:
    struct Piece {
        const CodeNode *node = nullptr;
        QList<Effect> effects; // that the person does not answer for
        QList<Effect> kept;    // of these, what keeps it on the loop
        Locals locals;
        bool returns = false, slow = false;
        bool calm() const { return effects.isEmpty(); }
    };

    // cut.cpp: what goes where
    QList<Piece> piecesOf(const CodeNode &block) const;
    Piece pieceOf(const CodeNode &node) const;
    bool keeps(const Effect &e) const;
    bool chooseRegion();
    bool chooseLoop();
    void takeOwned(); // what uses members that the work has for itself
    void takeAlong(); // what the work needs and cannot be handed to it
    void placeAll();
    void refuseBorrowed();
    bool isFunctionForLater(int piece) const;
    void emptyFieldsEarly();
    bool canGoBefore(int piece) const;
    bool canGoAfter(int piece) const;
    bool inRegion(int piece) const { return piece >= first_ && piece <= last_; }
    QString reasonOf(const Piece &piece) const;
    void refuse(int at, const QString &reason);
    bool costsLittle(const CodeNode &node) const; // cut_items.cpp
    // cut_guards.cpp: what must not be, though the cut holds
    void refuseUnguarded();
    void refuseWhatStays();
    void refuseWhatLasts();
    bool isTrusted(int at) const;

    // cut_work.cpp: what is changed within the work
    struct Inside {
        QList<const CodeNode *> loops;
        bool maybe = false;              // it may not be reached
        bool leaving = false;            // what follows leaves the function, so it happens once
        bool aloneIn = false;            // the only statement under an if or a loop, without braces
        bool asked = false;              // of a pointer: only whether it is there
        bool lambda = false;             // what returns, returns from a lambda
        const CodeNode *block = nullptr; // the innermost around it
    };
    void changeStatement(const CodeNode &node, const Inside &inside);
    bool isTaken(const CodeNode &variable) const;
    bool defer(const CodeNode &node, const Inside &inside);
    QList<Effect> ownOf(const CodeNode &node) const;
    QString whyKept(const Effect &effect) const;
    void changeExpression(const CodeNode &node, const Inside &inside);
    bool keepsOrder(const Deferred &told);
    bool goesOnByOne(const CodeNode &node, const CodeNode &value, const Deferred &told);
    void changeLambda(const CodeNode &lambda, const Inside &inside);
    bool callsAtOnce(const CodeNode &call) const;
    bool coveredBelow(const CodeNode &node, const Inside &inside) const;
    // cut_hoist.cpp: what is read before the work
    static bool isLogic(const CodeNode &node);
    QList<const CodeNode *> pointersIn(const CodeNode &node) const;
    bool canHoist(const CodeNode &node, const Inside &inside) const;
    bool canAsk(const CodeNode &node, const Inside &inside) const;
    bool hoistAsked(const CodeNode &node, const Inside &inside);
    void hoistAs(const CodeNode &node, const QString &value, const QString &type, int typeId);
    QString nothingOf(int type) const;
    bool hoist(const CodeNode &node, const Inside &inside);
    void stop(const CodeNode &node, const Inside &inside);
    void goRoundByRound(const CodeNode &loop);
    bool ownsThreads() const;
    void letCancel(const CodeNode &loop);
    void tellTogether();
    void showInBatches();
    void changeLoop(const CodeNode &node, const Inside &inside);
    // cut_inline.cpp
    bool putInPlace(const CodeNode &call, const Inside &inside);
    struct Callee;
    const CodeNode *teller(int decl) const;
    void findTellers();
    bool calleeOf(const CodeNode &call, Callee *callee) const;
    bool canPutInPlace(const CodeNode &call, const Callee &callee) const;
    CodeNode withMembers(const CodeNode &node, const QHash<int, const CodeNode *> &members) const;
    QString inPlace(const CodeNode &call, const Callee &callee, const Inside &inside);

    // cut_replay.cpp: rows and items that are made
    struct Replay;
    bool isShown(const CodeNode &node, Replay *replay) const;
    bool isLookup(const CodeNode &node, Replay *replay, const Inside &inside) const;
    bool canReplayValue(const CodeNode &node, Replay *replay, const Inside &inside,
                        const QString &what) const;
    bool canReplay(const CodeNode &statement, Replay *replay, const Inside &inside) const;
    bool needsReplay(const CodeNode &statement) const;
    bool isMixed(const CodeNode &block, qsizetype at) const;
    const CodeNode *itemAsked(const CodeNode *method) const;
    bool readsStay(const CodeNode &statement, const Replay &replay) const;
    bool rowsStay(const Replay &replay, const Inside &inside) const;
    int replay(const CodeNode &block, qsizetype at, const Inside &inside);
    bool replayAlone(const CodeNode &statement, const Inside &inside); // without braces
    QString shownText(const Replay &replay, int begin, int end, QList<TextChange> shown);
    bool isOncePerRow(const CodeNode &node, const CodeNode &read, const CodeNode &set,
                      const CodeNode &statement) const;
    QSet<int> widgetsOf(const CodeNode &block, qsizetype at, qsizetype end, const Replay &replay) const;
    void replayed(const CodeNode &block, qsizetype at, qsizetype end, const Replay &replay,
                  const Inside &inside);

    void dropWithin(int begin, int end); // changes, but for braces that a loop gets around it
    std::pair<QString, QString> bracesFor(const CodeNode &statement, const Inside &inside);
    void deferSetter(const CodeNode &node, const CodeNode &value, const Inside &inside, Deferred told);
    bool countsInBody(const CodeNode &loop, int *variable, QString *from) const;
    bool countsUp(const CodeNode &loop, int *variable, QString *from) const;

    // cut_methods.cpp
    bool makeFreeFunction(const CodeNode &call);
    static bool isObjectOfCall(const CodeNode &body, const CodeNode &self);
    void findStaying();
    void qualify(const CodeNode &node);
    void qualifyOne(const CodeNode &node);

    // cut_items.cpp: what is asked of rows and items
    struct Counted {
        const CodeNode *loop = nullptr;
        int variable = -1;
        QString from; // its first value, as it is written; "down from …"
    };
    struct Item {
        const CodeNode *init = nullptr;
        QString text;      // its declaration
        bool sure = false; // it is never nothing
    };
    QList<const CodeNode *> boundsOf(const CodeNode &loop, int variable) const;
    bool isWithinCount(const CodeNode &node, const CodeNode &loop, int variable) const;
    std::optional<QList<Counted>> countsOf(const QSet<int> &reads, const Inside &inside) const;
    QSet<int> withoutItems(QSet<int> reads, QList<int> *items) const;
    bool canGather(const CodeNode &node, const Inside &inside) const;
    bool gather(const CodeNode &node, const Inside &inside);
    void addGathered(const CodeNode &node, const QList<Counted> &chain, const QString &text,
                     const QString &type, const QString &before, const QString &wanted);
    bool gatherEach(const CodeNode &loop);
    QString indexOf(const Counted &count) const;
    QString headerOf(const CodeNode &loop) const;
    bool canFollow(int item, const CodeNode &scope, const Inside &inside, bool *tested) const;
    bool isAskedFor(const CodeNode &node, const CodeNode &parent) const;
    bool takeItem(const CodeNode &variable, const QString &declared, const CodeNode &scope,
                  const Inside &inside);

    // cut_handed.cpp: what is handed over
    void handAll();
    void handInput(int decl, bool written);
    void handOwned(const QSet<int> &owned);
    void handResult(int decl);
    bool isAskedMeanwhile(int decl) const;
    void keepWhatWasRead();
    bool mayBeAbsent(const CodeNode &node) const;
    bool isOwnTelling(const Effect &read) const;
    bool readBelow(const CodeNode &node, const QSet<int> &touched) const;
    bool canKeepRead(const CodeNode &node, const QSet<int> &touched) const;
    bool readsSomething(const CodeNode &node) const;
    bool keepRead(const CodeNode &node, const QSet<int> &touched);
    // cut_values.cpp
    bool onlyLooks(const CodeNode &node) const;
    bool changesOwned(const CodeNode &node) const;
    bool needsWork(const CodeNode &node, const QSet<int> &stuck) const;
    bool valuesIn(const CodeNode &node, const QSet<int> &stuck, QList<const CodeNode *> *values) const;
    bool mayAskAhead(const CodeNode &statement, const QList<const CodeNode *> &values, bool maybe) const;
    void keepOutOfShow();
    void checkMembers();

    // cut_turn.cpp: what is triggered again meanwhile
    void checkTurn();
    void refuseLateReads(const QSet<int> &reads);
    QSet<int> setTwice() const;
    void sinkWhatIsSetTwice();
    bool canSink(int piece, const QSet<int> &twice) const;
    bool readsOthers() const;
    void leaveAtTurn();
    bool leaveAtTurn(const CodeNode &node, QList<TextChange> *changes) const;
    bool setsBetween(int piece, int from, int to) const;
    bool comesFirst(int piece) const;

    Handed handedOf(int decl);
    bool isDuplicated(int decl) const;
    const Piece *pieceDeclaring(int decl) const;

    QString textOf(const CodeNode &n) const;
    QString nameOf(int decl) const;
    QString fresh(const QString &wanted);
    QString nameFor(const CodeNode &expression);
    int lineOf(int at) const;
    static bool isFieldKind(const CodeDecl *d);
    bool readsOnly(const QList<Effect> &effects) const;
    bool dependsOnTakeOnly(const CodeNode &node, const QSet<int> &except = {}) const;
    bool changesMeanwhile(const CodeNode &node, const Effect &read) const;
    bool onlyApart(const CodeNode &node, const Effect &read) const;
    bool isApart(const CodeNode &node, const Effect &read, const Effect &write) const; // cut_replay.cpp
    QString typeName(int type) const;

    const CutQuestion &q_;
    const CodeUnit &unit_;
    const Effects &effects_;
    Cut out_;
    QList<Piece> pieces_;
    int first_ = -1, last_ = -1;
    QSet<QString> names_;     // taken
    QSet<QString> constants_; // of the function
    QStringList ownTypes_;    // of the class, qualified
    QSet<int> regionWrites_;  // variables that the work changes or declares
    QSet<int> deferredWidgets_;
    QSet<int> made_;                      // items that it makes, and asks of themselves only
    QSet<int> setByItself_;               // widgets whose values it sets anew whenever it is triggered
    QSet<int> setBefore_;                 // members that it sets before the work, whenever it is triggered
    QSet<int> keptReads_;                 // of what is shown, read before the work
    QHash<QString, QString> hoisted_;     // by text
    QSet<int> putting_;                   // functions whose statements are being put in place of a call
    std::list<CodeNode> copies_;          // of functions that are handed widgets, with these in them
    QSet<const CodeNode *> calledAtOnce_; // lambdas that are called while the call lasts that is handed them
    QSet<int> put_;                       // functions whose statements were put in place of a call
    QHash<int, Item> items_;              // that are taken in the middle of the work
    QSet<int> loopVariables_;             // of the work's loops that count up
};

} // namespace pipit
