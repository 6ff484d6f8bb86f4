// What the parts of the cutter share. Inner; include cut.h instead.
#pragma once

#include "core/moves/cut.h"

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
    void takeAlong(); // what the work needs and cannot be handed to it
    void placeAll();
    bool isFunctionForLater(int piece) const;
    bool isWithinCount(const CodeNode &node, const CodeNode &loop, int variable) const;
    void emptyFieldsEarly();
    bool canGoBefore(int piece) const;
    bool canGoAfter(int piece) const;
    bool inRegion(int piece) const { return piece >= first_ && piece <= last_; }
    QString reasonOf(const Piece &piece) const;
    void refuse(int at, const QString &reason);
    bool isTrusted(int at) const;

    // cut_work.cpp: what is changed within the work
    struct Inside {
        QList<const CodeNode *> loops;
        bool maybe = false;   // it may not be reached
        bool leaving = false; // what follows leaves the function, so it happens once
        bool aloneIn = false; // the only statement under an if or a loop, without braces
    };
    void changeStatement(const CodeNode &node, const Inside &inside);
    bool defer(const CodeNode &node, const Inside &inside);
    QList<Effect> ownOf(const CodeNode &node) const;
    QString whyKept(const Effect &effect) const;
    void changeExpression(const CodeNode &node, const Inside &inside);
    bool coveredBelow(const CodeNode &node, const Inside &inside) const;
    bool canHoist(const CodeNode &node, const Inside &inside) const;
    bool canGather(const CodeNode &node, const Inside &inside) const;
    bool hoist(const CodeNode &node, const Inside &inside);
    bool gather(const CodeNode &node, const Inside &inside);
    bool gatherEach(const CodeNode &loop);
    void stop(const CodeNode &node, const Inside &inside);
    void goRoundByRound(const CodeNode &loop);
    void letCancel(const CodeNode &loop);
    void qualify(const CodeNode &node);
    void qualifyOne(const CodeNode &node);
    void free(const CodeNode &call);
    void changeLoop(const CodeNode &node, const Inside &inside);
    void deferSetter(const CodeNode &node, const CodeNode &value, const Inside &inside, Deferred told);
    bool countsUp(const CodeNode &loop, int *variable, QString *from) const;

    // cut_handed.cpp: what is handed over
    void handAll();
    void handInput(int decl, bool written);
    void handResult(int decl);
    void keepWhatWasRead();
    bool mayBeAbsent(const CodeNode &node) const;
    bool readBelow(const CodeNode &node, const QSet<int> &touched) const;
    bool canKeepRead(const CodeNode &node, const QSet<int> &touched) const;
    bool readsSomething(const CodeNode &node) const;
    bool keepRead(const CodeNode &node, const QSet<int> &touched);
    void keepOutOfShow();
    void checkMembers();
    void checkTurn();
    bool setsWhatIsShown() const;
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
    bool dependsOnTakeOnly(const CodeNode &node, int except = -1) const;
    QString typeName(int type) const;

    const CutQuestion &q_;
    const CodeUnit &unit_;
    const Effects &effects_;
    Cut out_;
    QList<Piece> pieces_;
    int first_ = -1, last_ = -1;
    QSet<QString> names_;    // taken
    QSet<int> regionWrites_; // variables that the work changes or declares
    QSet<int> deferredWidgets_;
    QSet<int> keptReads_;             // of what is shown, read before the work
    QHash<QString, QString> hoisted_; // by text
};

} // namespace pipit
