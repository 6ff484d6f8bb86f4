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
        return QStringLiteral("%1 ran %2 times within a second%3: %4 each, %5 together.")
            .arg(who)
            .arg(count)
            .arg(by, each, all);
    case StrainKind::RepaintStorm:
        return QStringLiteral("%1 was painted %2 times within a second: %3 each, %4 together.")
            .arg(who)
            .arg(count)
            .arg(each, all);
    case StrainKind::LayoutLoop:
        return QStringLiteral("%1 was laid out %2 times within a second, %3 together.")
            .arg(who)
            .arg(count)
            .arg(all);
    case StrainKind::ManySettings:
        return QStringLiteral("%1 was set %2 times within a second, and painted %3.")
            .arg(who)
            .arg(count)
            .arg(why);
    case StrainKind::GrowingQueue:
        return QStringLiteral("%1 was posted faster than handled: %2 waited at once, the longest for %3%4.")
            .arg(who)
            .arg(count)
            .arg(all, by);
    case StrainKind::CrowdingTimer:
        return QStringLiteral("The timer %1 took %2 % of a processor: %3.").arg(who).arg(count).arg(why);
    case StrainKind::OffTheLoop:
        return QStringLiteral("%1 on another thread than the loop's (%2)%3.")
            .arg(who, why, count > 1 ? QStringLiteral(", %1 times").arg(count) : QString());
    case StrainKind::ReEntry:
        return QStringLiteral("%1 ran inside itself%2: it let the loop look for events in the middle.")
            .arg(who, count > 1 ? QStringLiteral(" %1 times").arg(count) : QString());
    case StrainKind::WrongThread:
        return took ? QStringLiteral(
                          "%1 ran on the loop%2, %3: it is a function of %4, an object that stands for a "
                          "thread but lives where it was made.")
                          .arg(who, count > 1 ? QStringLiteral(" %1 times").arg(count) : QString(), all, why)
                    : QStringLiteral("%1%2: \u201c%3\u201d")
                          .arg(who, count > 1 ? QStringLiteral(", %1 times").arg(count) : QString(), why);
    case StrainKind::DeadReceiver:
        return QStringLiteral("%1 to %2%3 never came: it was deleted first.")
            .arg(count == 1 ? QStringLiteral("What was posted")
                            : QStringLiteral("%1 things posted").arg(count),
                 who, why.isEmpty() ? QString() : " by " + why);
    case StrainKind::StillRunning:
        break;
    }
    return QStringLiteral("%1 was still at work when the program ended%2.").arg(who, by);
}

QString Strain::advice() const
{
    switch (kind) {
    case StrainKind::ManyCalls:
        return "Connect it after a pause, or at most every so often; or do for many rows at once what it "
               "does for one.";
    case StrainKind::RepaintStorm:
        return "Set it when a person can see the difference, some 20 times a second.";
    case StrainKind::LayoutLoop:
        return "Add and set all of it, and let the layout follow once.";
    case StrainKind::ManySettings:
        return "What is set between two paints is never seen: keep the last, and set it on a timer.";
    case StrainKind::GrowingQueue:
        return "Collect on the other thread, and post what is new some times a second.";
    case StrainKind::CrowdingTimer:
        return "A longer interval, less in each tick, or a notification in its place.";
    case StrainKind::OffTheLoop:
        return "Widgets belong to the loop: post to it (a queued connection, QMetaObject::invokeMethod).";
    case StrainKind::ReEntry:
        return "Do the work in the background or in steps, and the loop needs no pass in the middle.";
    case StrainKind::WrongThread:
        return "An object lives on the thread that made it, and its children, timers and slots with it: make "
               "it "
               "there, or move it there (moveToThread) before it is used.";
    case StrainKind::DeadReceiver:
        return "Cancel the work when its receiver goes, or give the result to one that stays.";
    case StrainKind::StillRunning:
        break;
    }
    return "Ask it to stop, and wait for it, before the program ends.";
}

} // namespace pipit
