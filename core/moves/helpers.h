// Methods of the window that the work calls, made plain functions that another thread can call: the members
// that they use come as arguments. Where others call the method as well it stays, and calls the function.
//
// Threads: plain values.
#pragma once

#include "core/moves/cut.h"
#include "core/userfiles/user_files.h"

namespace pipit
{

struct HelperQuestion {
    const CodeUnit &unit;
    const Effects &effects;
    const Cut &cut;
    QString className;
    QString file, header; // in which the methods stand; no header: those of the file only
    QString source;       // the text of `file`
    QString headerText;
};

// What changes for them.
struct FreedHelpers {
    QList<FileEdit> edits;
    QString functions; // to stand before the handler: of methods that were defined in the header
    QStringList sentences;
};

// A Problem says which cannot be, and why.
[[nodiscard]] Result<FreedHelpers> freeHelpers(const HelperQuestion &question);

} // namespace pipit
