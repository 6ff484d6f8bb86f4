#include "recorder/hands/painting.h"

#include <QtGui/QPaintEvent>
#include <QtGui/QRegion>
#include <QtWidgets/QWidget>
#include <QtWidgets/private/qwidget_p.h>
#include <QtWidgets/private/qwidgetrepaintmanager_p.h>
#include <QtWidgets/private/qwidgetwindow_p.h>

#include <algorithm>
#include <vector>

namespace pipit::recorder
{

namespace
{

// What is painted because of it: the widget, those behind it as far as one is opaque, and what lies over
// these and is not opaque.
struct Marking {
    void *manager;
    const QWidget *widget; // to compare with only, as are all: they may be gone
    QRect area;            // in its window
    std::uint64_t span;
    bool invalid;
    static constexpr int mostBehind = 14;
    const QWidget *behind[mostBehind]; // its parents, the nearest first, then null
};

// A window that is never shown again may leave some for good.
constexpr std::size_t mostMarkings = 1024, mostOfSpan = 64;
std::vector<Marking> markings, beingPainted; // the latter while they are painted
void *paintingManager = nullptr;

// What is looked at for each paint of each marking, close together: a window that appears has hundreds of
// both.
struct Area {
    const QWidget *widget;
    int left, top, right, bottom;
    bool meets(const QRect &r) const
    {
        return left <= r.right() && r.left() <= right && top <= r.bottom() && r.top() <= bottom;
    }
};
std::vector<Area> areas; // of beingPainted

QPoint placeInWindow(const QWidget *w)
{
    QPoint at;
    for (; w && !w->isWindow(); w = w->parentWidget())
        at += w->pos();
    return at;
}

bool isOpaque(const QWidget *w)
{
    return QWidgetPrivate::get(w)->isOpaque;
}

bool isBehind(const Marking &m, const QWidget *w)
{
    return std::find(m.behind, m.behind + Marking::mostBehind, w) != m.behind + Marking::mostBehind;
}

// Whether a paint of the widget, where the areas meet, is because of it.
bool isPainted(const Marking &m, const QWidget *widget)
{
    for (const QWidget *w = widget; w; w = w->isWindow() ? nullptr : w->parentWidget()) {
        if (w == m.widget || isBehind(m, w))
            return true;
        if (isOpaque(w) && !m.invalid)
            return false;
    }
    return true;
}

void addUnique(std::uint64_t span, std::uint64_t *spans, int *count, int most)
{
    if (span && *count < most && std::find(spans, spans + *count, span) == spans + *count)
        spans[(*count)++] = span;
}

} // namespace

// True: the span had marked nothing of this window yet.
bool markedToPaint(void *manager, QObject *object, const MarkedArea &marked, std::uint64_t span)
{
    const auto *widget = static_cast<const QWidget *>(object);
    const QRect area =
        (marked.rect ? *marked.rect : static_cast<const QRegion *>(marked.region)->boundingRect())
            .translated(placeInWindow(widget));
    std::size_t ofSpan = 0;
    // Spans are numbered as they begin: behind one that began before this one there is none of it.
    for (auto m = markings.rbegin(); m != markings.rend() && m->span >= span; ++m) {
        if (m->span != span || m->manager != manager)
            continue;
        if (m->widget == widget || ++ofSpan == mostOfSpan) {
            m->area |= area;
            m->invalid = m->invalid || marked.invalid;
            return false;
        }
    }
    if (markings.size() >= mostMarkings)
        markings.erase(markings.begin(), markings.begin() + mostMarkings / 2);
    Marking m{manager, widget, area, span, marked.invalid, {}};
    int count = 0;
    for (const QWidget *w = widget; !isOpaque(w) && !w->isWindow() && w->parentWidget(); ++count) {
        w = w->parentWidget();
        if (count == Marking::mostBehind)
            break;
        m.behind[count] = w;
    }
    markings.push_back(m);
    return ofSpan == 0;
}

void paintsNow(void *manager)
{
    paintingManager = manager;
    const auto own = [manager](const Marking &m) { return m.manager == manager; };
    beingPainted.clear();
    std::copy_if(markings.begin(), markings.end(), std::back_inserter(beingPainted), own);
    areas.clear();
    for (const Marking &m : beingPainted)
        areas.push_back({m.widget, m.area.left(), m.area.top(), m.area.right(), m.area.bottom()});
    std::erase_if(markings, own); // what is marked while it paints is painted the next time
}

void paintedNow(void *manager)
{
    paintingManager = nullptr;
    if (static_cast<QWidgetRepaintManager *>(manager)->isDirty()) // it could not paint
        markings.insert(markings.begin(), beingPainted.begin(), beingPainted.end());
    beingPainted.clear();
    areas.clear();
}

int markedBy(QObject *receiver, QEvent *event, std::uint64_t *spans, int most)
{
    int count = 0;
    if (event->type() == QEvent::UpdateRequest) {
        // Its meta-object is not exported.
        auto *window = receiver->inherits("QWidgetWindow") ? static_cast<QWidgetWindow *>(receiver) : nullptr;
        QWidget *widget = window                     ? window->widget()
                          : receiver->isWidgetType() ? static_cast<QWidget *>(receiver)
                                                     : nullptr;
        const void *manager = widget ? QWidgetPrivate::get(widget)->maybeRepaintManager() : nullptr;
        for (const Marking &m : markings)
            if (manager && m.manager == manager)
                addUnique(m.span, spans, &count, most);
        return count;
    }
    if (!receiver->isWidgetType())
        return 0;
    if (!paintingManager)
        return -1;
    const auto *widget = static_cast<const QWidget *>(receiver);
    const QRegion &region = static_cast<QPaintEvent *>(event)->region();
    const QPoint at = placeInWindow(widget);
    const QRect bounds = region.boundingRect().translated(at);
    // A window that is shown has one span and a marking for each widget: what is known is not looked at
    // again.
    std::uint64_t last = 0;
    for (std::size_t i = 0; i < areas.size(); ++i) {
        if (areas[i].widget != widget && !areas[i].meets(bounds))
            continue;
        const Marking &m = beingPainted[i];
        if (m.span == last)
            continue;
        if (m.widget != widget && !(region.intersects(m.area.translated(-at)) && isPainted(m, widget)))
            continue;
        addUnique(m.span, spans, &count, most);
        last = m.span;
    }
    return count;
}

} // namespace pipit::recorder
