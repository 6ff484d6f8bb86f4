#include "core/build/builder.h"

#include "core/base/files.h"
#include "core/build/compiler.h"
#include "core/build/diagnostics.h"
#include "core/build/scratch.h"
#include "core/runner/program.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QLibraryInfo>
#include <QRegularExpression>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <thread>

namespace pipit
{

QString buildFlavour()
{
    return chosenCompiler().name() + " -O0 -g";
}

namespace
{

QByteArray hashOf(const QByteArrayList &parts)
{
    QCryptographicHash h(QCryptographicHash::Sha1);
    for (const QByteArray &p : parts)
        h.addData(p + '\0');
    return h.result().toHex().left(16);
}

bool hasMold()
{
    static const bool has = !QStandardPaths::findExecutable("mold").isEmpty();
    return has;
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
    Build(const ProjectPlace &place, const Compiler &compiler, const Project &project,
          const std::atomic<bool> &cancel, const std::function<void(const QString &)> &progress)
        : place_(place), compiler_(compiler), project_(project), base_(project.windows.first().file),
          out_(place.folder + "/.pipit"), cancel_(cancel), progress_(progress),
          network_(needsNetwork(project))
    {
    }

    Outcome prepare(const Generated &generated, const QStringList &headers);
    bool compile(BuildReport &report);
    bool link(const QString &program, BuildReport &report);

private:
    void compile(Unit &unit) const;
    Outcome mocs(QByteArray &unity, QByteArrayList &made);
    void placeByName(BuildMessage &message) const;
    void say(const QString &what) const
    {
        if (progress_)
            progress_(what);
    }

    const ProjectPlace &place_;
    const Compiler &compiler_;
    const Project &project_;
    QString base_, out_, pch_;
    QStringList headers_;
    const std::atomic<bool> &cancel_;
    const std::function<void(const QString &)> &progress_;
    bool network_;
    std::vector<Unit> units_;
};

// Headers of the user's with Q_OBJECT get their meta-object code, as part of the unity.
Outcome Build::mocs(QByteArray &unity, QByteArrayList &made)
{
    static const QRegularExpression macro("^\\s*Q_OBJECT\\b", QRegularExpression::MultilineOption);
    for (const QString &h : userHeaders(place_.folder, project_)) {
        auto bytes = readFile(place_.folder + '/' + h);
        if (!bytes)
            return bytes.problem();
        if (!macro.match(QString::fromUtf8(*bytes)).hasMatch())
            continue;
        const QString moc = QLibraryInfo::path(QLibraryInfo::LibraryExecutablesPath) + "/moc";
        const QString to = out_ + "/moc_" + h + ".cpp";
        const Step s = runStep(moc, {"-I", place_.folder, h, "-o", to + ".part"}, place_.folder, cancel_);
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
    auto pch = precompiled(compiler_, headers, cancel_, progress_);
    if (!pch)
        return pch.problem();
    pch_ = *pch;
    headers_ = headers;
    // What each unit is made from; a unit is compiled only when that changed.
    QByteArrayList shared{compiler_.flags().join(' ').toUtf8(), pch_.toUtf8()};
    if (auto read = readFile(pch_ + ".read")) // the toolkit's headers as they are
        shared << *read;
    for (const QString &h : userHeaders(place_.folder, project_))
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
    for (const QString &source : userSources(place_.folder, project_)) {
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
    const auto with = [&](const Compiler &c, const QString &header) {
        return runStep(c.program,
                       c.flags() + c.beginWith(header) +
                           QStringList{"-I", place_.folder, "-c", u.source, "-o", part},
                       place_.folder, cancel_);
    };
    u.step = with(compiler_, pch_);
    // What only this compiler refuses is no mistake: the project's own build uses the other one.
    if (!u.step.ok && compiler_.clang && !cancel_ && isPrecompiled(gcc(), headers_))
        if (const Step other = with(gcc(), precompiledPath(gcc(), headers_)); other.ok)
            u.step = other;
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

// A handler that is declared and called but defined nowhere belongs at the end of its file.
void Build::placeByName(BuildMessage &m) const
{
    static const QRegularExpression function("^There is no definition of (?:\\w+::)?(\\w+)\\(");
    const auto name = function.match(m.text);
    if (!name.hasMatch() || !m.file.isEmpty())
        return;
    for (const Handler &h : project_.handlers)
        if (h.functionNames().contains(name.captured(1)))
            if (auto bytes = readFile(place_.folder + '/' + h.file)) {
                m.file = h.file;
                m.line = int(bytes->count('\n'));
            }
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
    arguments << objects << compiler_.toLink(pch_);
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
    const Step s = runStep(compiler_.program, arguments, place_.folder, cancel_);
    for (BuildMessage m : diagnosticsFrom(s.errors, place_.folder)) {
        placeByName(m);
        report.messages << m;
    }
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
    (void)bool(precompiled(chosenCompiler(), headers, cancel));
}

namespace
{

QList<BuildMessage> messagesOf(const Compiler &c, const QString &header, const QString &folder,
                               const QStringList &sources, const std::atomic<bool> &cancel)
{
    QList<BuildMessage> all;
    for (const QString &source : sources) {
        const Step s = runStep(
            c.program, c.flags() + c.beginWith(header) + QStringList{"-I", folder, "-fsyntax-only", source},
            folder, cancel);
        all += diagnosticsFrom(s.errors, folder);
    }
    return cancel ? QList<BuildMessage>() : all;
}

} // namespace

Result<QList<BuildMessage>> checkText(const ProjectPlace &place, const Project &project, UserFiles &files,
                                      const QString &file, const std::atomic<bool> &cancel)
{
    const Compiler &c = chosenCompiler();
    const QStringList headers = toolkitHeaders(project, hasBackground(project));
    // Without the header this would take longer than anybody types.
    if (!file.endsWith(".cpp") || !isPrecompiled(c, headers))
        return QList<BuildMessage>();
    const QTemporaryDir dir;
    if (auto ok = layOut(dir.path(), place, project, files); !ok)
        return ok.problem();
    return messagesOf(c, precompiledPath(c, headers), dir.path(), {file}, cancel);
}

Result<QList<BuildMessage>> otherCompilersErrors(const ProjectPlace &place, const Project &project,
                                                 UserFiles &files, const std::atomic<bool> &cancel)
{
    QList<BuildMessage> errors;
    if (!chosenCompiler().clang)
        return errors;
    const QStringList headers = toolkitHeaders(project, hasBackground(project));
    auto header = precompiled(gcc(), headers, cancel);
    if (!header)
        return header.problem();
    const QTemporaryDir dir;
    if (auto ok = layOut(dir.path(), place, project, files); !ok)
        return ok.problem();
    for (const BuildMessage &m :
         messagesOf(gcc(), *header, dir.path(), userSources(place.folder, project), cancel))
        if (m.error)
            errors << m;
    return errors;
}

QString Builder::programPath(const Project &project) const
{
    return place_.folder + "/.pipit/" + project.windows.first().file;
}

Result<BuildReport> Builder::build(const Project &project, UserFiles &files,
                                   const std::function<void(const QString &)> &progress)
{
    const std::int64_t started = monotonicNow();
    std::int64_t last = started;
    BuildReport report;
    const auto step = [&](const QString &name) {
        const std::int64_t now = monotonicNow();
        report.steps.append({name, now - last});
        last = now;
    };
    const QString program = programPath(project);
    if (QFileInfo::exists(program))
        report.program = program;
    auto generated = generate(project, place_, files);
    if (!generated)
        return generated.problem();
    if (auto ok = writeGenerated(*generated, place_); !ok)
        return ok.problem();
    step("generate");
    Build build(place_, compiler_, project, cancel, progress);
    if (auto ok = build.prepare(*generated, toolkitHeaders(project, hasBackground(project))); !ok)
        return ok.problem();
    step("prepare");
    report.ok = build.compile(report) && !cancel;
    step("compile");
    report.ok = report.ok && build.link(program, report);
    step("link");
    report.ns = monotonicNow() - started;
    if (cancel)
        return Problem{"The build was cancelled", {}, "The program of the last build is unchanged"};
    if (report.ok)
        report.program = program;
    return report;
}

} // namespace pipit
