#include "tests/support/support.h"

#include "core/base/files.h"

#include <QDir>
#include <QProcess>

#include <cstring>

namespace pipit::tests
{

void copyFolder(const QString &from, const QString &to)
{
    QDir().mkpath(to);
    for (const QFileInfo &f : QDir(from).entryInfoList(QDir::Files | QDir::Dirs | QDir::NoDotAndDotDot)) {
        if (f.isDir())
            copyFolder(f.filePath(), to + '/' + f.fileName());
        else
            QFile::copy(f.filePath(), to + '/' + f.fileName());
    }
}

QString demoFolder()
{
    return QStringLiteral(PIPIT_SOURCE_DIR "/demos");
}
QString smallDesk()
{
    return QStringLiteral(PIPIT_SOURCE_DIR "/tests/data/small-desk");
}
QString targetProgram(const QString &name)
{
    return QCoreApplication::applicationDirPath() + "/target-" + name;
}

Ran command(const QString &program, const QStringList &arguments, const QString &folder, int timeoutMs)
{
    QProcess p;
    if (!folder.isEmpty())
        p.setWorkingDirectory(folder);
    p.start(program, arguments);
    if (!p.waitForFinished(timeoutMs)) {
        p.kill();
        p.waitForFinished();
        return {-2, p.readAllStandardOutput(), p.readAllStandardError() + "timed out"};
    }
    return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -3, p.readAllStandardOutput(),
            p.readAllStandardError()};
}

Ran verb(const QStringList &arguments, int timeoutMs)
{
    return command(QCoreApplication::applicationDirPath() + "/pipit", arguments, {}, timeoutMs);
}

Whole runTarget(const QString &name, const QStringList &arguments, const QString &recordTo,
                const QStringList &environment)
{
    Whole w;
    auto bytes = std::make_shared<QByteArray>();
    auto guard = std::make_shared<std::mutex>();
    RunSpec spec;
    spec.program.program = name.contains('/') ? name : targetProgram(name);
    spec.program.arguments = arguments;
    spec.program.environment = environment;
    spec.recordTo = recordTo;
    Program::Callbacks callbacks;
    callbacks.output = [bytes, guard](const QByteArray &b, bool) {
        std::lock_guard lock(*guard);
        bytes->append(b);
    };
    auto run = LiveRun::start(spec, callbacks);
    if (!run) {
        w.info = run.problem();
        return w;
    }
    w.run = std::move(*run);
    if (!w.run->program().waitForEnd(std::chrono::seconds(60)))
        w.run->program().kill();
    (void)w.run->program().waitForEnd(std::chrono::seconds(5));
    w.info = w.run->finish();
    std::lock_guard lock(*guard);
    w.output = *bytes;
    return w;
}

Workspace makeProject(const QString &folder, const std::function<void(Workspace &)> &fill)
{
    auto w = Workspace::create(folder);
    if (!w)
        qFatal("%s", qPrintable(w.problem().text()));
    fill(*w);
    if (auto ok = w->save(); !ok)
        qFatal("%s", qPrintable(ok.problem().text()));
    return std::move(*w);
}

void replaceIn(const QString &file, const QByteArray &from, const QByteArray &to)
{
    auto bytes = readFile(file);
    if (!bytes || !bytes->contains(from))
        qFatal("%s does not hold %s", qPrintable(file), from.constData());
    if (auto ok = writeFile(file, bytes->replace(from, to)); !ok)
        qFatal("%s", qPrintable(ok.problem().text()));
}

std::vector<Span> spansOf(const TraceModel &trace)
{
    std::vector<Span> all;
    inOrder(trace, INT64_MIN, INT64_MAX, [&](const ThreadRows &rows, std::uint32_t row) {
        all.push_back(rows.at(row));
        return true;
    });
    return all;
}

Records::Records(RecordSink &sink, int stream, bool main) : sink_(sink), stream_(stream)
{
    sink.streamOpened(stream, {100, std::uint32_t(main ? 100 : 101 + stream), main});
}

Records &Records::at(std::int64_t ms)
{
    time = 1'000'000'000 + ms * 1'000'000;
    return *this;
}

Records &Records::depth(int d)
{
    depth_ = std::uint16_t(d);
    return *this;
}

static void putText(RecordSink &sink, int stream, link::Record s, const char *text)
{
    s.words[3] = std::strlen(text);
    sink.record(stream, s, text, std::strlen(text));
}

Records &Records::object(std::uint64_t address, const char *text)
{
    putText(sink_, stream_,
            {std::uint64_t(time), std::uint16_t(link::Kind::ObjectName), depth_, 0, {address, 0, 0, 0}},
            text);
    return *this;
}

Records &Records::signalName(std::uint64_t key, const char *text)
{
    putText(sink_, stream_,
            {std::uint64_t(time), std::uint16_t(link::Kind::SignalName), depth_, 0, {key, 0, 0, 0}}, text);
    return *this;
}

Records &Records::fact(link::Fact which, std::uint64_t object, const char *text, std::uint64_t other)
{
    putText(sink_, stream_,
            {std::uint64_t(time),
             std::uint16_t(link::Kind::Fact),
             depth_,
             std::uint32_t(which),
             {object, other, 0, 0}},
            text);
    time += 1000;
    return *this;
}

Records &Records::put(link::Kind kind, std::uint32_t value, std::uint64_t a, std::uint64_t b, std::uint64_t c,
                      std::uint64_t d)
{
    if (link::closes(kind))
        --depth_;
    sink_.record(stream_, {std::uint64_t(time), std::uint16_t(kind), depth_, value, {a, b, c, d}}, nullptr,
                 0);
    if (link::opens(kind))
        ++depth_;
    time += 1000;
    return *this;
}

} // namespace pipit::tests
