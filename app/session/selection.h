// What is selected, on every page alike.
//
// Threads: the loop's thread only.
#pragma once

#include <QObject>
#include <QString>

namespace pipit::app
{

struct Selected {
    QString object;     // a widget or timer
    QString connection; // id
    QString handler;    // name
    friend bool operator==(const Selected &, const Selected &) = default;
};

class Selection : public QObject
{
    Q_OBJECT
public:
    using QObject::QObject;

    const Selected &now() const { return now_; }
    void select(const Selected &s)
    {
        if (now_ == s)
            return;
        now_ = s;
        Q_EMIT changed();
    }

Q_SIGNALS:
    void changed();

private:
    Selected now_;
};

} // namespace pipit::app
