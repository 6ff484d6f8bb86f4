// Properties as C++ statements.
#include "core/codegen/window_code.h"

#include "core/catalog/catalog.h"
#include "core/codegen/cpp_text.h"
#include "core/project/layout_plan.h"
#include "core/project/values.h"

#include <QDateTime>

namespace pipit
{

namespace
{

QByteArray number(const Json &v)
{
    if (v.toNumber() == double(qint32(v.toNumber())))
        return QByteArray::number(qint32(v.toNumber()));
    return QByteArray::number(v.toNumber(), 'g', 17);
}

// A value that the toolkit turns into the property's type.
QByteArray anyValue(const Json &v)
{
    switch (v.type()) {
    case Json::Bool:
        return v.toBool() ? "true" : "false";
    case Json::Number:
        return number(v);
    default:
        return stringCode(v.toString());
    }
}

QByteArray listCode(const QString &lines)
{
    QByteArrayList all;
    for (const QString &l : lines.split('\n'))
        all << translatedCode(l);
    return '{' + all.join(", ") + '}';
}

QByteArray numbers(std::initializer_list<int> all)
{
    QByteArrayList list;
    for (int n : all)
        list << QByteArray::number(n);
    return list.join(", ");
}

QByteArray dateCode(QDate d)
{
    return "QDate(" + numbers({d.year(), d.month(), d.day()}) + ')';
}

QByteArray timeCode(QTime t)
{
    return "QTime(" +
           (t.msec() ? numbers({t.hour(), t.minute(), t.second(), t.msec()})
                     : numbers({t.hour(), t.minute(), t.second()})) +
           ')';
}

// "Qt::AlignLeft | Qt::AlignTop", "QFrame::HLine".
QByteArray keysCode(const PropertyEntry &p, const QString &text)
{
    QString scope = p.type;
    if (scope.startsWith("QFlags<"))
        scope = scope.mid(7, scope.size() - 8);
    scope = scope.left(scope.lastIndexOf("::") + 2);
    QByteArrayList all;
    for (const QString &key : text.split('|', Qt::SkipEmptyParts)) {
        if (!p.keys.contains(key.trimmed()))
            return {};
        all << (scope + key.trimmed()).toUtf8();
    }
    return all.size() > 1 && !p.flags ? QByteArray() : all.join(" | ");
}

// Whether a person reads it, so that it is translated.
bool isRead(const PropertyEntry &p)
{
    static const QStringList kept = {"styleSheet", "inputMask", "displayFormat", "windowFilePath",
                                     "objectName"};
    return !kept.contains(p.name);
}

// The value as the property's own setter takes it; empty: only by name.
QByteArray typedValue(const PropertyEntry &p, const Json &v)
{
    const QString text = valueText(v);
    if (v.type() == Json::Bool)
        return p.type == "bool" ? anyValue(v) : QByteArray();
    if (v.type() == Json::Number)
        return p.type == "int" || p.type == "double" ? number(v) : QByteArray();
    if (!p.keys.isEmpty())
        return keysCode(p, text);
    if (p.type == "QString")
        return isRead(p) ? translatedCode(text) : stringCode(text);
    if (p.type == "QKeySequence")
        return "QKeySequence(" + stringCode(text) + ')';
    if (p.type == "QUrl")
        return "QUrl(" + stringCode(text) + ')';
    if (const QDate d = QDate::fromString(text, Qt::ISODate); p.type == "QDate" && d.isValid())
        return dateCode(d);
    if (const QTime t = QTime::fromString(text, Qt::ISODate); p.type == "QTime" && t.isValid())
        return timeCode(t);
    const QDateTime both = QDateTime::fromString(text, Qt::ISODate);
    if (p.type == "QDateTime" && both.isValid() && both.timeSpec() == Qt::LocalTime)
        return "QDateTime(" + dateCode(both.date()) + ", " + timeCode(both.time()) + ')';
    if (p.type == "QSize")
        return "QSize(" + numbers({text.section('x', 0, 0).toInt(), text.section('x', 1).toInt()}) + ')';
    return {};
}

// What sets it: by the toolkit's custom, but for the few that are named otherwise.
QByteArray setterOf(const QString &cls, const PropertyEntry &p)
{
    static const QHash<QString, QByteArray> others = {{"isWrapping", "setWrapping"},
                                                      {"showDropIndicator", "setDropIndicatorShown"},
                                                      {"showGroupSeparator", "setGroupSeparatorShown"}};
    if (cls == "QLCDNumber" && (p.name == "value" || p.name == "intValue"))
        return "display";
    return others.value(p.name, "set" + (p.name.left(1).toUpper() + p.name.mid(1)).toUtf8());
}

QByteArray fontCode(const QByteArray &name, const QString &text, const LocalNames &locals)
{
    auto f = parseFont(text);
    if (!f)
        return {};
    const QByteArray font = locals.of(name + "Font");
    QByteArray out = "    QFont " + font + " = " + memberOf(name) + "font();\n";
    if (!f->family.isEmpty())
        out += "    " + font + ".setFamily(" + stringCode(f->family) + ");\n";
    if (f->points)
        out += "    " + font + ".setPointSize(" + QByteArray::number(f->points) + ");\n";
    for (auto [on, call] :
         {std::pair{f->bold, "setBold"}, {f->italic, "setItalic"}, {f->underline, "setUnderline"}})
        if (on)
            out += "    " + font + '.' + call + "(true);\n";
    return out + "    " + memberOf(name) + "setFont(" + font + ");\n";
}

QByteArray colourCode(const QByteArray &name, const QString &property, const QString &text,
                      const LocalNames &locals)
{
    const bool ink = property == "textColour";
    const QByteArray palette = locals.of(name + (ink ? "Ink" : "Paper"));
    QByteArray out =
        "    QPalette " + palette + " = " + memberOf(name) + "palette();\n    for (auto role : {";
    QByteArrayList roles;
    for (const char *role :
         {ink ? "WindowText" : "Window", ink ? "Text" : "Base", ink ? "ButtonText" : "Button"})
        roles << QByteArray("QPalette::") + role;
    out += roles.join(", ") + "})\n        " + palette + ".setColor(role, QColor(" + stringCode(text) +
           "));\n    " + memberOf(name) + "setPalette(" + palette + ");\n";
    if (!ink)
        out += "    " + memberOf(name) + "setAutoFillBackground(true);\n";
    return out;
}

QByteArray pictureCode(const QByteArray &name, const QString &cls, const PropertyEntry &p,
                       const QString &text)
{
    const bool icon = p.type == "QIcon";
    const QByteArray value = text.startsWith("theme:")
                                 ? "QIcon::fromTheme(" + stringCode(text.mid(6)) + ')'
                                 : (icon ? "QIcon(" : "QPixmap(") + QByteArray("wiring::projectFile(") +
                                       stringCode(text.mid(5)) + "))";
    return "    " + memberOf(name) + setterOf(cls, p) + '(' + value +
           (!icon && text.startsWith("theme:") ? ".pixmap(48)" : "") + ");\n";
}

// Rows of a table, tree or model.
QByteArray itemsCode(const QByteArray &name, const QString &cls, const QString &text)
{
    if (cls == "QListWidget" || cls == "QComboBox" || cls == "QFontComboBox")
        return "    " + name + "->addItems(" + listCode(text) + ");\n";
    if (cls == "QStringListModel")
        return "    " + name + "->setStringList(" + listCode(text) + ");\n";
    return "    wiring::fill(" + name + ", " + listCode(text) + ");\n";
}

QByteArray plainList(const QString &lines)
{
    if (lines.isEmpty())
        return "{}";
    QByteArrayList all;
    for (const QString &l : lines.split('\n'))
        all << stringCode(l);
    return '{' + all.join(", ") + '}';
}

// Of devices: what they read, watch and start.
QByteArray deviceCode(const QByteArray &name, const QString &cls, const QString &property,
                      const QString &text)
{
    if (property == "paths") {
        QByteArray out;
        for (const QString &path : text.split('\n'))
            out += "    " + name + "->addPath(wiring::projectFile(" + stringCode(path) + "));\n";
        return out;
    }
    if (cls == "QProcess" && property == "program")
        return "    " + name + "->setProgram(" +
               (text.startsWith("file:") ? "wiring::projectFile(" + stringCode(text.mid(5)) + ')'
                                         : stringCode(text)) +
               ");\n";
    if (cls == "QProcess" && property == "arguments")
        return "    " + name + "->setArguments(" + plainList(text) + ");\n";
    return {};
}

} // namespace

QByteArray memberOf(const QByteArray &name)
{
    return name == "this" ? QByteArray() : name + "->";
}

QByteArray ownPropertyCode(const QByteArray &name, const PropertyEntry &mine, const Property &p)
{
    // Keys of an enumeration are found in its own scope too, whichever kind of enumeration it is.
    const QByteArray value = p.value.type() == Json::String && !mine.keys.isEmpty() && !mine.flags
                                 ? (mine.type + "::" + p.value.toString()).toUtf8()
                                 : typedValue(mine, p.value);
    if (!mine.setter.isEmpty() && !value.isEmpty())
        return "    " + memberOf(name) + mine.setter.toUtf8() + '(' + value + ");\n";
    return "    " + memberOf(name) + "setProperty(" + literal(p.name) + ", " + anyValue(p.value) + ");\n";
}

QByteArray propertyCode(const QByteArray &name, const QString &cls, const Property &p,
                        const LocalNames &locals, bool isWindow)
{
    const QString text = valueText(p.value);
    if (isPlacing(p.name))
        return {};
    const PropertyEntry *entry = Catalog::get().property(cls, p.name);
    const QByteArray byName =
        "    " + memberOf(name) + "setProperty(" + literal(p.name) + ", " + anyValue(p.value) + ");\n";
    if (!entry)
        return byName;
    if (entry->type == "names" || p.name == "dragType" || p.name == "dragText")
        return {};
    if (p.name == "items")
        return itemsCode(name, cls, text);
    if (p.name == "columns")
        return "    wiring::head(" + name + ", " + listCode(text) + ");\n";
    if (const QByteArray device = deviceCode(name, cls, p.name, text); !device.isEmpty())
        return device;
    if (entry->owner == "wiring" && (p.name == "autostart" || p.name == "server"))
        return {}; // once everything is wired
    if (entry->type == "QFont" && p.name == "font")
        return fontCode(name, text, locals);
    if (entry->type == "QColor")
        return colourCode(name, p.name, text, locals);
    if (entry->type == "QIcon" || entry->type == "QPixmap")
        return text.isEmpty() ? QByteArray() : pictureCode(name, cls, *entry, text);
    if (p.name == "windowSize")
        return isWindow
                   ? "    resize(" +
                         numbers({text.section('x', 0, 0).toInt(), text.section('x', 1).toInt()}) + ");\n"
                   : QByteArray();
    if (entry->type == "QSizePolicy")
        return "    " + memberOf(name) + "setSizePolicy(QSizePolicy::" + text.section(' ', 0, 0).toUtf8() +
               ", QSizePolicy::" + text.section(' ', 1).toUtf8() + ");\n";
    if (p.name == "visible" && isWindow)
        return {};
    const QByteArray value = typedValue(*entry, p.value);
    return value.isEmpty() ? byName : "    " + memberOf(name) + setterOf(cls, *entry) + '(' + value + ");\n";
}

} // namespace pipit
