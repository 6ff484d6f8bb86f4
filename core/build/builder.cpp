#include "core/build/builder.h"

#include "core/base/files.h"
#include "core/build/diagnostics.h"
#include "core/runner/program.h"

#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QLibraryInfo>
#include <QProcess>
#include <QProcessEnvironment>
#include <QStandardPaths>

#include <thread>

namespace pipit
{

QStringList compilerFlags()
{
    const QString headers = QLibraryInfo::path(QLibraryInfo::HeadersPath);
    QStringList flags = {
        "-std=c++17", "-O0",  "-g", "-fPIC", "-Wall", "-Wextra", "-Winvalid-pch", "-fdiagnostics-format=json",
        "-isystem",   headers};
    for (const char *module : {"QtCore", "QtGui", "QtWidgets", "QtConcurrent"})
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

// The precompiled header for these tool-kit headers, made when missing.
Result<QString> precompiled(const QStringList &headers, const std::atomic<bool> &cancel,
                            const std::function<void(const QString &)> &progress)
{
    QByteArray text =
        "#pragma once\n#include <QtConcurrent/QtConcurrentRun>\n#include <QtCore/QFutureWatcher>\n"
        "#include <QtCore/QPointer>\n#include <QtCore/QPromise>\n#include <QtCore/QTimer>\n"
        "#include <QtGui/QKeyEvent>\n#include <functional>\n#include <memory>\n";
    for (const QString &h : headers)
        text += "#include <QtWidgets/" + h.toUtf8() + ">\n";
    const QByteArray key =
        hashOf({text, compilerFlags().join(' ').toUtf8(), compilerVersion(), QByteArray(qVersion())});
    const QString cache =
        QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) + "/pipit/pch";
    const QString header = cache + '/' + key + ".h";
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
    QFile::rename(part, header + ".gch");
    QFile::remove(part);
    return header;
}

struct Unit {
    QString source; // relative
    QByteArray key;
    QString object;
    Step step;
};

} // namespace

QString Builder::programPath(const Project &project) const
{
    return place_.folder + "/.pipit/" + project.windows.first().file;
}

Result<BuildReport> Builder::build(const Project &project, UserFiles &files,
                                   const std::function<void(const QString &)> &progress)
{
    const std::int64_t started = monotonicNow();
    const auto say = [&](const QString &what) {
        if (progress)
            progress(what);
    };
    BuildReport report;
    if (QFileInfo::exists(programPath(project)))
        report.program = programPath(project);
    auto generated = generate(project, place_, files);
    if (!generated)
        return generated.problem();
    if (auto ok = writeGenerated(*generated, place_); !ok)
        return ok.problem();
    const QString out = place_.folder + "/.pipit";
    if (auto ok = makeFolder(out); !ok)
        return ok.problem();
    (void)writeFileIfChanged(out + "/.gitignore", "*\n");
    const QString file = project.windows.first().file;
    (void)writeFileIfChanged(out + "/unity.cpp", "#include \"../generated/" + file.toUtf8() +
                                                     "_base.cpp\"\n#include \"../generated/" + file.toUtf8() +
                                                     "_wiring.cpp\"\n#include \"../generated/main.cpp\"\n");
    auto pch = precompiled(generated->headers, cancel, progress);
    if (!pch)
        return pch.problem();

    // What each unit is made from; a unit is compiled only when that changed.
    QByteArrayList shared{compilerFlags().join(' ').toUtf8(), pch->toUtf8()};
    for (const QString &h : QDir(place_.folder).entryList({"*.h"}, QDir::Files, QDir::Name))
        if (auto bytes = readFile(place_.folder + '/' + h))
            shared << *bytes;
    QByteArrayList made = shared;
    for (const GeneratedFile &g : generated->files)
        if (!g.name.endsWith(".json") && !g.name.endsWith(".cmake")) {
            made << g.bytes;
            if (!g.name.endsWith(".cpp"))
                shared << g.bytes;
        }
    auto user = readFile(place_.folder + '/' + file + ".cpp");
    if (!user)
        return user.problem();
    Unit units[2] = {{".pipit/unity.cpp", hashOf(made), {}, {}},
                     {file + ".cpp", hashOf(shared + QByteArrayList{*user}), {}, {}}};
    say("Compiling " + file + ".cpp");
    std::thread threads[2];
    for (int i = 0; i < 2; ++i) {
        Unit &u = units[i];
        u.object = QStringLiteral("%1/%2_%3.o").arg(out, i ? "user" : "made", QString::fromLatin1(u.key));
        u.step.ok = QFileInfo::exists(u.object);
        if (u.step.ok)
            continue;
        threads[i] = std::thread([&u, &pch, this] {
            const QStringList arguments =
                compilerFlags() +
                QStringList{"-I", place_.folder, "-include", *pch, "-c", u.source, "-o", u.object + ".part"};
            u.step = run("g++", arguments, place_.folder, cancel);
            if (u.step.ok)
                QFile::rename(u.object + ".part", u.object);
        });
    }
    for (auto &t : threads)
        if (t.joinable())
            t.join();
    for (const Unit &u : units)
        report.messages += diagnosticsFrom(u.step.errors, place_.folder);
    std::stable_sort(report.messages.begin(), report.messages.end(),
                     [](const BuildMessage &a, const BuildMessage &b) { return a.error && !b.error; });
    report.ns = monotonicNow() - started;
    if (cancel)
        return Problem{"The build was cancelled", {}, "The program of the last build stays as it was"};
    if (!units[0].step.ok || !units[1].step.ok)
        return report;

    const QByteArray linkKey = hashOf({units[0].key, units[1].key});
    auto lastLink = readFile(out + "/linked");
    if (report.program.isEmpty() || !lastLink || *lastLink != linkKey) {
        say("Linking");
        const QString libraries = QLibraryInfo::path(QLibraryInfo::LibrariesPath);
        QStringList arguments{"-o", programPath(project) + ".part", units[0].object, units[1].object};
        if (hasMold())
            arguments << "-fuse-ld=mold";
        arguments << "-L" + libraries << "-lQt6Widgets"
                  << "-lQt6Gui"
                  << "-lQt6Concurrent"
                  << "-lQt6Core"
                  << "-lpthread";
        const Step s = run("g++", arguments, place_.folder, cancel);
        report.messages += diagnosticsFrom(s.errors, place_.folder);
        report.ns = monotonicNow() - started;
        if (!s.ok)
            return report;
        QFile::remove(programPath(project));
        QFile::rename(programPath(project) + ".part", programPath(project));
        (void)writeFile(out + "/linked", linkKey);
        report.linked = true;
        for (const QString &old : QDir(out).entryList({"made_*.o", "user_*.o"}, QDir::Files))
            if (out + '/' + old != units[0].object && out + '/' + old != units[1].object)
                QFile::remove(out + '/' + old);
    }
    report.program = programPath(project);
    report.ok = true;
    report.ns = monotonicNow() - started;
    return report;
}

} // namespace pipit
