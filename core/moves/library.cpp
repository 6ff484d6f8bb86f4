#include "core/moves/library.h"

#include <QRegularExpression>
#include <QSet>

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

namespace
{

// Free functions that keep nothing from one call to the next, or guard it. Sources: the C++ standard's
// library ([res.on.data.races]), Qt's global functions (<QtGlobal>, <QtMath>, <QtAlgorithms>…, which are
// reentrant), POSIX.1-2017 section 2.9.1 for what of C's library need be thread-safe.
bool isReentrant(const QString &qualified)
{
    static const QSet<QString> known = [] {
        static const char words[] =
            "abs labs llabs div ldiv lldiv fabs fabsf fabsl fmod fmodf remainder fmin fminf fmax fmaxf fdim "
            "hypot "
            "hypotf cbrt sqrt sqrtf sqrtl pow powf powl exp expf exp2 expm1 log logf log2 log10 log1p sin "
            "sinf cos cosf tan "
            "tanf asin acos atan atanf atan2 atan2f sinh cosh tanh asinh acosh atanh ceil ceilf floor floorf "
            "trunc "
            "truncf round roundf lround llround lrint rint nearbyint frexp ldexp modf erf erfc tgamma isnan "
            "isinf "
            "isfinite signbit copysign "
            "memcpy memmove memset memcmp memchr strlen strnlen strcmp strncmp strcasecmp strncasecmp strchr "
            "strrchr "
            "strstr strspn strcspn strpbrk strcpy strncpy strcat strncat strdup strcoll strtok_r "
            "malloc calloc realloc free qsort bsearch atoi atol atoll atof strtol strtoll strtoul strtoull "
            "strtod "
            "strtof rand_r "
            "isalnum isalpha isblank isdigit isxdigit islower isupper ispunct isspace isprint isgraph "
            "iscntrl tolower "
            "toupper "
            "printf fprintf snprintf sprintf vsnprintf sscanf fscanf puts fputs putchar fputc putc getchar "
            "fgetc getc "
            "fgets fopen fclose fread fwrite fflush fseek ftell rewind feof ferror remove rename perror "
            "time clock difftime mktime localtime_r gmtime_r clock_gettime gettimeofday nanosleep "
            "clock_nanosleep "
            "sleep usleep poll select read write open close lseek pread pwrite fsync fdatasync stat fstat "
            "lstat access "
            "unlink mkdir rmdir opendir closedir getpid getppid gettid recv send recvfrom sendto socket "
            "connect accept bind listen shutdown sched_yield";
        const QStringList all = QString::fromLatin1(words).split(' ', Qt::SkipEmptyParts);
        return QSet<QString>(all.begin(), all.end());
    }();
    static const QRegularExpression qt(
        "^(?:q[A-Z]\\w*|q_\\w+|qt_\\w+|Qt(?:Private|Literals|Logging)?::.+|operator.*)$");
    return qualified.startsWith("std::") || qualified.startsWith("__") || known.contains(qualified) ||
           qt.match(qualified).hasMatch() || qualified.contains("::operator") ||
           qualified.startsWith("QtConcurrent::blocking") || qualified.startsWith("QTest::qSleep") ||
           qualified.startsWith("QStringLiterals") || qualified.startsWith("QUtf8");
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
        return f.qualified.startsWith("QTest::qWait") ? LibraryCall::Pumps
               : isReentrant(f.qualified)             ? LibraryCall::Harmless
                                                      : LibraryCall::Unlisted;
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

bool costsLittle(const CodeUnit &unit, const CodeDecl &f)
{
    const CodeRecord *r = classOf(unit, f);
    if (!r || f.own)
        return !r && !takesLong(unit, f);
    if (r->is("QObject") || livesOnTheLoop(*r)) {
        static const QRegularExpression stored("^(?:text|toPlainText|item\\w*|topLevelItem\\w*|child\\w*|"
                                               "invisibleRootItem|parent|count|rowCount|columnCount|size|"
                                               "length|current\\w+|selected\\w+|row|column|index\\w*|data|"
                                               "isValid|is[A-Z]\\w*|checkState|check\\w*|value|"
                                               "minimum|maximum|singleStep|display\\w+|placeholderText|"
                                               "toolTip|statusTip|whatsThis|icon|font|foreground|"
                                               "background|flags|title|windowTitle|objectName|property|date|"
                                               "time|dateTime|model|widget|cellWidget|state|"
                                               "tab\\w*|html|blockCount|begin|end|next|isNull|id|button|"
                                               "buttons|actions|action|cursorPosition|suffix|prefix|"
                                               "cleanText|echoMode|maxLength|sibling|type|textAlignment)$");
        return stored.match(f.name).hasMatch();
    }
    static const QSet<QString> values = {
        "QString",     "QStringView", "QByteArray", "QChar", "QLatin1String",  "QVariant", "QList",
        "QStringList", "QHash",       "QMap",       "QSet",  "QPair",          "QDate",    "QTime",
        "QDateTime",   "QPoint",      "QPointF",    "QSize", "QSizeF",         "QRect",    "QRectF",
        "QColor",      "QLocale",     "QFlags",     "QUrl",  "QStringBuilder", "QVector",  "QSharedPointer"};
    return values.contains(r->name) || r->name.startsWith("std::");
}

} // namespace pipit
