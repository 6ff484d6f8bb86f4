// What other code of the folder does that a handler cannot be moved beside: it calls the handler and goes on
// with what that left, sets it off by a signal and goes on, or takes away rows that it counts by.
//
// Threads: plain values; reads files through `files`. Goes by the text of the files, so what it finds may be
// harmless: it only ever refuses.
#pragma once

#include "core/project/model.h"
#include "core/userfiles/cpp_scan.h"
#include "core/userfiles/user_files.h"

#include <QSet>

namespace pipit
{

struct Elsewhere {
    QString file;
    int line = 0;
    QString reason;
};

// All sources and headers in the folder, but what is generated or built; relative names.
[[nodiscard]] QStringList codeIn(const QString &folder);

class OtherCode
{
public:
    // `className`: the handler's class. Of code that was not composed here the project is empty, and the
    // handler a function's name, empty for a lambda.
    OtherCode(const Project &project, UserFiles files, const QString &folder, const Handler &handler,
              const QString &className);

    // Calls of the handler as a function.
    [[nodiscard]] QList<Elsewhere> calls() const;
    // Where a function sets off one of its connections and then looks at what it set.
    [[nodiscard]] QList<Elsewhere> readsAtOnce(const QSet<QString> &set) const;
    // Widgets whose rows may be taken away or moved by others.
    [[nodiscard]] QSet<QString> restless() const;

private:
    struct Text {
        QString file, code; // without comments; texts are blank
        QString whole;
        QList<Definition> definitions;
    };
    bool isHandlers(const Text &text, qsizetype at) const; // within its own definition
    bool isAnothers(const QString &object, const QString &scope) const;
    const Project &project_;
    const Handler &handler_;
    QString class_;
    QList<Text> texts_;
};

} // namespace pipit
