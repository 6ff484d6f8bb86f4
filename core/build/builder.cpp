#include "core/build/builder.h"

#include "core/base/files.h"
#include "core/build/diagnostics.h"
#include "core/build/scratch.h"
#include "core/runner/program.h"

#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QLibraryInfo>
#include <QProcess>
#include <QProcessEnvironment>
#include <QRegularExpression>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <mutex>
#include <thread>

namespace pipit
{

QStringList compilerFlags()
{
    const QString headers = QLibraryInfo::path(QLibraryInfo::HeadersPath);
    QStringList flags = {
        "-std=c++17", "-O0",  "-g", "-fPIC", "-Wall", "-Wextra", "-Winvalid-pch", "-fdiagnostics-format=json",
        "-isystem",   headers};
    for (const char *module : {"QtCore", "QtGui", "QtWidgets", "QtConcurrent", "QtNetwork"})
        flags << "-isystem" << headers + '/' + module;
    return flags;
}

QString buildFlavour()
{
    return "g++ -O0 -g";
}

namespace
{

struct Step {
    bool ok = false;
    QByteArray errors;
};

Step run(const QString &program, const QStringList &arguments, const QString &folder,
         const std::atomic<bool> &cancel)
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
    }
    return {p.exitStatus() == QProcess::NormalExit && p.exitCode() == 0, p.readAllStandardError()};
}

QByteArray hashOf(const QByteArrayList &parts)
{
    QCryptographicHash h(QCryptographicHash::Sha1);
    for (const QByteArray &p : parts)
        h.addData(p + '\0');
    return h.result().toHex().left(16);
}

// The compiler's version, asked once: it is part of the precompiled header's key.
QByteArray compilerVersion()
{
    static const QByteArray version = [] {
        QProcess p;
        p.start("g++", {"-dumpfullversion"});
        p.waitForFinished(5000);
        return p.readAllStandardOutput().trimmed();
    }();
    return version;
}

bool hasMold()
{
    static const bool has = !QStandardPaths::findExecutable("mold").isEmpty();
    return has;
}

QByteArray headerText(const QStringList &headers)
{
    QByteArray text = "#include <functional>\n#include <memory>\n";
    for (const QString &h : headers)
        text += "#include <" + h.toUtf8() + ">\n";
    return text;
}

// Where the header to be precompiled stands, by everything that it depends on.
QString headerPath(const QByteArray &text)
{
    const QByteArray key =
        hashOf({text, compilerFlags().join(' ').toUtf8(), compilerVersion(), QByteArray(qVersion())});
    return QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) + "/pipit/pch/" +
           QString::fromLatin1(key) + ".h";
}

// The precompiled header for these tool-kit headers, made when missing.
Result<QString> precompiled(const QStringList &headers, const std::atomic<bool> &cancel,
                            const std::function<void(const QString &)> &progress)
{
    const QByteArray text = headerText(headers);
    const QString header = headerPath(text), cache = QFileInfo(header).path();
    static std::mutex one; // the first build waits for the one that was begun when the project opened
    std::lock_guard lock(one);
    if (QFileInfo::exists(header + ".gch"))
        return header;
    if (progress)
        progress("Preparing the compiler for these widgets, once");
    if (auto ok = makeFolder(cache); !ok)
        return ok.problem();
    if (auto ok = writeFile(header, text); !ok)
        return ok.problem();
    const QString part = QStringLiteral("%1.%2.part").arg(header).arg(QCoreApplication::applicationPid());
    const Step s =
        run("g++", compilerFlags() + QStringList{"-x", "c++-header", header, "-o", part}, cache, cancel);
    if (!s.ok)
        return Problem{"The precompiled header could not be made: " + QString::fromUtf8(s.errors.left(400)),
                       header, "Check that g++ and Qt's development packages are installed"};
    if (auto ok = replaceFile(part, header + ".gch"); !ok)
        return ok.problem();
    return header;
}

struct Unit {
    QString source; // relative to the project's folder
    QString stem;   // of its object file
    QByteArray key; // of everything it is made from
    QString object;
    Step step;
};

// One build: the steps in order, with what they share.
class Build
{
public:
    Build(const ProjectPlace &place, const Project &project, const std::atomic<bool> &cancel,
          const std::function<void(const QString &)> &progress)
        : place_(place), base_(project.windows.first().file), out_(place.folder + "/.pipit"), cancel_(cancel),
          progress_(progress), network_(needsNetwork(project))
    {
    }

    Outcome prepare(const Generated &generated, const QStringList &headers);
    bool compile(BuildReport &report);
    bool link(const QString &program, BuildReport &report);

private:
    void compile(Unit &unit) const;
    Outcome mocs(QByteArray &unity, QByteArrayList &made);
    void say(const QString &what) const
    {
        if (progress_)
            progress_(what);
    }

    const ProjectPlace &place_;
    QString base_, out_, pch_;
    const std::atomic<bool> &cancel_;
    const std::function<void(const QString &)> &progress_;
    bool network_;
    std::vector<Unit> units_;
};

// Headers of the user's with Q_OBJECT get their meta-object code, as part of the unity.
Outcome Build::mocs(QByteArray &unity, QByteArrayList &made)
{
    static const QRegularExpression macro("^\\s*Q_OBJECT\\b", QRegularExpression::MultilineOption);
    for (const QString &h : QDir(place_.folder).entryList({"*.h"}, QDir::Files, QDir::Name)) {
        auto bytes = readFile(place_.folder + '/' + h);
        if (!bytes)
            return bytes.problem();
        if (!macro.match(QString::fromUtf8(*bytes)).hasMatch())
            continue;
        const QString moc = QLibraryInfo::path(QLibraryInfo::LibraryExecutablesPath) + "/moc";
        const QString to = out_ + "/moc_" + h + ".cpp";
        const Step s = run(moc, {"-I", place_.folder, h, "-o", to + ".part"}, place_.folder, cancel_);
        if (!s.ok)
            return Problem{"The meta-object compiler failed: " + QString::fromUtf8(s.errors.left(400)), h,
                           "Check the header's Q_OBJECT class"};
        auto code = readFile(to + ".part");
        if (!code)
            return code.problem();
        if (auto ok = writeFileIfChanged(to, *code); !ok)
            return ok.problem();
        unity += "#include \"moc_" + h.toUtf8() + ".cpp\"\n";
        made << *bytes;
    }
    return Done{};
}

Outcome Build::prepare(const Generated &generated, const QStringList &headers)
{
    if (auto ok = makeFolder(out_); !ok)
        return ok;
    (void)writeFileIfChanged(out_ + "/.gitignore", "*\n");
    auto pch = precompiled(headers, cancel_, progress_);
    if (!pch)
        return pch.problem();
    pch_ = *pch;
    // What each unit is made from; a unit is compiled only when that changed.
    QByteArrayList shared{compilerFlags().join(' ').toUtf8(), pch_.toUtf8()};
    for (const QString &h : QDir(place_.folder).entryList({"*.h"}, QDir::Files, QDir::Name))
        if (auto bytes = readFile(place_.folder + '/' + h); bytes)
            shared << *bytes;
        else
            return bytes.problem();
    QByteArrayList made = shared;
    for (const GeneratedFile &g : generated.files)
        if (!g.name.endsWith(".json") && !g.name.endsWith(".cmake")) {
            made << g.bytes;
            if (!g.name.endsWith(".cpp"))
                shared << g.bytes;
        }
    QByteArray unity;
    for (const GeneratedFile &g : generated.files)
        if (g.name.endsWith(".cpp"))
            unity += "#include \"../" + g.name.toUtf8() + "\"\n";
    if (auto ok = mocs(unity, made); !ok)
        return ok;
    if (auto ok = writeFileIfChanged(out_ + "/unity.cpp", unity); !ok)
        return ok.problem();
    units_.push_back({".pipit/unity.cpp", "made", hashOf(made), {}, {}});
    for (const QString &source : userSources(place_.folder)) {
        auto bytes = readFile(place_.folder + '/' + source);
        if (!bytes)
            return bytes.problem();
        units_.push_back({source,
                          "user_" + QFileInfo(source).completeBaseName(),
                          hashOf(shared + QByteArrayList{*bytes}),
                          {},
                          {}});
    }
    return Done{};
}

void Build::compile(Unit &u) const
{
    const QString part = u.object + ".part";
    const QStringList what{"-I", place_.folder, "-include", pch_, "-c", u.source, "-o", part};
    u.step = run("g++", compilerFlags() + what, place_.folder, cancel_);
    if (!u.step.ok)
        return;
    if (auto ok = replaceFile(part, u.object); !ok)
        u.step = {false, ok.problem().text().toUtf8()};
}

bool Build::compile(BuildReport &report)
{
    say("Compiling " + base_ + ".cpp");
    for (Unit &u : units_) {
        u.object = QStringLiteral("%1/%2_%3.o").arg(out_, u.stem, QString::fromLatin1(u.key));
        u.step.ok = QFileInfo::exists(u.object);
    }
    // No more compilers at once than there are processors for them.
    std::atomic<std::size_t> next{0};
    const auto work = [&] {
        for (std::size_t i = next++; i < units_.size(); i = next++)
            if (!units_[i].step.ok)
                compile(units_[i]);
    };
    const std::size_t processors = std::max(1u, std::thread::hardware_concurrency());
    std::vector<std::thread> others;
    for (std::size_t n = 1; n < std::min(processors, units_.size()); ++n)
        others.emplace_back(work);
    work();
    for (auto &t : others)
        t.join();
    bool ok = true;
    for (const Unit &u : units_) {
        report.messages += diagnosticsFrom(u.step.errors, place_.folder);
        ok = ok && u.step.ok;
    }
    std::stable_sort(report.messages.begin(), report.messages.end(),
                     [](const BuildMessage &a, const BuildMessage &b) { return a.error && !b.error; });
    return ok;
}

bool Build::link(const QString &program, BuildReport &report)
{
    QByteArrayList keys;
    QStringList objects;
    for (const Unit &u : units_) {
        keys << u.key;
        objects << u.object;
    }
    const QByteArray key = hashOf(keys);
    auto last = readFile(out_ + "/linked");
    if (QFileInfo::exists(program) && last && *last == key)
        return true;
    say("Linking");
    QStringList arguments{"-o", program + ".part"};
    arguments << objects;
    if (hasMold())
        arguments << "-fuse-ld=mold";
    arguments << "-L" + QLibraryInfo::path(QLibraryInfo::LibrariesPath);
    if (network_)
        arguments << "-lQt6Network";
    arguments << "-lQt6Widgets"
              << "-lQt6Gui"
              << "-lQt6Concurrent"
              << "-lQt6Core"
              << "-lpthread";
    const Step s = run("g++", arguments, place_.folder, cancel_);
    report.messages += diagnosticsFrom(s.errors, place_.folder);
    if (!s.ok)
        return false;
    auto placed = replaceFile(program + ".part", program);
    if (placed)
        placed = writeFile(out_ + "/linked", key);
    if (!placed) {
        report.messages << BuildMessage{{}, 0, 0, true, placed.problem().text()};
        return false;
    }
    report.linked = true;
    for (const QString &old : QDir(out_).entryList({"made_*.o", "user_*.o"}, QDir::Files))
        if (!objects.contains(out_ + '/' + old))
            QFile::remove(out_ + '/' + old);
    return true;
}

} // namespace

void warmCompiler(const QStringList &headers, const std::atomic<bool> &cancel)
{
    (void)bool(precompiled(headers, cancel, {}));
}

Result<QList<BuildMessage>> checkText(const ProjectPlace &place, const Project &project, UserFiles &files,
                                      const QString &file, const std::atomic<bool> &cancel)
{
    if (!file.endsWith(".cpp"))
        return QList<BuildMessage>();
    const QString pch = headerPath(headerText(toolkitHeaders(project, hasBackground(project))));
    if (!QFileInfo::exists(pch + ".gch"))
        return QList<BuildMessage>(); // without it this would take longer than anybody types
    const QTemporaryDir dir;
    const QString folder = dir.path();
    if (auto ok = layOut(folder, place, project, files); !ok)
        return ok.problem();
    const Step s =
        run("g++", compilerFlags() + QStringList{"-I", folder, "-include", pch, "-fsyntax-only", file},
            folder, cancel);
    return cancel ? QList<BuildMessage>() : diagnosticsFrom(s.errors, folder);
}

QString Builder::programPath(const Project &project) const
{
    return place_.folder + "/.pipit/" + project.windows.first().file;
}

Result<BuildReport> Builder::build(const Project &project, UserFiles &files,
                                   const std::function<void(const QString &)> &progress)
{
    const std::int64_t started = monotonicNow();
    BuildReport report;
    const QString program = programPath(project);
    if (QFileInfo::exists(program))
        report.program = program;
    auto generated = generate(project, place_, files);
    if (!generated)
        return generated.problem();
    if (auto ok = writeGenerated(*generated, place_); !ok)
        return ok.problem();
    Build build(place_, project, cancel, progress);
    if (auto ok = build.prepare(*generated, toolkitHeaders(project, hasBackground(project))); !ok)
        return ok.problem();
    report.ok = build.compile(report) && !cancel && build.link(program, report);
    report.ns = monotonicNow() - started;
    if (cancel)
        return Problem{"The build was cancelled", {}, "The program of the last build stays as it was"};
    if (report.ok)
        report.program = program;
    return report;
}

} // namespace pipit
