// Asks pipit-reader what C++ says. It is a process of its own: clang's libraries may die of what they read,
// hang on it or take more memory than there is, and then it is started anew.
//
// Threads: blocking, so on a worker; one question at a time. `cancel` may be set from any thread.
// Errors: a Problem says that it could not be read, and why; what the code itself gets wrong is in
// `messages`.
#pragma once

#include "core/base/result.h"
#include "core/code/unit.h"

#include <QProcess>

#include <atomic>
#include <chrono>

namespace pipit
{

struct CodeQuestion {
    QString file;                  // absolute
    QStringList arguments;         // of the compiler
    QStringList own;               // folders: the person's code is below them
    QHash<QString, QString> texts; // by absolute name, what stands in for the disk
    QStringList functions;         // by qualified name, or
    int at = -1;                   // the function around this offset of the file
    QList<int> words{};            // of `meanings`: where words stand, by character
    bool complete = false;         // see `completions`
};

struct CodeCompletion {
    QString word;
    QString type; // of what it stands for, empty for none
};

class CodeReader
{
public:
    explicit CodeReader(const std::atomic<bool> &cancel,
                        std::chrono::seconds patience = std::chrono::seconds(60));
    ~CodeReader();
    CodeReader(const CodeReader &) = delete;

    // Where it is not installed, or its libraries are not.
    [[nodiscard]] static bool isThere();
    [[nodiscard]] Result<CodeUnit> read(const CodeQuestion &question);
    // For each of the question's words what it stands for, by clang's "unified symbol resolutions"; nothing
    // where no compiler sees it.
    [[nodiscard]] Result<QList<QStringList>> meanings(const CodeQuestion &question);
    // What may stand at the question's `at`, where a word begins: the likeliest first.
    [[nodiscard]] Result<QList<CodeCompletion>> completions(const CodeQuestion &question);

private:
    Outcome start();
    Result<QByteArray> ask(const QByteArray &line);
    Result<QJsonObject> answerTo(const CodeQuestion &question);

    const std::atomic<bool> &cancel_;
    std::chrono::seconds patience_;
    QProcess process_;
};

} // namespace pipit
