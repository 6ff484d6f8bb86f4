// Plays: the project's plays as text, run on it, with what failed and the moment it did.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/row_list.h"
#include "app/session/session.h"

#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>

namespace pipit::app
{

class PlaysPage : public QWidget
{
    Q_OBJECT
public:
    explicit PlaysPage(Session *session, QWidget *parent = nullptr);
    QPlainTextEdit *text() const { return text_; }
    RowList *files() const { return files_; }
    RowList *results() const { return results_; }
    void choose(const QString &file) { openPlay(file); }
    // As it was dragged; 0: the usual one.
    int filesWidth() const { return filesWidth_; }
    void setFilesWidth(int width);

Q_SIGNALS:
    void timeAsked(std::int64_t ns);
    void filesWidthChanged();

private:
    void fill();
    void openPlay(const QString &file);
    bool saveText();
    void makePlay();
    void showReport();

    Session *session_;
    RowList *files_, *results_;
    QPlainTextEdit *text_;
    QPushButton *run_, *save_, *make_;
    QLabel *said_;
    QString file_;
    int filesWidth_ = 0;
};

} // namespace pipit::app
