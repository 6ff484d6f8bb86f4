#include "recorder/hands/sweep.h"

#include <QtCore/private/qobject_p.h>
#include <QtGui/QAction>
#include <QtWidgets/QApplication>
#include <QtWidgets/QWidget>

#include <ctime>
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
std::uint32_t rounds = 0;

// Where a round is: the way from a root down to the object that is next, each with its place among its
// parent's children. What has changed there since is found by looking whether they still stand so.
struct Step {
    QObject *object;
    qsizetype place;
};
std::vector<Step> way;
QList<QObject *> roots; // of this round; never looked into before it is known that they are there
bool inRound = false;
int reached = 0;

// What the thread has had of the processor: a starved machine leaves as much for looking as an idle one.
std::chrono::nanoseconds spent()
{
    timespec t{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
    return std::chrono::seconds(t.tv_sec) + std::chrono::nanoseconds(t.tv_nsec);
}

QList<QObject *> rootsNow(const LookAt &how)
{
    QList<QObject *> all;
    const QWidgetList tops = QApplication::topLevelWidgets();
    for (const bool visible : {true, false})
        for (QWidget *top : tops)
            if (top->isVisible() == visible)
                all << top;
    all << QCoreApplication::instance();
    for (const QObject *o : how.also)
        if (!o->isWidgetType() && o != QCoreApplication::instance()) // those are there already
            all << const_cast<QObject *>(o);
    return all;
}

const QList<QObject *> &childrenAt(std::size_t depth)
{
    return depth == 0 ? roots : way[depth - 1].object->children();
}

bool isOwnWindow(const QObject *o) // a root itself
{
    return o->isWidgetType() && static_cast<const QWidget *>(o)->isWindow();
}

// The way as far as it still is one.
void mendWay()
{
    for (std::size_t depth = 0; depth < way.size(); ++depth) {
        const QList<QObject *> &siblings = childrenAt(depth);
        if (way[depth].place < siblings.size() && siblings[way[depth].place] == way[depth].object)
            continue;
        const qsizetype place = std::min(way[depth].place, siblings.size());
        way.resize(depth);
        if (place < siblings.size())
            way.push_back({siblings[place], place});
        break;
    }
}

// The next one in preorder after all that is in the last of the way; false at the end.
bool goPast()
{
    while (!way.empty()) {
        const qsizetype next = way.back().place + 1;
        way.pop_back();
        const QList<QObject *> &siblings = childrenAt(way.size());
        if (next < siblings.size()) {
            way.push_back({siblings[next], next});
            return true;
        }
    }
    return false;
}

bool goOn()
{
    const QList<QObject *> &children = way.back().object->children();
    if (children.isEmpty())
        return goPast();
    way.push_back({children.first(), 0});
    return true;
}

void lookAt(QObject *o, int z, const LookAt &how)
{
    ++reached;
    if (QObjectPrivate::get(o)->connections.loadRelaxed())
        how.sender(o);
    if (!isTold(o))
        return;
    const auto [it, isNew] = told.try_emplace(o);
    Told &t = it->second;
    t.seenIn = rounds;
    const StateNumbers now = numbersOf(o, z);
    const std::size_t name = qHash(o->objectName()) ^ reinterpret_cast<std::size_t>(o->metaObject());
    if (!isNew && t.numbers == now && t.name == name)
        return;
    t.numbers = now;
    t.name = name;
    how.state(o, stateText(o, now));
}

// An action may stand on a widget and be no child of any.
void lookAtActions(const QWidget *w, const LookAt &how)
{
    for (QAction *a : w->actions())
        if (!a->parent())
            if (const auto it = told.find(a); it == told.end() || it->second.seenIn != rounds)
                lookAt(a, 0, how);
}

void forgetWhatIsGone(const LookAt &how)
{
    for (auto it = told.begin(); it != told.end();)
        if (it->second.seenIn != rounds) {
            how.state(it->first, "gone");
            it = told.erase(it);
        } else {
            ++it;
        }
}

} // namespace

Looked lookAtObjects(const LookAt &how)
{
    if (!qobject_cast<QApplication *>(QCoreApplication::instance()))
        return {};
    const QList<QObject *> now = rootsNow(how);
    if (!inRound || way.empty()) {
        ++rounds;
        reached = 0;
        roots = now;
        way.assign(1, {roots.first(), 0});
        inRound = true;
    } else {
        // A root that is gone is not looked into; the round goes on with the next one.
        const qsizetype place = now.indexOf(way.front().object);
        const qsizetype was = way.front().place;
        roots = now;
        if (place >= 0)
            way.front().place = place;
        else
            way.assign(1, {roots[std::min(was, roots.size() - 1)], std::min(was, roots.size() - 1)});
        mendWay();
        if (way.empty())
            way.assign(1, {roots.first(), 0});
    }
    const auto until = spent() + how.most;
    for (int count = 1;; ++count) {
        QObject *o = way.back().object;
        const bool passed = way.size() > 1 && isOwnWindow(o);
        if (!passed)
            lookAt(o, int(way.back().place), how);
        if (!passed && o->isWidgetType())
            lookAtActions(static_cast<const QWidget *>(o), how);
        if (!(passed ? goPast() : goOn())) {
            inRound = false;
            forgetWhatIsGone(how);
            return {reached, true};
        }
        if ((count & 15) == 0 && spent() > until)
            return {reached, false};
    }
}

} // namespace pipit::recorder
