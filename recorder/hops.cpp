#include "recorder/hops.h"

#include "link/control.h"
#include "recorder/control.h"
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/patch.h"
#include "recorder/shim/modules.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QEvent>
#include <QtCore/QJsonObject>
#include <QtCore/private/qcoreapplication_p.h>
#include <QtCore/private/qobject_p.h>

#include <cstring>

namespace pipit::recorder
{

namespace
{

thread_local Way *innermost = nullptr;
thread_local bool kept = false; // a filter kept what is offered to its receiver just now
bool known = false;             // of every dispatch
} // namespace

Way::Way(ThreadLog *log, const QObject *receiver, std::uint64_t object)
    : log_(log), receiver_(receiver), object_(object), outer_(innermost)
{
    innermost = this;
}

Way::~Way()
{
    innermost = outer_;
}

bool waysAreKnown()
{
    return known;
}

std::uint32_t Way::ending() const
{
    if (!known)
        return 0;
    const bool accepted = one_ && (first_ & link::hopOutcome) == link::HopAccepted;
    return link::WayKnown | (one_ ? link::OneReceiver : 0) | (accepted ? link::EventAccepted : 0);
}

void Way::tellFirst()
{
    if (one_)
        log_->mark(link::Kind::Hop, first_, object_);
    one_ = false;
    told_ = true;
}

void Way::tell(std::uint64_t object, std::uint32_t what, std::uint64_t before)
{
    if (!known)
        return;
    if (!before && !told_ && !one_ && object == object_) {
        one_ = true;
        first_ = what;
        return;
    }
    if (!before)
        tellFirst();
    log_->mark(link::Kind::Hop, what, object, before);
}

// The patched functions.
struct Hops {
    using WidgetsHelper = bool (*)(void *, QObject *, QEvent *);
    using CoreHelper = bool (*)(QObject *, QEvent *);
    static inline WidgetsHelper widgetsHelper = nullptr;
    static inline CoreHelper coreHelper = nullptr;

    // A key or a button that own code is given: what it does may show in nothing but the objects' states.
    static bool ownCodeGets(Way *way, const QObject *object, QEvent *event)
    {
        return way->log_->isMain() && isKeyOrButton(event->type()) && isOfProgram(object);
    }

    template <class Offer> static bool offered(QObject *receiver, QEvent *event, Offer &&offer)
    {
        Way *way = innermost;
        if (!way)
            return offer();
        const std::uint64_t object = receiver == way->receiver_ ? way->object_ : way->log_->object(receiver);
        constexpr std::uint32_t none = UINT32_MAX;
        std::uint32_t order = none;
        struct Outer { // given back when an exception passes, too
            Way *way;
            const bool kept;
            std::uint32_t *const offered;
            ~Outer()
            {
                recorder::kept = kept;
                way->offered_ = offered;
            }
        } const outer{way, std::exchange(kept, false), std::exchange(way->offered_, &order)};
        const bool acts = ownCodeGets(way, receiver, event);
        const bool taken = offer();
        if (acts)
            somethingHappened();
        if (innermost == way && !kept)
            way->tell(object, (order == none ? way->nextOrder() : order) |
                                  (taken && event->isAccepted() ? link::HopAccepted : link::HopIgnored));
        return taken;
    }
    static bool onWidgetsHelper(void *app, QObject *receiver, QEvent *event)
    {
        return offered(receiver, event, [&] { return widgetsHelper(app, receiver, event); });
    }
    static bool onCoreHelper(QObject *receiver, QEvent *event)
    {
        return offered(receiver, event, [&] { return coreHelper(receiver, event); });
    }

    // Whether an object's class is the program's own, told by its table of virtual functions: a class without
    // a meta-object of its own has that too. Asked for a few again and again.
    static bool isOfProgram(const QObject *o)
    {
        struct Known {
            std::uintptr_t table = 0;
            bool is = false;
        };
        static thread_local Known lately[16];
        std::uintptr_t table = 0;
        std::memcpy(&table, static_cast<const void *>(o), sizeof table);
        Known &k = lately[table >> 4 & 15];
        if (k.table != table)
            k = {table, !inToolkit(table)};
        return k.is;
    }

    // Asks one filter. One of the toolkit's own that lets it pass is not told.
    static bool keeps(QObject *filter, QObject *receiver, QEvent *event, std::uint32_t role)
    {
        Way *way = innermost;
        if (!way)
            return filter->eventFilter(receiver, event);
        const bool own = isOfProgram(filter);
        const std::uint64_t object = way->log_->object(filter);
        const std::uint64_t before = receiver == way->receiver_ ? way->object_ : way->log_->object(receiver);
        const std::uint32_t order = way->nextOrder();
        const bool acts = ownCodeGets(way, filter, event);
        const bool keeps = filter->eventFilter(receiver, event);
        if (acts)
            somethingHappened();
        kept = kept || keeps;
        if (innermost == way && (keeps || own))
            way->tell(object,
                      order | role | (own ? 0 : link::HopOfToolkit) |
                          (!keeps                ? link::HopPassed
                           : event->isAccepted() ? link::HopKept | link::HopKeptAccepted
                                                 : link::HopKept),
                      before);
        return keeps;
    }

    // As QtCore 6.4 asks them. The list may change while it is gone through.
    static bool askFilters(const QList<QPointer<QObject>> &filters, const QThreadData *of, QObject *receiver,
                           QEvent *event, std::uint32_t role, const char *wrongThread)
    {
        for (qsizetype i = 0; i < filters.size(); ++i) {
            QObject *filter = filters.at(i);
            if (!filter)
                continue;
            if (QObjectPrivate::get(filter)->threadData.loadRelaxed() != of) {
                qWarning("%s", wrongThread);
                continue;
            }
            if (keeps(filter, receiver, event, role))
                return true;
        }
        return false;
    }
    static bool onApplicationFilters(QCoreApplicationPrivate *app, QObject *receiver, QEvent *event)
    {
        return app->extraData &&
               askFilters(app->extraData->eventFilters, app->threadData.loadRelaxed(), receiver, event,
                          link::HopFilter | link::HopOfApplication,
                          "QCoreApplication: Application event filter cannot be in a different thread.");
    }
    static bool onObjectFilters(QObject *receiver, QEvent *event)
    {
        QObjectPrivate *d = QObjectPrivate::get(receiver);
        if (receiver != QCoreApplication::instance() && d->extraData &&
            askFilters(d->extraData->eventFilters, d->threadData.loadRelaxed(), receiver, event,
                       link::HopFilter,
                       "QCoreApplication: Object event filter cannot be in a different thread."))
            return true;
        if (Way *way = innermost; way && way->offered_) // it is the receiver's turn now
            *std::exchange(way->offered_, nullptr) = way->nextOrder();
        return false;
    }
};

namespace
{

// push %r13; push %r12; push %rbp
constexpr unsigned char coreHelperEntry[] = {0x41, 0x55, 0x41, 0x54, 0x55};
// push %r13; push %r12; mov %rdx,%r12
constexpr unsigned char widgetsHelperEntry[] = {0x41, 0x55, 0x41, 0x54, 0x49, 0x89, 0xd4};
// push %r13; push %r12; push %rbp; push %rbx; sub $0x38,%rsp
constexpr unsigned char objectFiltersEntry[] = {0x41, 0x55, 0x41, 0x54, 0x55, 0x53, 0x48, 0x83, 0xec, 0x38};
// push %r14; push %r13; push %r12; push %rbp; push %rbx; sub $0x30,%rsp
constexpr unsigned char applicationFiltersEntry[] = {0x41, 0x56, 0x41, 0x55, 0x41, 0x54,
                                                     0x55, 0x53, 0x48, 0x83, 0xec, 0x30};

} // namespace

void installHops()
{
    const char *core = "libQt6Core.so";
    bool all = !otherThreadsRun();
    const auto put = [&](const char *library, const char *name, const auto &entry, const void *ours) {
        void *was = all ? patchExported(library, name, {entry, sizeof entry}, ours) : nullptr;
        all = all && was;
        return was;
    };
    Hops::coreHelper = reinterpret_cast<Hops::CoreHelper>(
        put(core, "_ZN23QCoreApplicationPrivate13notify_helperEP7QObjectP6QEvent", coreHelperEntry,
            reinterpret_cast<const void *>(&Hops::onCoreHelper)));
    put(core, "_ZN23QCoreApplicationPrivate29sendThroughObjectEventFiltersEP7QObjectP6QEvent",
        objectFiltersEntry, reinterpret_cast<const void *>(&Hops::onObjectFilters));
    put(core, "_ZN23QCoreApplicationPrivate34sendThroughApplicationEventFiltersEP7QObjectP6QEvent",
        applicationFiltersEntry, reinterpret_cast<const void *>(&Hops::onApplicationFilters));
    pipit_module widgets{};
    if (pipit_module_named("libQt6Widgets.so", &widgets))
        Hops::widgetsHelper = reinterpret_cast<Hops::WidgetsHelper>(
            put("libQt6Widgets.so", "_ZN19QApplicationPrivate13notify_helperEP7QObjectP6QEvent",
                widgetsHelperEntry, reinterpret_cast<const void *>(&Hops::onWidgetsHelper)));
    known = all;
    if (!all)
        notifyPipit(
            link::tells::limit,
            {{QStringLiteral("what"), QStringLiteral("hops")},
             {QStringLiteral("text"),
              QStringLiteral("The way of events through filters and receivers is unknown: the program "
                             "ran other threads before it made its application object, or this build "
                             "of Qt begins its functions in a way the recorder does not know.")}});
}

} // namespace pipit::recorder
