// Findings: what the wiring check notices, before the compiler runs.
//
// Threads: any; works on the model and the buffers it is given. docs/findings.md lists the kinds.
#pragma once

#include "core/project/model.h"
#include "core/userfiles/user_files.h"

namespace pipit
{

struct Finding {
    enum class Severity { Error, Warning, Hint };
    // What one step mends it, if anything does.
    enum class Mend { None, AddStub, RenameBody, RemoveConnection, SetProperty, Retarget };

    QString id; // kind of finding, stable: "missing-handler"
    Severity severity = Severity::Warning;
    QString where;   // object, handler or connection id
    QString message; // a sentence
    QString fix;     // what to do, a sentence; may be empty
    int line = 0;    // in the project file, 0 when it has none
    Mend mend = Mend::None;
    bool costs = false; // the mend takes away what somebody wrote and may have meant: never done unasked
    QStringList with;   // of the mend: property and value; the new target; file, old and new name of a body

    friend bool operator==(const Finding &, const Finding &) = default;
};

QString severityWord(Finding::Severity severity);
QList<Finding> findingsOf(const Project &project, UserFiles &files);
// Every kind, for documentation and tests.
QStringList findingKinds();

} // namespace pipit
