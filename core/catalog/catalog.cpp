#include "core/catalog/catalog.h"

#include "core/catalog/sentences.h"

#include <algorithm>

extern const char pipitCatalogTable[];

namespace pipit
{

namespace
{

QString unescape(QString s)
{
    return s.replace("\\p", "|").replace("\\n", "\n").replace("\\\\", "\\");
}

// Scalars by value, all else by const reference, as a slot declares them.
QString parameterType(const QString &type)
{
    static const QStringList scalars = {"bool", "int", "double", "uint", "qint64", "qlonglong", "float"};
    if (scalars.contains(type) || type.endsWith('*') || type.startsWith("QFlags<") ||
        (type.contains("::") && !type.contains('<')))
        return type.endsWith('*') ? type.chopped(1) + " *" : type;
    return "const " + type + " &";
}

} // namespace

QStringList SignalEntry::types() const
{
    const QString inside = signature.mid(signature.indexOf('(') + 1).chopped(1);
    QStringList types;
    int depth = 0;
    QString one;
    for (const QChar c : inside) {
        depth += c == '<' ? 1 : c == '>' ? -1 : 0;
        if (c == ',' && depth == 0)
            types << std::exchange(one, {});
        else
            one += c;
    }
    if (!one.isEmpty())
        types << one;
    types.removeAll("QPrivateSignal");
    for (QString &t : types)
        t = parameterType(t);
    return types;
}

const Catalog &Catalog::get()
{
    static const Catalog catalog;
    return catalog;
}

namespace
{

void addSignal(QList<SignalEntry> &to, const QStringList &fields, const QString &owner)
{
    const SignalWords words = signalWords(owner, fields[0].left(fields[0].indexOf('(')));
    if (fields[0].startsWith("paused(")) // no longer to be used
        return;
    to.append({fields[0], fields.value(1).split(',', Qt::SkipEmptyParts), owner, words.sentence, words.often,
               words.mistake});
}

void addProperty(QList<PropertyEntry> &to, const QStringList &fields, const QString &owner)
{
    PropertyEntry p{fields[0], fields[1], unescape(fields[2]), owner, {}, false, {}};
    p.keys = fields[3].split(',', Qt::SkipEmptyParts);
    if (!p.keys.isEmpty() && p.keys.first() == "+") {
        p.flags = true;
        p.keys.removeFirst();
    }
    to.append(p);
}

} // namespace

Catalog::Catalog() : events_(catalogEvents())
{
    for (const QString &line : QString::fromUtf8(pipitCatalogTable).split('\n', Qt::SkipEmptyParts)) {
        const QString rest = line.mid(2);
        const QStringList f = rest.split('|');
        if (line.startsWith("C ")) {
            const QStringList words = rest.split(' ');
            classes_.append(
                {words[0], words[1] == "-" ? QString() : words[1], words[2] == "1", {}, {}, {}, {}});
            continue;
        }
        ClassEntry &c = classes_.last();
        if (line.startsWith("S "))
            addSignal(c.signalList, f, c.name);
        else if (line.startsWith("L "))
            c.slotList.append({f[0], {}, c.name, {}, {}, {}});
        else if (line.startsWith("P "))
            addProperty(c.properties, f, c.name);
        else if (line.startsWith("D "))
            c.otherDefaults.insert(f[0], unescape(f[1]));
    }
    classes_.append({"Spacer", {}, true, {}, {}, {}, {}}); // room in a layout, no widget
    for (qsizetype i = 0; i < classes_.size(); ++i)
        index_.insert(classes_[i].name, i);
    for (const ClassEntry &c : std::as_const(classes_)) {
        QStringList line;
        for (const ClassEntry *each = &c; each; each = find(each->base))
            line << each->name;
        lineages_.insert(c.name, line);
    }
    for (const ClassEntry &c : std::as_const(classes_))
        signals_.insert(c.name, collectSignals(c.name));
    for (const ClassEntry &c : std::as_const(classes_)) {
        QList<PropertyEntry> all;
        for (const QString &name : lineage(c.name))
            all += find(name)->properties;
        // A name is given by renaming; of a timer we have our own words.
        all.removeIf([&](const PropertyEntry &p) { return p.name == "objectName" || c.name == "QTimer"; });
        for (PropertyEntry &p : all)
            p.defaultValue = c.otherDefaults.value(p.name, p.defaultValue);
        properties_.insert(c.name, all + ownProperties(c.name, lineage(c.name)));
    }
}

const Catalog::ClassEntry *Catalog::find(const QString &name) const
{
    const auto it = index_.constFind(name);
    return it == index_.constEnd() ? nullptr : &classes_[*it];
}

bool Catalog::has(const QString &className) const
{
    return find(className);
}

bool Catalog::makes(const QString &className) const
{
    const ClassEntry *c = find(className);
    return c && c->makes;
}

QStringList Catalog::lineage(const QString &className) const
{
    return lineages_.value(className);
}

bool Catalog::inherits(const QString &className, const QString &base) const
{
    return lineage(className).contains(base);
}

QStringList Catalog::classes() const
{
    QStringList names;
    for (const ClassEntry &c : classes_)
        if (c.makes)
            names << c.name;
    return names;
}

QList<SignalEntry> Catalog::signalsOf(const QString &className) const
{
    return signals_.value(className);
}

QList<SignalEntry> Catalog::collectSignals(const QString &className) const
{
    QList<SignalEntry> all;
    for (const QString &name : lineage(className))
        for (const SignalEntry &s : find(name)->signalList) {
            const bool shorter = std::any_of(all.begin(), all.end(), [&](const SignalEntry &o) {
                return o.owner == s.owner && o.name() == s.name() && o.types().size() > s.types().size() &&
                       s.types() == o.types().mid(0, s.types().size());
            });
            if (!shorter) // clicked() beside clicked(bool) is the same signal with a default
                all << s;
        }
    return all;
}

QList<SignalEntry> Catalog::slotsOf(const QString &className) const
{
    QList<SignalEntry> all;
    for (const QString &name : lineage(className))
        all += find(name)->slotList;
    return all;
}

QList<PropertyEntry> Catalog::propertiesOf(const QString &className) const
{
    return properties_.value(className);
}

const PropertyEntry *Catalog::property(const QString &className, const QString &name) const
{
    const auto it = properties_.constFind(className);
    if (it == properties_.constEnd())
        return nullptr;
    for (const PropertyEntry &p : *it)
        if (p.name == name)
            return &p;
    return nullptr;
}

bool Catalog::holds(const QString &className)
{
    static const QStringList holders = {
        "QWidget",  "QMainWindow", "QDialog",     "QGroupBox", "QFrame", "QTabWidget", "QStackedWidget",
        "QToolBox", "QSplitter",   "QScrollArea", "QMenuBar",  "QMenu",  "QToolBar",   "QStatusBar"};
    return holders.contains(className);
}

QList<EventEntry> Catalog::eventsOf(const QString &className) const
{
    return isWidget(className) ? events_ : QList<EventEntry>();
}

QList<SignalEntry> Catalog::signalsNamed(const QString &className, const QString &wanted) const
{
    QList<SignalEntry> found;
    for (const SignalEntry &s : signalsOf(className))
        if (s.signature == wanted || (s.signature.startsWith(wanted) && s.name() == wanted))
            found << s;
    return found;
}

const EventEntry *Catalog::event(const QString &words) const
{
    for (const EventEntry &e : events_)
        if (e.words == words)
            return &e;
    return nullptr;
}

} // namespace pipit
