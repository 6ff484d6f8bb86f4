// Verbs that start programs: build, run, record.
#include "cli/editing.h"

#include "core/build/builder.h"
#include "core/pace/stalls.h"
#include "core/runs/live_run.h"

#include <QDir>
#include <QEvent>
#include <QFileInfo>
#include <csignal>
#include <cstdio>
#include <memory>
#include <thread>

namespace pipit::cli
{

using namespace std::chrono_literals;

namespace
{

std::atomic<bool> interrupted{false};

struct Built {
    Workspace workspace;
    QString program;
};

QJsonObject stepsJson(const QList<std::pair<QString, std::int64_t>> &steps)
{
    QJsonObject o;
    for (const auto &[name, ns] : steps)
        o[name + "_ns"] = qint64(ns);
    return o;
}

void printSteps(const QList<std::pair<QString, std::int64_t>> &steps)
{
    QStringList all;
    for (const auto &[name, ns] : steps)
        all << name + ' ' + durationText(ns);
    print(all.join(" · "));
}

int buildIt(const QString &path, std::unique_ptr<Built> &out, bool json, bool stats)
{
    auto w = Workspace::open(path);
    if (!w)
        return fail(w.problem());
    w->takeOwnClasses(readOwnClasses(w->place(), w->project()));
    Builder builder(w->place());
    auto report = builder.build(w->project(), w->files());
    if (!report)
        return fail(report.problem());
    QJsonArray rows;
    for (const BuildMessage &m : report->messages) {
        rows.append(QJsonObject{{"file", m.file}, {"line", m.line}, {"error", m.error}, {"text", m.text}});
        const QString where =
            m.file.isEmpty() ? QString() : QStringLiteral("%1:%2: ").arg(m.file).arg(m.line);
        if (!json)
            std::fprintf(stderr, "%s%s: %s\n", where.toUtf8().constData(), m.error ? "error" : "warning",
                         m.text.toUtf8().constData());
    }
    if (json)
        printJson(QJsonObject{{"ok", report->ok},
                              {"program", report->program},
                              {"duration_ns", qint64(report->ns)},
                              {"steps", stepsJson(report->steps)},
                              {"messages", rows}});
    if (!report->ok) {
        if (!report->program.isEmpty() && !json)
            std::fprintf(stderr,
                         "pipit: the build failed; the program of the last successful build is still %s\n",
                         report->program.toUtf8().constData());
        return cannot;
    }
    if (stats && !json)
        printSteps(report->steps);
    out = std::make_unique<Built>(Built{std::move(*w), report->program});
    return fine;
}

struct Build : OfProject {
    bool stats = false;
    void takes(Words &words)
    {
        OfProject::takes(words);
        words.flag("--stats", stats, "Print how long each step took");
    }
    int run() const;
};

int Build::run() const
{
    std::unique_ptr<Built> built;
    const int code = buildIt(project, built, json, stats);
    if (code == fine && !json)
        print("Built " + built->program);
    return code;
}

// Times are told from the program's start.
void printPlay(const PlayReport &report, std::int64_t started)
{
    for (const StepResult &r : report.steps) {
        QString s =
            QStringLiteral("%1 line %2: %3").arg(r.ok ? "ok  " : "FAIL").arg(r.step.line).arg(r.step.source);
        if (!r.ok) {
            s += r.expected.isEmpty() ? ": " + r.found
                                      : "\n       expected " + r.expected + ", found " + r.found;
            s += QStringLiteral(" (at %1 s)").arg(double(r.end - started) / 1e9, 0, 'f', 2);
        }
        print(s);
    }
}

// From the start to the first thing recorded, and on to the first repaint.
QList<std::pair<QString, std::int64_t>> startSteps(const TraceModel &trace, std::int64_t started)
{
    QList<std::pair<QString, std::int64_t>> steps;
    if (trace.spanCount() == 0)
        return steps;
    steps.append({"start", trace.firstTime() - started});
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i) {
        const ThreadRows &rows = trace.rows(i);
        for (std::uint32_t row = 0; row < rows.count() && steps.size() < 2; ++row)
            if (const Span s = rows.at(row);
                s.kind == SpanKind::Dispatch && s.what == QEvent::UpdateRequest && !s.open())
                steps.append({"first paint", s.end - trace.firstTime()});
    }
    return steps;
}

// What run and record have in common.
struct Watching {
    QString play, keep;
    int times = 1;
    double seconds = 0;
    bool passExit = false, stats = false, mask = false, pictures = false;
};

// Runs until the program ends, the time is over, or the play is done.
int runOnce(RunSpec spec, const Watching &words)
{
    std::optional<Play> play;
    if (!words.play.isEmpty()) {
        auto loaded = loadPlay(words.play);
        if (!loaded)
            return fail(loaded.problem());
        play = *loaded;
    }
    if (!words.keep.isEmpty()) {
        auto keep = KeepLast::parse(words.keep);
        if (!keep)
            return fail(keep.problem());
        spec.keep = *keep;
    }
    spec.program.maskTexts = words.mask;
    spec.program.ownOutput = true;
    std::fflush(stdout);
    std::signal(SIGINT, [](int) { interrupted = true; });
    std::signal(SIGTERM, [](int) { interrupted = true; });
    Program::Callbacks callbacks;
    callbacks.note = [](const QString &text) {
        std::fprintf(stderr, "pipit: %s\n", text.toUtf8().constData());
    };
    auto run = LiveRun::start(spec, callbacks);
    if (!run)
        return fail(run.problem());
    Program &program = (*run)->program();
    PlayReport report;
    if (play)
        report = runPlay(*play, program, (*run)->trace(), (*run)->handlers(), interrupted);
    const auto deadline = std::chrono::steady_clock::now() + std::chrono::duration<double>(words.seconds);
    while (!program.waitForEnd(50ms)) {
        const bool timeOver = words.seconds > 0 && std::chrono::steady_clock::now() > deadline;
        if (!play && !timeOver && !interrupted)
            continue;
        if (words.pictures && !spec.recordTo.isEmpty())
            if (auto ok = (*run)->keepPictures(); !ok)
                callbacks.note("No pictures of the windows were saved: " + ok.problem().text());
        program.end();
    }
    (void)program.waitForEnd(5s);
    auto info = (*run)->finish(play ? &report : nullptr);
    if (!info)
        return fail(info.problem());
    if (const auto problem = (*run)->unrecorded())
        return fail(*problem);
    const Ending ending = program.ending();
    if (play)
        printPlay(report, program.startedAt());
    if (words.stats)
        printSteps(startSteps((*run)->trace(), program.startedAt()));
    print(info->ending + '.');
    for (const QString &n : info->notes)
        print(n + '.');
    const auto stalls = stallsOf((*run)->trace(), (*run)->handlers(), stallBudget);
    for (std::size_t i = 0; i < stalls.size() && i < 5; ++i)
        print(stalls[i].sentence());
    if (!spec.recordTo.isEmpty())
        print("Recorded in " + spec.recordTo);
    if (words.passExit)
        return ending.signal ? 128 + ending.signal : ending.exitCode;
    return play && !info->playOk ? findings : fine;
}

// As often as was asked for; the recordings of several lie in the folder, by their number.
int runProgram(const RunSpec &spec, const Watching &words)
{
    if (words.times == 1)
        return runOnce(spec, words);
    if (words.play.isEmpty())
        return fail(Problem{"--times needs a play", {}, "Add --play FILE"});
    if (!spec.recordTo.isEmpty() && !QDir().mkpath(spec.recordTo))
        return fail(Problem{"The folder cannot be created", spec.recordTo, "Name another"});
    int worst = fine;
    for (int i = 1; i <= words.times && !interrupted; ++i) {
        RunSpec each = spec;
        if (!spec.recordTo.isEmpty())
            each.recordTo = spec.recordTo + '/' + QString::number(i);
        print(QStringLiteral("Run %1 of %2").arg(i).arg(words.times));
        const int code = runOnce(each, words);
        if (code == cannot)
            return code;
        worst = std::max(worst, code);
    }
    return worst;
}

struct RunVerb {
    QString project, record;
    Watching watching;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed, "The project's folder or file");
        words.word("--play", watching.play, Words::MayBeLeftOut, "A play to run; the program ends after it");
        words.whole("--times", watching.times, 1, 1000, "Run the play this often, each time in a new run");
        words.word("--record", record, Words::MayBeLeftOut, "A new folder for the recording");
        words.number("--for", watching.seconds, "Stop after this many seconds");
        words.flag("--pass-exit", watching.passExit, "Exit with the program's exit code");
        words.flag("--pictures", watching.pictures, "Save a picture of each window at the end");
        words.flag("--mask", watching.mask, "Record no text that the windows show, not even captions");
        words.word("--keep", watching.keep, Words::MayBeLeftOut,
                   "Keep only the last part, such as 30s or 200MB");
        words.flag("--stats", watching.stats, "Print how long each step took, from the edit to the window");
    }
    int run() const;
};

// A play as it is named from here, or else from the project's folder or its folder of plays.
QString playNamed(const QString &given, const QString &projectFolder)
{
    for (const QString &path : {given, projectFolder + '/' + given, projectFolder + "/plays/" + given})
        if (QFileInfo(path).isFile())
            return path;
    return given;
}

int RunVerb::run() const
{
    std::unique_ptr<Built> built;
    if (const int code = buildIt(project, built, false, watching.stats); code != fine)
        return code;
    const Workspace &w = built->workspace;
    Watching how = watching;
    if (!how.play.isEmpty())
        how.play = playNamed(how.play, w.place().folder);
    return runProgram(specOf(w.place(), w.project(), built->program, record), how);
}

// All plays of a project, or those named: what keeps what was won.
struct PlayVerb {
    QString project;
    QStringList plays;
    int times = 1;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed, "The project's folder or file");
        words.list("PLAY", plays, Words::MayBeLeftOut, "The plays; the default is all in the folder plays");
        words.whole("--times", times, 1, 1000, "Run each play this often, each time in a new run");
    }
    int run() const;
};

int PlayVerb::run() const
{
    std::unique_ptr<Built> built;
    if (const int code = buildIt(project, built, false, false); code != fine)
        return code;
    const Workspace &w = built->workspace;
    QStringList files = plays;
    const QDir folder(w.place().folder + "/plays");
    if (files.isEmpty())
        for (const QString &name : folder.entryList({"*.play"}, QDir::Files, QDir::Name))
            files << folder.filePath(name);
    if (files.isEmpty())
        return fail(Problem{"The project has no plays", folder.path(),
                            "Write one in the folder plays, or name a file"});
    QStringList failed;
    for (const QString &file : std::as_const(files)) {
        print("Play " + QFileInfo(file).fileName());
        Watching each;
        each.play = playNamed(file, w.place().folder);
        each.times = times;
        const int code = runProgram(specOf(w.place(), w.project(), built->program, {}), each);
        if (code == cannot)
            return code;
        if (code != fine)
            failed << QFileInfo(file).fileName();
        if (interrupted)
            break;
    }
    print(failed.isEmpty()
              ? QStringLiteral("%1, every expectation was met.").arg(counted(files.size(), "play", "plays"))
              : "Failed: " + failed.join(", ") + '.');
    return failed.isEmpty() ? fine : findings;
}

struct Record {
    QStringList program;
    QString folder;
    Watching watching;

    void takes(Words &words)
    {
        words.word("--play", watching.play, Words::MayBeLeftOut, "A play to run; the program ends after it");
        words.whole("--times", watching.times, 1, 1000, "Run the play this often, each time in a new run");
        words.number("--for", watching.seconds, "Stop after this many seconds");
        words.word("--out", folder, Words::Needed, "A new folder for the recording");
        words.flag("--pass-exit", watching.passExit, "Exit with the program's exit code");
        words.flag("--pictures", watching.pictures, "Save a picture of each window at the end");
        words.flag("--mask", watching.mask, "Record no text that the windows show, not even captions");
        words.word("--keep", watching.keep, Words::MayBeLeftOut,
                   "Keep only the last part, such as 30s or 200MB");
        words.list("PROGRAM", program, Words::Needed, "The program and its arguments, after --");
        words.restIsList();
    }
    int run() const { return runProgram(specOf(program.first(), program.mid(1), folder), watching); }
};

} // namespace

void addRunVerbs(Registry &r)
{
    r.add<Build>("build", "Build a project", "pipit build harbour-tickets --stats");
    r.add<RunVerb>("run", "Build a project, run it and record it",
                   "pipit run harbour-tickets --play plays/buy.play --record /tmp/first");
    r.add<PlayVerb>("play", "Run a project's plays, and report failed expectations",
                    "pipit play harbour-tickets");
    r.add<Record>("record", "Start a Qt 6 Widgets program and record it",
                  "pipit record --out /tmp/other -- /usr/games/tetzle");
}

} // namespace pipit::cli
