// The files of a recording: in its folder, or in one file that `packRecording` made of that.
//
// A packed one is a POSIX tar archive, not compressed, whose first member is `metadata`: any archiver opens
// it, and Pipit reads it where it lies. It is never unpacked, so no name in it leads anywhere; of a torn one
// what there is of its members is read, and reported as cut.
//
// Threads: constant after `open`; any. Blocking, so never on an event loop.
#pragma once

#include "core/base/result.h"

#include <QMap>
#include <QStringList>

#include <functional>
#include <memory>
#include <span>
#include <vector>

namespace pipit
{

class RecordingFiles
{
public:
    // `path` is a folder or a packed file. Nothing of what is in it is looked at yet.
    static Result<std::shared_ptr<const RecordingFiles>> open(const QString &path);
    // Whether a file begins as a packed recording does.
    static bool isPacked(const QString &path);
    ~RecordingFiles();

    const QString &path() const { return path_; }
    bool packed() const { return !whole_.bytes().empty(); }
    // With the folders in it: "metadata", "pipit/info.json"; sorted.
    QStringList names() const;
    bool has(const QString &name) const;
    qint64 bytes() const; // of all
    Result<QByteArray> read(const QString &name) const;
    QString where(const QString &name) const; // for a problem
    const QStringList &notes() const { return notes_; }

    // A file's bytes in memory, as long as this lives and the files do.
    class View
    {
    public:
        View() = default;
        View(std::span<const uchar> bytes, bool own) : bytes_(bytes), own_(own) {}
        View(View &&o) noexcept { *this = std::move(o); }
        View &operator=(View &&o) noexcept
        {
            std::swap(bytes_, o.bytes_);
            std::swap(own_, o.own_);
            return *this;
        }
        ~View();
        std::span<const uchar> bytes() const { return bytes_; }

    private:
        std::span<const uchar> bytes_;
        bool own_ = false; // mapped for this alone
    };
    Result<View> view(const QString &name) const;

private:
    explicit RecordingFiles(QString path) : path_(std::move(path)) {}
    Outcome readFolder();
    Outcome readPacked();

    QString path_;
    View whole_; // of a packed one
    struct Place {
        qint64 at = 0, size = 0; // in the packed file
    };
    QMap<QString, Place> files_;
    QStringList notes_;
};

// A file that is put into a packed recording though it is not in the recording.
struct ExtraFile {
    QString name;
    QByteArray bytes;
};

// Writes all files of a recording, and these, into one. Only a complete one is left behind: a failure, or
// a `told` that says false, leaves nothing. It is called now and then with the share that is done.
Outcome packRecording(const RecordingFiles &files, const std::vector<ExtraFile> &extra, const QString &to,
                      const std::function<bool(double)> &told = {});

} // namespace pipit
