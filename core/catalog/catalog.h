// What each class offers: signals, slots, events, properties, inherited ones too, with a sentence
// on when each happens.
//
// Threads: read-only after the first use, which reads the compiled-in table; safe on any thread.
// The table comes from the toolkit's meta-objects at build time, the sentences are ours.
#pragma once

#include <QHash>
#include <QList>
#include <QString>
#include <QStringList>

namespace pipit
{

struct SignalEntry {
    QString signature;     // "textChanged(QString)"
    QStringList arguments; // names, empty where the toolkit gives none
    QString owner;         // the class that declares it
    QString sentence;      // when it happens
    QString often;         // how often it may come
    QString mistake;       // the usual one; may be empty
    QString name() const { return signature.left(signature.indexOf('(')); }
    QStringList types() const; // as a C++ parameter has them: "const QString &"
};

struct PropertyEntry {
    QString name, type, defaultValue;
    QString owner;      // the class that declares it; "layout" or "wiring" for our own
    QStringList keys;   // of an enumeration
    bool flags = false; // several keys at once
    QString sentence;   // of our own, or of the user's header: what it is for
    QString setter{};   // where it is the user's: what sets it; empty: only by its name
};

struct EventEntry {
    QString words;           // "key press"
    QString type;            // "QEvent::KeyPress"
    QString cppClass;        // "QKeyEvent"
    QString sentence;        // when it happens
    QString handled;         // what comes of it when the handler says that it handled the event
    bool onViewport = false; // for scroll areas it arrives at the viewport
    QString carries() const; // what can be read from it: "the key, …"; empty for nothing
};

// How a handler of it is written: "void handler(bool checked)", "bool handler(QLineEdit *source, QKeyEvent
// *event)".
QString callbackOf(const SignalEntry &signal);
QString callbackOf(const EventEntry &event, const QString &className);

class Catalog
{
public:
    static const Catalog &get();

    bool has(const QString &className) const;
    bool makes(const QString &className) const; // can stand in a window
    bool inherits(const QString &className, const QString &base) const;
    QStringList classes() const;                         // those that can stand in a window
    QStringList lineage(const QString &className) const; // itself first, QObject last

    QList<SignalEntry> signalsOf(const QString &className) const; // own first, then inherited
    QList<SignalEntry> slotsOf(const QString &className) const;
    QList<PropertyEntry> propertiesOf(const QString &className) const;
    QList<EventEntry> eventsOf(const QString &className) const;

    // By name or by signature; several when a name is overloaded.
    QList<SignalEntry> signalsNamed(const QString &className, const QString &nameOrSignature) const;
    const EventEntry *event(const QString &words) const;

    // The property as `className` has it, own ones of Pipit's included.
    const PropertyEntry *property(const QString &className, const QString &name) const;

    // The class meant by a plain word or a part of a name: "button", "tick box", "QLineEdit".
    QString classFor(const QString &words) const;
    bool isWidget(const QString &className) const { return inherits(className, "QWidget"); }
    // Whether widgets can stand in it.
    static bool holds(const QString &className);

private:
    Catalog();
    struct ClassEntry {
        QString name, base;
        bool makes = false;
        QList<SignalEntry> signalList, slotList;
        QList<PropertyEntry> properties;
        QHash<QString, QString> otherDefaults; // of inherited properties
    };
    const ClassEntry *find(const QString &name) const;
    QList<SignalEntry> collectSignals(const QString &className) const;
    QList<ClassEntry> classes_;
    QHash<QString, qsizetype> index_;            // class → its place in classes_
    QHash<QString, QStringList> lineages_;       // itself first
    QHash<QString, QList<SignalEntry>> signals_; // own and inherited
    QHash<QString, QList<PropertyEntry>> properties_;
    QList<EventEntry> events_;
};

// What a class of the user's derives from, in words: "frame", "object"; empty: nothing known.
QString ownBaseFor(const QString &words);
QString plainWordFor(const QString &className); // "button", "line of text"
// The words that a person may add a widget by, each with what it comes with: `separator` is a
// frame with the shape of a line.
struct PlainWord {
    QString words, className;
    QList<std::pair<QString, QString>> properties;
};
const QList<PlainWord> &plainWords();
const PlainWord *plainWord(const QString &words);

QList<EventEntry> catalogEvents();
// Properties that Pipit itself understands, for one class: where a widget stands in its layout,
// which file its picture comes from, what it lets be dragged.
QList<PropertyEntry> ownProperties(const QString &className, const QStringList &lineage);
// "minimum width" → "minimumWidth"; names stay as they are.
QString propertyNameFromWords(const QString &words);

} // namespace pipit
