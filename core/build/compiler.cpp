#include "core/build/compiler.h"

#include "core/base/files.h"
#include "core/codegen/generate.h"

#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QLibraryInfo>
#include <QLockFile>
#include <QProcess>
#include <QProcessEnvironment>
#include <QRegularExpression>
#include <QStandardPaths>

#include <chrono>
#include <mutex>
#include <sys/stat.h>
#include <thread>

namespace pipit
{

namespace
{

// The compiler's version, asked once: it is part of the header's key.
QByteArray versionOf(const QString &program)
{
    QProcess p;
    p.start(program, {"-dumpversion"});
    p.waitForFinished(5000);
    return p.readAllStandardOutput().trimmed();
}

// clang++ reads of its header only what a unit names, so it gets all there is, once for every project.
QByteArray headerText(const Compiler &c, const QStringList &wanted)
{
    const QStringList headers = c.clang ? everyHeader() : wanted;
    QByteArray text = "#include <functional>\n#include <memory>\n";
    for (const QString &h : headers)
        text += "#include <" + h.toUtf8() + ">\n";
    return text;
}

QByteArray stampOf(const QString &file)
{
    struct stat s {
    };
    const QByteArray name = file.toUtf8();
    if (::stat(name.constData(), &s) != 0)
        return name + " gone";
    return name + ' ' + QByteArray::number(qint64(s.st_size)) + ' ' +
           QByteArray::number(qint64(s.st_mtim.tv_sec) * 1'000'000'000 + s.st_mtim.tv_nsec);
}

// The files that a make rule names after its colon.
QStringList filesIn(const QByteArray &rule)
{
    QByteArray text = rule.mid(rule.indexOf(": ") + 2);
    text.replace("\\\n", " ");
    QStringList files;
    for (const QByteArray &f : text.simplified().split(' '))
        if (f.startsWith('/'))
            files << QString::fromUtf8(f);
    files.removeDuplicates();
    return files;
}

QString compiledOf(const Compiler &c, const QString &header)
{
    return header + (c.clang ? ".pch" : ".gch");
}

// What the header's functions were compiled to, once: no unit need do it again.
QString objectOf(const QString &header)
{
    return header + ".o";
}

} // namespace

QStringList Compiler::flags() const
{
    const QString headers = QLibraryInfo::path(QLibraryInfo::HeadersPath);
    QStringList flags = {"-std=c++17", "-O0", "-g", "-fPIC", "-Wall", "-Wextra", "-isystem", headers};
    for (const char *module : {"QtCore", "QtGui", "QtWidgets", "QtConcurrent", "QtNetwork"})
        flags << "-isystem" << headers + '/' + module;
    if (clang)
        return flags << "-fno-color-diagnostics"
                     << "-fpch-instantiate-templates";
    return flags << "-Winvalid-pch"
                 << "-fdiagnostics-format=json";
}

QStringList Compiler::beginWith(const QString &header) const
{
    if (clang)
        return {"-include-pch", compiledOf(*this, header)};
    return {"-include", header};
}

const Compiler &gcc()
{
    static const Compiler c{"g++", false, versionOf("g++")};
    return c;
}

const std::optional<Compiler> &clang()
{
    static const std::optional<Compiler> c = []() -> std::optional<Compiler> {
        for (const char *name : {"clang++-14", "clang++"})
            if (const QString path = QStandardPaths::findExecutable(QLatin1String(name)); !path.isEmpty())
                return Compiler{path, true, versionOf(path)};
        return std::nullopt;
    }();
    return c;
}

const Compiler &chosenCompiler()
{
    static const bool wantsGcc = qEnvironmentVariable("PIPIT_CXX") == "g++";
    return clang() && !wantsGcc ? *clang() : gcc();
}

QStringList Compiler::toLink(const QString &header) const
{
    // Of all these functions only those that are called, and what they call, become part of the program.
    return clang ? QStringList{objectOf(header), "-Wl,--gc-sections"} : QStringList();
}

QString precompiledPath(const Compiler &c, const QStringList &headers)
{
    QCryptographicHash hash(QCryptographicHash::Sha1);
    for (const QByteArray &part : {headerText(c, headers), c.flags().join(' ').toUtf8(), c.name().toUtf8(),
                                   c.version, QByteArray(qVersion())})
        hash.addData(part + '\0');
    return QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) + "/pipit/pch/" +
           QString::fromLatin1(hash.result().toHex().left(16)) + ".h";
}

bool isPrecompiled(const Compiler &c, const QStringList &headers)
{
    const QString header = precompiledPath(c, headers);
    const bool there =
        QFileInfo::exists(compiledOf(c, header)) && (!c.clang || QFileInfo::exists(objectOf(header)));
    auto read = there ? readFile(header + ".read") : Result<QByteArray>(QByteArray());
    if (!read || read->isEmpty())
        return false;
    for (const QByteArray &line : read->split('\n'))
        if (!line.isEmpty() &&
            stampOf(QString::fromUtf8(line.left(line.lastIndexOf(' ', line.lastIndexOf(' ') - 1)))) != line)
            return false;
    return true;
}

namespace
{

// Which part of the work on the header is done, for all who wait for it.
std::atomic<int> partBeingMade{0};

// Says once a second what is made, how far it is, and that it is made once.
class Waiting
{
public:
    explicit Waiting(const std::function<void(const QString &)> &progress) : progress_(progress) {}
    void operator()()
    {
        const auto seconds =
            std::chrono::duration_cast<std::chrono::seconds>(std::chrono::steady_clock::now() - since_)
                .count();
        if (!progress_ || seconds == said_)
            return;
        said_ = seconds;
        progress_(QStringLiteral("Compiling Qt's headers, once for this machine: part %1 of 2, %2 s")
                      .arg(std::max(1, partBeingMade.load()))
                      .arg(seconds));
    }

private:
    const std::function<void(const QString &)> &progress_;
    std::chrono::steady_clock::time_point since_ = std::chrono::steady_clock::now();
    std::int64_t said_ = -1;
};

// What a process writes until it is whole; gone with this.
class Part
{
public:
    Part(const QString &header, const char *end)
        : path(QStringLiteral("%1.%2.part%3").arg(header).arg(QCoreApplication::applicationPid()).arg(end))
    {
        removeOthers(header);
    }
    ~Part()
    {
        for (const char *beside : {"", ".d", ".o"})
            QFile::remove(path + beside);
    }
    Part(const Part &) = delete;
    const QString path;

private:
    // Those of processes that were killed, since each takes 40 to 180 MB.
    static void removeOthers(const QString &header)
    {
        const QFileInfo is(header);
        static const QRegularExpression form("\\.h\\.(\\d+)\\.part");
        for (const QFileInfo &f : QDir(is.path()).entryInfoList({"*.part*"}, QDir::Files))
            if (const auto m = form.match(f.fileName());
                m.hasMatch() && !QFileInfo::exists("/proc/" + m.captured(1)))
                QFile::remove(f.filePath());
    }
};

Result<QString> makePrecompiled(const Compiler &c, const QStringList &headers,
                                const std::atomic<bool> &cancel, const std::function<void()> &alive)
{
    const QString header = precompiledPath(c, headers), cache = QFileInfo(header).path();
    if (auto ok = writeFileIfChanged(header, headerText(c, headers)); !ok)
        return ok.problem();
    const Part own(header, c.clang ? ".pch" : "");
    const QString &part = own.path;
    QStringList arguments =
        c.flags() + QStringList{"-x", "c++-header", header, "-o", part, "-MD", "-MF", part + ".d"};
    if (c.clang) // without the first it would refuse a header that was written anew, even with the same text
        arguments << "-Xclang"
                  << "-fno-pch-timestamp"
                  << "-fpch-codegen"
                  << "-fpch-debuginfo";
    partBeingMade = 1;
    Step s = runStep(c.program, arguments, cache, cancel, alive);
    if (!s.ok)
        return Problem{"The precompiled header could not be made: " + QString::fromUtf8(s.errors.left(400)),
                       header, "Check that " + c.name() + " and Qt's development packages are installed"};
    auto rule = readFile(part + ".d");
    if (!rule)
        return rule.problem();
    QByteArrayList stamps;
    for (const QString &file : filesIn(*rule))
        stamps << stampOf(file);
    if (auto ok = writeFile(header + ".read", stamps.join('\n')); !ok)
        return ok.problem();
    if (c.clang) {
        partBeingMade = 2;
        s = runStep(c.program,
                    {"-std=c++17", "-O0", "-g", "-fPIC", "-ffunction-sections", "-fdata-sections", "-c", part,
                     "-o", part + ".o"},
                    cache, cancel, alive);
        if (!s.ok)
            return Problem{"The precompiled header's functions could not be compiled: " +
                               QString::fromUtf8(s.errors.left(400)),
                           header, "Set PIPIT_CXX=g++ to build with the other compiler"};
        if (auto ok = replaceFile(part + ".o", objectOf(header)); !ok)
            return ok.problem();
    }
    if (auto ok = replaceFile(part, compiledOf(c, header)); !ok)
        return ok.problem();
    return header;
}

} // namespace

Result<QString> precompiled(const Compiler &c, const QStringList &headers, const std::atomic<bool> &cancel,
                            const std::function<void(const QString &)> &progress)
{
    static std::timed_mutex one;
    const Problem cancelled{"Compiling Qt's headers was cancelled", {}, "Build again to continue"};
    Waiting waiting(progress);
    std::unique_lock lock(one, std::defer_lock);
    while (!lock.try_lock_for(std::chrono::milliseconds(50))) {
        if (cancel)
            return cancelled;
        waiting();
    }
    const QString header = precompiledPath(c, headers);
    if (isPrecompiled(c, headers))
        return header;
    if (auto ok = makeFolder(QFileInfo(header).path()); !ok)
        return ok.problem();
    QLockFile others(header + ".lock"); // that of a process which died counts for nothing
    others.setStaleLockTime(0);
    while (!others.tryLock() && others.error() == QLockFile::LockFailedError) {
        if (cancel)
            return cancelled;
        waiting();
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
    if (isPrecompiled(c, headers))
        return header;
    return makePrecompiled(c, headers, cancel, std::ref(waiting));
}

Step runStep(const QString &program, const QStringList &arguments, const QString &folder,
             const std::atomic<bool> &cancel, const std::function<void()> &alive)
{
    QProcess p;
    QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
    e.insert("LC_ALL", "C");
    p.setProcessEnvironment(e);
    p.setWorkingDirectory(folder);
    p.start(program, arguments);
    if (!p.waitForStarted())
        return {false,
                QStringLiteral("%1 could not be started: %2\n").arg(program, p.errorString()).toUtf8()};
    while (!p.waitForFinished(50)) {
        if (cancel) {
            p.kill();
            p.waitForFinished();
            return {false, "cancelled\n"};
        }
        if (p.state() == QProcess::NotRunning)
            break;
        if (alive)
            alive();
    }
    return {p.exitStatus() == QProcess::NormalExit && p.exitCode() == 0, p.readAllStandardError()};
}

} // namespace pipit
