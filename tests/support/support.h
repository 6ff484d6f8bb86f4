// What tests share: folders of their own, the demo, programs built from a few lines, records made
// by hand.
#pragma once

#include "core/codegen/generate.h"
#include "core/edits/workspace.h"
#include "core/runner/program.h"
#include "core/runs/live_run.h"

#include "core/trace/order.h"

#include <QTemporaryDir>
#include <QTest>

namespace pipit::tests
{

void copyFolder(const QString &from, const QString &to);
QString demoFolder(); // demos/, in the source tree
QString smallDesk();  // the ferry desk as it once was: a handful of widgets, before/ and after/
QString targetProgram(const QString &name); // a program from tests/targets

// Runs a pipit verb; what it printed and its exit code.
struct Ran {
    int code = -1;
    QByteArray out, err;
};
Ran verb(const QStringList &arguments, int timeoutMs = 120'000);
Ran command(const QString &program, const QStringList &arguments, const QString &folder = {},
            int timeoutMs = 240'000);

// A whole run of a program, ended by itself.
struct Whole {
    std::unique_ptr<LiveRun> run;
    QByteArray output;
    Result<RunInfo> info = Problem{"not run", {}, {}};
};
Whole runTarget(const QString &name, const QStringList &arguments = {}, const QString &recordTo = {},
                const QStringList &environment = {});

// A project with its handlers' bodies replaced, in a folder of its own.
Workspace makeProject(const QString &folder, const std::function<void(Workspace &)> &fill);
void replaceIn(const QString &file, const QByteArray &from, const QByteArray &to);

// All spans of a trace, as they began.
std::vector<Span> spansOf(const TraceModel &trace);

// Records by hand, on one stream, a microsecond apart unless told otherwise.
class Records
{
public:
    explicit Records(RecordSink &sink, int stream = 0, bool main = true);
    Records &at(std::int64_t ms);
    Records &object(std::uint64_t address, const char *text);
    Records &signalName(std::uint64_t key, const char *text);
    Records &put(link::Kind kind, std::uint32_t value = 0, std::uint64_t a = 0, std::uint64_t b = 0,
                 std::uint64_t c = 0, std::uint64_t d = 0);
    Records &fact(link::Fact which, std::uint64_t object, const char *text, std::uint64_t other = 0);
    Records &depth(int d);
    std::int64_t time = 1'000'000'000;

private:
    RecordSink &sink_;
    int stream_;
    std::uint16_t depth_ = 0;
};

} // namespace pipit::tests
