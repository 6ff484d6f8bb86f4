#include "core/codegen/generate.h"

#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/support_text.h"
#include "core/codegen/wiring.h"
#include "core/userfiles/cpp_scan.h"

#include <QDir>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QRegularExpression>
#include <QSet>

namespace pipit
{

QByteArray textLiteral(const QString &text)
{
    const QByteArray utf8 = text.toUtf8();
    QByteArray out = "QString::fromUtf8(\"";
    for (const char c : utf8) {
        const auto u = static_cast<unsigned char>(c);
        const bool plain = u >= 0x20 && u < 0x7f && c != '"' && c != '\\' && c != '?' && c != '*' && c != '/';
        if (plain)
            out += c;
        else // three octal digits end by themselves, whatever follows
            out += '\\' + QByteArray::number(u, 8).rightJustified(3, '0');
    }
    return out + "\", " + QByteArray::number(utf8.size()) + ')';
}

namespace
{

constexpr char banner[] = "// Made by Pipit; edits here are overwritten.\n";

QByteArray valueExpression(const Json &v)
{
    switch (v.type()) {
    case Json::Bool:
        return v.toBool() ? "true" : "false";
    case Json::Number:
        if (v.toNumber() == double(int(v.toNumber())))
            return QByteArray::number(int(v.toNumber()));
        return QByteArray::number(v.toNumber(), 'g', 17);
    default:
        return textLiteral(v.toString());
    }
}

QByteArray layoutClass(const QString &layout)
{
    return layout == "row"        ? "QHBoxLayout"
           : layout == "grid"     ? "QGridLayout"
           : layout == "labelled" ? "QFormLayout"
                                  : "QVBoxLayout";
}

// Builds one widget and what is in it.
class WidgetWriter
{
public:
    QByteArray text;
    QSet<QString> headers;

    void window(const WidgetNode &root)
    {
        setUp(root, "this");
        for (const WidgetNode &child : root.children)
            widget(child, "this");
        layout(root, "this");
    }

private:
    void setUp(const WidgetNode &w, const QByteArray &name)
    {
        text += "    " + name + "->setObjectName(" + textLiteral(w.name) + ");\n";
        for (const Property &p : w.properties) {
            if (p.name == "items" && (w.className == "QListWidget" || w.className == "QComboBox")) {
                for (const QString &item : p.value.toString().split('\n'))
                    text += "    " + name + "->addItem(" + textLiteral(item) + ");\n";
                continue;
            }
            text += "    " + name + "->setProperty(\"" + p.name.toUtf8() + "\", " + valueExpression(p.value) +
                    ");\n";
        }
    }
    void widget(const WidgetNode &w, const QByteArray &parent)
    {
        const QByteArray name = w.name.toUtf8();
        headers.insert(w.className);
        text += "\n    " + name + " = new " + w.className.toUtf8() + '(' + parent + ");\n";
        setUp(w, name);
        for (const WidgetNode &child : w.children)
            widget(child, name);
        layout(w, name);
    }
    void layout(const WidgetNode &w, const QByteArray &owner)
    {
        if (w.layout.isEmpty() || w.children.isEmpty())
            return;
        const QByteArray cls = layoutClass(w.layout);
        headers.insert(cls);
        text += "    {\n        auto *layout = new " + cls + '(' + owner + ");\n";
        for (qsizetype i = 0; i < w.children.size(); ++i) {
            const QByteArray child = w.children[i].name.toUtf8();
            if (w.layout == "grid") {
                text += "        layout->addWidget(" + child + ", " + QByteArray::number(i / 2) + ", " +
                        QByteArray::number(i % 2) + ");\n";
            } else if (w.layout == "labelled") {
                if (i + 1 < w.children.size()) {
                    text +=
                        "        layout->addRow(" + child + ", " + w.children[i + 1].name.toUtf8() + ");\n";
                    ++i;
                } else {
                    text += "        layout->addRow(" + child + ");\n";
                }
            } else {
                text += "        layout->addWidget(" + child + ");\n";
            }
        }
        text += "    }\n";
    }
};

QByteArray includes(const QSet<QString> &headers)
{
    QStringList sorted(headers.begin(), headers.end());
    sorted.sort();
    QByteArray out;
    for (const QString &h : sorted) {
        const bool core = QStringList{"QTimer", "QEvent"}.contains(h);
        const bool gui = h.endsWith("Event") && !core;
        out += QByteArray("#include <") +
               (core  ? "QtCore/"
                : gui ? "QtGui/"
                      : "QtWidgets/") +
               h.toUtf8() + ">\n";
    }
    return out;
}

QByteArray baseHeader(const Project &p, const WindowNode &w)
{
    QByteArray members;
    QSet<QString> classes{"QWidget"};
    p.eachWidget([&](const WidgetNode &n, const WidgetNode *parent) {
        if (!parent)
            return;
        members += "    " + n.className.toUtf8() + " *" + n.name.toUtf8() + " = nullptr;\n";
        classes.insert(n.className);
    });
    for (const TimerNode &t : w.timers) {
        members += "    QTimer *" + t.name.toUtf8() + " = nullptr;\n";
        classes.insert("QTimer");
    }
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Background)
            members += "    // The job of " + h.name.toUtf8() + ": cancel it, or ask it for its progress.\n" +
                       "    QFutureWatcher<" + h.result.toUtf8() + "> *" + h.name.toUtf8() +
                       "Job = nullptr;\n";
    const QByteArray name = w.className.toUtf8() + "Base";
    return banner + QByteArray("#pragma once\n\n#include \"wiring_support.h\"\n\n") + includes(classes) +
           "\nclass " + name + " : public " + w.root.className.toUtf8() + "\n{\npublic:\n    explicit " +
           name + "(QWidget *parent = nullptr);\n\nprotected:\n" + members + "};\n";
}

QByteArray baseSource(const Project &p, const WindowNode &w)
{
    WidgetWriter writer;
    writer.window(w.root);
    const QByteArray name = w.className.toUtf8() + "Base";
    QByteArray timers;
    for (const TimerNode &t : w.timers) {
        const QByteArray n = t.name.toUtf8();
        timers += "\n    " + n + " = new QTimer(this);\n    " + n + "->setObjectName(" + textLiteral(t.name) +
                  ");\n    " + n + "->setInterval(" + QByteArray::number(t.interval) + ");\n";
        if (!t.repeat)
            timers += "    " + n + "->setSingleShot(true);\n";
        if (t.precise)
            timers += "    " + n + "->setTimerType(Qt::PreciseTimer);\n";
    }
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Background)
            timers += "\n    " + h.name.toUtf8() + "Job = new QFutureWatcher<" + h.result.toUtf8() +
                      ">(this);\n    " + h.name.toUtf8() + "Job->setObjectName(" +
                      textLiteral(h.name + "Job") + ");\n";
    return banner + QByteArray("#include \"") + w.file.toUtf8() + "_base.h\"\n\n" + includes(writer.headers) +
           '\n' + name + "::" + name + "(QWidget *parent) : " + w.root.className.toUtf8() + "(parent)\n{\n" +
           writer.text + timers + "}\n";
}

QByteArray membersFile(const Project &p)
{
    QByteArray out = banner + QByteArray("protected:\n");
    for (const Handler &h : p.handlers)
        for (const QString &f : h.functions())
            if (!f.endsWith("Work") || h.shape != Shape::Background)
                out += "    " + declarationOf(h, f).toUtf8() + ";\n";
    return out + "private:\n";
}

QByteArray handlersHeader(const Project &p)
{
    QByteArray out = banner + QByteArray("#pragma once\n\n#include \"wiring_support.h\"\n\n");
    QSet<QString> classes;
    for (const Handler &h : p.handlers)
        for (QString type : h.arguments) {
            type = type.remove("const ").remove('*').remove('&').trimmed();
            if (type.endsWith("Event"))
                classes.insert(type);
        }
    out += includes(classes);
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Background)
            out += declarationOf(h, h.name + "Work").toUtf8() + ";\n";
    return out;
}

QByteArray mainSource(const WindowNode &w, const QString &project)
{
    return banner + QByteArray("#include \"") + w.file.toUtf8() +
           "_wiring.h\"\n\n#include <QtWidgets/QApplication>\n\nint main(int argc, char **argv)\n{\n"
           "    QApplication app(argc, argv);\n    QApplication::setApplicationName(" +
           textLiteral(project) + ");\n    " + w.className.toUtf8() +
           "Wired window;\n    window.show();\n    return QApplication::exec();\n}\n";
}

QByteArray sourcesFile(const WindowNode &w, const QString &folder)
{
    const QByteArray f = w.file.toUtf8();
    return "# Made by Pipit; edits here are overwritten.\nset(PROJECT_SOURCES " +
           userSources(folder).join(' ').toUtf8() + " generated/" + f + "_base.cpp generated/" + f +
           "_wiring.cpp generated/main.cpp)\nset(PROJECT_LIBRARIES Qt6::Widgets Qt6::Concurrent)\n";
}

QByteArray mapFile(const Project &p, const WindowNode &w, const WiringText &wiring, UserFiles &files)
{
    QJsonArray lines, definitions;
    for (const WiringLine &l : wiring.lines)
        lines.append(QJsonObject{{"line", l.line},
                                 {"connection", l.connection},
                                 {"handler", l.handler},
                                 {"name", l.name},
                                 {"source", l.source},
                                 {"signal", l.signal}});
    for (const Handler &h : p.handlers) {
        const auto text = files.text(h.file);
        if (!text)
            continue;
        for (const Definition &d : definitionsIn(*text))
            if (h.functions().contains(d.name))
                definitions.append(QJsonObject{{"name", d.name}, {"file", h.file}, {"line", d.line}});
    }
    return QJsonDocument(QJsonObject{{"version", 1},
                                     {"file", w.file + "_wiring.cpp"},
                                     {"lines", lines},
                                     {"definitions", definitions}})
        .toJson();
}

} // namespace

QString declarationOf(const Handler &h, const QString &function, const QString &className)
{
    const QString scope = className.isEmpty() ? QString() : className + "::";
    if (h.shape == Shape::Background) {
        if (function.endsWith("Take"))
            return h.input + ' ' + scope + function + "()";
        if (function.endsWith("Work"))
            return QStringLiteral("%1 %2(QPromise<%1> &promise, const %3 &input)")
                .arg(h.result, function, h.input);
        return QStringLiteral("void %1%2(const Outcome<%3> &outcome)").arg(scope, function, h.result);
    }
    static const QStringList names = {"value", "second", "third", "fourth"};
    QStringList arguments;
    if (h.takesSource)
        arguments << "QWidget *source";
    for (qsizetype i = 0; i < h.arguments.size(); ++i) {
        const QString type = h.arguments[i];
        const QString name = h.kind == HandlerKind::Event ? (i == 0 ? "source" : "event")
                                                          : names.value(i, QStringLiteral("a%1").arg(i));
        arguments << type + (type.endsWith('*') || type.endsWith('&') ? "" : " ") + name;
    }
    return QStringLiteral("%1 %2%3(%4)")
        .arg(h.kind == HandlerKind::Event ? "bool" : "void", scope, function, arguments.join(", "));
}

QString stubText(const Project &p, const Handler &h)
{
    const QString cls = p.windows.first().className;
    QString out;
    for (const QString &f : h.functions()) {
        const bool work = h.shape == Shape::Background && f.endsWith("Work");
        QString comment, body;
        if (h.shape == Shape::Background) {
            comment =
                work ? "// On a worker thread: compute from the input alone; no widget may be touched here.\n"
                : f.endsWith("Take") ? "// On the loop: read the widgets and return what the work needs.\n"
                                     : "// On the loop: show the result, the error or the cancellation.\n";
            body = work                 ? "    Q_UNUSED(promise)\n    Q_UNUSED(input)\n    return {};\n"
                   : f.endsWith("Take") ? "    return {};\n"
                                        : "    Q_UNUSED(outcome)\n";
        } else {
            if (h.kind == HandlerKind::Event) {
                comment = "// True: handled here. False: the widget handles the event itself.\n";
                body = "    Q_UNUSED(source)\n    Q_UNUSED(event)\n    return false;\n";
            } else {
                for (const char *name : {"value", "second", "third", "fourth"})
                    if (declarationOf(h, f).contains(
                            QRegularExpression(QStringLiteral("\\b%1\\b").arg(name))))
                        body += QStringLiteral("    Q_UNUSED(%1)\n").arg(name);
            }
        }
        out += '\n' + comment + declarationOf(h, f, work ? QString() : cls) + "\n{\n" + body + "}\n";
    }
    return out;
}

bool hasBackground(const Project &project)
{
    return std::any_of(project.handlers.begin(), project.handlers.end(),
                       [](const Handler &h) { return h.shape == Shape::Background; });
}

QStringList toolkitHeaders(const Project &project, bool background)
{
    QSet<QString> classes{"QWidget",     "QApplication", "QVBoxLayout", "QHBoxLayout",
                          "QPushButton", "QLabel",       "QLineEdit",   "QListWidget"};
    project.eachWidget([&](const WidgetNode &n, const WidgetNode *) { classes.insert(n.className); });
    QStringList headers = {"QtCore/QPointer", "QtCore/QTimer", "QtGui/QKeyEvent"};
    for (const QString &cls : classes)
        headers << "QtWidgets/" + cls;
    if (background)
        headers << "QtConcurrent/QtConcurrentRun"
                << "QtCore/QFutureWatcher"
                << "QtCore/QPromise";
    headers.sort();
    return headers;
}

Result<Generated> generate(const Project &project, const ProjectPlace &place, UserFiles &files)
{
    const WindowNode &w = project.windows.first();
    auto wiring = wiringFor(project, place);
    if (!wiring)
        return wiring.problem();
    const QString f = "generated/" + w.file;
    Generated g;
    g.files = {{"generated/wiring_support.h",
                QByteArray(supportText) + (hasBackground(project) ? backgroundText : "")},
               {f + "_base.h", baseHeader(project, w)},
               {f + "_base.cpp", baseSource(project, w)},
               {f + "_members.inc", membersFile(project)},
               {f + "_handlers.h", handlersHeader(project)},
               {f + "_wiring.h", wiring->header},
               {f + "_wiring.cpp", wiring->source},
               {"generated/main.cpp", mainSource(w, project.name)},
               {"generated/sources.cmake", sourcesFile(w, place.folder)},
               {"generated/map.json", mapFile(project, w, *wiring, files)}};
    return g;
}

Outcome writeGenerated(const Generated &generated, const ProjectPlace &place)
{
    if (auto ok = makeFolder(place.folder + "/generated"); !ok)
        return ok;
    for (const GeneratedFile &f : generated.files)
        if (auto ok = writeFileIfChanged(place.folder + '/' + f.name, f.bytes); !ok)
            return ok.problem();
    return Done{};
}

QStringList userSources(const QString &folder)
{
    return QDir(folder).entryList({"*.cpp"}, QDir::Files, QDir::Name);
}

QList<GeneratedFile> userTemplates(const Project &project)
{
    const WindowNode &w = project.windows.first();
    const QByteArray cls = w.className.toUtf8(), file = w.file.toUtf8();
    const QByteArray header =
        "#pragma once\n\n#include \"generated/" + file + "_base.h\"\n#include \"generated/" + file +
        "_handlers.h\"\n\nclass " + cls + " : public " + cls + "Base\n{\npublic:\n    explicit " + cls +
        "(QWidget *parent = nullptr);\n\n    // The handlers' declarations.\n#include \"generated/" + file +
        "_members.inc\"\n};\n";
    const QByteArray source = "#include \"" + file + ".h\"\n\n" + cls + "::" + cls +
                              "(QWidget *parent) : " + cls + "Base(parent)\n{\n}\n";
    const QByteArray cmake = "cmake_minimum_required(VERSION 3.22)\nproject(" + file +
                             " LANGUAGES CXX)\n\nset(CMAKE_CXX_STANDARD 17)\nset(CMAKE_AUTOMOC ON)\n"
                             "find_package(Qt6 REQUIRED COMPONENTS Widgets Concurrent)\n"
                             "include(generated/sources.cmake)\nadd_executable(" +
                             file + " ${PROJECT_SOURCES})\ntarget_include_directories(" + file +
                             " PRIVATE ${CMAKE_CURRENT_SOURCE_DIR})\ntarget_link_libraries(" + file +
                             " PRIVATE ${PROJECT_LIBRARIES})\n";
    return {{w.file + ".h", header}, {w.file + ".cpp", source}, {"CMakeLists.txt", cmake}};
}

} // namespace pipit
