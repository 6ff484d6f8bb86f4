#include "core/codegen/generate.h"

#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/stubs.h"
#include "core/codegen/support_text.h"
#include "core/codegen/window_code.h"
#include "core/codegen/wiring.h"
#include "core/project/references.h"
#include "core/userfiles/cpp_scan.h"

#include <QDir>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QRegularExpression>
#include <QSet>

namespace pipit
{

namespace
{

constexpr char banner[] = "// Made by Pipit; edits here are overwritten.\n";

QList<const Handler *> handlersOf(const Project &p, int window)
{
    QList<const Handler *> list;
    for (const Handler &h : p.handlers)
        if (p.windowOfHandler(h) == window)
            list << &h;
    return list;
}

// Whether a struct is declared behind the class.
bool standsBehind(const QString &header, const QString &type, const QString &className)
{
    const QString code = codeOnly(header);
    const qsizetype at = code.indexOf(QRegularExpression("\\bstruct " + type + "\\s*\\{")),
                    of = code.indexOf(QRegularExpression("\\bclass " + className + "\\b[^;]*\\{"));
    return of >= 0 && at > of;
}

// What the user's class declares itself is not declared once more.
QByteArray membersFile(const Project &p, int window, UserFiles &files)
{
    const auto header = files.text(p.windows[window].file + ".h");
    const Stubs stubs(p);
    QByteArray out = banner + QByteArray("protected:\n    friend class ") +
                     p.windows[window].className.toUtf8() + "Wired; // which connects them\n\n";
    for (const Handler *h : handlersOf(p, window))
        for (const HandlerFunction &f : h->functions())
            if (f.isFree()) // it may use the names that are private
                out += "    friend " + stubs.declaration(*h, f).toUtf8() + ";\n";
            else if (!(header && declaresFunction(*header, f.name)))
                out += "    " + stubs.declaration(*h, f).toUtf8() + ";\n";
    for (const Handler *h : handlersOf(p, window))
        for (const QString &type : h->ownTypes())
            if (header && standsBehind(*header, type, p.windows[window].className))
                out += "    friend struct " + type.toUtf8() + "; // it names types of the class's own\n";
    return out + "private:\n";
}

// A type's name alone: "const QDate &" → "QDate".
QString bareType(QString type)
{
    return type.remove("const ").remove('*').remove('&').trimmed();
}

QByteArray handlersHeader(const Project &p, int window)
{
    const Stubs stubs(p);
    QByteArray out = banner + QByteArray("#pragma once\n\n#include \"wiring_support.h\"\n");
    if (window == 0)
        for (qsizetype i = 1; i < p.windows.size(); ++i)
            out += "#include \"../" + p.windows[i].file.toUtf8() + ".h\"\n";
    QSet<QString> classes;
    for (const Handler *h : handlersOf(p, window))
        for (const QString &type : h->arguments)
            if (const QString bare = bareType(type); bare.endsWith("Event") && bare != "QTimerEvent")
                classes.insert(bare);
    out += classes.isEmpty() ? QByteArray("\n")
                             : QByteArray("\n#include <QtCore/QMimeData>\n#include <QtGui/QEnterEvent>\n\n");
    for (const Handler *h : handlersOf(p, window))
        for (const QString &type : h->ownTypes())
            out += "struct " + type.toUtf8() + ";\n";
    for (const Handler *h : handlersOf(p, window))
        for (const HandlerFunction &f : h->functions())
            if (f.isFree())
                out += stubs.declaration(*h, f).toUtf8() + ";\n";
    return out;
}

QByteArray mainSource(const WindowNode &w, const QString &project)
{
    const QByteArray file = w.file.toUtf8();
    return banner + QByteArray("#include \"") + file +
           "_wiring.h\"\n\n#include <QtCore/QLocale>\n#include <QtCore/QTranslator>\n#include "
           "<QtWidgets/QApplication>\n\n"
           "int main(int argc, char **argv)\n{\n"
           "    QApplication app(argc, argv);\n    QApplication::setApplicationName(" +
           stringCode(project) +
           ");\n    QTranslator translator; // NAME_de.qm and the like, beside the program\n"
           "    if (translator.load(QLocale(), QStringLiteral(\"" +
           file +
           "\"), QStringLiteral(\"_\"),\n"
           "                        QCoreApplication::applicationDirPath()))\n"
           "        QCoreApplication::installTranslator(&translator);\n    " +
           w.className.toUtf8() + "Wired window;\n    window.show();\n    return QApplication::exec();\n}\n";
}

// Files of the project's folder that the program needs when it runs.
QStringList resourcesOf(const Project &p)
{
    QStringList files;
    const auto take = [&](const QList<Property> &properties) {
        for (const Property &each : properties)
            if (each.value.type() == Json::String && each.value.toString().startsWith("file:"))
                files << each.value.toString().mid(5);
    };
    p.eachWidget([&](const WidgetNode &w, const WidgetNode *) { take(w.properties); });
    for (const WindowNode &w : p.windows)
        for (const ObjectNode &o : w.objects)
            take(o.properties);
    files.removeDuplicates();
    files.sort();
    return files;
}

// They stand beside the program where it is built and where it is installed.
QByteArray resourcesText(const Project &p)
{
    const QStringList files = resourcesOf(p);
    if (files.isEmpty())
        return {};
    QByteArray list;
    for (const QString &f : files)
        list += " \"" + f.toUtf8() + '"';
    return "set(PROJECT_FILES" + list +
           ")\nforeach(file IN LISTS PROJECT_FILES)\n"
           "  if(EXISTS \"${CMAKE_CURRENT_SOURCE_DIR}/${file}\")\n"
           "    get_filename_component(folder \"${file}\" DIRECTORY)\n"
           "    configure_file(\"${file}\" \"${CMAKE_CURRENT_BINARY_DIR}/${file}\" COPYONLY)\n"
           "    install(FILES \"${file}\" DESTINATION \"./${folder}\" PERMISSIONS OWNER_READ OWNER_WRITE "
           "OWNER_EXECUTE\n"
           "            GROUP_READ GROUP_EXECUTE WORLD_READ WORLD_EXECUTE)\n"
           "  endif()\nendforeach()\n";
}

QByteArray sourcesFile(const Project &p, const QString &folder)
{
    QByteArray made;
    for (const WindowNode &w : p.windows)
        made += " generated/" + w.file.toUtf8() + "_base.cpp generated/" + w.file.toUtf8() + "_wiring.cpp";
    return "# Made by Pipit; edits here are overwritten.\nfind_package(Qt6 REQUIRED COMPONENTS " +
           QByteArray(needsNetwork(p) ? "Widgets Concurrent Network" : "Widgets Concurrent") +
           ")\nset(PROJECT_SOURCES " + userSources(folder, p).join(' ').toUtf8() + ' ' +
           userHeaders(folder, p).join(' ').toUtf8() + made +
           " generated/main.cpp)\nset(PROJECT_LIBRARIES Qt6::Widgets Qt6::Concurrent" +
           (needsNetwork(p) ? " Qt6::Network" : "") + ")\n" + resourcesText(p);
}

QByteArray mapFile(const Project &p, const QList<WiringText> &wirings, UserFiles &files)
{
    QJsonArray lines, definitions;
    for (qsizetype i = 0; i < wirings.size(); ++i)
        for (const WiringLine &l : wirings[i].lines)
            lines.append(QJsonObject{{"file", p.windows[i].file + "_wiring.cpp"},
                                     {"line", l.first},
                                     {"last", l.last},
                                     {"helper", l.helper},
                                     {"connection", l.connection},
                                     {"handler", l.handler},
                                     {"name", l.name},
                                     {"source", l.source},
                                     {"signal", l.signal}});
    QHash<QString, const Handler *> byFunction;
    QStringList sources;
    for (const Handler &h : p.handlers) {
        for (const HandlerFunction &f : h.functions())
            byFunction.insert(f.name, &h);
        if (!sources.contains(h.file))
            sources << h.file;
    }
    for (const QString &file : std::as_const(sources))
        if (const auto text = files.text(file))
            for (const Definition &d : definitionsIn(*text))
                if (const Handler *h = byFunction.value(d.name); h && h->file == file)
                    definitions.append(QJsonObject{{"name", d.name}, {"file", file}, {"line", d.line}});
    return QJsonDocument(QJsonObject{{"version", 3}, {"lines", lines}, {"definitions", definitions}})
        .toJson();
}

// Handlers whose name the user's class has for other functions too.
QSet<QString> overloadedHandlers(const Project &p, int window, const ProjectPlace &place, UserFiles &files)
{
    QHash<QString, QSet<QString>> heads;
    for (const QString &file : userSources(place.folder, p))
        if (const auto text = files.text(file))
            for (const Definition &d : definitionsIn(*text))
                if (d.className == p.windows[window].className)
                    heads[d.name].insert(parameterTypes(d).join(','));
    QSet<QString> names;
    for (const Handler *h : handlersOf(p, window))
        if (heads.value(h->name).size() > 1)
            names.insert(h->name);
    return names;
}

bool hasClass(const Project &p, const QStringList &classes)
{
    for (const WindowNode &w : p.windows)
        for (const QString &c : classesIn(w))
            if (classes.contains(c))
                return true;
    return false;
}

bool hasDrags(const Project &p)
{
    bool any = false;
    p.eachWidget(
        [&](const WidgetNode &w, const WidgetNode *) { any = any || !w.textOf("dragType").isEmpty(); });
    return any;
}

// A class, a name or a file that cannot be generated as it stands.
Outcome checkWindows(const Project &p, const ProjectPlace &place)
{
    const Catalog &catalog = Catalog::get();
    std::optional<Problem> wrong;
    QSet<QString> files;
    for (const WindowNode &w : p.windows) {
        const QString cls = w.root.className;
        if (!QStringList{"QWidget", "QMainWindow", "QDialog", "QFrame", "QGroupBox"}.contains(cls))
            wrong = Problem{QStringLiteral("A window cannot be a %1").arg(cls), place.file,
                            "Use QWidget, QMainWindow or QDialog", w.root.kept.line};
        if (files.contains(w.file))
            wrong = Problem{QStringLiteral("Two windows have the file name '%1'").arg(w.file), place.file,
                            "Give one of them another", w.root.kept.line};
        files.insert(w.file);
        for (const ObjectNode &o : w.objects)
            if (o.header.isEmpty()
                    ? !catalog.makes(o.className) || catalog.isWidget(o.className)
                    : o.base != "QObject" && (!catalog.makes(o.base) || catalog.isWidget(o.base)))
                wrong = Problem{QStringLiteral("%1: no object can be a %2").arg(o.name, o.className),
                                place.file, "Use a class that 'pipit catalog' lists", o.kept.line};
    }
    p.eachWidget([&](const WidgetNode &w, const WidgetNode *parent) {
        if (wrong)
            return;
        if (!catalog.makes(w.knownClass()) ||
            (parent && !catalog.isWidget(w.knownClass()) && w.className != "Spacer"))
            wrong = Problem{
                QStringLiteral("%1: no widget can be a %2").arg(w.name, w.knownClass()), place.file,
                "Use a class that 'pipit catalog' lists, or say \"base\" and \"header\"", w.kept.line};
        else if (!w.children.isEmpty() && !Catalog::holds(w.knownClass()))
            wrong = Problem{QStringLiteral("%1, a %2, holds no widgets").arg(w.name, w.knownClass()),
                            place.file, "Put them into the window, a group, a frame or an area", w.kept.line};
    });
    QHash<QString, const Handler *> queues;
    for (const Handler &h : p.handlers) {
        if (!h.isQueued())
            continue;
        const Handler *first = queues.value(h.queue, &h);
        queues.insert(h.queue, first);
        if (!wrong && p.windowOfHandler(*first) != p.windowOfHandler(h))
            wrong = Problem{QStringLiteral("%1 and %2 share the queue '%3', but are handlers of two windows")
                                .arg(first->name, h.name, h.queue),
                            place.file, "Give one of them another queue", h.kept.line};
    }
    if (wrong)
        return *wrong;
    const auto named = p.named();
    for (const Reference &r : referencesIn(p))
        if (const QString text = complaint(r, named, p); !text.isEmpty())
            return Problem{text.chopped(1), place.file, "Name something of the same window, or remove it",
                           r.line};
    return Done{};
}

} // namespace

bool hasBackground(const Project &project)
{
    return std::any_of(project.handlers.begin(), project.handlers.end(),
                       [](const Handler &h) { return h.shape == Shape::Background; });
}

bool needsNetwork(const Project &project)
{
    return hasClass(project, {"QLocalSocket", "QLocalServer"});
}

QStringList toolkitHeaders(const Project &project, bool background)
{
    QSet<QString> classes{"QWidget", "QApplication", "QVBoxLayout", "QHBoxLayout", "QPushButton",
                          "QLabel",  "QLineEdit",    "QListWidget", "QTimer"};
    for (const WindowNode &w : project.windows)
        classes += classesIn(w);
    if (hasDrags(project))
        classes += QSet<QString>{"QAbstractItemView"};
    QStringList headers = {"QtCore/QPointer", "QtGui/QKeyEvent", "QtCore/QMimeData"};
    for (const QString &cls : std::as_const(classes))
        headers << toolkitHeader(cls);
    if (background)
        headers << "QtConcurrent/QtConcurrentRun"
                << "QtCore/QFutureWatcher"
                << "QtCore/QPromise";
    headers.sort();
    return headers;
}

QStringList everyHeader()
{
    QStringList headers = {"QtConcurrent/QtConcurrentRun",
                           "QtCore/QCryptographicHash",
                           "QtCore/QDateTime",
                           "QtCore/QDebug",
                           "QtCore/QDir",
                           "QtCore/QElapsedTimer",
                           "QtCore/QFile",
                           "QtCore/QFileInfo",
                           "QtCore/QFutureWatcher",
                           "QtCore/QJsonArray",
                           "QtCore/QJsonDocument",
                           "QtCore/QJsonObject",
                           "QtCore/QLocale",
                           "QtCore/QMimeData",
                           "QtCore/QMutex",
                           "QtCore/QPointer",
                           "QtCore/QProcess",
                           "QtCore/QPromise",
                           "QtCore/QRegularExpression",
                           "QtCore/QSettings",
                           "QtCore/QStandardPaths",
                           "QtCore/QTextStream",
                           "QtCore/QThread",
                           "QtCore/QTranslator",
                           "QtCore/QUrl",
                           "QtGui/QDrag",
                           "QtGui/QKeyEvent",
                           "QtGui/QPainter",
                           "QtWidgets/QApplication",
                           "QtWidgets/QFileDialog",
                           "QtWidgets/QFormLayout",
                           "QtWidgets/QGridLayout",
                           "QtWidgets/QHBoxLayout",
                           "QtWidgets/QMessageBox",
                           "QtWidgets/QVBoxLayout",
                           "algorithm",
                           "chrono",
                           "cmath",
                           "exception",
                           "map",
                           "optional",
                           "string",
                           "vector"};
    for (const QString &cls : Catalog::get().classes())
        if (cls != "Spacer")
            headers << toolkitHeader(cls);
    headers.removeDuplicates();
    headers.sort();
    return headers;
}

Result<Generated> generate(const Project &project, const ProjectPlace &place, UserFiles &files)
{
    if (auto ok = checkWindows(project, place); !ok)
        return ok.problem();
    const Reach reach(project);
    QByteArray support = supportText;
    if (hasBackground(project))
        support += backgroundText;
    const auto any = [&](auto &&is) {
        return std::any_of(project.handlers.begin(), project.handlers.end(), is);
    };
    if (any([](const Handler &h) { return h.isQueued(); }))
        support += queuesText;
    if (any([](const Handler &h) { return h.isTogether(); }))
        support += togetherText;
    if (any([](const Handler &h) { return h.shape == Shape::Steps; }))
        support += stepsText;
    if (hasClass(project, {"QTreeWidget", "QTableWidget", "QStandardItemModel"}))
        support += itemsText;
    if (hasDrags(project))
        support += dragText;
    if (hasClass(project, {"QProcess"}))
        support += processText;
    Generated g;
    g.files = {{"generated/wiring_support.h", support}};
    QList<WiringText> wirings;
    for (int i = 0; i < project.windows.size(); ++i) {
        const WindowNode &w = project.windows[i];
        const QSet<QString> overloaded = overloadedHandlers(project, i, place, files);
        auto wiring = wiringFor(reach, i, place, overloaded);
        if (!wiring)
            return wiring.problem();
        const QString f = "generated/" + w.file;
        g.files << GeneratedFile{f + "_base.h", baseHeader(project, w)}
                << GeneratedFile{f + "_base.cpp", baseSource(project, w)}
                << GeneratedFile{f + "_members.inc", membersFile(project, i, files)}
                << GeneratedFile{f + "_handlers.h", handlersHeader(project, i)}
                << GeneratedFile{f + "_wiring.h", wiring->header}
                << GeneratedFile{f + "_wiring.cpp", wiring->source};
        wirings << *wiring;
    }
    g.files << GeneratedFile{"generated/main.cpp", mainSource(project.windows.first(), project.name)}
            << GeneratedFile{"generated/sources.cmake", sourcesFile(project, place.folder)}
            << GeneratedFile{"generated/map.json", mapFile(project, wirings, files)};
    return g;
}

Outcome writeGenerated(const Generated &generated, const ProjectPlace &place)
{
    if (auto ok = makeFolder(place.folder + "/generated"); !ok)
        return ok;
    QSet<QString> names;
    for (const GeneratedFile &f : generated.files) {
        names.insert(f.name);
        if (auto ok = writeFileIfChanged(place.folder + '/' + f.name, f.bytes); !ok)
            return ok.problem();
    }
    // Of windows that are no more: only what bears our banner.
    const QStringList kinds = {"*_base.h",      "*_base.cpp", "*_handlers.h",
                               "*_members.inc", "*_wiring.h", "*_wiring.cpp"};
    for (const QString &f : QDir(place.folder + "/generated").entryList(kinds, QDir::Files))
        if (const QString path = place.folder + "/generated/" + f; !names.contains("generated/" + f))
            if (auto bytes = readFile(path); bytes && bytes->startsWith(banner))
                QFile::remove(path);
    return Done{};
}

namespace
{

// Whether it is the class of a window that the project has no more: its base is not generated any longer.
bool isOfGoneWindow(const QString &folder, const QString &file, const Project &project)
{
    const QString base = QFileInfo(file).completeBaseName();
    for (const WindowNode &w : project.windows)
        if (w.file == base)
            return false;
    const auto header = readFile(folder + '/' + base + ".h");
    return header && header->contains("\"generated/" + base.toUtf8() + "_base.h\"");
}

QStringList filesOf(const QString &folder, const QString &pattern, const Project &project)
{
    QStringList files = QDir(folder).entryList({pattern}, QDir::Files, QDir::Name);
    files.removeIf([&](const QString &f) { return isOfGoneWindow(folder, f, project); });
    return files;
}

} // namespace

QStringList userSources(const QString &folder, const Project &project)
{
    return filesOf(folder, "*.cpp", project);
}

QStringList userHeaders(const QString &folder, const Project &project)
{
    return filesOf(folder, "*.h", project);
}

QList<GeneratedFile> windowTemplates(const WindowNode &w)
{
    const QByteArray cls = w.className.toUtf8(), file = w.file.toUtf8();
    const QByteArray header =
        "#pragma once\n\n#include \"generated/" + file + "_base.h\"\n#include \"generated/" + file +
        "_handlers.h\"\n\nclass " + cls + " : public " + cls + "Base\n{\npublic:\n    explicit " + cls +
        "(QWidget *parent = nullptr);\n\n    // The handlers' declarations.\n#include \"generated/" + file +
        "_members.inc\"\n};\n";
    const QByteArray source = "#include \"" + file + ".h\"\n\n" + cls + "::" + cls +
                              "(QWidget *parent) : " + cls + "Base(parent)\n{\n}\n";
    return {{w.file + ".h", header}, {w.file + ".cpp", source}};
}

QList<GeneratedFile> userTemplates(const Project &project)
{
    const QByteArray file = project.windows.first().file.toUtf8();
    const QByteArray cmake = "cmake_minimum_required(VERSION 3.22)\nproject(" + file +
                             " LANGUAGES CXX)\n\nset(CMAKE_CXX_STANDARD 17)\nset(CMAKE_AUTOMOC ON)\n"
                             "find_package(Qt6 REQUIRED COMPONENTS Widgets Concurrent)\n"
                             "include(generated/sources.cmake)\nadd_executable(" +
                             file + " ${PROJECT_SOURCES})\ntarget_include_directories(" + file +
                             " PRIVATE ${CMAKE_CURRENT_SOURCE_DIR})\ntarget_link_libraries(" + file +
                             " PRIVATE ${PROJECT_LIBRARIES})\ninstall(TARGETS " + file + " DESTINATION .)\n";
    return windowTemplates(project.windows.first()) + QList<GeneratedFile>{{"CMakeLists.txt", cmake}};
}

} // namespace pipit
