// What each class offers: signals, slots, events, properties, inherited ones too, with a sentence
// on when each happens.
//
// Threads: read-only after the first use, which reads the compiled-in table; safe on any thread.
// The table comes from the tool-kit's meta-objects at build time, the sentences are ours.
#pragma once

#include <QHash>
#include <QList>
#include <QString>
#include <QStringList>

namespace pipit
{

struct SignalEntry {
    QString signature;     // "textChanged(QString)"
    QStringList arguments; // names, empty where the tool-kit gives none
    QString owner;         // the class that declares it
    QString sentence;      // when it happens; empty where we have none yet
    QString name() const { return signature.left(signature.indexOf('(')); }
    QStringList types() const; // as a C++ parameter has them: "const QString &"
};

struct PropertyEntry {
    QString name, type, defaultValue, owner;
    QStringList keys; // of an enumeration
};

struct EventEntry {
    QString words;    // "key press"
    QString type;     // "QEvent::KeyPress"
    QString cppClass; // "QKeyEvent"
    QString sentence;
    bool onViewport = false; // for scroll areas it arrives at the viewport
};

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

    // The class meant by a plain word or a part of a name: "button", "tick box", "QLineEdit".
    QString classFor(const QString &words) const;

private:
    Catalog();
    struct ClassEntry {
        QString name, base;
        bool makes = false;
        QList<SignalEntry> signalList, slotList;
        QList<PropertyEntry> properties;
    };
    const ClassEntry *find(const QString &name) const;
    QList<SignalEntry> collectSignals(const QString &className) const;
    QList<ClassEntry> classes_;
    QHash<QString, qsizetype> index_;            // class → its place in classes_
    QHash<QString, QStringList> lineages_;       // itself first
    QHash<QString, QList<SignalEntry>> signals_; // own and inherited
    QList<EventEntry> events_;
};

QString signalSentence(const QString &owner, const QString &name);
QString plainWordFor(const QString &className); // "a button", "a line of text"

} // namespace pipit
