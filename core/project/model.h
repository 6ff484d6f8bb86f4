// The model of a project: windows, widgets, timers, connections and handlers.
//
// Threads: plain values, cheap to copy (the lists are shared until written), so that a copy is a
// snapshot: undo keeps copies, workers get copies. Ids are stable; undo, diffs, live counts and
// comparisons hang on them. Keys that this version does not know are kept in `extra` and written
// back; the order of keys in the file is kept in `order`.
#pragma once

#include "core/project/json.h"

#include <QHash>
#include <QStringList>

#include <functional>

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
    QString layout; // of its children: "column", "row", "grid", "labelled"; empty none
    QList<Property> properties;
    QList<WidgetNode> children;
    Kept kept;

    const Json *property(const QString &name) const;
    void setProperty(const QString &name, const Json &value);
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
    Kept kept;
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
    enum class Target { Handler, Slot, Signal };
    QString id;
    QString from; // object name
    QString part; // "viewport" or empty
    Source sourceKind = Source::Signal;
    QString signal; // "clicked", or "valueChanged(int)" where overloaded
    QString event;  // "key press"
    QString when;   // "key Return", empty for always
    Target targetKind = Target::Handler;
    QString to;       // handler's name; or object name of the slot or signal
    QString toMember; // slot or signal of `to`
    Pacing pacing;
    bool enabled = true;
    Kept kept;

    QString subject() const { return part.isEmpty() ? from : from + '.' + part; }
    QString what() const { return sourceKind == Source::Signal ? signal : event; }
    QString target() const { return targetKind == Target::Handler ? to : to + " · " + toMember; }
};

enum class HandlerKind { Signal, Event };
enum class Shape { OneGo, Steps, Background };

QString shapeWord(Shape shape);     // "one-go", "steps", "background", as in files and commands
QString shapeSentence(Shape shape); // "in one go", …

struct Handler {
    QString id, name;
    HandlerKind kind = HandlerKind::Signal;
    QStringList arguments; // types of its parameters, "int", "const QString &"
    bool takesSource = false;
    Shape shape = Shape::OneGo;
    QString file;                                  // the user's source file that holds it
    QString input = "QString", result = "QString"; // types, in the background only
    QString again = "ignore";                      // when triggered while running: ignore, queue, restart
    Kept kept;

    // The functions that make it up, by shape: {"tideTake", "tideWork", "tideShow"}.
    QStringList functions() const;
};

struct Project {
    static constexpr int version = 1;
    QString name;
    QList<WindowNode> windows;
    QList<Connection> connections;
    QList<Handler> handlers;
    int nextId = 1;
    Kept kept;

    QString newId(const QString &prefix) { return prefix + QString::number(nextId++); }
    const WidgetNode *widget(const QString &name) const;
    WidgetNode *widget(const QString &name);
    const TimerNode *timer(const QString &name) const;
    const Handler *handler(const QString &name) const;
    Handler *handler(const QString &name);
    const Connection *connection(const QString &id) const;
    // The class of a widget or timer, empty for an unknown name.
    QString classOf(const QString &objectName) const;
    QStringList objectNames() const;
    // Every widget's and timer's class by name: for whoever asks about many of them.
    QHash<QString, QString> classesByName() const;
    void eachWidget(const std::function<void(const WidgetNode &, const WidgetNode *parent)> &visit) const;
};

bool isIdentifier(const QString &name); // a valid C++ identifier, no keyword, no reserved form
QString nearestName(const QString &name, const QStringList &candidates); // empty when none is near

} // namespace pipit
