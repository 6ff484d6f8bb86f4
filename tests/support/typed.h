// Lines as a person types them into the Board: "add: …", "set: …", "connect: …"; and "body: HANDLER: …",
// what is written into a handler, and "finding: KIND", what the wiring
// check must say of the whole.
#pragma once

#include "core/edits/workspace.h"

#include <QTemporaryDir>

namespace pipit::tests
{

struct TypedLine {
    QString verb, text;
};
QList<TypedLine> typedLines(const QString &file); // below tests/data
// Does what the line says, on the model alone.
Outcome apply(Workspace &workspace, const TypedLine &line);
Outcome apply(Workspace &workspace, const QString &line); // "add: button go"
// Lines that must do.
void type(Workspace &workspace, const QStringList &lines);
// A file of generated/, as it would be written now; why not, when it cannot be.
QString made(Workspace &workspace, const QString &file);
// Why a line is refused; "done" when it is not.
QString refusal(Workspace &workspace, const QString &line);

// New projects, one after the other, in a folder that goes with it.
class Fresh
{
public:
    Workspace project(const QString &name = "desk");
    QString path() const { return dir_.path(); }

private:
    QTemporaryDir dir_;
    int number_ = 0;
};

// Buttons key0, key1, … each with a connection to handler(i), by number; for what must stay quick.
void fillWithButtons(Project &project, int count, const std::function<QString(int)> &handler);

} // namespace pipit::tests
