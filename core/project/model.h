// The model of a project: windows, widgets, timers, connections and handlers.
//
// Threads: plain values, cheap to copy (the lists are shared until written), so that a copy is a
// snapshot: undo keeps copies, workers get copies. Ids are stable; undo, diffs, live counts and
// comparisons hang on them. Keys that this version does not know are kept in `extra` and written
// back; the order of keys in the file is kept in `order`.
#pragma once

#include "core/base/json.h"
#include "core/base/near.h"
#include "core/project/own_classes.h"

#include <QHash>
#include <QSet>
#include <QStringList>

#include <functional>
#include <memory>
#include <optional>

namespace pipit
{

struct Kept {
    QStringList order;         // keys as the file had them
    QList<Json::Member> extra; // keys that this version does not know
    int line = 0;              // in the file, 0 when made since; not part of the value
};

struct Property {
    QString name;
    Json value; // text, number, true or false
    friend bool operator==(const Property &, const Property &) = default;
};

struct WidgetNode {
    QString id, className, name;
    QString base, header; // of a class of the user's: what it derives from, where it is declared
    QString layout;       // of its children: "column", "row", "grid", "labelled"; empty none
    QList<Property> properties;
    QList<WidgetNode> children;
    Kept kept;

    const Json *property(const QString &name) const;
    void setProperty(const QString &name, const Json &value); // a null removes it
    QString textOf(const QString &property) const;            // empty where it is not set
    // The class that the catalog knows it as.
    QString knownClass() const { return base.isEmpty() ? className : base; }
};

// What is not seen but has signals or holds data: an action, a device, a model, a button group, or an object
// of a class of the user's, which may live on a thread of its own.
struct ObjectNode {
    QString id, className, name;
    QString base, header; // as for a widget; the base is QObject unless the catalog knows a nearer one
    bool thread = false;  // its slots run on a thread of its own, not on the loop's
    QList<Property> properties;
    Kept kept;

    const Json *property(const QString &name) const;
    void setProperty(const QString &name, const Json &value); // a null removes it
    QString textOf(const QString &property) const;
    QString knownClass() const { return base.isEmpty() ? className : base; }
};

struct TimerNode {
    QString id, name;
    int interval = 1000; // ms
    bool repeat = true;
    bool precise = false;
    bool autostart = true;
    Kept kept;
};

struct WindowNode {
    QString className; // of the user's class, "FerryDesk"
    QString file;      // its files' base name, "ferry_desk"
    WidgetNode root;
    QList<TimerNode> timers;
    QList<ObjectNode> objects;
    Kept kept;

    QString sourceFile() const { return file + ".cpp"; }
};

enum class PacingKind { AtOnce, NextTurn, AfterPause, AtMostEvery };

struct Pacing {
    PacingKind kind = PacingKind::AtOnce;
    int ms = 0;
    QString text() const; // "at once", "after a pause of 300 ms"
    static Result<Pacing> parse(const QString &text);
    friend bool operator==(const Pacing &, const Pacing &) = default;
};

struct Connection {
    enum class Source { Signal, Event };
    enum class Target { Handler, Slot, Signal, Open };
    enum class Scope { Widget, Window, Application };
    QString id;
    QString from;   // object name; empty with a selector
    QString select; // widgets by selector, expanded when code is generated
    QString part;   // "viewport", "selection", or a button of a button box; or empty
    Source sourceKind = Source::Signal;
    QString signal;              // "clicked", or "valueChanged(int)" where overloaded
    QString event;               // "key press"
    QString when;                // "key Return and text not empty", empty for always
    bool after = false;          // an event: after the widget's own handling of it
    Scope scope = Scope::Widget; // of keys and shortcuts
    QString drop;                // a drop: what it accepts, "copy", "move", "copy or move"
    Target targetKind = Target::Handler;
    QString to;       // handler's name; object name of the slot or signal; name of the window to open
    QString toMember; // slot or signal of `to`
    QString convert;  // "number else skip": how an argument becomes what the handler takes
    Pacing pacing;
    bool enabled = true;
    Kept kept;

    QString subject() const
    {
        const QString who = select.isEmpty() ? from : select;
        return part.isEmpty() ? who : who + '.' + part;
    }
    QString what() const { return sourceKind == Source::Signal ? signal : event; }
    QString target() const
    {
        return targetKind == Target::Handler || targetKind == Target::Open ? to : to + " · " + toMember;
    }
    bool callsHandler(const QString &name) const { return targetKind == Target::Handler && to == name; }
    // One that names `object` itself as its source or its target; a handler is no object.
    bool names(const QString &object) const
    {
        return !object.isEmpty() && (from == object || (targetKind != Target::Handler && to == object));
    }
    // "boardButton · clicked calls boardPassenger"
    QString brief() const
    {
        return subject() + " · " + what() + (targetKind == Target::Open ? " opens " : " calls ") + target();
    }
};

enum class HandlerKind { Signal, Event };
enum class Shape { OneGo, Steps, Background };

QString shapeWord(Shape shape);     // "one-go", "steps", "background", as in files and commands
QString shapeSentence(Shape shape); // "in one go", …

// What one of a handler's functions is for; its name ends accordingly.
enum class Part { Whole, Take, Work, Add, Show, Begin, Step, End };
struct HandlerFunction {
    Part part = Part::Whole;
    QString name;
    // On a worker thread, so a free function: no widget is at hand.
    bool isFree() const { return part == Part::Work; }
};

// "tideTake"
QString functionName(const QString &handler, Part part);

struct Handler {
    QString id, name;
    HandlerKind kind = HandlerKind::Signal;
    QStringList arguments; // types of its parameters, "int", "const QString &"
    QString source;        // the class of the source that it gets first; empty: it gets none
    QString window;        // the class of the window that it belongs to; empty: the first
    Shape shape = Shape::OneGo;
    QString file;                                  // the user's source file that holds it
    QString input = "QString", result = "QString"; // types, in the background only; "void" for none
    // When triggered while it runs: ignore; queue, with what it reads now; turn, with what it reads when its
    // turn comes; restart; together, up to `workers` at once, shown in the order in which they were
    // triggered.
    QString again = "ignore";
    int workers = 2; // at most so many at once, where it runs together with itself
    static constexpr int mostWorkers = 64;
    // In the background: what shares a queue works one after the other on one thread, in the order in which
    // it was triggered. Empty: it has none with others.
    QString queue;
    QString state = "int"; // in steps: what is kept from one step to the next
    bool batches = false;  // in the background: what it has come to so far is added while it works
    bool declines = false; // what reads the widgets may decide that there is nothing to work on
    Kept kept;

    // The functions that make it up, by shape: tideTake, tideWork, tideShow.
    QList<HandlerFunction> functions() const;
    QStringList functionNames() const;
    QString function(Part part) const { return functionName(name, part); }
    // A struct of the person's that is called after the handler, as moves make them: "TideForecastInput".
    QStringList ownTypes() const; // those that its functions take and give
    // Whether it is one.
    bool hasOwn(const QString &type) const;
    bool isTogether() const { return shape == Shape::Background && again == "together"; }
    bool isQueued() const { return shape == Shape::Background && !queue.isEmpty(); }
};

struct Project {
    static constexpr int version = 1;
    QString name;
    QList<WindowNode> windows;
    QList<Connection> connections;
    QList<Handler> handlers;
    int nextId = 1;
    // What classes of the user's offer, as their headers say now: known while it is open, never written.
    std::shared_ptr<const OwnClasses> own;
    Kept kept;

    QString newId(const QString &prefix) { return prefix + QString::number(nextId++); }
    const WidgetNode *widget(const QString &name) const;
    WidgetNode *widget(const QString &name);
    const TimerNode *timer(const QString &name) const;
    const Handler *handler(const QString &name) const;
    Handler *handler(const QString &name);
    const Connection *connection(const QString &id) const;
    Connection *connection(const QString &id);
    const ObjectNode *object(const QString &name) const;
    ObjectNode *object(const QString &name);
    TimerNode *timer(const QString &name);
    // Of a widget or object whose class is the user's: what that offers beyond what it derives from; null:
    // nothing known.
    const OwnClass *ownClassOf(const QString &name) const;
    QStringList ownHeaders() const; // where classes of the user's are declared, in alphabetical order
    // The class of a widget, timer, object or job as the catalog knows it, empty for an unknown name.
    QString classOf(const QString &objectName) const;
    // Whose parent it is; null for a window itself or an unknown name.
    const WidgetNode *parentOf(const QString &widget) const;
    // Which window holds it: an index, -1 for an unknown name.
    int windowOf(const QString &objectName) const;
    int windowNamed(const QString &className) const; // by the class of the user's; -1: none
    int windowOfHandler(const Handler &handler) const;
    const WindowNode &windowFor(const Handler &handler) const { return windows[windowOfHandler(handler)]; }
    // What is said as a parent: a name, or "." or nothing for the first window.
    QString containerNamed(const QString &name) const
    {
        return name.isEmpty() || name == "." ? windows.first().root.name : name;
    }
    QStringList objectNames() const;
    // Every named thing's class and window by name: for whoever asks about many of them.
    struct Named {
        QString className; // as the catalog knows it
        int window = 0;
    };
    QHash<QString, Named> named() const;
    void eachWidget(const std::function<void(const WidgetNode &, const WidgetNode *parent)> &visit) const;
};

// "tideForecastJob": the job of a handler in the background, as a source of signals.
QString jobName(const Handler &handler); // "tideForecastJob", "tideForecastSteps"; empty in one go
QString jobClass(const Handler &handler);

// What a click ticks: by its class, or as the project sets it.
QSet<QString> checkableNames(const Project &project);

bool isIdentifier(const QString &name); // a valid C++ identifier, no keyword, no reserved form

} // namespace pipit
