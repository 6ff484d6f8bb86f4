// Verbs that start programs: build, run, record.
#include "cli/verbs.h"

#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/pace/stalls.h"
#include "core/project/findings.h"
#include "core/project/workspace.h"
#include "core/session/live_run.h"

#include <csignal>
#include <cstdio>
#include <memory>
#include <thread>

namespace pipit::cli
{

using namespace std::chrono_literals;

namespace
{

struct Words {
    std::string project, play, record;
    std::vector<std::string> program;
    double seconds = 0;
    bool passExit = false, json = false;
};

std::atomic<bool> interrupted{false};

struct Built {
    Workspace workspace;
    QString program;
};

int buildIt(const std::string &path, std::unique_ptr<Built> &out, bool json)
{
    auto w = Workspace::open(q(path));
    if (!w)
        return fail(w.problem());
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
                              {"messages", rows}});
    if (!report->ok) {
        if (!report->program.isEmpty() && !json)
            std::fprintf(stderr,
                         "pipit: the build failed; the program of the last build that worked is still %s\n",
                         report->program.toUtf8().constData());
        return cannot;
    }
    out = std::make_unique<Built>(Built{std::move(*w), report->program});
    return fine;
}

int build(const Words &words)
{
    std::unique_ptr<Built> built;
    const int code = buildIt(words.project, built, words.json);
    if (code == fine && !words.json)
        print("Built " + built->program);
    return code;
}

void printPlay(const PlayReport &report)
{
    for (const StepResult &r : report.steps) {
        QString s =
            QStringLiteral("%1 line %2: %3").arg(r.ok ? "ok  " : "FAIL").arg(r.step.line).arg(r.step.source);
        if (!r.ok) {
            s += r.expected.isEmpty() ? ": " + r.found
                                      : "\n       expected " + r.expected + ", found " + r.found;
            s += QStringLiteral(" (at %1)").arg(r.end);
        }
        print(s);
    }
}

// Runs until the program ends, the time is over, or the play is done.
int runProgram(RunSpec spec, const Words &words)
{
    std::optional<Play> play;
    if (!words.play.empty()) {
        auto loaded = loadPlay(q(words.play));
        if (!loaded)
            return fail(loaded.problem());
        play = *loaded;
    }
    std::signal(SIGINT, [](int) { interrupted = true; });
    std::signal(SIGTERM, [](int) { interrupted = true; });
    Program::Callbacks callbacks;
    callbacks.output = [](const QByteArray &bytes, bool isError) {
        std::fwrite(bytes.constData(), 1, std::size_t(bytes.size()), isError ? stderr : stdout);
        std::fflush(isError ? stderr : stdout);
    };
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
        program.askToQuit();
        if (!program.waitForEnd(3s)) {
            program.terminate();
            if (!program.waitForEnd(1s))
                program.kill();
        }
    }
    (void)program.waitForEnd(5s);
    auto info = (*run)->finish(play ? &report : nullptr);
    if (!info)
        return fail(info.problem());
    const Ending ending = program.ending();
    if (!ending.refused.isEmpty())
        return fail({ending.refused, spec.program.program, {}});
    if (!ending.sawToolkit)
        return fail({"The program ended without using Qt 6, so nothing was recorded (" +
                         ending.text(spec.program.program) + ")",
                     spec.program.program, "Record a Qt 6 Widgets program"});
    if (play)
        printPlay(report);
    print(info->ending + '.');
    for (const QString &n : info->notes)
        print(n + '.');
    const auto stalls = stallsOf((*run)->trace(), (*run)->handlers(), 50ms);
    for (std::size_t i = 0; i < stalls.size() && i < 5; ++i)
        print(stalls[i].sentence());
    if (!spec.recordTo.isEmpty())
        print("Recorded in " + spec.recordTo);
    if (words.passExit)
        return ending.signal ? 128 + ending.signal : ending.exitCode;
    return play && !report.ok ? findings : fine;
}

int runVerb(const Words &words)
{
    std::unique_ptr<Built> built;
    if (const int code = buildIt(words.project, built, false); code != fine)
        return code;
    const ProjectPlace place = built->workspace.place();
    RunSpec spec;
    spec.program.program = built->program;
    spec.program.workingFolder = place.folder;
    spec.program.texts = true;
    spec.recordTo = q(words.record);
    spec.project = built->workspace.project().name;
    spec.flavour = buildFlavour();
    spec.map = place.folder + "/generated/map.json";
    spec.projectFile = place.file;
    return runProgram(spec, words);
}

int record(const Words &words)
{
    RunSpec spec;
    spec.program.program = q(words.program.front());
    for (std::size_t i = 1; i < words.program.size(); ++i)
        spec.program.arguments << q(words.program[i]);
    spec.recordTo = q(words.record);
    return runProgram(spec, words);
}

} // namespace

void addRunVerbs(Registry &r)
{
    auto w = std::make_shared<Words>();
    auto *sub = r.app.add_subcommand("build", "Build a project");
    sub->add_option("PROJECT", w->project, "Its folder or file")->required();
    sub->add_flag("--json", w->json);
    sub->callback([&r, w] { r.chosen = [w] { return build(*w); }; });

    w = std::make_shared<Words>();
    sub = r.app.add_subcommand("run", "Build a project, run it and watch it");
    sub->add_option("PROJECT", w->project, "Its folder or file")->required();
    sub->add_option("--play", w->play, "A play to perform; the program ends after it");
    sub->add_option("--record", w->record, "A new folder for the recording");
    sub->add_option("--for", w->seconds, "Stop after this many seconds");
    sub->add_flag("--pass-exit", w->passExit, "Return the program's own exit code");
    sub->callback([&r, w] { r.chosen = [w] { return runVerb(*w); }; });

    w = std::make_shared<Words>();
    sub = r.app.add_subcommand("record", "Start a Qt 6 Widgets program and record it");
    sub->add_option("--play", w->play, "A play to perform; the program ends after it");
    sub->add_option("--for", w->seconds, "Stop after this many seconds");
    sub->add_option("--out", w->record, "A new folder for the recording")->required();
    sub->add_flag("--pass-exit", w->passExit, "Return the program's own exit code");
    sub->add_option("PROGRAM", w->program, "The program and its arguments, after --")->required();
    sub->positionals_at_end();
    sub->callback([&r, w] { r.chosen = [w] { return record(*w); }; });
}

} // namespace pipit::cli
