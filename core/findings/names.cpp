#include "core/findings/names.h"

#include "core/catalog/catalog.h"
#include "core/project/naming.h"

#include <QRegularExpression>
#include <QSet>

#include <mutex>

namespace pipit
{

namespace
{

// Functions of widgets and objects that are neither slots, signals nor properties.
const QSet<QString> &plainMembers()
{
    static const QSet<QString> names = {"actions",
                                        "addAction",
                                        "childAt",
                                        "children",
                                        "connect",
                                        "contentsMargins",
                                        "cursor",
                                        "disconnect",
                                        "event",
                                        "find",
                                        "findChild",
                                        "findChildren",
                                        "focusWidget",
                                        "font",
                                        "fontMetrics",
                                        "frameGeometry",
                                        "geometry",
                                        "grab",
                                        "graphicsEffect",
                                        "hasFocus",
                                        "heightForWidth",
                                        "inherits",
                                        "isActiveWindow",
                                        "isVisible",
                                        "layout",
                                        "mapFromGlobal",
                                        "mapToGlobal",
                                        "metaObject",
                                        "move",
                                        "nativeEvent",
                                        "objectName",
                                        "parent",
                                        "parentWidget",
                                        "pos",
                                        "property",
                                        "rect",
                                        "render",
                                        "resize",
                                        "screen",
                                        "scroll",
                                        "sender",
                                        "setLayout",
                                        "setParent",
                                        "size",
                                        "startTimer",
                                        "style",
                                        "thread",
                                        "tr",
                                        "underMouse",
                                        "visibleRegion",
                                        "width",
                                        "height",
                                        "window",
                                        "windowHandle",
                                        "winId",
                                        "x",
                                        "y",
                                        "moveToThread",
                                        "killTimer",
                                        "deleteLater",
                                        "paintEvent",
                                        "closeEvent",
                                        "keyPressEvent",
                                        "mousePressEvent",
                                        "resizeEvent",
                                        "showEvent",
                                        "wire",
                                        "unwire",
                                        "on"};
    return names;
}

} // namespace

bool hidesMember(const QString &name, const QString &windowClass)
{
    static QHash<QString, QSet<QString>> known;
    static std::mutex one;
    std::lock_guard lock(one);
    auto it = known.find(windowClass);
    if (it == known.end()) {
        QSet<QString> names = plainMembers();
        const Catalog &c = Catalog::get();
        for (const SignalEntry &s : c.signalsOf(windowClass))
            names.insert(s.name());
        for (const SignalEntry &s : c.slotsOf(windowClass))
            names.insert(s.name());
        for (const PropertyEntry &p : c.propertiesOf(windowClass))
            if (p.owner != "layout" && p.owner != "wiring")
                names.insert(p.name);
        it = known.insert(windowClass, names);
    }
    return it->contains(name);
}

QString nearlySame(const QString &name, const QStringList &others)
{
    static const QRegularExpression digits("[0-9]+");
    const QString bare = QString(name).remove(digits);
    for (const QString &o : others) {
        if (o == name || std::abs(o.size() - name.size()) > 1 || name.size() < 5)
            continue;
        if (o.compare(name, Qt::CaseInsensitive) == 0)
            return o;
        if (QString(o).remove(digits) == bare)
            continue; // key1 and key2 are meant to be alike
        // One letter missing, too many, or other.
        qsizetype same = 0;
        while (same < std::min(o.size(), name.size()) && o[same] == name[same])
            ++same;
        const QStringView a = QStringView(o).mid(same), b = QStringView(name).mid(same);
        const bool oneOff =
            a.mid(1) == b || b.mid(1) == a || (a.mid(1) == b.mid(1)) ||
            (a.size() > 1 && b.size() > 1 && a[0] == b[1] && a[1] == b[0] && a.mid(2) == b.mid(2));
        if (oneOff && same > 0)
            return o;
    }
    return {};
}

QStringList nameNotes(const Project &p, const QString &name)
{
    if (auto ok = checkNewName(p, name); !ok)
        return {ok.problem().what + "."};
    return newNameNotes(p, name, {});
}

QStringList newNameNotes(const Project &p, const QString &name, const QStringList &gone)
{
    QStringList notes, others = p.objectNames();
    others.removeIf([&](const QString &n) { return gone.contains(n); });
    if (hidesMember(name, p.windows.first().root.className))
        notes << QStringLiteral("%1 hides a function of the window's class.").arg(name);
    if (const QString other = nearlySame(name, others); !other.isEmpty())
        notes << QStringLiteral("%1 is nearly the same as %2.").arg(name, other);
    return notes;
}

} // namespace pipit
