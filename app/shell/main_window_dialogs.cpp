// What the main window asks with a file dialog.
#include "app/shell/main_window.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>

namespace pipit::app
{

// Where file dialogs begin: beside what was open last.
QString MainWindow::folderToStartIn() const
{
    const QString last = remembered_.value("folder").toString();
    return QFileInfo(last).isDir() ? last : QDir::homePath();
}

void MainWindow::askForProject()
{
    const QString folder =
        QFileDialog::getExistingDirectory(this, "Open a project's folder", folderToStartIn());
    if (!folder.isEmpty())
        session_.open(folder);
}

void MainWindow::askForNewProject()
{
    const QString folder =
        QFileDialog::getSaveFileName(this, "Name the new project's folder", folderToStartIn());
    if (!folder.isEmpty())
        session_.document.createSoon(folder);
}

void MainWindow::askForRecording()
{
    const QString folder =
        QFileDialog::getExistingDirectory(this, "Open a recording's folder", folderToStartIn());
    if (!folder.isEmpty())
        session_.open(folder);
}

void MainWindow::askForPackedRecording()
{
    const QString file = QFileDialog::getOpenFileName(this, "Open a packed recording", folderToStartIn(),
                                                      "Packed recordings (*.pack);;All files (*)");
    if (!file.isEmpty())
        session_.open(file);
}

void MainWindow::askWhereToPack()
{
    const QString name = folderToStartIn() + '/' + session_.title() + ".pack";
    const QString file = QFileDialog::getSaveFileName(this, "Pack the recording into one file", name);
    if (!file.isEmpty())
        session_.handingOn.pack(file, true);
}

void MainWindow::askForReport()
{
    const QString name = folderToStartIn() + '/' + session_.title() + ".html";
    const QString file = QFileDialog::getSaveFileName(this, "Write the report", name);
    if (!file.isEmpty())
        session_.handingOn.write("html", file);
}

} // namespace pipit::app
