// The code editor of the drawer: QScintilla in our colours, over a buffer of the session's
// UserFiles.
//
// Threads: the loop's thread only. Typing has the editor's own undo, never mixed with the wiring's.
#pragma once

#include "app/shell/session.h"

#include <Qsci/qsciscintilla.h>

namespace pipit::app
{

class Editor : public QsciScintilla
{
    Q_OBJECT
public:
    explicit Editor(Session *session, QWidget *parent = nullptr);

    void openFile(const QString &file);
    void openAt(const QString &file, int line, int column = 0); // from 1
    QString file() const { return file_; }
    void showMessages(const QList<BuildMessage> &messages); // marks their lines, tells them below
    void takeLook();

private:
    void reload();
    void typed();
    Session *session_;
    QString file_;
    bool loading_ = false;
};

} // namespace pipit::app
