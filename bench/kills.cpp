// The proof of kills: the program, Pipit or the keeper is killed at a random moment. What had been recorded
// is there, nobody hangs, and nobody dies but who must.
#include "core/runs/recording.h"
#include "tests/support/support.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QProcess>
#include <QRandomGenerator>

#include <csignal>
#include <cstdio>
#include <thread>

using namespace pipit;
using namespace pipit::tests;
using namespace std::chrono_literals;

namespace
{

constexpr int lines = 60; // the program prints, 5 ms each

QString readable(const QString &folder, bool mayBeEmpty)
{
    auto r = Recording::open(folder);
    if (!r)
        return "the recording cannot be opened: " + r.problem().text();
    for (const QString &note : (*r)->report.notes)
        if (note.contains("torn"))
            return note;
    return mayBeEmpty || (*r)->trace.spanCount() > 0 ? QString() : QStringLiteral("nothing was recorded");
}

// Every other one is busy with all it has, so that its stacks are being taken.
QStringList words(int ms)
{
    return ms % 2 ? QStringList{"spin"} : QStringList{"print", QString::number(lines * 10)};
}

bool waitFor(const std::function<bool()> &what, std::chrono::milliseconds patience)
{
    QElapsedTimer t;
    t.start();
    while (!what()) {
        if (t.elapsed() > patience.count())
            return false;
        std::this_thread::sleep_for(5ms);
    }
    return true;
}

// The children of a process, by the system's own list.
QList<int> childrenOf(qint64 pid)
{
    QFile f(QStringLiteral("/proc/%1/task/%1/children").arg(pid));
    QList<int> all;
    if (f.open(QIODevice::ReadOnly))
        for (const QByteArray &each : f.readAll().split(' '))
            if (each.toInt() > 0)
                all << each.toInt();
    return all;
}

QString killPipit(const QString &dir, int ms)
{
    ms %= 280;
    const QString done = dir + "/done";
    QProcess pipit;
    pipit.setStandardOutputFile(dir + "/out");
    pipit.setStandardErrorFile(dir + "/err");
    pipit.start(
        QCoreApplication::applicationDirPath() + "/pipit",
        {"record", "--out", dir + "/r", "--", targetProgram("alone"), "print", QString::number(lines), done});
    if (!pipit.waitForStarted() || !waitFor([&] { return !childrenOf(pipit.processId()).isEmpty(); }, 5s))
        return "it did not start";
    std::this_thread::sleep_for(std::chrono::milliseconds(ms));
    pipit.kill();
    pipit.waitForFinished();
    if (!waitFor([&] { return QFile::exists(done); }, 10s))
        return "the program did not go on";
    return readable(dir + "/r", true);
}

QString killProgram(const QString &dir, int ms)
{
    RunSpec spec = specOf(targetProgram("alone"), words(ms), dir + "/r");
    auto run = LiveRun::start(spec, {});
    if (!run)
        return run.problem().text();
    std::this_thread::sleep_for(std::chrono::milliseconds(ms + 60)); // not before it is the program at all
    ::kill((*run)->program().pid(), SIGKILL);
    if (!(*run)->program().waitForEnd(5s))
        return "its end was not noticed";
    if ((*run)->program().ending().signal != SIGKILL)
        return QStringLiteral("it ended by signal %1").arg((*run)->program().ending().signal);
    if (auto done = (*run)->finish(); !done)
        return done.problem().text();
    return readable(dir + "/r", ms < 100);
}

QString killKeeper(const QString &dir, int ms)
{
    RunSpec spec = specOf(targetProgram("alone"), words(ms), dir + "/r");
    auto run = LiveRun::start(spec, {});
    if (!run)
        return run.problem().text();
    const int program = (*run)->program().pid();
    QFile status(QStringLiteral("/proc/%1/stat").arg(program));
    int keeper = -1;
    if (status.open(QIODevice::ReadOnly))
        keeper = status.readAll().split(')').last().trimmed().split(' ').value(1).toInt();
    std::this_thread::sleep_for(std::chrono::milliseconds(ms + 60));
    if (keeper <= 1)
        return "no keeper was found";
    ::kill(keeper, SIGKILL);
    if (!(*run)->program().waitForEnd(5s))
        return "its end was not noticed";
    // Its terminal is gone: it is told so by the system, and ends.
    if (!waitFor(
            [&] {
                return !QFile::exists(QStringLiteral("/proc/%1/exe").arg(program)) || ::kill(program, 0) != 0;
            },
            5s))
        return "the program hangs";
    auto done = (*run)->finish();
    if (!done)
        return done.problem().text();
    if (!done->notes.join(' ').contains("How it ended is unknown"))
        return "that its end is not known is not said";
    return readable(dir + "/r", ms < 100);
}

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QFile file(app.arguments().value(1, "kills.txt"));
    const int cases = app.arguments().value(2, "1000").toInt();
    if (!file.open(QIODevice::ReadWrite | QIODevice::Append))
        return 2;
    file.seek(0);
    QHash<int, QByteArray> done;
    for (const QByteArray &line : file.readAll().split('\n'))
        if (const qsizetype at = line.indexOf(' '); at > 0)
            done.insert(line.left(at).toInt(), line.mid(at + 1));
    const char *const whom[] = {"program", "Pipit", "keeper"};
    for (int i = 1; i <= cases; ++i) {
        if (done.contains(i))
            continue;
        QRandomGenerator random(quint32(i) * 7919u);
        const int ms = random.bounded(900) * random.bounded(2) + random.bounded(280);
        QTemporaryDir dir;
        const QString wrong = i % 3 == 0   ? killProgram(dir.path(), ms)
                              : i % 3 == 1 ? killPipit(dir.path(), ms)
                                           : killKeeper(dir.path(), ms);
        const QByteArray line =
            QByteArray(whom[i % 3]) + (wrong.isEmpty() ? " ok" : " WRONG " + wrong.toUtf8());
        file.write(QByteArray::number(i) + ' ' + line + '\n');
        file.flush();
        done.insert(i, line);
        if (!wrong.isEmpty()) {
            std::printf("%d: %s\n", i, line.constData());
            std::fflush(stdout);
        }
    }
    QMap<QByteArray, std::pair<int, int>> counts;
    for (const QByteArray &line : std::as_const(done)) {
        auto &[all, wrong] = counts[line.left(line.indexOf(' '))];
        ++all;
        wrong += line.contains("WRONG");
    }
    int wrongOnes = 0;
    for (auto it = counts.constBegin(); it != counts.constEnd(); ++it) {
        std::printf("%s killed %d times: %d went wrong\n", it.key().constData(), it->first, it->second);
        wrongOnes += it->second;
    }
    return wrongOnes ? 1 : 0;
}
