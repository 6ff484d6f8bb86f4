#include "tests/support/blockers.h"

#include "core/pace/stalls.h"
#include "tests/support/support.h"

#include <QFile>
#include <QProcess>
#include <QThread>

#include <cmath>
#include <map>
#include <random>

namespace pipit::tests
{

namespace
{

struct Way {          // to block for T ms
    const char *kind; // as Pipit calls it; empty: it may be several
    const char *before, *line, *after;
};

const Way ways[] = {
    {"computing", "QElapsedTimer t; t.start();", "while (t.elapsed() < T) ++sink;", ""},
    {"computing", "", "for (long i = 0, n = rate * T; i < n; ++i) sink = sink * 31 + unsigned(i);", ""},
    {"computing",
     "std::vector<unsigned> v(T * 6000u); for (auto &x : v) x = sink = sink * 1664525 + 1013904223;",
     "std::sort(v.begin(), v.end());", "sink = sink + v[0];"},
    {"computing", "auto &h = *new QHash<int, QString>;",
     "for (int i = 0; i < T * 1500; ++i) h.insert(i * 7, QString::number(i));",
     "sink = sink + unsigned(h.size());"},
    {"computing", "QString s(4000, 'x');",
     "for (int i = 0; i < T * 400; ++i) s = QString::number(i) + s.left(4000);",
     "sink = sink + unsigned(s.size());"},
    {"sleeping", "", "QThread::msleep(T);", ""},
    {"sleeping", "", "usleep(T * 1000);", ""},
    {"sleeping", "", "std::this_thread::sleep_for(std::chrono::milliseconds(T));", ""},
    {"waiting for a lock", "Holder<std::mutex> h(T);", "h.mutex.lock();", "h.mutex.unlock();"},
    {"waiting for a lock", "Holder<QMutex> h(T);", "h.mutex.lock();", "h.mutex.unlock();"},
    {"waiting for a lock", "Holder<QRecursiveMutex> h(T);", "h.mutex.lock();", "h.mutex.unlock();"},
    {"waiting for another thread", "QThread *w = QThread::create([] { QThread::msleep(T); }); w->start();",
     "w->wait();", "delete w;"},
    {"waiting for another thread", "QSemaphore s; std::thread w([&] { QThread::msleep(T); s.release(); });",
     "s.acquire();", "w.join();"},
    {"waiting for another thread", "std::thread w([] { QThread::msleep(T); });", "w.join();", ""},
    {"waiting for another process", "const QString time = QString::number(T / 1000.0);",
     "QProcess::execute(\"/bin/sleep\", {time});", ""},
    {"", "QTemporaryFile f; f.open(); const QByteArray block(65536, 'x');",
     "for (int i = 0; i < T / 2; ++i) { f.write(block); f.flush(); fsync(f.handle()); }", ""},
    {"", "QTemporaryFile f; f.open(); f.write(QByteArray(1 << 20, 'x')); f.flush();",
     "for (int i = 0; i < T * 2; ++i) { f.seek(0); sink = sink + unsigned(f.readAll().size()); }", ""},
};

const char *const head = R"(#include <QApplication>
#include <QElapsedTimer>
#include <QHash>
#include <QMutex>
#include <QProcess>
#include <QSemaphore>
#include <QTemporaryFile>
#include <QThread>
#include <QTimer>
#include <QWidget>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <mutex>
#include <thread>
#include <time.h>
#include <unistd.h>
#include <vector>
volatile unsigned sink = 1;
long rate = 1;
long long now()
{
    timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return t.tv_sec * 1000000000LL + t.tv_nsec;
}
std::vector<QTimer *> timers;
std::vector<long long> begun, ended;
struct Truth {
    Truth(std::size_t i) : i(i) { begun[i] = now(); }
    ~Truth()
    {
        ended[i] = now();
        if (i + 1 < timers.size())
            timers[i + 1]->start(70);
        else
            QTimer::singleShot(70, qApp, &QCoreApplication::quit);
    }
    std::size_t i;
};
template <class Mutex> struct Holder {
    Holder(int ms) : held(false), thread([this, ms] { mutex.lock(); held = true; QThread::msleep(unsigned(ms)); mutex.unlock(); })
    {
        while (!held)
            std::this_thread::yield();
    }
    ~Holder() { thread.join(); }
    Mutex mutex;
    std::atomic<bool> held;
    std::thread thread;
};
)";

struct Expected {
    QString handler, kind, code;
    int line = 0;
};

struct Source {
    QStringList lines;
    std::vector<Expected> blockers;
    int add(const QString &line)
    {
        lines << line;
        return int(lines.size());
    }
};

enum class Form { Lambda, Member, Function, Calling };

Source generate(unsigned seed)
{
    constexpr std::size_t count = 12;
    std::mt19937 random(seed * 7919);
    const auto pick = [&](int n) { return int(random() % unsigned(n)); };
    Source s;
    s.lines = QString(head).split('\n');
    s.lines.removeLast();
    QStringList members, connects;
    struct Planned {
        const Way *way;
        QString time;
        Form form;
    };
    std::vector<Planned> plan;
    for (std::size_t i = 0; i < count; ++i)
        plan.push_back({&ways[pick(int(std::size(ways)))],
                        QString::number(pick(5) == 0 ? 20 + pick(20) : 60 + pick(pick(3) ? 200 : 640)),
                        Form(pick(4))});
    s.blockers.resize(count);
    const auto body = [&](std::size_t i, bool truth) {
        const auto text = [&](const char *words) {
            return QString(words).replace(QRegularExpression("\\bT\\b"), plan[i].time);
        };
        if (truth)
            s.add(QStringLiteral("    Truth truth(%1);").arg(i));
        if (*plan[i].way->before)
            s.add("    " + text(plan[i].way->before));
        s.blockers[i].line = s.add("    " + text(plan[i].way->line));
        if (*plan[i].way->after)
            s.add("    " + text(plan[i].way->after));
        s.blockers[i].kind = plan[i].way->kind;
        s.blockers[i].code = text(plan[i].way->line);
    };
    // Functions first; what lambdas do stands where they are connected.
    for (std::size_t i = 0; i < count; ++i)
        if (plan[i].form == Form::Function || plan[i].form == Form::Calling) {
            const bool calling = plan[i].form == Form::Calling;
            s.add(QStringLiteral("%1void work%2()").arg(calling ? "static " : "").arg(i));
            s.add("{");
            body(i, !calling);
            s.add("}");
            s.blockers[i].handler = QStringLiteral("work%1").arg(i);
        }
    s.add("struct Window : QWidget {");
    for (std::size_t i = 0; i < count; ++i)
        if (plan[i].form == Form::Member) {
            s.add(QStringLiteral("    void block%1()").arg(i));
            s.add("    {");
            body(i, true);
            s.add("    }");
            s.blockers[i].handler = QStringLiteral("Window::block%1").arg(i);
        }
    s.add("};");
    s.add("int main(int argc, char **argv)");
    s.add("{");
    s.add("    QApplication app(argc, argv);");
    s.add("    Window window; window.show();");
    s.add("    const long long from = now(); long n = 0;");
    s.add("    for (; now() - from < 20000000; n += 1000) for (int i = 0; i < 1000; ++i) sink = sink * 31 + "
          "unsigned(i);");
    s.add("    rate = n / 20;");
    s.add(QStringLiteral("    begun.resize(%1); ended.resize(%1);").arg(count));
    for (std::size_t i = 0; i < count; ++i) {
        s.add(QStringLiteral("    auto *timer%1 = new QTimer(&window); timer%1->setSingleShot(true); "
                             "timers.push_back(timer%1);")
                  .arg(i));
        const QString start =
            QStringLiteral("    QObject::connect(timer%1, &QTimer::timeout, &window, ").arg(i);
        if (plan[i].form == Form::Member)
            s.add(start + QStringLiteral("&Window::block%1);").arg(i));
        else if (plan[i].form == Form::Function)
            s.add(start + QStringLiteral("&work%1);").arg(i));
        else {
            const int at = s.add(start + "[] {");
            s.blockers[i].handler = QStringLiteral("lambda at blockers.cpp:%1").arg(at);
            if (plan[i].form == Form::Calling)
                s.add(QStringLiteral("    Truth truth(%1); work%1();").arg(i));
            else
                body(i, true);
            s.add("    });");
        }
    }
    s.add("    timers[0]->start(300);");
    s.add("    const int code = app.exec();");
    s.add("    for (std::size_t i = 0; i < timers.size(); ++i) std::printf(\"BLOCK %zu %lld %lld\\n\", i, "
          "begun[i], ended[i]);");
    s.add("    return code;");
    s.add("}");
    return s;
}

QString build(const QString &folder, const Source &source, bool optimised)
{
    QFile file(folder + "/blockers.cpp");
    if (!file.open(QIODevice::WriteOnly))
        return file.errorString();
    file.write(source.lines.join('\n').toUtf8() + '\n');
    file.close();
    const Ran flags = command("pkg-config", {"--cflags", "--libs", "Qt6Widgets"});
    QStringList words{"-std=c++17",    "-g", optimised ? "-O2" : "-O0", "-fPIC", "-pthread",
                      file.fileName(), "-o", folder + "/blockers"};
    words += QString::fromUtf8(flags.out).simplified().split(' ');
    const Ran built = command("g++", words);
    return built.code == 0 ? QString() : QString::fromUtf8(built.err.left(2000));
}

void judgeOne(const BlockerCase &c, const Expected &expected, std::int64_t start, std::int64_t took,
              std::vector<Stall> &reported, BlockerVerdict &v)
{
    // What lies around the handler in its turn may lift it over the budget, or not.
    constexpr std::int64_t near = 3'000'000;
    ++v.blockers;
    const auto tell = [&](const QString &what) {
        v.wrong << c.text() + ": " + expected.handler + ' ' + what + ": " + expected.code;
    };
    const auto at = std::find_if(reported.begin(), reported.end(), [&](const Stall &s) {
        return s.start <= start + 1'000'000 && s.start + s.duration >= start + took - 1'000'000;
    });
    const std::int64_t budget = std::chrono::nanoseconds(stallBudget).count();
    v.stalls += took >= budget;
    if (at == reported.end()) {
        if (took >= budget) {
            ++v.missed;
            tell(QStringLiteral("missed, %1 ms").arg(double(took) / 1e6));
        }
        return;
    }
    const Stall stall = *at;
    reported.erase(at);
    if (took < budget) {
        if (took < budget - near && !stall.processor.machineWasBusy() && !c.load) {
            ++v.falseOnes;
            tell(
                QStringLiteral("took %1 ms, and was said: %2").arg(double(took) / 1e6).arg(stall.sentence()));
        }
        return;
    }
    ++v.found;
    v.busy += stall.processor.machineWasBusy();
    v.off.push_back(std::abs(double(stall.duration - took)) / 1e6);
    const QString name = stall.contributors.front().handler.name;
    if (name != expected.handler) {
        ++v.wrongHandler;
        tell("was called " + name);
    }
    if (stall.places.empty()) {
        ++v.noLine;
        tell(QStringLiteral("has no line, %1 ms, %2 looks").arg(double(took) / 1e6).arg(stall.hot.looks));
    } else if (stall.places.front().line != expected.line ||
               !stall.places.front().file.endsWith("/blockers.cpp")) {
        ++v.wrongLine;
        tell(QStringLiteral("%1 ms in line %2, said %3")
                 .arg(double(took) / 1e6)
                 .arg(expected.line)
                 .arg(stall.places.front().text()));
    }
    if (!expected.kind.isEmpty() && !stall.blocking.empty()) {
        ++v.kinds;
        if (blockingWords(stall.blocking.front().blocking) != expected.kind) {
            ++v.wrongKind;
            tell(expected.kind + ", said " + blockingSentence(stall.blocking));
        }
    }
}

} // namespace

BlockerCase BlockerCase::of(unsigned seed)
{
    return {seed, seed % 2 == 0, seed % 5 == 0};
}

QString BlockerCase::text() const
{
    return QStringLiteral("seed %1, %2%3").arg(seed).arg(optimised ? "-O2" : "-O0", load ? ", load" : "");
}

BlockerVerdict judgeBlockers(const BlockerCase &c)
{
    BlockerVerdict v;
    QTemporaryDir dir;
    const Source source = generate(c.seed);
    if (const QString problem = build(dir.path(), source, c.optimised); !problem.isEmpty()) {
        v.wrong << c.text() + ": " + problem;
        ++v.missed;
        return v;
    }
    std::vector<std::unique_ptr<QProcess>> hogs;
    for (int i = 0; c.load && i < QThread::idealThreadCount(); ++i) {
        hogs.push_back(std::make_unique<QProcess>());
        hogs.back()->start("/bin/sh", {"-c", "while :; do :; done"});
    }
    const Whole w = runTarget(dir.path() + "/blockers");
    for (auto &hog : hogs) {
        hog->kill();
        hog->waitForFinished();
    }
    std::map<std::size_t, std::pair<std::int64_t, std::int64_t>> truth;
    for (const QByteArray &line : w.output.split('\n'))
        if (const auto words = line.split(' '); words.size() == 4 && words[0] == "BLOCK")
            truth[words[1].toULong()] = {words[2].toLongLong(), words[3].toLongLong()};
    if (!w.run || truth.size() != source.blockers.size()) {
        v.wrong << c.text() + ": it did not end: " + QString::fromUtf8(w.output.right(300));
        ++v.missed;
        return v;
    }
    auto reported = stallsOf(w.run->trace(), w.run->handlers(), stallBudget);
    for (const auto &[i, times] : truth)
        judgeOne(c, source.blockers[i], times.first, times.second - times.first, reported, v);
    for (const Stall &s : reported) {
        // A loop that had no processor for so long was not served, whoever is to blame.
        if (c.load && s.processor.machineWasBusy())
            continue;
        ++v.falseOnes;
        v.wrong << c.text() + ": false: " + s.sentence();
    }
    return v;
}

void BlockerVerdict::add(const BlockerVerdict &o)
{
    blockers += o.blockers;
    stalls += o.stalls;
    found += o.found;
    missed += o.missed;
    falseOnes += o.falseOnes;
    wrongHandler += o.wrongHandler;
    wrongLine += o.wrongLine;
    noLine += o.noLine;
    wrongKind += o.wrongKind;
    kinds += o.kinds;
    busy += o.busy;
    off.insert(off.end(), o.off.begin(), o.off.end());
    wrong += o.wrong;
}

QString BlockerVerdict::text() const
{
    std::vector<double> sorted = off;
    std::sort(sorted.begin(), sorted.end());
    const auto at = [&](double part) {
        return sorted.empty()
                   ? 0.0
                   : sorted[std::min(sorted.size() - 1, std::size_t(part * double(sorted.size())))];
    };
    return QStringLiteral(
               "%1 blockers, %2 stalls: %3 found, %4 missed, %5 false; wrong handler %6; line right %7 of "
               "%3 (%8 without one); kind right %9 of %10; duration off by %11 ms in the median, %12 at the "
               "99th percentile, %13 at most; the machine was busy in %14")
        .arg(blockers)
        .arg(stalls)
        .arg(found)
        .arg(missed)
        .arg(falseOnes)
        .arg(wrongHandler)
        .arg(found - wrongLine - noLine)
        .arg(noLine)
        .arg(kinds - wrongKind)
        .arg(kinds)
        .arg(at(0.5), 0, 'f', 2)
        .arg(at(0.99), 0, 'f', 2)
        .arg(at(1), 0, 'f', 2)
        .arg(busy);
}

QByteArray BlockerVerdict::toLine() const
{
    QByteArray line;
    for (const int n : {blockers, stalls, found, missed, falseOnes, wrongHandler, wrongLine, noLine,
                        wrongKind, kinds, busy})
        line += QByteArray::number(n) + ' ';
    QByteArrayList offs;
    for (const double o : off)
        offs << QByteArray::number(o, 'f', 2);
    return line + '\t' + offs.join(' ') + '\t' + wrong.join(" | ").toUtf8();
}

BlockerVerdict BlockerVerdict::fromLine(const QByteArray &line)
{
    BlockerVerdict v;
    const auto parts = line.split('\t');
    const auto numbers = parts.value(0).split(' ');
    int *const fields[] = {&v.blockers,  &v.stalls, &v.found,     &v.missed, &v.falseOnes, &v.wrongHandler,
                           &v.wrongLine, &v.noLine, &v.wrongKind, &v.kinds,  &v.busy};
    for (std::size_t i = 0; i < std::size(fields); ++i)
        *fields[i] = numbers.value(qsizetype(i)).toInt();
    for (const QByteArray &o : parts.value(1).split(' '))
        if (!o.isEmpty())
            v.off.push_back(o.toDouble());
    if (const QByteArray said = parts.value(2).trimmed(); !said.isEmpty())
        v.wrong = QString::fromUtf8(said).split(" | ");
    return v;
}

} // namespace pipit::tests
