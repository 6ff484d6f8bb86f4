// What running a piece of code touches beside its own variables: widgets, members, the loop.
//
// Threads: plain values; the unit must outlive it. Calls are followed through the person's own functions at
// any depth. What cannot be proved harmless is `Unknown`, with the reason: it stays on the loop. What the
// toolkit's functions do follows from class and constness (Qt's documentation: "Thread Support in Qt
// Modules", "Threads and QObjects"); of other libraries' functions only what the C and C++ standards promise.
#pragma once

#include "core/code/unit.h"

#include <QSet>

namespace pipit
{

struct Effect {
    enum Kind {
        ReadsWidget,
        WritesWidget,
        ReadsShared, // a member, or a variable that others see
        WritesShared,
        Asks,    // waits for a person, or runs a loop within the loop
        Pumps,   // processEvents
        Emits,   // a signal, whose slots run at once
        Creates, // an object that belongs to the loop
        Sender,  // asks who sent the signal
        Unknown
    };
    Kind kind = Unknown;
    int decl = -1;       // of the widget or variable, where it has a name
    int at = -1;         // offset in the function asked about
    QString what;        // for a sentence: "statusLabel is set", "cars_ is changed"
    QString through;     // the function that does it, where it is reached by a call
    QString method{};    // that changes a widget
    bool unread = false; // of Unknown: it stands in another file, which was not read
    bool ofThis = true;  // reached by nothing but the object's own methods: `decl` is a member of this object
    const CodeNode *node = nullptr; // the expression, where it is not reached by a call
};

// What a piece does to variables of the function itself, parameters among them.
struct Locals {
    QSet<int> reads, writes, declares;
    // Written as a whole before it is read: what it held before does not matter.
    QSet<int> sets;
};

class Effects
{
public:
    // `owned`: variables that have what they point to for themselves. `window`: a class whose own types, if
    // it is declared in a header, can be named wherever its parts go.
    explicit Effects(const CodeUnit &unit, const QSet<int> &owned = {}, const QString &window = {});

    [[nodiscard]] QList<Effect> of(const CodeNode &node) const;
    [[nodiscard]] Locals locals(const CodeNode &node) const;

    // A widget, or something else that only the loop's thread may use: what it is, empty for neither.
    [[nodiscard]] QString bound(int type) const;
    // Whether a value of that type can be handed to another thread, and why not.
    [[nodiscard]] QString keptFromMoving(int type) const;
    // A variable whose value is the same for ever: known when compiling, or a `static const` that is made of
    // nothing that changes.
    [[nodiscard]] bool isConstant(int decl) const;
    // The variable or member at the root of `a.b[i]`, -1 for none.
    [[nodiscard]] static int root(const CodeNode &node);
    // The lambda that an expression is, whatever it is put into; null for none.
    [[nodiscard]] static const CodeNode *lambdaIn(const CodeNode &node);
    // Whether running it may take long: it has a loop that does more than show, sleeps, waits, or calls what
    // does.
    [[nodiscard]] bool mayTakeLong(const CodeNode &node) const;

private:
    bool isLocal(int decl) const;
    bool isOnlyShowing(const CodeNode &loop) const;
    bool asksForLittle(const CodeNode &node) const;
    bool takesLongWithin(int function, const QList<const CodeNode *> &bodies) const;
    struct Walk;
    QList<Effect> ofFunction(int decl) const;

    void findOwnPointers();
    void findConstants();
    void findOwnFunctions();
    QString keptRecord(const CodeRecord &r) const;

    const CodeUnit &unit_;
    QString window_;
    QSet<int> ownPointers_; // variables that point to what their function made or holds, and to nothing else
    QSet<int> constants_;   // of functions, see isConstant
    // Variables that hold functions (std::function), and what is put into them; empty where it is not known.
    QHash<int, QList<const CodeNode *>> ownFunctions_;
    mutable QHash<int, QList<Effect>> known_; // by function
    mutable QSet<int> open_;                  // being asked about
    mutable QSet<int> openFunctions_;         // of ownFunctions_, likewise
    mutable int circles_ = 0;
    mutable QHash<int, bool> slow_;
    mutable QSet<int> slowOpen_;
};

} // namespace pipit
