#include "core/runs/live_run.h"

#include "core/base/duration_text.h"
#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/runner/inspect.h"
#include "core/runs/crash_report.h"

#include "link/control.h"

#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>

namespace pipit
{

RunSpec specOf(const ProjectPlace &place, const Project &project, const QString &program,
               const QString &recordTo)
{
    RunSpec spec = specOf(program, {}, recordTo);
    spec.program.workingFolder = place.folder;
    spec.project = project.name;
    spec.program.ownTexts = true;
    spec.flavour = buildFlavour();
    spec.map = place.folder + "/generated/map.json";
    spec.projectFile = place.file;
    return spec;
}

RunSpec specOf(const QString &program, const QStringList &arguments, const QString &recordTo)
{
    RunSpec spec;
    spec.program.program = program;
    spec.program.arguments = arguments;
    spec.recordTo = recordTo;
    return spec;
}

namespace
{

// How long memory will last when what is held grows as it has done so far.
class PaceOfMemory
{
public:
    PaceOfMemory() : used_(figure("/proc/self/status", "VmRSS:")), at_(monotonicNow()) {}
    QString lasts() const
    {
        const double seconds = double(monotonicNow() - at_) / 1e9;
        const double grown = figure("/proc/self/status", "VmRSS:") - used_;
        const double left = figure("/proc/meminfo", "MemAvailable:");
        if (seconds <= 0 || grown <= 0 || left <= 0)
            return QStringLiteral("with room for a long time");
        const double minutes = left / (grown / seconds) / 60;
        return minutes > 24 * 60 ? QStringLiteral("with room for more than a day")
                                 : QStringLiteral("with room for about %1 minutes at this rate")
                                       .arg(std::max(1, int(minutes)));
    }

private:
    static double figure(const char *file, const char *name) // in kB, as the system gives it
    {
        QFile f(file);
        if (f.open(QIODevice::ReadOnly))
            for (const QByteArray &line : f.readAll().split('\n'))
                if (line.startsWith(name))
                    return line.mid(qsizetype(std::strlen(name))).trimmed().split(' ').value(0).toDouble();
        return 0;
    }
    double used_;
    std::int64_t at_;
};

} // namespace

Result<std::unique_ptr<LiveRun>> LiveRun::start(const RunSpec &spec, Program::Callbacks callbacks)
{
    std::unique_ptr<LiveRun> run(new LiveRun);
    run->spec_ = spec;
    // A program that cannot be recorded leaves no empty recording behind.
    if (auto path = inspectProgram(spec.program.program); !path)
        return path.problem();
    run->sinks_.add(&run->trace_);
    if (!spec.map.isEmpty()) {
        auto map = WiringMap::load(spec.map);
        if (!map)
            return map.problem();
        run->handlers_.setMap(*map);
    }
    if (!spec.recordTo.isEmpty()) {
        auto writer = RecordingWriter::create(
            spec.recordTo,
            [say = callbacks.note, clock = PaceOfMemory()](const QString &text) {
                if (say)
                    say(text + "; later records are kept in memory only, " + clock.lasts());
            },
            spec.keep);
        if (!writer)
            return writer.problem();
        run->writer_ = std::move(*writer);
        run->sinks_.add(run->writer_.get());
        if (auto ok = makeFolder(spec.recordTo + "/pipit"); !ok)
            return ok.problem();
        for (const QString &file : {spec.map, spec.projectFile})
            if (!file.isEmpty())
                if (auto ok = copyFile(file, spec.recordTo + "/pipit/" + QFileInfo(file).fileName()); !ok)
                    return ok.problem();
    }
    auto program = Program::start(spec.program, run->sinks_, std::move(callbacks));
    if (!program)
        return program.problem();
    run->program_ = std::move(*program);
    if (!spec.recordTo.isEmpty()) {
        run->stacksFile_.setFileName(spec.recordTo + "/pipit/stacks.jsonl");
        (void)run->stacksFile_.open(QIODevice::WriteOnly | QIODevice::Unbuffered);
    }
    run->sampler_ = std::make_unique<Sampler>(run->trace_, run->trace_.stacks(),
                                              [file = &run->stacksFile_](const StackSample &s) {
                                                  if (file->isOpen())
                                                      file->write(StackLog::line(s));
                                              });
    return run;
}

Result<std::vector<WindowPicture>> LiveRun::pictures()
{
    constexpr std::chrono::milliseconds patience{500};
    if (!pictures_.isValid())
        return Problem{"There is no space for pictures: " + pictures_.errorString(), pictures_.path(), {}};
    auto answer = program_->request(link::asks::picture,
                                    {{"folder", pictures_.path()}, {"timeout_ms", int(patience.count())}},
                                    patience * 2);
    if (!answer)
        return answer.problem();
    return picturesIn(*answer, pictures_.path());
}

Outcome LiveRun::keepPictures()
{
    auto all = pictures();
    if (!all)
        return all.problem();
    const QString folder = spec_.recordTo + "/pipit/pictures";
    if (auto ok = makeFolder(folder); !ok)
        return ok;
    for (const WindowPicture &p : *all)
        if (auto ok = writeFile(QStringLiteral("%1/%2.png").arg(folder).arg(p.address, 0, 16), p.png()); !ok)
            return ok;
    return Done{};
}

Outcome LiveRun::switchOff(const QStringList &off, const QStringList &on)
{
    QJsonArray pieces;
    QStringList built, missing;
    for (const QString &id : off)
        if (handlers_.knowsConnection(id))
            built << id;
    for (const QString &id : on)
        if (!handlers_.knowsConnection(id))
            missing << id;
    const auto code = handlers_.codeOf(built, spec_.program.program);
    for (const auto &[from, to] : code)
        pieces.append(QString::number(from, 16) + '-' + QString::number(to, 16));
    if (!built.isEmpty() && code.isEmpty())
        return Problem{"The program has no line numbers for its connections", spec_.program.program,
                       "Build it with debug information, as Pipit does"};
    auto answer = program_->request(link::asks::switchOff, {{"off", pieces}}, std::chrono::seconds(5));
    if (!answer)
        return answer.problem();
    if (!missing.isEmpty())
        return Problem{
            "The connection was switched off when the program was built, so it is not in the program",
            {},
            "The next run has it"};
    return Done{};
}

Outcome LiveRun::setInterval(const QString &timer, std::chrono::milliseconds interval)
{
    auto answer =
        program_->request(link::asks::interval,
                          {{"target", timer}, {"interval_ms", int(interval.count())}, {"timeout_ms", 2000}},
                          std::chrono::seconds(4));
    return answer ? Outcome(Done{}) : Outcome(answer.problem());
}

std::optional<Problem> LiveRun::unrecorded() const
{
    const Ending ending = program_->ending();
    const QString &program = spec_.program.program;
    if (!ending.refused.isEmpty())
        return Problem{ending.refused, program, {}};
    if (!ending.sawToolkit)
        return Problem{"The program ended without using Qt 6, so nothing was recorded (" +
                           ending.text(program) + ")",
                       program, "Record a Qt 6 Widgets program"};
    if (trace_.threadCount() == 0)
        return Problem{"Nothing was recorded: the recorder found no address space in the program, or the "
                       "program ended at once (" +
                           ending.text(program) + ")",
                       program,
                       "Raise the address space limit if there is one (ulimit -v): the recorder reserves 6.4 "
                       "GB, and uses memory for a small part only"};
    return std::nullopt;
}

// Once more, now with what the frames are called, so that they say the same after the program was built anew.
Outcome LiveRun::saveStacks(const QString &path)
{
    std::vector<StackSample> all = trace_.stacks().all();
    QByteArray lines;
    for (StackSample &s : all) {
        handlers_.nameFrames(s);
        lines += StackLog::line(s);
    }
    trace_.stacks().replace(std::move(all));
    return writeFile(path, lines);
}

Result<RunInfo> LiveRun::finish(const PlayReport *play)
{
    sampler_.reset();
    stacksFile_.close();
    RunInfo info;
    info.program = spec_.program.program;
    info.arguments = spec_.program.arguments;
    info.project = spec_.project;
    info.flavour = spec_.flavour;
    info.started = program_->startedAt();
    info.ended = trace_.now();
    info.firstPass = trace_.firstPass();
    info.lastPass =
        trace_.mainWaits() ? 0 : trace_.lastPass(); // no shutdown, if it was ended while it waited
    const Ending ending = program_->ending();
    info.exitCode = ending.exitCode;
    info.signal = ending.signal;
    info.ending = ending.text(info.program);
    if (play) {
        info.play = play->play;
        info.playFingerprint = QString::fromLatin1(play->fingerprint);
        info.playOk = play->ok && !ending.crashed();
        info.playHeld = play->held && !ending.crashed();
        info.playStart = play->start;
        info.playEnd = play->end;
        info.timeToResult = play->timeToResult;
        info.processorTime = play->processorTime;
    }
    info.notes << ending.notes;
    if (const auto unknown = trace_.unknownDeliveries())
        info.notes << counted(unknown, "delivery to an unknown slot", "deliveries to unknown slots");
    if (trace_.lost())
        info.notes << QStringLiteral("%1 records were lost").arg(trace_.lost());
    const bool crashed = ending.crashed();
    const CrashReport crash = crashed ? crashReport(trace_, handlers_) : CrashReport{};
    if (crashed)
        info.notes << crash.running;
    if (!writer_)
        return info;
    if (auto ok = writer_->finish(); !ok) { // what there is is whole, and what stands beside it is kept
        info.notes << ok.problem().text();
        info.cut = true;
    }
    const QString folder = spec_.recordTo + "/pipit";
    // Where there is no room for one of them, the others may still find some.
    const auto kept = [&info](const Outcome &ok) {
        if (!ok)
            info.notes << ok.problem().text();
    };
    kept(handlers_.save(folder + "/handlers.json"));
    if (crashed)
        kept(writeFile(folder + "/crash.txt", crash.text(info.ending).toUtf8()));
    kept(saveStacks(folder + "/stacks.jsonl"));
    if (auto ok = writeFile(folder + "/info.json", QJsonDocument(info.toJson()).toJson()); !ok)
        return ok.problem();
    if (play)
        if (auto ok = writeFile(folder + "/play.json", QJsonDocument(play->toJson()).toJson()); !ok)
            return ok.problem();
    return info;
}

} // namespace pipit
