#include "core/moves/library.h"

namespace pipit
{

namespace
{

const CodeRecord *classOf(const CodeUnit &unit, const CodeDecl &d)
{
    return unit.record(d.record);
}

bool isOneOf(const QString &name, std::initializer_list<const char *> list)
{
    return std::any_of(list.begin(), list.end(), [&](const char *n) { return name == QLatin1String(n); });
}

} // namespace

LibraryCall libraryFunction(const CodeUnit &unit, const CodeDecl &f)
{
    // One state for the whole program.
    if (isOneOf(f.qualified, {"rand",
                              "srand",
                              "random",
                              "srandom",
                              "strtok",
                              "setlocale",
                              "setenv",
                              "putenv",
                              "unsetenv",
                              "chdir",
                              "localtime",
                              "gmtime",
                              "ctime",
                              "asctime",
                              "strerror",
                              "qputenv",
                              "qunsetenv",
                              "std::rand",
                              "std::srand",
                              "std::setlocale",
                              "std::strtok",
                              "std::localtime",
                              "std::gmtime",
                              "QDir::setCurrent",
                              "QLocale::setDefault",
                              "exit",
                              "abort",
                              "_exit",
                              "fork",
                              "std::exit",
                              "std::atexit"}))
        return LibraryCall::Unknown;
    const CodeRecord *r = classOf(unit, f);
    if (!r)
        return f.qualified.startsWith("QTest::qWait") ? LibraryCall::Pumps : LibraryCall::Harmless;
    if (r->is("QDialog"))
        return LibraryCall::Asks;
    if (r->is("QCoreApplication")) {
        if (f.name == "processEvents" || f.name == "sendPostedEvents")
            return LibraryCall::Pumps;
        if (f.name == "exec")
            return LibraryCall::Asks;
        return isOneOf(f.name, {"applicationDirPath", "applicationFilePath", "applicationName",
                                "applicationPid", "applicationVersion", "arguments", "organizationName",
                                "organizationDomain", "translate", "libraryPaths", "tr", "closingDown"})
                   ? LibraryCall::Harmless
                   : LibraryCall::Writes;
    }
    if (f.name == "tr" || f.name == "staticMetaObject")
        return LibraryCall::Harmless;
    if (r->is("QObject") && isOneOf(f.name, {"connect", "disconnect"}))
        return LibraryCall::Unknown;
    if (r->is("QThread"))
        return isOneOf(f.name, {"sleep", "msleep", "usleep", "idealThreadCount", "currentThread",
                                "currentThreadId", "yieldCurrentThread"})
                   ? LibraryCall::Harmless
                   : LibraryCall::Unknown;
    if (isOneOf(r->name,
                {"QTimer", "QMetaObject", "QThreadPool", "QSqlDatabase", "QPluginLoader", "QDBusConnection"}))
        return LibraryCall::Unknown;
    if (isOneOf(r->name, {"QToolTip", "QWhatsThis", "QCursor", "QDesktopServices", "QPixmap", "QBitmap",
                          "QPixmapCache", "QAccessible", "QStyleFactory", "QScreen", "QClipboard", "QSound",
                          "QShortcut", "QIcon"}))
        return LibraryCall::Writes;
    if (r->is("QWidget"))
        return LibraryCall::Writes;
    return LibraryCall::Harmless;
}

bool waitsForAPerson(const CodeDecl &m)
{
    return m.name == "exec" || m.name == "exec_" || m.name == "processEvents";
}

bool mayLiveInWork(const CodeRecord &r)
{
    if (r.is("QWidget"))
        return false;
    return r.is("QIODevice") || r.is("QFileDevice") || r.name == "QSettings" || r.name == "QMimeData" ||
           r.name == "QTranslator" || r.name == "QFileSystemWatcher";
}

bool livesOnTheLoop(const CodeRecord &r)
{
    for (const char *name : {"QListWidgetItem", "QTableWidgetItem",
                             "QTreeWidgetItem", "QStandardItem",
                             "QLayoutItem",     "QPixmap",
                             "QBitmap",         "QIcon",
                             "QModelIndex",     "QPersistentModelIndex",
                             "QTextCursor",     "QTextBlock",
                             "QTextFrame",      "QCursor",
                             "QGraphicsItem",   "QSqlDatabase",
                             "QSqlQuery",       "QTableWidgetSelectionRange",
                             "QItemSelection",  "QItemSelectionRange",
                             "QPalette",        "QSignalBlocker",
                             "QEvent"})
        if (r.is(name))
            return true;
    return false;
}

bool takesLong(const CodeUnit &unit, const CodeDecl &f)
{
    if (isOneOf(f.name, {"sleep",
                         "msleep",
                         "usleep",
                         "nanosleep",
                         "sleep_for",
                         "sleep_until",
                         "sort",
                         "stable_sort",
                         "accumulate",
                         "transform",
                         "for_each",
                         "generate",
                         "shuffle",
                         "next_permutation",
                         "readAll",
                         "entryList",
                         "entryInfoList",
                         "execute",
                         "copy",
                         "copy_if",
                         "copy_n",
                         "system",
                         "wait",
                         "acquire",
                         "fromJson",
                         "toJson",
                         "load",
                         "qCompress",
                         "qUncompress",
                         "hash",
                         "addData",
                         "scaled",
                         "scaledToWidth",
                         "scaledToHeight",
                         "transformed",
                         "mirrored",
                         "convertToFormat",
                         "globalMatch",
                         "removeRecursively",
                         "reduce",
                         "nth_element",
                         "partial_sort",
                         "read",
                         "fsync",
                         "poll",
                         "select",
                         "recv",
                         "send",
                         "join",
                         "get",
                         "lock",
                         "count_if",
                         "find_if",
                         "blockingMapped",
                         "blockingMap",
                         "rename",
                         "remove"}))
        return f.qualified.startsWith("std::") || !f.qualified.contains("::") || classOf(unit, f);
    return f.name.startsWith("waitFor");
}

} // namespace pipit
