#include "core/catalog/catalog.h"

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
    if (scalars.contains(type) || type.endsWith('*') || type.contains("::"))
        return type.endsWith('*') ? type.chopped(1) + " *" : type;
    return "const " + type + " &";
}

QList<EventEntry> makeEvents()
{
    return {
        {"key press", "QEvent::KeyPress", "QKeyEvent",
         "A key goes down while this widget has the focus; again and again while it is held.", false},
        {"key release", "QEvent::KeyRelease", "QKeyEvent", "A key comes up while this widget has the focus.",
         false},
        {"mouse press", "QEvent::MouseButtonPress", "QMouseEvent",
         "A mouse button goes down over this widget.", true},
        {"mouse release", "QEvent::MouseButtonRelease", "QMouseEvent",
         "A mouse button that was pressed here comes up, wherever the pointer is by then.", true},
        {"double click", "QEvent::MouseButtonDblClick", "QMouseEvent",
         "The second press of a double click, instead of a mouse press.", true},
        {"mouse move", "QEvent::MouseMove", "QMouseEvent",
         "The pointer moves with a button held; without one only where mouse tracking is on.", true},
        {"mouse enter", "QEvent::Enter", "QEnterEvent", "The pointer comes onto this widget.", false},
        {"mouse leave", "QEvent::Leave", "QEvent", "The pointer leaves this widget.", false},
        {"wheel", "QEvent::Wheel", "QWheelEvent", "The wheel turns over this widget.", true},
        {"focus in", "QEvent::FocusIn", "QFocusEvent", "This widget gets the keyboard.", false},
        {"focus out", "QEvent::FocusOut", "QFocusEvent", "This widget loses the keyboard.", false},
        {"show", "QEvent::Show", "QShowEvent", "This widget is about to be seen.", false},
        {"hide", "QEvent::Hide", "QHideEvent", "This widget is no longer seen.", false},
        {"close", "QEvent::Close", "QCloseEvent", "The window is asked to close; handled means refused.",
         false},
        {"resize", "QEvent::Resize", "QResizeEvent", "This widget has a new size.", false},
        {"context menu", "QEvent::ContextMenu", "QContextMenuEvent", "A menu is asked for, by mouse or key.",
         true},
    };
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

Catalog::Catalog() : events_(makeEvents())
{
    for (const QString &line : QString::fromUtf8(pipitCatalogTable).split('\n', Qt::SkipEmptyParts)) {
        const QString rest = line.mid(2);
        const QStringList f = rest.split('|');
        if (line.startsWith("C ")) {
            const QStringList words = rest.split(' ');
            classes_.append({words[0], words[1] == "-" ? QString() : words[1], words[2] == "1", {}, {}, {}});
            continue;
        }
        ClassEntry &c = classes_.last();
        if (line.startsWith("S "))
            c.signalList.append({f[0], f.value(1).split(',', Qt::SkipEmptyParts), c.name,
                                 signalSentence(c.name, f[0].left(f[0].indexOf('(')))});
        else if (line.startsWith("L "))
            c.slotList.append({f[0], {}, c.name, {}});
        else if (line.startsWith("P "))
            c.properties.append({f[0], f[1], unescape(f[2]), c.name, f[3].split(',', Qt::SkipEmptyParts)});
    }
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
    QList<PropertyEntry> all;
    for (const QString &name : lineage(className))
        all += find(name)->properties;
    return all;
}

QList<EventEntry> Catalog::eventsOf(const QString &className) const
{
    return inherits(className, "QWidget") ? events_ : QList<EventEntry>();
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

namespace
{

struct PlainWord {
    const char *words, *className;
};

// Plain words for classes; the first for a class is the one shown.
constexpr PlainWord plainWords[] = {
    {"button", "QPushButton"},
    {"push button", "QPushButton"},
    {"label", "QLabel"},
    {"field", "QLineEdit"},
    {"line of text", "QLineEdit"},
    {"text field", "QLineEdit"},
    {"tick box", "QCheckBox"},
    {"check box", "QCheckBox"},
    {"choice", "QRadioButton"},
    {"radio button", "QRadioButton"},
    {"drop-down", "QComboBox"},
    {"combo box", "QComboBox"},
    {"number", "QSpinBox"},
    {"spin box", "QSpinBox"},
    {"decimal number", "QDoubleSpinBox"},
    {"slider", "QSlider"},
    {"dial", "QDial"},
    {"scroll bar", "QScrollBar"},
    {"progress bar", "QProgressBar"},
    {"list", "QListWidget"},
    {"tree", "QTreeWidget"},
    {"table", "QTableWidget"},
    {"page of text", "QPlainTextEdit"},
    {"rich text", "QTextEdit"},
    {"group", "QGroupBox"},
    {"frame", "QFrame"},
    {"date", "QDateEdit"},
    {"time", "QTimeEdit"},
    {"date and time", "QDateTimeEdit"},
    {"calendar", "QCalendarWidget"},
    {"number display", "QLCDNumber"},
    {"tool button", "QToolButton"},
    {"area", "QWidget"},
    {"timer", "QTimer"},
};

} // namespace

QString Catalog::classFor(const QString &words) const
{
    const QString w = words.trimmed().toLower();
    if (w.isEmpty())
        return {};
    for (const QString &name : classes())
        if (name.toLower() == w || name.mid(1).toLower() == w)
            return name;
    for (const PlainWord &p : plainWords)
        if (w == p.words)
            return p.className;
    for (const PlainWord &p : plainWords)
        if (QString(p.words).startsWith(w))
            return p.className;
    for (const QString &name : classes())
        if (name.toLower().contains(w))
            return name;
    return {};
}

QString plainWordFor(const QString &className)
{
    for (const PlainWord &p : plainWords)
        if (className == p.className)
            return p.words;
    return className;
}

} // namespace pipit
