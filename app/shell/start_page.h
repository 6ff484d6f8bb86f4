// The first page: what was open lately, the demo, and starting any Qt 6 program with arguments, folder,
// environment and a play.
//
// Threads: the loop's thread only; the desktop's entries are read on a worker.
#pragma once

#include "app/look/note_line.h"
#include "app/look/row_list.h"
#include "app/session/remembered.h"
#include "app/session/runs.h"

#include <QCheckBox>
#include <QLineEdit>
#include <QPushButton>

namespace pipit::app
{

class StartPage : public QWidget
{
    Q_OBJECT
public:
    explicit StartPage(Remembered *remembered, QWidget *parent = nullptr);
    void fill(); // what was open lately
    QLineEdit *programLine() const { return program_; }
    RowList *recent() const { return recent_; }
    NoteLine *note() const { return note_; }
    void startProgram();

Q_SIGNALS:
    void newAsked();
    void openAsked();
    void recordingAsked();
    void demoAsked();
    void chosen(const QString &path); // a project or a recording
    void programAsked(const pipit::ProgramSpec &program, const QString &play);
    void entriesAsked();

private:
    QWidget *makeProgramLines();
    void browse(QLineEdit *into, const QString &title, bool folder);
    Remembered *remembered_;
    RowList *recent_;
    QLineEdit *program_, *folder_, *environment_, *play_;
    QCheckBox *mask_;
    QWidget *more_;
    NoteLine *note_;
};

// A program that the desktop knows.
struct DesktopEntry {
    QString name, command;
};
// Those that are Qt 6 programs themselves; reads files, so on a worker.
QList<DesktopEntry> desktopEntries();

} // namespace pipit::app
