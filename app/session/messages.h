// What is said to the person: whatever part of the session has something to say, says it here.
//
// Threads: the loop's thread only.
#pragma once

#include <QObject>

namespace pipit::app
{

class Messages : public QObject
{
    Q_OBJECT
public:
    using QObject::QObject;

Q_SIGNALS:
    void problem(const QString &text);
    void note(const QString &text);
    void progress(const QString &text); // what is being done; empty: nothing
};

} // namespace pipit::app
