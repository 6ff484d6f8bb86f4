#include "core/trace/stacks.h"

#include "core/base/files.h"

#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace pipit
{

bool isOwnLibrary(const QString &module)
{
    return QFileInfo(module).fileName().startsWith("libpipit-");
}

bool isSystemLibrary(const QString &module)
{
    const QString name = QFileInfo(module).fileName();
    const auto begins = [&name](const char *with) { return name.startsWith(QLatin1String(with)); };
    return isOwnLibrary(module) || begins("libQt6") || begins("libpython3") || begins("python3") ||
           begins("libpyside6") || begins("libshiboken6") || name.endsWith(".abi3.so") ||
           (name.contains(".so") && (module.startsWith("/usr/lib/") || module.startsWith("/lib/")));
}

std::vector<StackFrame> StackSample::story() const
{
    constexpr std::size_t mostForeign = 8;
    std::vector<StackFrame> told;
    std::size_t upTo = 0;
    for (const StackFrame &f : frames) {
        if (f.module.contains("/libpipit-")) // there the recorder stands between
            break;
        told.push_back(f);
        if (f.own)
            upTo = told.size();
    }
    told.resize(std::min(told.size(), upTo ? upTo : mostForeign));
    return told;
}

void StackLog::add(StackSample sample)
{
    std::lock_guard lock(mutex_);
    samples_.push_back(std::move(sample));
}

std::vector<StackSample> StackLog::of(std::uint32_t pid, std::uint32_t tid, std::int64_t from,
                                      std::int64_t to) const
{
    std::lock_guard lock(mutex_);
    std::vector<StackSample> found;
    for (const StackSample &s : samples_)
        if (s.pid == pid && (tid == 0 || s.tid == tid) && s.time >= from && s.time <= to)
            found.push_back(s);
    return found;
}

std::vector<StackSample> StackLog::all() const
{
    std::lock_guard lock(mutex_);
    return samples_;
}

void StackLog::replace(std::vector<StackSample> samples)
{
    std::lock_guard lock(mutex_);
    samples_ = std::move(samples);
}

QByteArray StackLog::line(const StackSample &s)
{
    QJsonArray frames;
    for (const StackFrame &f : s.frames)
        frames.append(
            QJsonArray{f.module, QString::number(f.offset, 16), f.exact, f.function, f.file, f.line, f.own});
    QJsonObject o{{"time_ns", qint64(s.time)}, {"pid", int(s.pid)}, {"tid", int(s.tid)},
                  {"running", s.running},      {"call", s.call},    {"frames", frames}};
    if (s.over) {
        o["over_ns"] = qint64(s.over);
        o["ran_ns"] = qint64(s.ran);
        o["delayed_ns"] = qint64(s.delayed);
    }
    if (s.lock) {
        o["lock"] = QString::number(s.lock, 16);
        o["mutex_owner"] = int(s.mutexOwner);
        o["recursive_owner"] = int(s.recursiveOwner);
    }
    if (s.interpretersLock)
        o["interpreter_owner"] = int(s.interpretersOwner);
    return QJsonDocument(o).toJson(QJsonDocument::Compact) + '\n';
}

StackSample StackLog::fromLine(const QByteArray &line)
{
    constexpr qsizetype mostFrames = 512;
    const QJsonObject o = QJsonDocument::fromJson(line).object();
    StackSample s;
    s.time = o["time_ns"].toInteger();
    s.pid = std::uint32_t(o["pid"].toInt());
    s.tid = std::uint32_t(o["tid"].toInt());
    s.running = o["running"].toBool();
    s.call = o["call"].toInt(-1);
    s.over = o["over_ns"].toInteger();
    s.ran = o["ran_ns"].toInteger();
    s.delayed = o["delayed_ns"].toInteger();
    s.lock = o["lock"].toString().toULongLong(nullptr, 16);
    s.mutexOwner = std::uint32_t(o["mutex_owner"].toInt());
    s.recursiveOwner = std::uint32_t(o["recursive_owner"].toInt());
    s.interpretersLock = o.contains("interpreter_owner");
    s.interpretersOwner = std::uint32_t(o["interpreter_owner"].toInt());
    const QJsonArray frames = o["frames"].toArray();
    for (qsizetype i = 0; i < std::min(frames.size(), mostFrames); ++i) {
        const QJsonArray f = frames[i].toArray();
        s.frames.push_back({f[0].toString(), f[1].toString().toULongLong(nullptr, 16), f[2].toBool(),
                            f[3].toString(), f[4].toString(), f[5].toInt(), f[6].toBool()});
    }
    return s;
}

void StackLog::load(const QByteArray &lines)
{
    for (const QByteArray &each : lines.split('\n'))
        if (StackSample s = fromLine(each); s.time > 0)
            add(std::move(s));
}

} // namespace pipit
