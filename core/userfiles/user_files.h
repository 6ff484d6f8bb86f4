// The user's source files as buffers: what the editor shows, what stubs are added to, what is
// saved.
//
// Threads: one at a time (the loop in the window, the main thread on the command line).
// Pipit changes a file only by edits that hold exact text and what stood around it. Taking one back
// needs the text it put in to be still there verbatim, wherever it stands by then; where it only took
// text out, it needs what stood on both sides to stand together still. It says so when that is not so.
#pragma once

#include "core/base/result.h"
#include "core/userfiles/merge.h"

#include <QHash>
#include <QStringList>

namespace pipit
{

// One change by Pipit: at `offset` the text `removed` is replaced by `inserted`.
struct FileEdit {
    QString file; // relative to the project's folder
    qsizetype offset = 0;
    QString removed, inserted;
    // Known once it was applied; `offset` is then where it really went.
    QString before{}, after{}; // what stands on both sides, up to `context` characters
    bool made = false;         // false: what it puts in was there already, so nothing is to be taken back
    bool stands = false;       // taking it back was tried and did not fit: doing it again changes nothing

    static constexpr qsizetype context = 60;
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

    Outcome apply(FileEdit &edit);
    // Takes one back. Where its text was edited since, the file stays as it is. What was only taken out
    // comes back between its neighbours; of whole lines one unchanged neighbour that stands once is enough.
    enum class Revert { Done, StaysOut, Stays };
    Result<Revert> revert(const FileEdit &edit);
    // Counts the changes of any text: equal numbers are equal texts.
    std::uint64_t revision() const { return revision_; }

    // Saves one file; a change on disk by someone else is a problem, not an overwrite.
    Outcome save(const QString &file);
    Outcome saveAll();
    // Files that changed on disk since they were read. Those without unsaved typing are read again; with
    // it, both are merged where they do not touch each other, and else clash until that is decided. Of
    // those that are gone the text is kept, and is unsaved.
    struct Refreshed {
        QStringList changed; // all of them
        QStringList merged, clashing;
    };
    Refreshed refresh();
    // What stands here against what stands on disk; empty when it does not clash.
    std::optional<Merge> clashOf(const QString &file) const;
    QStringList clashing() const;
    // Ends a clash: for each of its places, whether what stands here is kept.
    Outcome settle(const QString &file, const QList<bool> &keepMine);
    bool isGone(const QString &file) const;
    // Drops the buffer and reads the file anew.
    void reload(const QString &file)
    {
        buffers_.remove(file);
        ++revision_;
    }

    QString path(const QString &file) const { return folder_ + '/' + file; }

private:
    struct Buffer {
        QString text;
        QByteArray onDisk; // as last read or written
        bool existed = false;
        bool gone = false;                // it was there and is no more, so saving writes it again
        std::optional<QByteArray> theirs; // on disk, while it clashes with `text`
    };
    Result<Buffer *> buffer(const QString &file);
    QString folder_;
    void change(Buffer &buffer, const QString &text);
    QHash<QString, Buffer> buffers_;
    std::uint64_t revision_ = 0;
};

} // namespace pipit
