#include "core/recordings/files.h"

#include "core/base/files.h"

#include <QDir>
#include <QDirIterator>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>

#include <cerrno>
#include <cstring>
#include <sys/mman.h>

namespace pipit
{

namespace
{

// A member's header, as POSIX has it (ustar).
struct TarHeader {
    char name[100], mode[8], uid[8], gid[8], size[12], mtime[12], sum[8], type, link[100], magic[6],
        version[2], user[32], group[32], major[8], minor[8], prefix[155], rest[12];
};
constexpr qint64 block = 512;
static_assert(sizeof(TarHeader) == block);
constexpr char firstMember[] = "metadata";

qint64 padded(qint64 size)
{
    return (size + block - 1) / block * block;
}

unsigned sumOf(const TarHeader &header)
{
    TarHeader h = header;
    std::memset(h.sum, ' ', sizeof h.sum);
    unsigned sum = 0;
    for (const auto *p = reinterpret_cast<const uchar *>(&h); p != reinterpret_cast<const uchar *>(&h + 1);
         ++p)
        sum += *p;
    return sum;
}

template <std::size_t N> qint64 octal(const char (&digits)[N])
{
    qint64 v = 0;
    for (std::size_t i = 0; i < N && digits[i] >= '0' && digits[i] <= '7'; ++i)
        v = v * 8 + (digits[i] - '0');
    return v;
}

template <std::size_t N> void putOctal(char (&digits)[N], qint64 value)
{
    std::snprintf(digits, N, "%0*llo", int(N - 1), static_cast<unsigned long long>(value));
}

template <std::size_t N> QString textOf(const char (&text)[N])
{
    return QString::fromUtf8(text, qsizetype(strnlen(text, N)));
}

bool isHeader(const TarHeader &h)
{
    return std::memcmp(h.magic, "ustar", 5) == 0 && octal(h.sum) == qint64(sumOf(h));
}

TarHeader headerFor(const QByteArray &name, qint64 size)
{
    TarHeader h{};
    std::memcpy(h.name, name.constData(), std::size_t(name.size()));
    putOctal(h.mode, 0644);
    putOctal(h.uid, 0);
    putOctal(h.gid, 0);
    putOctal(h.size, size);
    putOctal(h.mtime, 0);
    h.type = '0';
    std::memcpy(h.magic, "ustar", 6);
    std::memcpy(h.version, "00", 2);
    std::snprintf(h.sum, sizeof h.sum, "%06o", sumOf(h));
    h.sum[7] = ' ';
    return h;
}

Result<RecordingFiles::View> mapped(const QString &path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return Problem{"The file cannot be read: " + file.errorString(), path,
                       "Check its name and permissions"};
    const auto size = std::size_t(file.size());
    if (!size)
        return RecordingFiles::View();
    void *memory = mmap(nullptr, size, PROT_READ, MAP_PRIVATE, file.handle(), 0);
    if (memory == MAP_FAILED)
        return Problem{"The file cannot be read: " + QString::fromLocal8Bit(std::strerror(errno)), path, {}};
    return RecordingFiles::View({static_cast<const uchar *>(memory), size}, true);
}

} // namespace

RecordingFiles::View::~View()
{
    if (own_ && !bytes_.empty())
        munmap(const_cast<uchar *>(bytes_.data()), bytes_.size());
}

RecordingFiles::~RecordingFiles() = default;

bool RecordingFiles::isPacked(const QString &path)
{
    TarHeader h;
    QFile file(path);
    return QFileInfo(path).isFile() && file.open(QIODevice::ReadOnly) &&
           file.read(reinterpret_cast<char *>(&h), sizeof h) == sizeof h && isHeader(h) &&
           textOf(h.name) == firstMember;
}

Result<std::shared_ptr<const RecordingFiles>> RecordingFiles::open(const QString &path)
{
    std::shared_ptr<RecordingFiles> files(new RecordingFiles(path));
    if (auto ok = QFileInfo(path).isFile() ? files->readPacked() : files->readFolder(); !ok)
        return ok.problem();
    return std::shared_ptr<const RecordingFiles>(std::move(files));
}

Outcome RecordingFiles::readFolder()
{
    const QDir folder(QFileInfo(path_).absoluteFilePath());
    QDirIterator all(folder.path(), QDir::Files, QDirIterator::Subdirectories);
    while (all.hasNext()) {
        all.next();
        files_.insert(folder.relativeFilePath(all.filePath()), {0, all.fileInfo().size()});
    }
    return Done{};
}

// Names are only compared, never used as paths.
Outcome RecordingFiles::readPacked()
{
    if (!isPacked(path_))
        return Problem{
            "This is not a recording", path_,
            "Name a recording's folder, or a file from 'pipit pack'. Decompress a compressed file first"};
    auto all = mapped(path_);
    if (!all)
        return all.problem();
    whole_ = std::move(*all);
    const auto bytes = whole_.bytes();
    const auto end = qint64(bytes.size());
    for (qint64 at = 0; at + block <= end;) {
        TarHeader h;
        std::memcpy(&h, bytes.data() + at, sizeof h);
        if (h.name[0] == 0) // what ends it
            return Done{};
        if (!isHeader(h)) {
            notes_ << QStringLiteral("%1: damaged at byte %2; what follows is left out").arg(path_).arg(at);
            return Done{};
        }
        const qint64 from = at + block, size = std::min(octal(h.size), end - from);
        const QString name =
            textOf(h.prefix).isEmpty() ? textOf(h.name) : textOf(h.prefix) + '/' + textOf(h.name);
        if (h.type == '0' || h.type == 0)
            files_.insert(name, {from, size});
        if (size < octal(h.size))
            notes_ << QStringLiteral("%1: cut short; %2 is not complete").arg(path_, name);
        at = from + padded(size);
    }
    if (notes_.isEmpty())
        notes_ << QStringLiteral("%1: cut short; files may be missing").arg(path_);
    return Done{};
}

QStringList RecordingFiles::names() const
{
    return files_.keys();
}

bool RecordingFiles::has(const QString &name) const
{
    return files_.contains(name);
}

qint64 RecordingFiles::bytes() const
{
    qint64 sum = 0;
    for (const Place &p : files_)
        sum += p.size;
    return sum;
}

QString RecordingFiles::where(const QString &name) const
{
    return path_ + '/' + name;
}

Result<RecordingFiles::View> RecordingFiles::view(const QString &name) const
{
    if (!packed())
        return mapped(where(name));
    const auto it = files_.constFind(name);
    if (it == files_.constEnd())
        return Problem{"The recording has no such file", where(name), {}};
    return View(whole_.bytes().subspan(std::size_t(it->at), std::size_t(it->size)), false);
}

Result<QByteArray> RecordingFiles::read(const QString &name) const
{
    auto all = view(name);
    if (!all)
        return all.problem();
    return QByteArray(reinterpret_cast<const char *>(all->bytes().data()), qsizetype(all->bytes().size()));
}

namespace
{

// Writes members one after the other, and counts.
class Packer
{
public:
    Packer(QSaveFile &file, qint64 total, const std::function<bool(double)> &told)
        : file_(file), total_(std::max<qint64>(1, total)), told_(told)
    {
    }
    bool stopped() const { return stopped_; }

    Outcome put(const QString &name, std::span<const uchar> bytes)
    {
        const QByteArray called = name.toUtf8();
        constexpr qint64 most = 077777777777; // eleven octal digits
        if (called.size() >= qsizetype(sizeof TarHeader::name) || qint64(bytes.size()) > most)
            return Problem{
                "A file of the recording is too large, or its name too long, to be packed", name, {}};
        const TarHeader h = headerFor(called, qint64(bytes.size()));
        bool ok = write(reinterpret_cast<const uchar *>(&h), sizeof h);
        constexpr std::size_t piece = 1 << 20;
        for (std::size_t at = 0; ok && at < bytes.size(); at += piece)
            ok = write(bytes.data() + at, qint64(std::min(piece, bytes.size() - at)));
        const QByteArray rest(qsizetype(padded(qint64(bytes.size())) - qint64(bytes.size())), '\0');
        ok = ok && write(reinterpret_cast<const uchar *>(rest.constData()), rest.size());
        return ok ? Outcome(Done{}) : Outcome(failure());
    }
    Outcome finish()
    {
        const QByteArray ends(2 * block, '\0');
        if (!write(reinterpret_cast<const uchar *>(ends.constData()), ends.size()) || !file_.commit())
            return failure();
        return Done{};
    }

private:
    Problem failure() const
    {
        return stopped_ ? Problem{"Packing was cancelled", file_.fileName(), {}}
                        : Problem{"The file cannot be written: " + file_.errorString(), file_.fileName(),
                                  "Check the folder's permissions and free space; nothing was changed"};
    }
    bool write(const uchar *bytes, qint64 size)
    {
        done_ += size;
        stopped_ = stopped_ || (told_ && !told_(std::min(1.0, double(done_) / double(total_))));
        return !stopped_ && file_.write(reinterpret_cast<const char *>(bytes), size) == size;
    }

    QSaveFile &file_;
    const qint64 total_;
    const std::function<bool(double)> &told_;
    qint64 done_ = 0;
    bool stopped_ = false;
};

} // namespace

Outcome packRecording(const RecordingFiles &files, const std::vector<ExtraFile> &extra, const QString &to,
                      const std::function<bool(double)> &told)
{
    QSaveFile file(to);
    if (!file.open(QIODevice::WriteOnly))
        return Problem{"The file cannot be written: " + file.errorString(), to,
                       "Name a file in a folder that you may write to"};
    Packer packer(file, files.bytes(), told);
    QStringList names = files.names();
    names.removeAll(firstMember);
    names.prepend(firstMember);
    for (const QString &name : std::as_const(names)) {
        if (std::any_of(extra.begin(), extra.end(), [&](const ExtraFile &e) { return e.name == name; }))
            continue; // a newer one
        auto bytes = files.view(name);
        if (!bytes)
            return bytes.problem();
        if (auto ok = packer.put(name, bytes->bytes()); !ok)
            return ok;
    }
    for (const ExtraFile &e : extra)
        if (auto ok = packer.put(
                e.name, {reinterpret_cast<const uchar *>(e.bytes.constData()), std::size_t(e.bytes.size())});
            !ok)
            return ok;
    return packer.finish();
}

} // namespace pipit
