// What classes offer: signals, slots, events, properties, and what an act gives in order.
#include "cli/verbs.h"

#include "core/catalog/catalog.h"
#include "core/catalog/orders.h"
#include "core/project/values.h"

#include <QJsonArray>
#include <QJsonObject>
#include <QSet>

namespace pipit::cli
{

namespace
{

struct CatalogVerb {
    QString className, name, find;
    bool json = false;

    void takes(Words &words)
    {
        words.word("CLASS", className, Words::MayBeLeftOut,
                   "A class or a plain word; without it, lists the classes");
        words.word("NAME", name, Words::MayBeLeftOut,
                   "A signal, slot, event or property of the class, in full");
        words.word("--find", find, Words::MayBeLeftOut, "Words to find in all classes");
        words.flag("--json", json);
    }
    int run() const;
};

// What any class offers that has all these words in its name or its sentence.
int findInCatalog(const QString &wanted, bool json)
{
    const Catalog &c = Catalog::get();
    const QStringList words = wanted.toLower().split(' ', Qt::SkipEmptyParts);
    QJsonArray rows;
    QSet<QString> told;
    const auto take = [&](const QString &cls, const QString &kind, const QString &name,
                          const QString &sentence) {
        const QString all = (cls + ' ' + name + ' ' + sentence).toLower();
        for (const QString &w : words)
            if (!all.contains(w))
                return;
        if (told.contains(cls + name))
            return;
        told.insert(cls + name);
        rows.append(QJsonObject{{"class", cls}, {"kind", kind}, {"name", name}, {"sentence", sentence}});
        if (!json)
            print((cls + '.' + name).leftJustified(44) + (sentence.isEmpty() ? kind : sentence));
    };
    for (const QString &cls : c.classes()) {
        for (const SignalEntry &s : c.signalsOf(cls))
            take(s.owner, "signal", s.signature, s.sentence);
        for (const PropertyEntry &p : c.propertiesOf(cls))
            take(p.owner == "layout" || p.owner == "wiring" ? cls : p.owner, "property", p.name, p.sentence);
    }
    for (const EventEntry &e : catalogEvents())
        take("QWidget", "event", e.words, e.sentence);
    if (json)
        printJson(rows);
    else if (rows.isEmpty())
        print("Nothing in the catalog has all of these words.");
    return fine;
}

int listClasses(bool json)
{
    const Catalog &c = Catalog::get();
    QJsonArray rows;
    for (const QString &name : c.classes()) {
        rows.append(QJsonObject{{"class", name}, {"word", plainWordFor(name)}});
        if (!json)
            print(name.leftJustified(20) + plainWordFor(name));
    }
    if (json)
        printJson(rows);
    return fine;
}

QJsonObject rowOf(const SignalEntry &s, const QString &cls)
{
    return {{"signal", s.signature},
            {"owner", s.owner},
            {"inherited", s.owner != cls},
            {"sentence", s.sentence},
            {"often", s.often},
            {"order", orderSentence(Catalog::get().lineage(cls), s.name())},
            {"mistake", s.mistake},
            {"callback", callbackOf(s)}};
}

QJsonObject rowOf(const EventEntry &e, const QString &cls)
{
    return {{"event", e.words},
            {"type", e.type},
            {"class", e.cppClass},
            {"sentence", e.sentence},
            {"handled", e.handled},
            {"carries", e.carries()},
            {"callback", callbackOf(e, cls)},
            {"on_viewport", e.onViewport}};
}

QJsonObject slotRow(const SignalEntry &s, const QString &cls)
{
    return {{"slot", s.signature}, {"owner", s.owner}, {"inherited", s.owner != cls}};
}

QJsonObject rowOf(const PropertyEntry &p)
{
    return {{"property", p.name},        {"type", p.type},
            {"default", p.defaultValue}, {"keys", QJsonArray::fromStringList(p.keys)},
            {"settable", isSettable(p)}, {"owner", p.owner}};
}

QJsonObject everythingOf(const QString &cls)
{
    const Catalog &c = Catalog::get();
    QJsonArray all[5];
    for (const SignalEntry &s : c.signalsOf(cls))
        all[0].append(rowOf(s, cls));
    for (const SignalEntry &s : c.slotsOf(cls))
        all[1].append(slotRow(s, cls));
    for (const EventEntry &e : c.eventsOf(cls))
        all[2].append(rowOf(e, cls));
    for (const PropertyEntry &p : c.propertiesOf(cls))
        all[3].append(rowOf(p));
    for (const ActOrder &o : actOrdersOf(c.lineage(cls)))
        all[4].append(QJsonObject{
            {"act", o.act}, {"class", o.className}, {"steps", QJsonArray::fromStringList(o.steps)}});
    return {{"class", cls},     {"signals", all[0]},    {"slots", all[1]},
            {"events", all[2]}, {"properties", all[3]}, {"orders", all[4]}};
}

void printAll(const QString &cls)
{
    const Catalog &c = Catalog::get();
    const auto inherited = [&](const QString &owner) {
        return owner == cls ? QString() : QStringLiteral("from %1. ").arg(owner);
    };
    const auto line = [](const QString &name, const QString &text) {
        print(("  " + name.leftJustified(36) + text).trimmed().prepend("  "));
    };
    print(cls + ", " + c.lineage(cls).mid(1).join(" < "));
    for (const SignalEntry &s : c.signalsOf(cls))
        line(s.signature,
             inherited(s.owner) + QStringList{s.sentence, s.often, s.mistake}.join(' ').simplified());
    for (const EventEntry &e : c.eventsOf(cls))
        line(e.words, e.sentence);
    print("in order");
    for (const ActOrder &o : actOrdersOf(c.lineage(cls)))
        line(o.act, o.steps.join(", "));
    print("slots");
    for (const SignalEntry &s : c.slotsOf(cls))
        line(s.signature, inherited(s.owner).chopped(s.owner == cls ? 0 : 2));
    print("properties");
    for (const PropertyEntry &p : c.propertiesOf(cls))
        line(p.name,
             (p.keys.isEmpty() ? p.type : p.keys.join(", ")) + (isSettable(p) ? "" : ", set in code"));
    print("More about one: pipit catalog " + cls + " NAME");
}

// Names beside what they stand for, those that stand for nothing left out.
void printRow(const QJsonObject &row)
{
    for (auto it = row.constBegin(); it != row.constEnd(); ++it) {
        const QString text = it->isBool() ? QString(it->toBool() ? "yes" : "no")
                             : it->isArray()
                                 ? QVariant(it->toArray().toVariantList()).toStringList().join(", ")
                                 : it->toString();
        if (!text.isEmpty())
            print("  " + it.key().leftJustified(12) + text);
    }
}

int tellOne(const QString &cls, const QString &name, bool json)
{
    const Catalog &c = Catalog::get();
    QJsonArray rows;
    for (const SignalEntry &s : c.signalsNamed(cls, name))
        rows.append(rowOf(s, cls));
    for (const SignalEntry &s : c.slotsOf(cls))
        if (s.name() == name || s.signature == name)
            rows.append(slotRow(s, cls));
    for (const EventEntry &e : c.eventsOf(cls))
        if (e.words == name || e.type == name || e.type == "QEvent::" + name)
            rows.append(rowOf(e, cls));
    if (const PropertyEntry *p = c.property(cls, propertyNameFromWords(name)))
        rows.append(rowOf(*p));
    if (rows.isEmpty())
        return fail({QStringLiteral("%1 has no signal, slot, event or property '%2'").arg(cls, name),
                     {},
                     "See 'pipit catalog " + cls + "'"});
    if (json) {
        printJson(rows);
        return fine;
    }
    for (const auto &row : std::as_const(rows)) {
        print(cls + ' ' + name);
        printRow(row.toObject());
    }
    return fine;
}

int CatalogVerb::run() const
{
    const Catalog &c = Catalog::get();
    if (!find.isEmpty())
        return findInCatalog(find, json);
    if (className.isEmpty())
        return listClasses(json);
    const QString cls = c.classFor(className);
    if (cls.isEmpty())
        return fail({QStringLiteral("There is no class '%1' in the catalog").arg(className),
                     {},
                     "See 'pipit catalog'"});
    if (!name.isEmpty())
        return tellOne(cls, name, json);
    if (json)
        printJson(everythingOf(cls));
    else
        printAll(cls);
    return fine;
}

} // namespace

void addCatalogVerb(Registry &r)
{
    r.add<CatalogVerb>("catalog", "Show a class's signals, slots, events and properties",
                       "pipit catalog --find \"row is chosen\"");
}

} // namespace pipit::cli
