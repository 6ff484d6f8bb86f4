// The preview of a new name: which lines of the user's code follow. Inline, never modal.
//
// Threads: the loop's thread only.
#pragma once

#include "app/session/session.h"
#include "core/edits/rename.h"

#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>

namespace pipit::app
{

class RenamePanel : public QWidget
{
    Q_OBJECT
public:
    explicit RenamePanel(Session *session, QWidget *parent = nullptr);
    ~RenamePanel() override;
    // By the text at once; by what each word stands for once it was read. False when it
    // cannot be planned; the reason was shown.
    bool plan(const QString &from, const QString &to, bool all);
    QPushButton *applyButton() const { return apply_; }
    QString sentences() const { return words_->text(); }

Q_SIGNALS:
    void applied();
    void dismissed();

private:
    Session *session_;
    QLabel *title_, *words_;
    QPlainTextEdit *code_;
    QPushButton *apply_;
    void showRename(const RenamePlan &plan, const QString &lookedAt);
    void lookWithReader(const RenameRequest &request);
    void forget();
    void apply();

    std::optional<Edit> edit_;
    std::function<bool()> again_;               // makes the plan anew
    std::shared_ptr<std::atomic<bool>> cancel_; // of the question to the reader
};

} // namespace pipit::app
