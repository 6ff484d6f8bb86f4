// Properties as C++ statements.
#include "core/codegen/window_code.h"

#include "core/catalog/catalog.h"
#include "core/project/layout_plan.h"
#include "core/project/values.h"

namespace pipit
{

namespace
{

QByteArray plainValue(const Json &v)
{
    switch (v.type()) {
    case Json::Bool:
        return v.toBool() ? "true" : "false";
    case Json::Number:
        if (v.toNumber() == double(qint32(v.toNumber())))
            return QByteArray::number(qint32(v.toNumber()));
        return QByteArray::number(v.toNumber(), 'g', 17);
    default:
        return textLiteral(v.toString());
    }
}

QByteArray listCode(const QString &lines)
{
    QByteArrayList all;
    for (const QString &l : lines.split('\n'))
        all << textLiteral(l);
    return "QStringList{" + all.join(", ") + '}';
}

QByteArray fontCode(const QByteArray &name, const QString &text)
{
    auto f = parseFont(text);
    if (!f)
        return {};
    QByteArray out = "    {\n        QFont font = " + name + "->font();\n";
    if (!f->family.isEmpty())
        out += "        font.setFamily(" + textLiteral(f->family) + ");\n";
    if (f->points)
        out += "        font.setPointSize(" + QByteArray::number(f->points) + ");\n";
    for (auto [on, call] :
         {std::pair{f->bold, "setBold"}, {f->italic, "setItalic"}, {f->underline, "setUnderline"}})
        if (on)
            out += QByteArray("        font.") + call + "(true);\n";
    return out + "        " + name + "->setFont(font);\n    }\n";
}

QByteArray colourCode(const QByteArray &name, const QString &property, const QString &text)
{
    const bool ink = property == "textColour";
    QByteArray out = "    {\n        QPalette palette = " + name +
                     "->palette();\n        const QColor colour(" + textLiteral(text) + ");\n";
    for (const char *role :
         {ink ? "WindowText" : "Window", ink ? "Text" : "Base", ink ? "ButtonText" : "Button"})
        out += QByteArray("        palette.setColor(QPalette::") + role + ", colour);\n";
    out += "        " + name + "->setPalette(palette);\n";
    if (!ink)
        out += "        " + name + "->setAutoFillBackground(true);\n";
    return out + "    }\n";
}

QByteArray pictureCode(const QByteArray &name, const PropertyEntry &p, const QString &text)
{
    const bool icon = p.type == "QIcon";
    const QByteArray value = text.startsWith("theme:")
                                 ? "QIcon::fromTheme(" + textLiteral(text.mid(6)) + ')'
                                 : (icon ? "QIcon(" : "QPixmap(") + QByteArray("wiring::projectFile(") +
                                       textLiteral(text.mid(5)) + "))";
    if (icon)
        return "    " + name + "->setProperty(\"" + p.name.toUtf8() + "\", " + value + ");\n";
    return "    " + name + "->setPixmap(" + value + (text.startsWith("theme:") ? ".pixmap(48)" : "") + ");\n";
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

} // namespace

QByteArray propertyCode(const QByteArray &name, const QString &cls, const Property &p, bool isWindow)
{
    const QString text = valueText(p.value);
    if (isPlacing(p.name))
        return {};
    const PropertyEntry *entry = Catalog::get().property(cls, p.name);
    const QByteArray set = "    " + name + "->setProperty(\"" + p.name.toUtf8() + "\", ";
    if (!entry)
        return set + plainValue(p.value) + ");\n";
    if (entry->type == "names" || p.name == "dragType" || p.name == "dragText")
        return {};
    if (p.name == "items")
        return itemsCode(name, cls, text);
    if (p.name == "columns")
        return "    wiring::head(" + name + ", " + listCode(text) + ");\n";
    if (p.name == "paths")
        return "    for (const QString &path : " + listCode(text) + ")\n        " + name +
               "->addPath(wiring::projectFile(path));\n";
    if (cls == "QProcess" && p.name == "program")
        return "    " + name + "->setProgram(" +
               (text.startsWith("file:") ? "wiring::projectFile(" + textLiteral(text.mid(5)) + ')'
                                         : textLiteral(text)) +
               ");\n";
    if (cls == "QProcess" && p.name == "arguments")
        return "    " + name + "->setArguments(" + listCode(text) + ");\n";
    if (entry->owner == "wiring" && (p.name == "autostart" || p.name == "server"))
        return {}; // once everything is wired
    if (entry->type == "QFont")
        return fontCode(name, text);
    if (entry->type == "QColor")
        return colourCode(name, p.name, text);
    if (entry->type == "QIcon" || entry->type == "QPixmap")
        return text.isEmpty() ? QByteArray() : pictureCode(name, *entry, text);
    if (p.name == "windowSize")
        return isWindow ? "    resize(" + QByteArray::number(text.section('x', 0, 0).toInt()) + ", " +
                              QByteArray::number(text.section('x', 1).toInt()) + ");\n"
                        : QByteArray();
    if (entry->type == "QSize") {
        const QByteArray w = text.section('x', 0, 0).toUtf8(), h = text.section('x', 1).toUtf8();
        return set + "QSize(" + QByteArray::number(w.toInt()) + ", " + QByteArray::number(h.toInt()) +
               "));\n";
    }
    if (entry->type == "QSizePolicy")
        return "    " + name + "->setSizePolicy(QSizePolicy::" + text.section(' ', 0, 0).toUtf8() +
               ", QSizePolicy::" + text.section(' ', 1).toUtf8() + ");\n";
    if (p.name == "visible" && isWindow)
        return {};
    return set + plainValue(p.value) + ");\n";
}

} // namespace pipit
