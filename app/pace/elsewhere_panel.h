// What moving a handler to the background would change in code that was not composed here: a change to be
// copied or saved, or why there is none. Inline, never modal.
//
// Threads: the loop's thread only. Plans are made on a worker. Nothing of the program's is written.
#pragma once

#include "app/look/code_pane.h"
#include "app/session/session.h"
#include "core/moves/other.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace pipit::app
{

class ElsewherePanel : public QWidget
{
    Q_OBJECT
public:
    explicit ElsewherePanel(Session *session, QWidget *parent = nullptr);
    ~ElsewherePanel() override;
    // The handler, by what it is called and where it begins.
    void plan(const QString &name, const QString &file, int line);
    bool isPlanning() const { return cancel_ != nullptr; }
    QString sentences() const { return words_->text(); }
    CodePane *change() const { return change_; }
    QPushButton *copyButton() const { return copy_; }
    QPushButton *leaveButton() const { return leave_; }

Q_SIGNALS:
    void planned();
    void dismissed();

private:
    void take(const Result<OtherMove> &move);
    void showChange(const QString &diff);
    void save();
    void forget();

    Session *session_;
    QLabel *title_, *words_;
    CodePane *change_;
    QPushButton *copy_, *save_, *leave_;
    QString folder_;
    std::shared_ptr<std::atomic<bool>> cancel_; // of the plan that is being made
};

} // namespace pipit::app
