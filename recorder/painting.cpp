// Which spans had a widget painted: the toolkit gathers what is to be painted, whoever asked for it, and
// paints it later, so the event that brings the painting names at most the first of them.
#include "link/control.h"
#include "recorder/acts.h"
#include "recorder/control.h"
#include "recorder/hooks.h"
#include "recorder/patch.h"
#include "recorder/thread_log.h"
#include "recorder/ties.h"

#include <QtCore/QEvent>
#include <QtCore/QJsonObject>
#include <QtCore/QRect>

namespace pipit::recorder
{

namespace
{

// push %r15; push %r14; push %r13
constexpr unsigned char markRectEntry[] = {0x41, 0x57, 0x41, 0x56, 0x41, 0x55};
// push %r15; mov %rsi,%r15
constexpr unsigned char markRegionEntry[] = {0x41, 0x57, 0x49, 0x89, 0xf7};
// push %r15; mov %rdi,%r15
constexpr unsigned char paintEntry[] = {0x41, 0x57, 0x49, 0x89, 0xff};

using MarkFn = void (*)(void *manager, const void *area, QObject *widget, int when, int state);
using PaintFn = void (*)(void *manager);
MarkFn realMarkRect = nullptr, realMarkRegion = nullptr;
PaintFn realPaint = nullptr;
bool paintingIsKnown = false;

void marked(void *manager, QObject *widget, const MarkedArea &area)
{
    ThreadLog *log = paintingIsKnown && isRecording() ? ThreadLog::current() : nullptr;
    if (!log || !log->isMain())
        return;
    const std::uint64_t span = log->spanNumber();
    if (acts->marked(manager, widget, area, span) && span)
        began(link::Tie::Painted, span, widget);
}

void hookMarkRect(void *manager, const void *area, QObject *widget, int when, int state)
{
    marked(manager, widget, {static_cast<const QRect *>(area), nullptr, state != 0});
    realMarkRect(manager, area, widget, when, state);
}

void hookMarkRegion(void *manager, const void *area, QObject *widget, int when, int state)
{
    marked(manager, widget, {nullptr, area, state != 0});
    realMarkRegion(manager, area, widget, when, state);
}

void hookPaint(void *manager)
{
    acts->paints(manager);
    realPaint(manager);
    acts->painted(manager);
}

} // namespace

void tellPaint(ThreadLog *log, QObject *receiver, QEvent *event)
{
    if (!paintingIsKnown)
        return;
    std::uint64_t spans[32];
    const int count = acts->markedBy(receiver, event, spans, 32);
    if (count < 0)
        log->mark(link::Kind::CameOf, std::uint32_t(link::Tie::PaintedAside));
    for (int i = 0; i < count; ++i)
        log->mark(link::Kind::CameOf, std::uint32_t(link::Tie::Painted), spans[i]);
}

void installPainting()
{
    if (!acts)
        return;
    const char *widgets = "libQt6Widgets.so";
    const auto put = [&](auto &real, const char *name, const auto &entry, auto *ours) {
        real = reinterpret_cast<std::remove_reference_t<decltype(real)>>(
            patchExported(widgets, name, {entry, sizeof entry}, reinterpret_cast<const void *>(ours)));
        return real != nullptr;
    };
    paintingIsKnown =
        put(realPaint, "_ZN21QWidgetRepaintManager13paintAndFlushEv", paintEntry, &hookPaint) &&
        put(realMarkRect,
            "_ZN21QWidgetRepaintManager9markDirtyI5QRectEEvRKT_P7QWidgetNS_10UpdateTimeENS_11BufferStateE",
            markRectEntry, &hookMarkRect) &&
        put(realMarkRegion,
            "_ZN21QWidgetRepaintManager9markDirtyI7QRegionEEvRKT_P7QWidgetNS_10UpdateTimeENS_11BufferStateE",
            markRegionEntry, &hookMarkRegion);
    if (!paintingIsKnown)
        notifyPipit(
            link::tells::limit,
            {{QStringLiteral("what"), QStringLiteral("paints")},
             {QStringLiteral("text"),
              QStringLiteral("What had a widget painted is unknown: the program ran other threads before "
                             "it made its application object, or this build of Qt begins its functions "
                             "in a way the recorder does not know.")}});
}

} // namespace pipit::recorder
