// Lines as a person types them into the Board: "add: …", "set: …", "connect: …"; and "body: HANDLER: …",
// what is written into a handler, and "finding: KIND", what the wiring
// check must say of the whole.
#pragma once

#include "core/edits/workspace.h"

namespace pipit::tests
{

struct TypedLine {
    QString verb, text;
};
QList<TypedLine> typedLines(const QString &file); // below tests/data
// Does what the line says, on the model alone.
Outcome apply(Workspace &workspace, const TypedLine &line);

} // namespace pipit::tests
