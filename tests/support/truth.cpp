#include "tests/support/truth.h"

#include "core/pace/stalls.h"
#include "core/runs/recording.h"
#include "tests/support/support.h"

#include <QElapsedTimer>
#include <QProcess>

#include <cmath>
#include <csignal>

namespace pipit::tests
{

namespace
{

struct ToldStall {
    bool unfinished = false;
    std::int64_t start = 0, length = 0;
    std::int64_t disturbed = 0; // what the machine may have added
    QString name;
};

struct Turn {
    std::int64_t start = 0, length = 0;
};

struct Truth {
    std::vector<ToldStall> stalls; // over the budget
    std::vector<Turn> turns;       // others of the loop that took long
    QMap<QString, int> calls;
};

// Which line a lambda stands on is known where the build says so; else the function around it is.
QString named(const TruthCase &c, const QString &name, int line)
{
    return line > 0 && !c.variant.contains("bare") ? QStringLiteral("lambda at truth.cpp:%1").arg(line)
                                                   : name;
}

Truth truthOf(const TruthCase &c, const QByteArray &output)
{
    Truth t;
    for (const QByteArray &each : output.split('\n')) {
        const QList<QByteArray> w = each.trimmed().split(' ');
        if (w.size() >= 7 && w[0] == "STALL") {
            ToldStall s;
            s.unfinished = w[1] == "unfinished";
            s.start = w[2].toLongLong();
            s.length = w[3].toLongLong();
            s.disturbed = w[4].toLongLong();
            s.name = named(c, QString::fromUtf8(w.mid(6).join(' ')), w[5].toInt());
            if (overBudget(s.length))
                t.stalls.push_back(s);
        } else if (w.size() >= 3 && w[0] == "TURN") {
            t.turns.push_back({w[1].toLongLong(), w[2].toLongLong()});
        } else if (w.size() >= 4 && w[0] == "CALL") {
            t.calls[named(c, QString::fromUtf8(w.mid(3).join(' ')), w[2].toInt())] += w[1].toInt();
        }
    }
    return t;
}

struct Seen {
    std::shared_ptr<Recording> recording;
    QByteArray output;
    QString problem;
};

// From the command line, as a person would record it; where records shall be lost, the program stops Pipit
// for a while and floods it.
Seen record(const TruthCase &c, const QString &folder)
{
    Seen seen;
    QProcess hog, pipit;
    if (c.load)
        hog.start("/bin/sh", {"-c", "while :; do :; done"});
    QStringList words{"record", "--out", folder + "/r"};
    if (c.ending == "hang")
        words << "--for"
              << "5";
    words << "--" << targetProgram("truth-" + c.variant) << QString::number(c.seed) << c.ending;
    if (c.loss)
        words << "noise";
    pipit.start(QCoreApplication::applicationDirPath() + "/pipit", words);
    // A program that was ended while it had Pipit stopped does not let it go on.
    bool ended = false;
    for (int i = 0; i < 6 && !ended; ++i) {
        ended = pipit.waitForFinished(10'000);
        if (!ended)
            ::kill(pid_t(pipit.processId()), SIGCONT);
    }
    if (!ended)
        seen.problem = "it did not end";
    pipit.kill();
    pipit.waitForFinished();
    hog.kill();
    hog.waitForFinished();
    seen.output = pipit.readAllStandardOutput();
    auto recording = Recording::open(folder + "/r");
    if (recording)
        seen.recording = std::move(*recording);
    else
        seen.problem = recording.problem().text();
    return seen;
}

// The loop wakes a little before Pipit counts the turn, and the target tells its end a little late.
bool covers(const Turn &t, const Stall &r)
{
    constexpr std::int64_t around = 2'000'000;
    return t.start - around <= r.start && r.start + r.duration <= t.start + t.length + around;
}

void judgeStalls(const TruthCase &c, const Truth &truth, Seen &seen, Verdict &v)
{
    // What a thread that is ready must wait for a processor is time in which the loop did not look for work;
    // where that lies between two looks at its own clock the program does not see it.
    const double tolerance = c.load || c.loss ? 30 : 2;
    auto reported = stallsOf(seen.recording->trace, seen.recording->handlers, stallBudget);
    const auto tell = [&](const QString &what) { v.wrong << c.text() + ": " + what; };
    for (const ToldStall &s : truth.stalls) {
        ++v.stalls;
        const auto found = std::find_if(reported.begin(), reported.end(), [&](const Stall &r) {
            return r.start <= s.start + 1'000'000 && r.start + r.duration >= s.start + s.length - 1'000'000;
        });
        if (found == reported.end()) {
            const bool lost = seen.recording->trace.lost() > 0;
            ++(lost ? v.notKnown : v.missed);
            if (!lost)
                tell(QStringLiteral("missed %1, %2 ms").arg(s.name).arg(double(s.length) / 1e6));
            continue;
        }
        ++v.found;
        const Contributor &first = found->contributors.front();
        // An event's own handling takes in what the toolkit does before it, painting most of all.
        const double more = s.name.contains("own") ? 4 : 0;
        const double off = double(found->duration - s.length) / 1e6, machine = double(s.disturbed) / 1e6;
        const bool calm = s.disturbed < s.length / 20;
        if (!s.unfinished) {
            if (calm)
                v.worstLength = std::max(v.worstLength, std::abs(off));
            if (off < -tolerance - machine || off > tolerance + machine + more) {
                ++v.wrongLength;
                tell(QStringLiteral("%1 took %2 ms, not %3")
                         .arg(s.name)
                         .arg(double(s.length) / 1e6)
                         .arg(double(found->duration) / 1e6));
            }
        }
        if (found->open != s.unfinished) {
            ++v.wrongEnd;
            tell(s.name + (s.unfinished ? " had not ended" : " had ended"));
        }
        if (s.name != "ending" && first.handler.name != s.name && (calm || !s.name.contains("together"))) {
            ++v.wrongName;
            tell(QStringLiteral("%1 was called %2").arg(s.name, first.handler.name));
        }
        reported.erase(found);
    }
    for (const Stall &r : reported) {
        if (double(r.duration) / 1e6 < double(stallBudget.count()) + tolerance + 6)
            continue; // a step a little under the budget, with what is around it
        if (std::any_of(truth.turns.begin(), truth.turns.end(), [&](const Turn &t) { return covers(t, r); }))
            continue; // many small things, on a busy machine
        ++v.falseOnes;
        tell("false: " + r.sentence());
    }
}

} // namespace

TruthCase TruthCase::of(unsigned seed)
{
    const QStringList variants{"O0", "O2", "O2-bare", "clang", "O2-lto"};
    const QStringList endings{"quit", "crash", "quit", "exit", "hang", "quit"};
    TruthCase c;
    c.seed = seed;
    c.variant = variants[int(seed % unsigned(variants.size()))];
    c.ending = endings[int(seed / 5 % unsigned(endings.size()))];
    c.load = seed % 7 == 0;
    c.loss = seed % 11 == 0;
    return c;
}

QString TruthCase::text() const
{
    return QStringLiteral("seed %1, %2, %3%4%5")
        .arg(seed)
        .arg(variant, ending, load ? ", load" : "", loss ? ", loss" : "");
}

Verdict judge(const TruthCase &c)
{
    Verdict v;
    QTemporaryDir dir;
    Seen seen = record(c, dir.path());
    if (!seen.problem.isEmpty() || !seen.recording) {
        ++v.missed;
        v.wrong << c.text() + ": " + seen.problem;
        return v;
    }
    const Truth truth = truthOf(c, seen.output);
    if (c.loss && seen.recording->trace.lost() == 0)
        v.wrong << c.text() + ": nothing was lost, so nothing is shown about losses";
    judgeStalls(c, truth, seen, v);
    if (truth.calls.isEmpty() || seen.recording->trace.lost() > 0)
        return v; // it did not come to count them, or some may be lost
    QMap<QString, int> calls;
    for (const CallRow &row : callsOf(seen.recording->trace, seen.recording->handlers))
        ++calls[row.handler.name];
    for (auto it = truth.calls.constBegin(); it != truth.calls.constEnd(); ++it) {
        const int told = calls.value(it.key());
        v.calls += *it;
        v.callsMissed += std::max(0, *it - told);
        // Without lines lambdas share a name with others that are not counted.
        const bool exact = !it.key().startsWith("lambda in ");
        v.callsFalse += exact ? std::max(0, told - *it) : 0;
        if (told < *it || (exact && told > *it))
            v.wrong
                << QStringLiteral("%1: %2 ran %3 times, not %4").arg(c.text(), it.key()).arg(*it).arg(told);
    }
    return v;
}

void Verdict::add(const Verdict &o)
{
    stalls += o.stalls;
    found += o.found;
    missed += o.missed;
    notKnown += o.notKnown;
    falseOnes += o.falseOnes;
    wrongName += o.wrongName;
    wrongLength += o.wrongLength;
    wrongEnd += o.wrongEnd;
    calls += o.calls;
    callsMissed += o.callsMissed;
    callsFalse += o.callsFalse;
    worstLength = std::max(worstLength, o.worstLength);
    wrong += o.wrong;
}

QString Verdict::text() const
{
    return QStringLiteral("%1 stalls: %2 found, %3 missed, %4 not known beside a loss, %5 false, %6 by a "
                          "wrong name, %7 of a "
                          "wrong length (worst %8 ms off), %9 with a wrong end")
               .arg(stalls)
               .arg(found)
               .arg(missed)
               .arg(notKnown)
               .arg(falseOnes)
               .arg(wrongName)
               .arg(wrongLength)
               .arg(worstLength, 0, 'f', 1)
               .arg(wrongEnd) +
           QStringLiteral("; %1 calls: %2 missed, %3 false").arg(calls).arg(callsMissed).arg(callsFalse);
}

} // namespace pipit::tests
