// The preview of a move or a new name: what goes where, and the code as it will stand. Inline, never modal.
//
// Threads: the loop's thread only.
#pragma once

#include "app/shell/session.h"

#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>

namespace pipit::app
{

class MovePanel : public QWidget
{
    Q_OBJECT
public:
    explicit MovePanel(Session *session, QWidget *parent = nullptr);
    // False when the move cannot be planned; the reason was told.
    bool plan(const QString &handler, Shape shape);
    // The same for a new name: which lines of the user's code follow.
    bool planRename(const QString &from, const QString &to, bool all);
    QPushButton *applyButton() const { return apply_; }
    QString sentences() const { return words_->text(); }

Q_SIGNALS:
    void applied(const QString &handler);
    void dismissed();

private:
    Session *session_;
    QLabel *title_, *words_;
    QPlainTextEdit *code_;
    QPushButton *apply_;
    QString handler_;
    std::optional<Edit> edit_;
};

} // namespace pipit::app
