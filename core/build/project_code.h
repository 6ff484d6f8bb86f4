// A project's code as it would be if everything were saved now, for pipit-reader.
//
// Threads: blocking, so on a worker; one at a time.
#pragma once

#include "core/code/reader.h"
#include "core/codegen/generate.h"

#include <QTemporaryDir>

namespace pipit
{

class ProjectCode
{
public:
    explicit ProjectCode(const std::atomic<bool> &cancel,
                         std::chrono::seconds patience = std::chrono::seconds(60))
        : reader_(cancel, patience)
    {
    }

    // Lays the code out anew in a folder of its own.
    Outcome lay(const ProjectPlace &place, const Project &project, UserFiles &files);
    // One of the user's source files, with what these functions say.
    Result<CodeUnit> read(const QString &file, const QStringList &functions);
    // What words of one of the user's files stand for, a header among them.
    Result<QList<QStringList>> meanings(const QString &file, const QList<int> &offsets);
    // What may stand at an offset of one of the user's files, where a word begins.
    Result<QList<CodeCompletion>> completions(const QString &file, int at);
    QString path(const QString &file) const { return folder() + '/' + file; }

private:
    CodeQuestion questionFor(const QString &file) const;
    QString folder() const { return folder_->path(); }
    CodeReader reader_;
    std::unique_ptr<QTemporaryDir> folder_;
    QStringList arguments_;
};

} // namespace pipit
