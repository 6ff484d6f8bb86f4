// What the parts of the wiring writer share. Inner; include wiring.h instead.
#pragma once

#include "core/codegen/wiring.h"
#include "core/project/fit.h"

namespace pipit
{

class WiringWriter
{
public:
    WiringWriter(const Reach &reach, int window, const ProjectPlace &place);
    Result<WiringText> write();

private:
    // A connection from one of its sources.
    struct One {
        const Connection *c;
        QString source;
        int number; // among those of the same connection
    };

    Problem at(const Connection &c, const QString &what, const QString &remedy) const;
    Problem at(const Connection &c, const Problem &why) const { return at(c, why.what, why.remedy); }
    void line(const QByteArray &text);
    // The line about to be written belongs to this connection.
    void note(const One &one, const QString &name);
    Outcome collect();
    QByteArray header() const;

    // wiring.cpp: signals
    Outcome signalConnection(const One &one);
    struct Call {
        QByteArray body;       // a statement
        QByteArray parameters; // of the lambda
        QByteArray result;     // for pacing: what is kept by value, ", a0, a1"
    };
    Result<Call> callFor(const One &one, const SignalEntry &signal);
    Problem misfit(const One &one, const Handler &h, const SignalEntry &signal, const Fit &fit) const;
    Result<Call> handlerCall(const One &one, const SignalEntry &signal);
    Result<Call> memberCall(const One &one, const SignalEntry &signal);
    void opening(const One &one, Call &call);
    void paced(const One &one, const Call &call, const QByteArray &condition, QByteArray *body,
               QByteArray *capture);
    void jobs();
    void jobEnds();
    void starts();
    void construction();

    // wiring_events.cpp
    Outcome eventFilter();
    Outcome eventBlock(const One &one);
    Outcome afterBlock(const QList<One> &ones);
    Outcome dropAcceptance(const QString &event);
    Result<QByteArray> guard(const One &one, const EventEntry &e);
    QByteArray watchedTest(const One &one, const EventEntry &e) const;
    QByteArray callOf(const One &one) const;
    void installFilter();

    const Reach &reach_;
    const Project &p_;
    const WindowNode &w_;
    int index_;
    QString file_;
    QByteArray wired_; // the class
    QByteArray out_;
    int lineNumber_ = 1;
    QList<WiringLine> lines_;
    QList<One> signals_, events_;
    QList<const Handler *> background_; // handlers of this window
    bool scoped_ = false;               // some key connection listens beyond its widget
};

} // namespace pipit
