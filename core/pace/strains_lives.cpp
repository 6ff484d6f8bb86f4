// Where objects live, and how long: used on another thread than their own, gone before what was posted to
// them, and threads that outlive the program's end.
#include "core/pace/strains_parts.h"

#include <QRegularExpression>
#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{

// What the toolkit says when an object is used on another thread than its own.
bool isAboutThreads(const QString &message)
{
    static const QRegularExpression words(
        "(?:from|in) (?:another|a different) thread|outside (?:the )?GUI thread|is not the object's thread|"
        "threads started with QThread|Cannot move objects with a parent");
    return message.startsWith('Q') && message.contains(words);
}

// The innermost handler around a span, or it.
SpanId callAround(const TraceModel &trace, Handlers &handlers, SpanId id)
{
    for (; id; id = trace.rows(id.thread()).parent(id.row())) {
        const Span s = trace.rows(id.thread()).at(id.row());
        if (s.kind == SpanKind::Call && !handlers.isHelper(s.what))
            return id;
    }
    return {};
}

using Found = std::map<QString, Strain>;

void addSaid(Found &found, const TraceModel &trace, Handlers &handlers, const Span &message)
{
    const QString text = trace.message(message.what);
    if (!isAboutThreads(text))
        return;
    const SpanId in = callAround(trace, handlers, message.parent);
    Strain s;
    s.kind = StrainKind::WrongThread;
    s.at = message.start;
    s.why = text.simplified().left(200);
    s.who = "On " + trace.thread(message.thread).name;
    if (in) {
        const HandlerName &h = handlers.of(trace.rows(in.thread()).at(in.row()).what);
        s.who = h.name;
        s.file = h.file;
        s.line = h.line;
    }
    Strain &known = found.try_emplace(s.who + '\n' + s.why, s).first->second;
    ++known.count;
}

// A slot of an object that stands for a thread, which runs on the loop all the same.
void addOfThread(Found &found, const TraceModel &trace, Handlers &handlers, const Span &call)
{
    const HandlerName &h = handlers.of(call.what);
    Strain &s = found[h.name + "\nran"];
    if (!s.count++) {
        s.kind = StrainKind::WrongThread;
        s.who = h.name;
        s.why = trace.object(call.object).text();
        s.at = call.start;
        s.file = h.file;
        s.line = h.line;
    }
    s.took += call.duration(trace.now());
}

std::int64_t lastLoopEnd(const TraceModel &trace)
{
    std::int64_t last = 0;
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        for (std::uint32_t i = 0; trace.isMain(t) && i < rows.count(); i = std::max(rows.after(i), i + 1))
            if (rows.kind(i) == SpanKind::Loop)
                last = rows.end(i) < 0 ? trace.now() : std::max(last, rows.end(i));
    }
    return last;
}

} // namespace

void addMisplaced(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, TimeRange range)
{
    constexpr std::int64_t dear = 8'000'000; // ns: a shorter one disturbs nobody
    QSet<std::uint32_t> threads;
    for (std::uint32_t i = 0; i < trace.factCount(); ++i)
        if (trace.fact(i).fact == link::Fact::IsThread && trace.fact(i).object)
            threads.insert(trace.fact(i).object);
    Found found;
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        for (std::uint32_t i = 0; i < rows.count(); ++i) {
            const SpanKind kind = rows.kind(i);
            if (kind != SpanKind::Message &&
                (kind != SpanKind::Call || threads.isEmpty() || !trace.isMain(t)))
                continue;
            const Span s = rows.at(i);
            if (s.start < range.from || s.start > range.to)
                continue;
            if (kind == SpanKind::Message)
                addSaid(found, trace, handlers, s);
            else if (threads.contains(s.object) && s.judged() && s.duration(trace.now()) >= dear &&
                     !handlers.isHelper(s.what))
                addOfThread(found, trace, handlers, s);
        }
    }
    for (auto &[key, strain] : found)
        all.push_back(std::move(strain));
}

void addNeverCame(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, TimeRange range)
{
    // At the program's end all goes, with whatever is under way.
    const std::int64_t end = lastLoopEnd(trace);
    Found found;
    for (std::uint32_t i = 0; i < trace.factCount(); ++i) {
        const FactRow &f = trace.fact(i);
        if (f.fact != link::Fact::NeverCame || f.time >= end || f.time < range.from || f.time > range.to)
            continue;
        Strain s;
        s.kind = StrainKind::DeadReceiver;
        s.who = f.object ? trace.object(f.object).text() : QString("an object without events");
        s.at = f.time;
        if (f.other) {
            const SpanId by(std::uint16_t((f.other - 1) >> 32), std::uint32_t(f.other - 1));
            if (const SpanId in = callAround(trace, handlers, by)) {
                const HandlerName &h = handlers.of(trace.rows(in.thread()).at(in.row()).what);
                s.why = h.name;
                s.file = h.file;
                s.line = h.line;
            }
            if (!trace.isMain(by.thread()))
                s.why += (s.why.isEmpty() ? "" : " on ") + trace.thread(by.thread()).name;
        }
        Strain &known = found.try_emplace(s.who + '\n' + s.why, s).first->second;
        ++known.count;
    }
    for (auto &[key, strain] : found)
        all.push_back(std::move(strain));
}

namespace
{

// By its thread's number.
using Threads = std::map<std::uint32_t, Strain>;

void addOpenCalls(Threads &threads, const TraceModel &trace, Handlers &handlers)
{
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        if (trace.isMain(t) || rows.count() == 0)
            continue;
        // What had not ended lies around the last row.
        for (SpanId at(t, rows.count() - 1); at; at = rows.parent(at.row())) {
            if (rows.end(at.row()) >= 0 || rows.kind(at.row()) != SpanKind::Call)
                continue;
            const Span s = rows.at(at.row());
            const HandlerName &h = handlers.of(s.what);
            threads[trace.thread(t).tid] = {StrainKind::StillRunning,
                                            trace.thread(t).name,
                                            h.name,
                                            s.start,
                                            1,
                                            trace.now() - s.start,
                                            h.file,
                                            h.line};
            break;
        }
    }
}

} // namespace

void addStillRunning(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers)
{
    Threads threads;
    addOpenCalls(threads, trace, handlers);
    const bool working = !threads.empty();
    for (std::uint32_t i = 0; i < trace.factCount(); ++i) {
        const FactRow &f = trace.fact(i);
        if (f.fact != link::Fact::ThreadsLeft)
            continue;
        for (const QString &line : trace.factText(f).split('\n', Qt::SkipEmptyParts)) {
            const QStringList fields = line.split('\t');
            const std::uint32_t tid = fields.value(0).toUInt();
            if (threads.contains(tid) || (tid == 0 && working))
                continue;
            Strain s;
            s.kind = StrainKind::StillRunning;
            s.who = tid ? "A thread (" + fields.value(1) + ')' : fields.value(1);
            for (std::uint16_t t = 0; t < trace.threadCount(); ++t)
                if (tid && trace.thread(t).tid == tid && !trace.thread(t).name.isEmpty())
                    s.who = trace.thread(t).name;
            s.at = f.time;
            s.count = 1;
            threads[tid] = s;
        }
    }
    for (auto &[tid, strain] : threads)
        all.push_back(std::move(strain));
}

} // namespace pipit
