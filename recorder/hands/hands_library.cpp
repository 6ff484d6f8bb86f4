// Where the recorder takes hold of the hands.
#include "link/control.h"
#include "recorder/acts.h"
#include "recorder/hands/captions.h"
#include "recorder/hands/hands.h"
#include "recorder/hands/inputs.h"
#include "recorder/hands/painting.h"
#include "recorder/hands/pictures.h"
#include "recorder/hands/sweep.h"
#include "recorder/hands/timers.h"

namespace pipit::recorder
{

namespace
{

QJsonObject answer(const QString &method, const QJsonObject &p)
{
    newRequest();
    const QString target = p[QLatin1String("target")].toString();
    const int row = p[QLatin1String("row")].toInt();
    const int timeout = p[QLatin1String("timeout_ms")].toInt(10'000);
    if (method == QLatin1String(link::asks::window))
        return waitForWindow(timeout);
    if (method == QLatin1String(link::asks::click))
        return clickOn(target, row, Click(p[QLatin1String("how")].toInt()));
    if (method == QLatin1String(link::asks::hover))
        return hoverOver(target, row, {p[QLatin1String("x")].toDouble(), p[QLatin1String("y")].toDouble()});
    if (method == QLatin1String(link::asks::drag))
        return dragTo(target, row, p[QLatin1String("to")].toString(), p[QLatin1String("to_row")].toInt());
    if (method == QLatin1String(link::asks::type))
        return typeInto(target, p[QLatin1String("text")].toString());
    if (method == QLatin1String(link::asks::press))
        return pressKey(target, p[QLatin1String("key")].toString());
    if (method == QLatin1String(link::asks::wheel))
        return turnWheel(target, row, p[QLatin1String("steps")].toInt());
    if (method == QLatin1String(link::asks::state))
        return expectState(target, p, p[QLatin1String("within_ms")].toInt(), timeout);
    if (method == QLatin1String(link::asks::idle))
        return waitIdle(timeout);
    if (method == QLatin1String(link::asks::targets))
        return listTargets();
    if (method == QLatin1String(link::asks::picture))
        return pictureWindows(p[QLatin1String("folder")].toString(), timeout);
    if (method == QLatin1String(link::asks::interval))
        return setInterval(target, p[QLatin1String("interval_ms")].toInt(), timeout);
    return {{QStringLiteral("error"), QStringLiteral("unknown method %1").arg(method)}};
}

constexpr Acts table{captionOf,     worksBeforeWait, beforeWait,    loopServed,    geometryChanged,
                     describeInput, offered,         lookAtObjects, markedToPaint, paintsNow,
                     paintedNow,    markedBy,        answer};

} // namespace

extern "C" __attribute__((visibility("default"))) const Acts *pipit_acts(bool captions, void (*posting)())
{
    captionsAllowed = captions;
    tellPosting = posting;
    return &table;
}

} // namespace pipit::recorder
