#include "core/pace/strains.h"

#include "core/pace/strains_parts.h"

#include <algorithm>

namespace pipit
{

std::vector<Strain> strainsOf(const TraceModel &trace, Handlers &handlers, TimeRange range, bool ended)
{
    std::vector<Strain> all;
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i)
        if (trace.isMain(i)) {
            addCosts(all, trace, handlers, i, range);
            addReEntries(all, trace, handlers, i, range);
        }
    addTimers(all, trace, range);
    addCrossings(all, trace, handlers, range);
    addMisplaced(all, trace, handlers, range);
    addNeverCame(all, trace, handlers, range);
    if (ended)
        addStillRunning(all, trace, handlers);
    // What may crash comes before what is slow.
    const auto rank = [](const Strain &s) {
        return s.kind == StrainKind::OffTheLoop                                     ? 0
               : s.kind == StrainKind::ReEntry || s.kind == StrainKind::WrongThread ? 1
                                                                                    : 2;
    };
    std::stable_sort(all.begin(), all.end(), [&](const Strain &a, const Strain &b) {
        return rank(a) != rank(b) ? rank(a) < rank(b) : a.took > b.took;
    });
    return all;
}

QString Strain::id(StrainKind kind)
{
    switch (kind) {
    case StrainKind::ManyCalls:
        return "many-calls";
    case StrainKind::RepaintStorm:
        return "repaint-storm";
    case StrainKind::LayoutLoop:
        return "layout-loop";
    case StrainKind::ManySettings:
        return "many-settings";
    case StrainKind::GrowingQueue:
        return "growing-queue";
    case StrainKind::CrowdingTimer:
        return "crowding-timer";
    case StrainKind::OffTheLoop:
        return "off-the-loop";
    case StrainKind::ReEntry:
        return "re-entry";
    case StrainKind::WrongThread:
        return "wrong-thread";
    case StrainKind::DeadReceiver:
        return "dead-receiver";
    case StrainKind::StillRunning:
        break;
    }
    return "still-running";
}

QString Strain::sentence() const
{
    const QString by = why.isEmpty() ? QString() : QStringLiteral(", by ") + why;
    const QString each = count ? durationText(took / count) : QString(), all = durationText(took);
    switch (kind) {
    case StrainKind::ManyCalls:
        return QStringLiteral("%1 ran %2 times within a second%3: %4 each, %5 in total.")
            .arg(who)
            .arg(count)
            .arg(by, each, all);
    case StrainKind::RepaintStorm:
        return QStringLiteral("%1 was painted %2 times within a second: %3 each, %4 in total.")
            .arg(who)
            .arg(count)
            .arg(each, all);
    case StrainKind::LayoutLoop:
        return QStringLiteral("%1 was laid out %2 times within a second, %3 in total.")
            .arg(who)
            .arg(count)
            .arg(all);
    case StrainKind::ManySettings:
        return QStringLiteral("%1 was set %2 times within a second, and painted %3.")
            .arg(who)
            .arg(count)
            .arg(why);
    case StrainKind::GrowingQueue:
        return QStringLiteral("%1 was posted faster than it was handled: %2 waited at the same time, the "
                              "longest for %3%4.")
            .arg(who)
            .arg(count)
            .arg(all, by);
    case StrainKind::CrowdingTimer:
        return QStringLiteral("The timer %1 took %2 % of a processor: %3.").arg(who).arg(count).arg(why);
    case StrainKind::OffTheLoop:
        return QStringLiteral("%1 on a thread other than the event loop's (%2)%3.")
            .arg(who, why, count > 1 ? QStringLiteral(", %1 times").arg(count) : QString());
    case StrainKind::ReEntry:
        return QStringLiteral("%1 ran inside itself%2: it called the event loop in the middle.")
            .arg(who, count > 1 ? QStringLiteral(" %1 times").arg(count) : QString());
    case StrainKind::WrongThread:
        return took ? QStringLiteral("%1 ran on the event loop%2, %3. It is a slot of %4, a QThread object, "
                                     "which lives on the thread that created it.")
                          .arg(who, count > 1 ? QStringLiteral(" %1 times").arg(count) : QString(), all, why)
                    : QStringLiteral("%1%2: \u201c%3\u201d")
                          .arg(who, count > 1 ? QStringLiteral(", %1 times").arg(count) : QString(), why);
    case StrainKind::DeadReceiver:
        return QStringLiteral("%1 to %2%3 never arrived: the receiver was deleted first.")
            .arg(count == 1 ? QStringLiteral("A posted event")
                            : QStringLiteral("%1 things posted").arg(count),
                 who, why.isEmpty() ? QString() : " by " + why);
    case StrainKind::StillRunning:
        break;
    }
    return QStringLiteral("%1 was still running when the program ended%2.").arg(who, by);
}

QString Strain::advice() const
{
    switch (kind) {
    case StrainKind::ManyCalls:
        return "Connect it with a pause or at most every N ms, or handle many rows in one call.";
    case StrainKind::RepaintStorm:
        return "Set it about 20 times a second at most; more cannot be seen.";
    case StrainKind::LayoutLoop:
        return "Add and set everything first, so that the layout runs once.";
    case StrainKind::ManySettings:
        return "Values set between two paints are never seen. Keep the last value, and set it on a timer.";
    case StrainKind::GrowingQueue:
        return "Collect on the other thread, and post a batch some times a second.";
    case StrainKind::CrowdingTimer:
        return "Use a longer interval, do less in each tick, or replace polling with notifications.";
    case StrainKind::OffTheLoop:
        return "Use widgets on the main thread only: post to it with a queued connection or "
               "QMetaObject::invokeMethod.";
    case StrainKind::ReEntry:
        return "Run the work in the background or in steps. Then the handler need not call the event loop.";
    case StrainKind::WrongThread:
        return "An object lives on the thread that created it, with its children, timers and slots. Create "
               "it on the right thread, or call moveToThread before use.";
    case StrainKind::DeadReceiver:
        return "Cancel the work when its receiver is deleted, or use a receiver that stays.";
    case StrainKind::StillRunning:
        break;
    }
    return "Ask it to stop and wait for it before the program ends.";
}

} // namespace pipit
