// Figures as ratios taken side by side in one run: ./dev bench
// [cost|parts|start-parts|looks|edit|stalls|start]
#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/build/compiler.h"
#include "core/edits/workspace.h"
#include "core/pace/stalls.h"
#include "core/runs/live_run.h"
#include "core/userfiles/cpp_scan.h"
#include "link/control.h"

#include <QCoreApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QProcess>
#include <QTemporaryDir>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <numeric>

using namespace pipit;

namespace
{

QString bin(const char *name)
{
    return QCoreApplication::applicationDirPath() + '/' + name;
}

double median(std::vector<double> v)
{
    std::sort(v.begin(), v.end());
    return v.empty() ? 0 : v[v.size() / 2];
}
double worst(const std::vector<double> &v)
{
    return *std::max_element(v.begin(), v.end());
}

void copyFolder(const QString &from, const QString &to)
{
    QDir().mkpath(to);
    for (const QFileInfo &f : QDir(from).entryInfoList(QDir::Files | QDir::Dirs | QDir::NoDotAndDotDot))
        f.isDir() ? copyFolder(f.filePath(), to + '/' + f.fileName())
                  : void(QFile::copy(f.filePath(), to + '/' + f.fileName()));
}

struct Output {
    QByteArray bytes;
    std::mutex mutex;
};

std::unique_ptr<LiveRun> startRecorded(const RunSpec &spec, std::shared_ptr<Output> out)
{
    Program::Callbacks callbacks;
    callbacks.output = [out](const QByteArray &b, bool) {
        std::lock_guard lock(out->mutex);
        out->bytes += b;
    };
    auto run = LiveRun::start(spec, callbacks);
    if (!run)
        qFatal("%s", qPrintable(run.problem().text()));
    return std::move(*run);
}

// What the target told, by name, a run each.
using Told = std::map<QByteArray, std::vector<double>>;

void take(const QByteArray &text, Told &told)
{
    for (const QByteArray &line : text.split('\n'))
        if (const auto words = line.split(' '); words.size() == 2)
            told[words[0]].push_back(words[1].toDouble());
}

// What was asked for must have come: a figure of nothing is none.
void wanted(bool there, const char *what)
{
    if (!there)
        qFatal("%s, so there is nothing to measure", what);
}

// What recording adds, in per cent, as pairs say it: the mean, and the ends of its 95 % interval.
void printPairs(const char *what, const std::vector<double> &without, const std::vector<double> &with)
{
    std::vector<double> added;
    for (std::size_t i = 0; i < with.size(); ++i)
        added.push_back(100 * (with[i] / without[i] - 1));
    const double n = double(added.size());
    const double mean = std::accumulate(added.begin(), added.end(), 0.0) / n;
    double squares = 0;
    for (const double a : added)
        squares += (a - mean) * (a - mean);
    const double half = 2.045 * std::sqrt(squares / (n - 1) / n); // Student's t for 30 pairs
    std::printf("  a recorded %s: %+.1f %%, by the pairs between %+.1f and %+.1f\n", what, mean, mean - half,
                mean + half);
}

constexpr int costRounds = 30;

// Cost of recording, against none and against the filter by hand; triples in turn.
void cost()
{
    Told told[3];
    std::uint64_t lost = 0;
    for (int round = 0; round < costRounds; ++round) {
        for (int kind = 0; kind < 2; ++kind) {
            QProcess p;
            p.start(bin("bench-target"), kind ? QStringList{"filter"} : QStringList());
            wanted(p.waitForFinished(60'000) && p.exitStatus() == QProcess::NormalExit && p.exitCode() == 0,
                   "the target did not end as it should");
            take(p.readAllStandardOutput(), told[kind]);
        }
        QTemporaryDir dir;
        RunSpec spec;
        spec.program.program = bin("bench-target");
        spec.recordTo = dir.path() + "/rec";
        auto out = std::make_shared<Output>();
        auto run = startRecorded(spec, out);
        (void)run->program().waitForEnd(std::chrono::seconds(60));
        wanted(run->trace().spanCount() > 1000, "the target was not recorded");
        lost += run->trace().lost();
        take(out->bytes, told[2]);
    }
    std::printf("cost of watching, medians of %d triples in turn, ns\n", costRounds);
    std::printf("  %-20s %10s %16s %10s\n", "", "none", "filter by hand", "recorded");
    for (const char *what : {"send", "send-undisturbed", "click", "click-undisturbed"}) {
        double each[3];
        for (int k = 0; k < 3; ++k) {
            wanted(told[k][what].size() == costRounds, "the target told no times");
            each[k] = median(told[k][what]);
        }
        std::printf("  %-20s %10.1f %16.1f %10.1f   recording adds %.1f, the filter %.1f\n", what, each[0],
                    each[1], each[2], each[2] - each[0], each[1] - each[0]);
    }
    for (const char *what : {"click", "click-undisturbed"})
        printPairs(what, told[0][what], told[2][what]);
    std::printf("  records lost meanwhile: %llu\n", static_cast<unsigned long long>(lost));
}

// The target once, unrecorded or recorded without a part: what it told.
void runOnce(bool recorded, const char *without, Told &told, const QStringList &arguments = {})
{
    if (!recorded) {
        QProcess p;
        p.start(bin("bench-target"), arguments);
        wanted(p.waitForFinished(60'000) && p.exitCode() == 0, "the target did not end as it should");
        return take(p.readAllStandardOutput(), told);
    }
    qputenv(link::envWithout, without);
    RunSpec spec;
    spec.program.program = bin("bench-target");
    spec.program.arguments = arguments;
    auto out = std::make_shared<Output>();
    auto run = startRecorded(spec, out);
    (void)run->program().waitForEnd(std::chrono::seconds(60));
    wanted(run->trace().spanCount() > 1000, "the target was not recorded");
    qunsetenv(link::envWithout);
    take(out->bytes, told);
}

struct Variant {
    const char *name, *without;
    bool recorded = true;
    Told told = {};
};

std::vector<Variant> variants()
{
    std::vector<Variant> all{{"not recorded", "", false}, {"recorded", ""}};
    for (const char *part : link::parts)
        all.push_back({part, part});
    return all;
}

void printParts(std::vector<Variant> &all, std::size_t rounds, const std::vector<const char *> &figures)
{
    std::printf("recorded without one part, medians of %zu rounds in turn, ns\n  %-14s", rounds, "");
    for (const char *f : figures)
        std::printf(" %18s", f);
    std::printf("\n");
    for (Variant &v : all) {
        std::printf("  %-14s", v.name);
        for (const char *f : figures) {
            wanted(v.told[f].size() == rounds, "the target told no times");
            std::printf(" %18.1f", median(v.told[f]));
        }
        std::printf("\n");
    }
}

// What each part of the recorder takes: the same with one of them left out, all in turn.
void parts()
{
    constexpr int rounds = 15;
    auto all = variants();
    for (int round = 0; round < rounds; ++round)
        for (Variant &v : all)
            runOnce(v.recorded, v.without, v.told);
    printParts(all, rounds, {"send-undisturbed", "send", "click-undisturbed", "click"});
}

// The same of a program's start.
void startParts()
{
    constexpr int rounds = 25;
    auto all = variants();
    for (int round = 0; round < rounds; ++round)
        for (Variant &v : all)
            runOnce(v.recorded, v.without, v.told, {"start"});
    printParts(all, rounds, {"start"});
}

// One more statement in the body of a handler; a bench whose premise is gone must not run.
void editBody(const QString &file, int turn)
{
    auto text = readFile(file);
    const QString code = QString::fromUtf8(*text);
    const auto body = definitionOf(code, "FerryDesk", "boardPassenger");
    if (!body)
        qFatal("the demo has no FerryDesk::boardPassenger to edit");
    QString next = code;
    next.insert(body->bodyOpen + 1, QStringLiteral("\n    setObjectName(\"turn%1\");").arg(turn));
    if (!writeFile(file, next.toUtf8()))
        qFatal("the demo's copy cannot be written");
}

// One way from an edit to the window: its steps, in seconds.
struct Way {
    const char *name;
    QString folder;
    const Compiler &compiler;
    std::map<QString, std::vector<double>> steps = {};
    std::vector<double> build = {}, window = {};

    void once(int turn)
    {
        editBody(folder + "/ferry_desk.cpp", turn);
        QElapsedTimer t;
        t.start();
        auto w = Workspace::open(folder);
        Builder b(w->place(), compiler);
        auto r = b.build(w->project(), w->files());
        if (!r || !r->ok || !r->linked)
            qFatal("the edited demo was not built by %s", name);
        const double built = double(t.nsecsElapsed()) / 1e9;
        RunSpec spec;
        spec.program.program = r->program;
        spec.map = folder + "/generated/map.json";
        auto run = startRecorded(spec, std::make_shared<Output>());
        wanted(bool(run->program().request("window", {}, std::chrono::seconds(20))), "no window appeared");
        const double shown = double(t.nsecsElapsed()) / 1e9;
        run->program().kill();
        (void)run->program().waitForEnd(std::chrono::seconds(5));
        if (turn == 0)
            return; // makes the precompiled header
        for (const auto &[step, ns] : r->steps)
            steps[step].push_back(double(ns) / 1e9);
        build.push_back(built);
        window.push_back(shown);
    }
    void print() const
    {
        std::printf("  %-8s edit to window %.2f s median, %.2f s worst; the build %.2f s:", name,
                    median(window), worst(window), median(build));
        for (const auto &[step, times] : steps)
            std::printf(" %s %.3f", qPrintable(step), median(times));
        std::printf("\n");
    }
};

// From an edit of a handler's body to the window, the ways side by side, with plain CMake beside them.
void edit()
{
    if (!clang())
        qFatal("clang++ is not installed, so there is nothing to compare");
    QTemporaryDir dir;
    std::vector<Way> ways{{"clang++", dir.path() + "/clang", *clang()}, {"g++", dir.path() + "/gcc", gcc()}};
    const QString plain = dir.path() + "/plain";
    for (const QString &folder : {ways[0].folder, ways[1].folder, plain})
        copyFolder(QStringLiteral(PIPIT_SOURCE_DIR "/demos/ferry-desk/before"), folder);
    const auto cmake = [&](const QString &arguments) {
        if (QProcess::execute("sh", {"-c", "cmake " + arguments + " >/dev/null"}) != 0)
            qFatal("plain CMake does not build the demo");
    };
    cmake("-S " + plain + " -B " + dir.path() + "/cm");
    cmake("--build " + dir.path() + "/cm");
    std::vector<double> theirs;
    for (int i = 0; i <= 20; ++i) {
        for (Way &w : ways)
            w.once(i);
        editBody(plain + "/ferry_desk.cpp", i);
        QElapsedTimer t;
        t.start();
        cmake("--build " + dir.path() + "/cm");
        if (i > 0)
            theirs.push_back(double(t.nsecsElapsed()) / 1e9);
    }
    std::printf("edit of a body in the whole ferry desk, 20 in turn:\n");
    for (const Way &w : ways)
        w.print();
    std::printf("  plain cmake --build %.2f s median, %.2f s worst\n", median(theirs), worst(theirs));
    std::printf("  clang++ builds %.2f times as fast as g++, %.2f times as fast as plain CMake\n",
                median(ways[1].build) / median(ways[0].build), median(theirs) / median(ways[0].build));
}

// What looking at the stack costs a program that is busy all the time: the same work, unrecorded and
// recorded, in turn.
void looks()
{
    Told told[2];
    std::size_t taken = 0;
    for (int round = 0; round < costRounds; ++round) {
        QProcess p;
        p.start(bin("bench-target"), {"work"});
        wanted(p.waitForFinished(60'000) && p.exitStatus() == QProcess::NormalExit && p.exitCode() == 0,
               "the target did not end as it should");
        take(p.readAllStandardOutput(), told[0]);
        RunSpec spec;
        spec.program.program = bin("bench-target");
        spec.program.arguments = QStringList{"work"};
        auto out = std::make_shared<Output>();
        auto run = startRecorded(spec, out);
        (void)run->program().waitForEnd(std::chrono::seconds(60));
        taken += run->trace().stacks().all().size();
        take(out->bytes, told[1]);
    }
    wanted(taken >= costRounds * 10, "hardly a stack was looked at");
    for (const Told &t : told)
        wanted(t.count("work") && t.at("work").size() == costRounds, "the target told no times");
    std::printf("a handler that computes for %.2f s, looked at %.1f times; medians of %d pairs in turn\n",
                median(told[0]["work"]) / 1e9, double(taken) / costRounds, costRounds);
    printPairs("and looked at handler, by what it ran", told[0]["work"], told[1]["work"]);
    printPairs("and looked at handler, by the clock", told[0]["work-by-the-clock"],
               told[1]["work-by-the-clock"]);
}

// Stalls against the target's own clock.
void stalls()
{
    RunSpec spec;
    spec.program.program = bin("target-loops");
    for (int ms : {60, 90, 130, 180, 250, 350, 500, 700, 1000, 1500})
        spec.program.arguments << QString::number(ms);
    auto out = std::make_shared<Output>();
    auto run = startRecorded(spec, out);
    (void)run->program().waitForEnd(std::chrono::seconds(60));
    std::vector<double> own, callError, stallError;
    for (const QByteArray &line : out->bytes.split('\n'))
        if (line.startsWith("block "))
            own.push_back(line.mid(6).toDouble());
    std::size_t right = 0;
    for (const Stall &s : stallsOf(run->trace(), run->handlers(), stallBudget)) {
        if (s.contributors.front().handler.name != "Blocker::block" || right >= own.size())
            continue;
        callError.push_back(std::abs(double(s.contributors.front().ns) - own[right]) / 1e6);
        stallError.push_back(std::abs(double(s.duration) - own[right]) / 1e6);
        ++right;
    }
    wanted(own.size() == 10, "the target did not block ten times");
    wanted(!callError.empty(), "no stall was found");
    std::printf("10 stalls of 60 to 1500 ms against the target's own clock: right handler in %zu of %zu;\n"
                "  duration of the handler off by %.3f ms median, %.3f ms worst; of the stall %.3f ms "
                "median, %.3f ms worst\n",
                right, own.size(), median(callError), worst(callError), median(stallError),
                worst(stallError));
}

// From the start of the process to the window with the demo in it, seen by its own recorder.
void start()
{
    std::vector<double> seconds;
    for (int i = 0; i < 11; ++i) {
        RunSpec spec;
        spec.program.program = bin("pipit-window");
        spec.program.arguments = QStringList{QStringLiteral(PIPIT_SOURCE_DIR "/demos/ferry-desk/before")};
        auto run = startRecorded(spec, std::make_shared<Output>());
        wanted(bool(run->program().request("window", {}, std::chrono::seconds(20))), "no window appeared");
        const double shown = double(monotonicNow() - run->program().startedAt()) / 1e9;
        run->program().kill();
        (void)run->program().waitForEnd(std::chrono::seconds(5));
        if (i)
            seconds.push_back(shown);
    }
    std::printf(
        "start of the window with the demo, 10 times, recorder included: %.3f s median, %.3f s worst\n",
        median(seconds), worst(seconds));
}

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    const QString what = argc > 1 ? argv[1] : "all";
    const std::pair<const char *, void (*)()> all[] = {
        {"cost", cost},     {"parts", parts}, {"start-parts", startParts}, {"looks", looks}, {"edit", edit},
        {"stalls", stalls}, {"start", start}};
    bool any = false;
    for (const auto &[name, run] : all)
        if (what == "all" || what == name) {
            run();
            any = true;
        }
    wanted(any, "no bench has that name (cost, parts, start-parts, looks, edit, stalls, start, board)");
    return 0;
}
