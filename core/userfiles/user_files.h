// The user's source files as buffers: what the editor shows, what stubs are added to, what is
// saved.
//
// Threads: one at a time (the loop in the window, the main thread on the command line).
// Pipit changes a file only by edits that hold offset and exact text; taking one back needs the
// text to be still there verbatim, wherever it stands by then, and says so when it is not.
#pragma once

#include "core/base/result.h"

#include <QHash>
#include <QStringList>

namespace pipit
{

// One change by Pipit: at `offset` the text `removed` was replaced by `inserted`.
struct FileEdit {
    QString file; // relative to the project's folder
    qsizetype offset = 0;
    QString removed, inserted;
};

class UserFiles
{
public:
    explicit UserFiles(QString folder = {}) : folder_(std::move(folder)) {}

    // Reads on first use. A file that does not exist is empty.
    Result<QString> text(const QString &file);
    bool exists(const QString &file) const;
    void setText(const QString &file, const QString &text); // typing in the editor
    bool dirty(const QString &file) const;
    QStringList dirtyFiles() const;

    Outcome apply(const FileEdit &edit);
    Outcome revert(const FileEdit &edit); // leaves the file alone when the text was edited since

    // Saves one file; a change on disk by someone else is a problem, not an overwrite.
    Outcome save(const QString &file);
    Outcome saveAll();
    // Files that changed on disk since they were read. Those without unsaved typing are read again.
    QStringList refresh();
    // Drops the buffer and reads the file anew.
    void reload(const QString &file) { buffers_.remove(file); }

    QString path(const QString &file) const { return folder_ + '/' + file; }

private:
    struct Buffer {
        QString text;
        QByteArray onDisk; // as last read or written
        bool existed = false;
    };
    Result<Buffer *> buffer(const QString &file);
    QString folder_;
    QHash<QString, Buffer> buffers_;
};

} // namespace pipit
