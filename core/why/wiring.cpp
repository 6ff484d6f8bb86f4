#include "core/why/wiring.h"

#include <QSet>

namespace pipit
{

namespace
{

QString typeWords(int type)
{
    static const QStringList words{"auto", "direct", "queued", "blocking"};
    return words.value(type);
}

} // namespace

std::vector<WiringRow> wiringOf(const TraceModel &trace, Handlers &handlers, const Scene &scene,
                                std::int64_t time)
{
    QHash<std::uint64_t, std::uint32_t> links; // by serial
    for (std::uint32_t i = 0; i < trace.linkCount(); ++i)
        links.insert(trace.link(i).serial, i);
    // At the end all is deleted; what counts is what was there until then.
    const std::int64_t last = std::min(time, trace.now());
    std::vector<WiringRow> rows;
    for (const ConnectRow &c : scene.connects()) {
        if (c.time > time)
            break;
        WiringRow r;
        r.time = c.time;
        r.sender = c.sender;
        r.serial = c.wire.serial;
        const ObjectState *later = scene.nextState(c.sender, c.time); // it may have got its name afterwards
        const ObjectInfo sender = trace.object(later && !later->gone ? later->object : c.object);
        r.source = c.object ? sender.text() : QString();
        r.sourceClass = c.object ? sender.className : QString();
        r.signal = c.wire.signal;
        const ObjectState *receiver = c.wire.receiver ? scene.nextState(c.wire.receiver, c.time) : nullptr;
        if (!receiver)
            receiver = scene.state(c.wire.receiver, c.time);
        r.receiver =
            receiver && !receiver->gone ? trace.object(receiver->object).text() : c.wire.receiverText();
        r.receiverClass = c.wire.receiverClass;
        r.handler = c.wire.slot;
        r.type = typeWords(c.wire.type);
        r.failed = c.failed;
        r.reason = c.reason;
        if (const auto link = links.constFind(c.wire.serial); c.wire.serial && link != links.constEnd()) {
            const HandlerName &h = handlers.of(*link);
            r.handler = h.name;
            r.handlerFile = h.file;
            r.handlerLine = h.line;
        }
        const StackFrame place = handlers.placeAt(c.places);
        r.file = place.file;
        r.line = place.line;
        // What was read later from where the toolkit keeps them does not have it any more.
        if (!c.failed && c.wire.serial && scene.everWired(c.sender)) {
            bool seen = false, gone = false;
            for (const WireRow &w : scene.wires(c.sender, last))
                seen = seen || w.serial == c.wire.serial;
            gone = !seen && scene.lookedAfter(c.time) != 0 && !scene.wires(c.sender, last).isEmpty();
            r.gone = gone;
        }
        rows.push_back(std::move(r));
    }
    return rows;
}

} // namespace pipit
