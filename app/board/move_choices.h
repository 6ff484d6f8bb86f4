// How a handler goes on when it is triggered again while it works, what cancels it, and whose queue it
// shares: three lines under the preview of a move.
//
// Threads: the loop's thread only.
#pragma once

#include "core/moves/move.h"

#include <QComboBox>
#include <QLabel>
#include <QWidget>

namespace pipit::app
{

class MoveChoices : public QWidget
{
    Q_OBJECT
public:
    explicit MoveChoices(QWidget *parent = nullptr);
    // What can be chosen for it, with what holds now chosen.
    void setFor(const Project &project, const Handler &handler, Shape shape);
    // Says what was chosen, beside what is asked already.
    void tell(MoveQuestion &question) const;
    void choose(const MoveOffer &offer);
    QComboBox *again() const { return again_; }
    QComboBox *cancel() const { return cancel_; }
    QComboBox *queue() const { return queue_; }

Q_SIGNALS:
    void changed(); // by a person

private:
    QComboBox *again_, *cancel_, *queue_;
    QLabel *againName_, *cancelName_, *queueName_;
    QStringList with_; // moved into the queue along with it
};

} // namespace pipit::app
