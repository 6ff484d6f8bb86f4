// The code editor of the drawer: QScintilla in our colours, over a buffer of the session's
// UserFiles; completion from the project and from what the reader knows, what the compiler says while typing,
// and each handler's last calls in the margin.
//
// Threads: the loop's thread only; the compiler runs on a worker. Typing has the editor's own undo,
// never mixed with the wiring's.
#pragma once

#include "app/session/session.h"

#include <Qsci/qsciscintilla.h>

#include <QContextMenuEvent>
#include <QTimer>

namespace pipit::app
{

class Editor : public QsciScintilla
{
    Q_OBJECT
public:
    explicit Editor(Session *session, QWidget *parent = nullptr);
    ~Editor() override;

    void openFile(const QString &file);
    void openAt(const QString &file, int line, int column = 0); // from 1
    QString file() const { return file_; }
    void showMessages(const QList<BuildMessage> &messages); // marks their lines, lists them below
    void takeLook();
    // From the cursor on, around the end; `next` steps past the present match.
    void findText(const QString &text, bool next);
    QString handlerAtCursor() const;
    // What could be typed here: members of what stands before an arrow or a dot, else names.
    QStringList completionsAt(int line, int column) const;
    // What the reader knows besides, for the word that is being typed; it comes a moment later.
    QStringList knownWords() const;
    bool isChecking() const { return checking_; }
    // One step larger or smaller; 0: as it was. Told by `zoomed`, so that it is remembered.
    void zoom(int step);

Q_SIGNALS:
    void zoomed(int level);
    void menuAsked(const QPoint &global);
    void wordsKnown(); // knownWords() may say more now
    void checked();    // the compiler has looked at what is typed

protected:
    bool event(QEvent *e) override;
    void showEvent(QShowEvent *e) override;
    void wheelEvent(QWheelEvent *e) override;
    void contextMenuEvent(QContextMenuEvent *e) override { Q_EMIT menuAsked(e->globalPos()); }

private:
    void fitMargins();
    void reload();
    void typed();
    void complete();
    void askForWords();
    void offer(const QStringList &words);
    qsizetype wordBegin() const; // of what is being typed, in the text; -1 where nothing is to be completed
    void check();
    void showCalls();
    Session *session_;
    QString file_;
    QTimer completeSoon_, checkSoon_;
    std::shared_ptr<std::atomic<bool>> cancelCheck_ = std::make_shared<std::atomic<bool>>(false);
    // What may stand where a word begins, by all that stands before it.
    struct Offered {
        QString before;
        QStringList words;
        bool asked = false;
    } offered_;
    std::shared_ptr<std::atomic<bool>> cancelWords_ = std::make_shared<std::atomic<bool>>(false);
    int checks_ = 0;
    int turned_ = 0; // of the wheel, in eighths of a degree
    bool loading_ = false, checking_ = false;
};

} // namespace pipit::app
