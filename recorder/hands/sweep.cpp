#include "recorder/hands/sweep.h"

#include <QtCore/private/qobject_p.h>
#include <QtWidgets/QApplication>
#include <QtWidgets/QWidget>

#include <unordered_map>

namespace pipit::recorder
{

namespace
{

struct Told {
    StateNumbers numbers;
    std::size_t name = 0; // of its class and name
    std::uint32_t seenIn = 0;
};

// The main thread's.
std::unordered_map<const QObject *, Told> told;
std::uint32_t sweeps = 0;

class Looking
{
public:
    Looking(TellState tell, std::chrono::microseconds most)
        : tell_(tell), until_(std::chrono::steady_clock::now() + most)
    {
    }
    void visit(QObject *o, int z)
    {
        const auto [it, isNew] = told.try_emplace(o);
        Told &t = it->second;
        if (t.seenIn == sweeps)
            return;
        if (late()) {
            ++result.left;
            t.seenIn = sweeps; // it may be as it was, and its children with it
            return;
        }
        t.seenIn = sweeps;
        ++result.reached;
        if (QObjectPrivate::get(o)->connections.loadRelaxed())
            result.senders.push_back(o);
        if (isTold(o)) {
            const StateNumbers now = numbersOf(o, z);
            const std::size_t name = qHash(o->objectName()) ^ reinterpret_cast<std::size_t>(o->metaObject());
            if (isNew || t.numbers != now || t.name != name) {
                t.numbers = now;
                t.name = name;
                tell_(o, stateText(o, now));
            }
        }
        int place = 0;
        for (QObject *child : o->children())
            if (!child->isWidgetType() || !static_cast<QWidget *>(child)->isWindow())
                visit(child, place++);
    }
    Sweep result;

private:
    bool late()
    {
        if (!late_ && (++count_ & 63) == 0)
            late_ = std::chrono::steady_clock::now() > until_;
        return late_;
    }
    TellState tell_;
    const std::chrono::steady_clock::time_point until_;
    std::uint32_t count_ = 0;
    bool late_ = false;
};

} // namespace

Sweep sweepObjects(const std::vector<const QObject *> &also, TellState tell, std::chrono::microseconds most)
{
    if (!qobject_cast<QApplication *>(QCoreApplication::instance()))
        return {};
    ++sweeps;
    Looking look(tell, most);
    const QWidgetList tops = QApplication::topLevelWidgets();
    for (const bool visible : {true, false})
        for (QWidget *top : tops) {
            if (top->isVisible() == visible)
                look.visit(top, 0);
        }
    look.visit(QCoreApplication::instance(), 0);
    for (const QObject *o : also)
        look.visit(const_cast<QObject *>(o), 0);
    if (look.result.left == 0) { // what was not seen is not there any more
        for (auto it = told.begin(); it != told.end();)
            if (it->second.seenIn != sweeps) {
                tell(it->first, "gone");
                it = told.erase(it);
            } else {
                ++it;
            }
    }
    return look.result;
}

} // namespace pipit::recorder
