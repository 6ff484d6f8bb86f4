#include "core/moves/lasting.h"

#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{

// A method of a class, or of what derives from it, that leaves something behind. No methods: all of them.
struct Row {
    const char *className;
    const char *methods; // parted by blanks
    const char *does;
};
constexpr Row rows[] = {
    {"QTemporaryFile", "setAutoRemove", "keeps a file"},
    {"QSaveFile", "open write commit putChar", "writes a file"},
    {"QFileDevice", "write putChar resize setPermissions setFileTime", "writes a file"},
    {"QFile", "remove rename copy link moveToTrash", "changes files"},
    {"QDir", "mkdir mkpath rmdir rmpath remove removeRecursively rename", "changes files"},
    {"QSettings", "setValue remove clear sync setArrayIndex beginWriteArray", "changes settings"},
    {"QImage", "save", "writes a file"},
    {"QPixmap", "save", "writes a file"},
    {"QPicture", "save", "writes a file"},
    {"QImageWriter", "write", "writes a file"},
    {"QTextDocumentWriter", "write", "writes a file"},
    {"QPrinter", "", "prints"},
    {"QPdfWriter", "", "writes a file"},
    {"QProcess", "start startDetached startCommand execute write open", "starts a program"},
    {"QAbstractSocket", "write putChar connectToHost writeDatagram", "sends"},
    {"QLocalSocket", "write putChar connectToServer open", "sends"},
    {"QNetworkAccessManager", "get post put deleteResource sendCustomRequest", "sends"},
    {"QSerialPort", "write putChar open", "changes a device"},
    {"QModbusClient", "", "changes a device"},
    {"QCanBusDevice", "writeFrame", "changes a device"},
    {"QDBusAbstractInterface", "call asyncCall callWithCallback", "sends"},
    {"QSqlQuery", "exec execBatch", "changes a database"},
    {"QSqlDatabase", "commit transaction exec", "changes a database"},
    {"QSharedMemory", "create attach lock", "changes memory that other processes see"},
    {"std::basic_ofstream", "", "writes a file"},
    {"std::basic_fstream", "", "writes a file"},
    {"std::ofstream", "", "writes a file"},
    {"std::fstream", "", "writes a file"},
};

// Free functions.
const QSet<QString> &lastingFunctions()
{
    static const QSet<QString> all = [] {
        static const char words[] =
            "fwrite fputs fputc putc fprintf vfprintf write pwrite writev unlink unlinkat remove rename "
            "renameat mkdir "
            "rmdir send sendto sendmsg ioctl system popen truncate ftruncate symlink link chmod fchmod chown "
            "mkfifo "
            "std::fwrite std::fputs std::fputc std::fprintf std::remove std::rename std::system "
            "std::filesystem::create_directory std::filesystem::create_directories std::filesystem::remove "
            "std::filesystem::remove_all std::filesystem::rename std::filesystem::copy "
            "std::filesystem::copy_file "
            "std::filesystem::resize_file std::filesystem::permissions std::filesystem::create_symlink "
            "std::filesystem::create_hard_link std::filesystem::last_write_time";
        const QStringList list = QString::fromLatin1(words).split(' ', Qt::SkipEmptyParts);
        return QSet<QString>(list.begin(), list.end());
    }();
    return all;
}

class Search
{
public:
    Search(const CodeUnit &unit, const QString &text) : unit_(unit), text_(text) {}

    std::optional<Lasting> in(const CodeNode &node, const std::function<bool(int)> &answered = {})
    {
        std::optional<Lasting> found;
        node.each([&](const CodeNode &n) {
            if (!found && !(answered && answered(n.begin)))
                found = at(n);
            return !found;
        });
        return found;
    }

private:
    std::optional<Lasting> at(const CodeNode &n)
    {
        const CodeDecl *d = unit_.decl(n.decl);
        const bool calls = n.is("call") || n.is("method") || n.is("construct") || n.is("new") ||
                           n.is("variable") || n.is("operator");
        if (!d || !calls)
            return std::nullopt;
        if (d->own && !n.is("variable")) {
            const CodeFunction *f = asked_.contains(n.decl) ? nullptr : unit_.functionOf(n.decl);
            if (!f)
                return std::nullopt;
            asked_.insert(n.decl);
            auto inner = in(f->body); // its offsets are those of the callee
            return inner ? std::optional(Lasting{n.begin, inner->what + " in " + d->name}) : std::nullopt;
        }
        const QString what = n.is("variable") ? whatIsMade(*d) : whatIsCalled(n, *d);
        return what.isEmpty() ? std::nullopt : std::optional(Lasting{n.begin, what});
    }

    // A stream to a file is open as soon as it is there.
    QString whatIsMade(const CodeDecl &d) const
    {
        const CodeRecord *r = unit_.recordOfType(d.type);
        const bool stream = r && (r->name.contains("ofstream") || r->name.contains("basic_fstream"));
        return stream ? r->name + " writes a file" : QString();
    }

    QString whatIsCalled(const CodeNode &n, const CodeDecl &d) const
    {
        const CodeRecord *r = unit_.record(d.record);
        if (!r)
            return whatIsCalledFreely(n, d);
        const CodeNode *object = n.child("object");
        const CodeRecord *of = object ? unit_.recordOfType(object->type) : nullptr;
        const CodeRecord &self = of ? *of : *r;
        if (self.is("QBuffer"))
            return {};
        // A temporary file goes with its object, unless it is kept.
        if (self.is("QTemporaryFile") &&
            (d.name == "open" || d.name == "write" || d.name == "putChar" || d.name == "resize"))
            return {};
        const QString called = self.name + "::" + d.name;
        if (d.name == "open" && self.is("QFileDevice"))
            return opensForReading(n) ? QString() : called + " opens a file to write";
        for (const Row &row : rows) {
            const QStringList methods = QString::fromLatin1(row.methods).split(' ', Qt::SkipEmptyParts);
            if ((self.is(row.className) || r->is(row.className)) &&
                (methods.isEmpty() ? !d.isConst : methods.contains(d.name)))
                return called + ' ' + QLatin1String(row.does);
        }
        // A device of whatever kind.
        if (self.is("QIODevice") && !self.is("QFileDevice") && (d.name == "write" || d.name == "putChar"))
            return called + " changes a device";
        return {};
    }

    QString whatIsCalledFreely(const CodeNode &n, const CodeDecl &d) const
    {
        const QString call = text_.mid(n.begin, std::max(0, n.end - n.begin));
        if (d.qualified == "fopen" || d.qualified == "std::fopen")
            return call.contains("\"r\"") || call.contains("\"rb\"") ? QString()
                                                                     : d.qualified + " opens a file to write";
        if (d.qualified == "open")
            return call.contains("O_RDONLY") ? QString() : QString("open opens a file to write");
        if (call.contains("stderr") || call.contains("stdout"))
            return {};
        return lastingFunctions().contains(d.qualified) ? d.qualified + " writes or sends" : QString();
    }

    // Known only where the call says so itself; in a function of another file the text is not at hand.
    bool opensForReading(const CodeNode &n) const
    {
        bool reads = false, writes = false;
        n.each([&](const CodeNode &each) {
            const CodeDecl *d = unit_.decl(each.decl);
            reads = reads || (d && d->name == "ReadOnly");
            writes = writes || (d && (d->name == "WriteOnly" || d->name == "ReadWrite" ||
                                      d->name == "Append" || d->name == "Truncate" || d->name == "NewOnly"));
            return true;
        });
        return reads && !writes;
    }

    const CodeUnit &unit_;
    const QString &text_;
    QSet<int> asked_;
};

} // namespace

std::optional<Lasting> lastingIn(const CodeUnit &unit, const CodeNode &node, const QString &text,
                                 const std::function<bool(int)> &answered)
{
    return Search(unit, text).in(node, answered);
}

} // namespace pipit
