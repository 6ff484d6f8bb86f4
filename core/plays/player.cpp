#include "core/plays/player.h"

#include "core/pace/timers.h"
#include "core/project/model.h"
#include "link/control.h"

#include <QJsonArray>

#include <ctime>
#include <thread>

namespace pipit
{

using namespace std::chrono_literals;

namespace
{

constexpr auto answerTime = 30s; // an expectation waits this long for a frozen loop

class Player
{
public:
    Player(Program &p, const TraceModel &t, Handlers &h, const std::atomic<bool> &c)
        : program_(p), trace_(t), handlers_(h), cancel_(c)
    {
    }

    void run(StepResult &r);
    std::int64_t playStart = 0;
    std::int64_t lastInput = 0;
    std::int64_t timeToResult = 0;

private:
    void fail(StepResult &r, const QString &found, const QString &expected = {})
    {
        r.ok = false;
        r.found = found;
        r.expected = expected;
    }
    void input(StepResult &r, const QString &method, QJsonObject params);
    void expectState(StepResult &r);
    void sleepFor(std::chrono::milliseconds time);
    QString whoBlocks();
    bool settle(StepResult &r, std::chrono::milliseconds patience);
    bool complete(StepResult &r, const QString &expected);
    void expectCalls(StepResult &r);
    void expectPace(StepResult &r);
    void expectWait(StepResult &r);
    void expectEvery(StepResult &r);

    Program &program_;
    const TraceModel &trace_;
    Handlers &handlers_;
    const std::atomic<bool> &cancel_;
};

void Player::input(StepResult &r, const QString &method, QJsonObject params)
{
    params["target"] = r.step.subject;
    if (r.step.row)
        params["row"] = r.step.row;
    auto answer = program_.request(method, params, answerTime);
    if (!answer)
        return fail(r, answer.problem().text());
    lastInput = std::int64_t((*answer)["posted_ns"].toDouble());
    // It ended by this input: of a drag, before it was let go.
    if (!answer->contains("x") && r.step.verb == PlayVerb::Drag)
        fail(r, "The program ended during the drag");
}

void Player::expectState(StepResult &r)
{
    const PlayStep &step = r.step;
    const auto within = step.time;
    auto answer = program_.request(link::asks::state,
                                   {{"target", step.subject},
                                    {"kind", step.kind},
                                    {"text", step.text},
                                    {"is", step.is},
                                    {"number", step.number},
                                    {"within_ms", int(within.count())},
                                    {"timeout_ms", within.count() > 0 ? int(within.count()) : 25'000}},
                                   answerTime + within);
    if (!answer)
        return fail(r, answer.problem().text() + whoBlocks(), step.expected());
    if (!(*answer)["met"].toBool())
        return fail(r, (*answer)["found"].toString(), step.expected());
    if (step.kind == "text" || step.kind == "containing")
        timeToResult = std::max(timeToResult, monotonicNow() - std::max(lastInput, playStart));
}

void Player::sleepFor(std::chrono::milliseconds time)
{
    const auto until = std::chrono::steady_clock::now() + time;
    while (!cancel_ && std::chrono::steady_clock::now() < until)
        std::this_thread::sleep_for(
            std::min<std::chrono::nanoseconds>(20ms, until - std::chrono::steady_clock::now()));
}

// Who keeps the loop busy, if it is: ": lockOneTwo blocked the loop for 2.3 s; it had not ended."
QString Player::whoBlocks()
{
    const auto open = openStall(trace_, handlers_, stallBudget);
    return open ? ": " + open->sentence().chopped(1) : QString();
}

// Waits until all input so far is worked off and its records are here. A loop that has been blocked longer
// than `patience` is not waited for.
bool Player::settle(StepResult &r, std::chrono::milliseconds patience)
{
    constexpr auto slice = 250ms;
    const auto until = std::chrono::steady_clock::now() + answerTime;
    for (;;) {
        auto answer = program_.request(link::asks::idle, {{"timeout_ms", int(slice.count())}}, answerTime);
        if (answer)
            break;
        const auto open = openStall(trace_, handlers_, stallBudget);
        const bool frozen = open && std::chrono::nanoseconds(open->duration) > patience;
        if (!program_.running() || cancel_ || frozen || std::chrono::steady_clock::now() >= until) {
            fail(r, answer.problem().text() + whoBlocks());
            return false;
        }
    }
    program_.drainNow();
    return true;
}

// What was lost may have been what is asked for: then nothing is known, and that is no success.
bool Player::complete(StepResult &r, const QString &expected)
{
    if (trace_.lost() == 0)
        return true;
    fail(r, QStringLiteral("unknown: %1 records were lost").arg(trace_.lost()), expected);
    return false;
}

void Player::expectCalls(StepResult &r)
{
    if (!settle(r, 25s))
        return;
    int count = 0;
    const QString name = r.step.subject, take = functionName(name, Part::Take);
    for (const CallRow &c : callsOf(trace_, handlers_, {playStart, INT64_MAX}))
        count += c.handler.name == name || c.handler.name == take || c.handler.name.endsWith("::" + name);
    const auto calls = [](int n) { return QStringLiteral("%1 %2").arg(n).arg(n == 1 ? "call" : "calls"); };
    if (complete(r, calls(r.step.count)) && count != r.step.count)
        fail(r, calls(count), calls(r.step.count));
}

void Player::expectPace(StepResult &r)
{
    if (!settle(r, std::max<std::chrono::milliseconds>(r.step.time, 1000ms)))
        return;
    std::int64_t worst = 0;
    QString sentence;
    for (const Stall &s : stallsOf(trace_, handlers_, r.step.time, {playStart, INT64_MAX}))
        if (s.duration > worst) {
            worst = s.duration;
            sentence = s.sentence();
        }
    const QString expected = QStringLiteral("no stall over %1 ms").arg(r.step.time.count());
    if (worst > 0)
        fail(r, sentence, expected);
    else
        (void)complete(r, expected);
}

void Player::expectWait(StepResult &r)
{
    if (!settle(r, std::max<std::chrono::milliseconds>(r.step.time, 1000ms)))
        return;
    const WaitRow *worst = nullptr;
    const auto waits = waitsOf(trace_, {playStart, INT64_MAX});
    for (const WaitRow &w : waits)
        if (w.kind == "input" && w.posted >= playStart && (!worst || w.wait > worst->wait))
            worst = &w;
    const QString expected = QStringLiteral("every input waits less than %1 ms").arg(r.step.time.count());
    if (!worst)
        return fail(r, "no input at all", expected);
    if (std::chrono::nanoseconds(worst->wait) >= r.step.time)
        return fail(r, QStringLiteral("%1 waited %2").arg(worst->what, durationText(worst->wait)), expected);
    (void)complete(r, expected);
}

void Player::expectEvery(StepResult &r)
{
    if (!settle(r, 25s))
        return;
    const QString expected =
        QStringLiteral("every %1 ms within %2 ms").arg(r.step.every.count()).arg(r.step.time.count());
    const auto timers = timersOf(trace_, {playStart, INT64_MAX});
    const auto timer = std::find_if(timers.begin(), timers.end(),
                                    [&](const TimerRow &t) { return t.name == r.step.subject; });
    if (timer == timers.end() || timer->intervals.empty())
        return fail(r,
                    timer == timers.end() ? "no tick since the start of the play"
                                          : "one tick since the start of the play",
                    expected);
    const std::int64_t every = std::chrono::nanoseconds(r.step.every).count(),
                       within = std::chrono::nanoseconds(r.step.time).count();
    const Spread &kept = timer->intervals;
    const bool late = kept.most() > every + within;
    if (late || kept.least() < every - within)
        return fail(r,
                    QStringLiteral("an interval of %1; in the median %2")
                        .arg(durationText(late ? kept.most() : kept.least()), durationText(kept.median())),
                    expected);
    (void)complete(r, expected);
}

void Player::run(StepResult &r)
{
    switch (r.step.verb) {
    case PlayVerb::Click:
        return input(r, link::asks::click, {{"how", int(r.step.click)}});
    case PlayVerb::Wheel:
        return input(r, link::asks::wheel, {{"steps", r.step.count}});
    case PlayVerb::Type:
        return input(r, link::asks::type, {{"text", r.step.text}});
    case PlayVerb::Press:
        return input(r, link::asks::press, {{"key", r.step.text}});
    case PlayVerb::Hover:
        return input(r, link::asks::hover, {{"x", r.step.x}, {"y", r.step.y}});
    case PlayVerb::Drag:
        return input(r, link::asks::drag, {{"to", r.step.text}, {"to_row", r.step.textRow}});
    case PlayVerb::Wait:
        return sleepFor(r.step.time);
    case PlayVerb::WaitFor:
    case PlayVerb::Expect:
        return expectState(r);
    case PlayVerb::ExpectCalls:
        return expectCalls(r);
    case PlayVerb::ExpectPace:
        return expectPace(r);
    case PlayVerb::ExpectWait:
        return expectWait(r);
    case PlayVerb::ExpectEvery:
        return expectEvery(r);
    }
}

} // namespace

// What all threads of a process, those that ended too, have run so far; -1: not known.
static std::int64_t processorTimeOf(int pid)
{
    clockid_t clock{};
    timespec t{};
    if (pid <= 0 || clock_getcpuclockid(pid, &clock) != 0 || clock_gettime(clock, &t) != 0)
        return -1;
    return t.tv_sec * 1'000'000'000LL + t.tv_nsec;
}

PlayReport runPlay(const Play &play, Program &program, const TraceModel &trace, Handlers &handlers,
                   const std::atomic<bool> &cancel, const std::function<void(const StepResult &)> &progress)
{
    PlayReport report;
    report.play = play.name;
    report.fingerprint = play.fingerprint;
    Player player(program, trace, handlers, cancel);
    if (auto window = program.request(link::asks::window, {{"timeout_ms", 20'000}}, answerTime); !window) {
        StepResult r;
        r.ok = report.ok = report.held = false;
        r.step.source = "the window opens";
        r.found = window.problem().text();
        report.steps << r;
        return report;
    }
    (void)program.request(link::asks::idle, {{"timeout_ms", 25'000}}, answerTime);
    report.start = player.playStart = monotonicNow();
    const std::int64_t ran = processorTimeOf(program.pid());
    for (const PlayStep &s : play.steps) {
        if (cancel)
            break;
        StepResult r;
        r.step = s;
        r.start = monotonicNow();
        if (program.running()) {
            player.run(r);
        } else {
            r.ok = false;
            r.found = program.ending().text("The program");
        }
        r.end = monotonicNow();
        report.ok = report.ok && r.ok;
        report.held = report.held && (r.ok || s.isPace());
        report.steps << r;
        if (progress)
            progress(r);
        if (!r.ok && !program.running())
            break;
    }
    report.end = monotonicNow();
    if (const std::int64_t now = processorTimeOf(program.pid()); ran >= 0 && now >= ran)
        report.processorTime = now - ran;
    // What was posted last is worked off before anybody asks the program to end.
    if (program.running() && !cancel)
        (void)program.request(link::asks::idle, {{"timeout_ms", 3000}}, 5s);
    report.timeToResult = player.timeToResult;
    report.ok = report.ok && !cancel;
    report.held = report.held && !cancel;
    if (program.ending().crashed())
        report.ok = report.held = false;
    return report;
}

QJsonObject PlayReport::toJson() const
{
    QJsonArray rows;
    for (const StepResult &r : steps)
        rows.append(QJsonObject{{"line", r.step.line},
                                {"step", r.step.source},
                                {"ok", r.ok},
                                {"expected", r.expected},
                                {"found", r.found},
                                {"start_ns", qint64(r.start)},
                                {"end_ns", qint64(r.end)}});
    return {{"play", play},
            {"fingerprint", QString::fromLatin1(fingerprint)},
            {"ok", ok},
            {"held", held},
            {"start_ns", qint64(start)},
            {"end_ns", qint64(end)},
            {"time_to_result_ns", qint64(timeToResult)},
            {"processor_ns", qint64(processorTime)},
            {"steps", rows}};
}

} // namespace pipit
