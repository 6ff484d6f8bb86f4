#include "core/codegen/window_code.h"

#include "core/catalog/catalog.h"
#include "core/project/layout_plan.h"
#include "core/project/values.h"

namespace pipit
{

LocalNames localNames(const Project &p)
{
    LocalNames names;
    for (const QString &name : p.objectNames())
        names.take(name);
    for (const WindowNode &w : p.windows)
        names.take(w.root.name);
    for (const Handler &h : p.handlers) {
        names.take(h.name);
        for (const QString &f : h.functionNames())
            names.take(f);
    }
    return names;
}

MemberType memberType(const WidgetNode &w)
{
    if (!w.header.isEmpty())
        return {w.className.toUtf8(), w.header, true};
    return {w.className.toUtf8(), toolkitHeader(w.className), false};
}

QString toolkitHeader(const QString &cls)
{
    static const QHash<QString, QString> modules = {
        {"QTimer", "QtCore"},
        {"QEvent", "QtCore"},
        {"QCoreApplication", "QtCore"},
        {"QFileSystemWatcher", "QtCore"},
        {"QProcess", "QtCore"},
        {"QStringListModel", "QtCore"},
        {"QItemSelectionModel", "QtCore"},
        {"QAction", "QtGui"},
        {"QStandardItemModel", "QtGui"},
        {"QPalette", "QtGui"},
        {"QLocalSocket", "QtNetwork"},
        {"QLocalServer", "QtNetwork"},
    };
    if (const auto it = modules.constFind(cls); it != modules.constEnd())
        return *it + '/' + cls;
    return (cls.endsWith("Event") ? "QtGui/" : "QtWidgets/") + cls;
}

namespace
{

QByteArray layoutClass(const QString &layout)
{
    return layout == "row"        ? "QHBoxLayout"
           : layout == "grid"     ? "QGridLayout"
           : layout == "labelled" ? "QFormLayout"
                                  : "QVBoxLayout";
}

// Builds one window: objects, widgets, layouts, then what joins them.
class WindowWriter
{
public:
    WindowWriter(const Project &p, const WindowNode &w, const LocalNames &locals)
        : project_(p), window_(w), locals_(locals)
    {
    }

    QByteArray text;

    void write()
    {
        for (const ObjectNode &o : window_.objects)
            object(o);
        setUp(window_.root, "this", false);
        children(window_.root, "this");
        late(window_.root, "this");
        text += '\n';
        joins();
    }

private:
    void line(const QByteArray &s) { text += "    " + s + '\n'; }

    void object(const ObjectNode &o)
    {
        const QByteArray n = o.name.toUtf8();
        line(n + " = new " + o.className.toUtf8() + (o.thread ? ";" : "(this);"));
        line(n + "->setObjectName(" + literal(o.name) + ");");
        for (const Property &p : o.properties)
            if (p.name == "columns") // before the rows
                property(n, o.name, o.knownClass(), p);
        for (const Property &p : o.properties)
            if (p.name != "columns")
                property(n, o.name, o.knownClass(), p);
    }
    // By what the user's class declares, else by what the toolkit's does.
    void property(const QByteArray &name, const QString &object, const QString &cls, const Property &p,
                  bool isWindow = false)
    {
        const OwnClass *own = project_.ownClassOf(object);
        if (const PropertyEntry *mine = own ? own->property(p.name) : nullptr) {
            text += ownPropertyCode(name, *mine, p);
            return;
        }
        text += propertyCode(name, cls, p, locals_, isWindow);
    }
    void setUp(const WidgetNode &w, const QByteArray &name, bool afterChildren)
    {
        if (!afterChildren)
            line(memberOf(name) + "setObjectName(" + literal(w.name) + ");");
        for (const Property &p : w.properties)
            if (p.name == "columns" && !afterChildren)
                property(name, w.name, w.knownClass(), p);
        for (const Property &p : w.properties)
            if (isLate(p.name) == afterChildren && p.name != "columns")
                property(name, w.name, w.knownClass(), p, &w == &window_.root);
    }
    void late(const WidgetNode &w, const QByteArray &name) { setUp(w, name, true); }

    void widget(const WidgetNode &w, const QByteArray &parent)
    {
        if (w.className == "Spacer")
            return;
        const QByteArray name = w.name.toUtf8();
        text += '\n';
        line(name + " = new " + w.className.toUtf8() + '(' + parent + ");");
        setUp(w, name, false);
        children(w, name);
        late(w, name);
    }

    void children(const WidgetNode &w, const QByteArray &name)
    {
        const ContainerPlan plan = planFor(w);
        QByteArray owner = name;
        if (plan.inner) {
            owner = locals_.of(w.name.toUtf8() + "Content");
            line("auto *" + owner + " = new QWidget;");
        }
        for (const Placement &p : plan.places) {
            const bool inside = p.attach == Attach::Layout;
            if (p.labelChild >= 0)
                widget(w.children[p.labelChild], inside ? owner : name);
            widget(w.children[p.child], inside ? owner : name);
        }
        layout(w, plan, owner);
        if (plan.inner)
            line(memberOf(name) + (w.knownClass() == "QMainWindow" ? "setCentralWidget(" : "setWidget(") +
                 owner + ");");
        for (const Placement &p : plan.places)
            attach(w, p, name);
    }

    void attach(const WidgetNode &w, const Placement &p, const QByteArray &name)
    {
        const QByteArray child = w.children[p.child].name.toUtf8(), cls = w.knownClass().toUtf8();
        if (p.spacer)
            return; // it is room in a layout, and here is none
        switch (p.attach) {
        case Attach::Page:
            line(name + (cls == "QTabWidget" ? "->addTab(" + child + ", " + translatedCode(p.title) + ");"
                         : cls == "QToolBox" ? "->addItem(" + child + ", " + translatedCode(p.title) + ");"
                                             : "->addWidget(" + child + ");"));
            break;
        case Attach::Pane:
            line(name + "->addWidget(" + child + ");");
            if (p.stretch)
                line(name + "->setStretchFactor(" + QByteArray::number(p.child) + ", " +
                     QByteArray::number(p.stretch) + ");");
            break;
        case Attach::MenuBar:
            line(memberOf(name) + "setMenuBar(" + child + ");");
            break;
        case Attach::ToolBar:
            line(memberOf(name) + "addToolBar(" + child + ");");
            break;
        case Attach::StatusBar:
            line(memberOf(name) + "setStatusBar(" + child + ");");
            break;
        case Attach::BarWidget:
            line(name + (cls == "QStatusBar" ? "->addPermanentWidget(" : "->addWidget(") + child + ");");
            break;
        case Attach::Menu: // unless its place among the actions is said
            if (!nameList(w.textOf("actions")).contains(w.children[p.child].name))
                line(name + "->addMenu(" + child + ");");
            break;
        case Attach::Layout:
        case Attach::Free:
            break;
        }
    }

    void layout(const WidgetNode &w, const ContainerPlan &plan, const QByteArray &owner)
    {
        const bool any = std::any_of(plan.places.begin(), plan.places.end(),
                                     [](const Placement &p) { return p.attach == Attach::Layout; });
        if (plan.layout.isEmpty() || !any)
            return;
        const auto num = [](int n) { return QByteArray::number(n); };
        const QByteArray layout = locals_.of(w.name.toUtf8() + "Layout");
        text += '\n';
        line("auto *" + layout + " = new " + layoutClass(plan.layout) + '(' + owner + ");");
        if (plan.spacing >= 0)
            line(layout + "->setSpacing(" + num(plan.spacing) + ");");
        if (!plan.margins.isEmpty())
            line(layout + "->setContentsMargins(" + num(plan.margins[0]) + ", " + num(plan.margins[1]) +
                 ", " + num(plan.margins[2]) + ", " + num(plan.margins[3]) + ");");
        for (const Placement &p : plan.places)
            if (p.attach == Attach::Layout)
                line(layout + "->" + placed(w, plan.layout, p));
        QList<int> given; // as each was added
        for (const Placement &p : plan.places)
            if (p.attach == Attach::Layout)
                given << (plan.layout == "grid" ? 0 : p.stretch);
        for (qsizetype i = 0; i < plan.stretches.size(); ++i)
            if (plan.stretches[i] != given.value(i) && plan.layout != "labelled")
                line(layout + (plan.layout == "grid" ? "->setColumnStretch(" : "->setStretch(") +
                     num(int(i)) + ", " + num(plan.stretches[i]) + ");");
    }

    static QByteArray placed(const WidgetNode &w, const QString &layout, const Placement &p)
    {
        const auto num = [](int n) { return QByteArray::number(n); };
        const QByteArray child = w.children[p.child].name.toUtf8();
        const QByteArray align =
            p.align.isEmpty() ? QByteArray() : "Qt::" + p.align.toUtf8().replace("|", " | Qt::");
        const bool spans = p.rowSpan != 1 || p.columnSpan != 1;
        const QByteArray cell = num(p.row) + ", " + num(p.column) +
                                (spans ? ", " + num(p.rowSpan) + ", " + num(p.columnSpan) : QByteArray());
        if (p.spacer && layout == "grid")
            return "addItem(new QSpacerItem(" + num(p.size) + ", " + num(p.size) +
                   ", QSizePolicy::Expanding, QSizePolicy::Expanding), " + cell + ");";
        if (p.spacer)
            return layout == "labelled" ? "addItem(new QSpacerItem(0, " + num(p.size) + "));"
                   : p.size             ? "addSpacing(" + num(p.size) + ");"
                                        : "addStretch(" + (p.stretch ? num(p.stretch) : QByteArray()) + ");";
        if (layout == "grid")
            return "addWidget(" + child + ", " + cell + (align.isEmpty() ? QByteArray() : ", " + align) +
                   ");";
        if (layout == "labelled")
            return p.labelChild >= 0
                       ? "addRow(" + w.children[p.labelChild].name.toUtf8() + ", " + child + ");"
                   : p.label.isEmpty() ? "addRow(" + child + ");"
                                       : "addRow(" + translatedCode(p.label) + ", " + child + ");";
        return "addWidget(" + child + (p.stretch || !align.isEmpty() ? ", " + num(p.stretch) : QByteArray()) +
               (align.isEmpty() ? QByteArray() : ", " + align) + ");";
    }

    // What needs the other widgets and objects to be there.
    void joins()
    {
        QHash<QString, int> groupSize;
        const std::function<void(const WidgetNode &)> visit = [&](const WidgetNode &w) {
            const QByteArray name = &w == &window_.root ? QByteArray("this") : w.name.toUtf8();
            for (const QString &a : nameList(w.textOf("actions")))
                if (a == "-")
                    line(memberOf(name) + "addSeparator();");
                else if (menus_.contains(a))
                    line(memberOf(name) + "addAction(" + a.toUtf8() + "->menuAction());");
                else
                    line(memberOf(name) + "addAction(" + a.toUtf8() + ");");
            if (const QStringList own = nameList(w.textOf("contextActions")); !own.isEmpty()) {
                for (const QString &a : own)
                    line(memberOf(name) + "addAction(" + a.toUtf8() + ");");
                line(memberOf(name) + "setContextMenuPolicy(Qt::ActionsContextMenu);");
            }
            if (const QString b = w.textOf("buddy"); !b.isEmpty())
                line(name + "->setBuddy(" + b.toUtf8() + ");");
            if (const QString m = w.textOf("menu"); !m.isEmpty())
                line(name + "->setMenu(" + m.toUtf8() + ");");
            if (const QString m = w.textOf("model"); !m.isEmpty())
                line(name + "->setModel(" + m.toUtf8() + ");");
            if (const QString g = w.textOf("group"); !g.isEmpty())
                line(g.toUtf8() + "->addButton(" + name + ", " + QByteArray::number(groupSize[g]++) + ");");
            const QStringList order = nameList(w.textOf("tabOrder"));
            for (qsizetype i = 0; i + 1 < order.size(); ++i)
                line("QWidget::setTabOrder(" + order[i].toUtf8() + ", " + order[i + 1].toUtf8() + ");");
            for (const WidgetNode &c : w.children)
                visit(c);
        };
        collectMenus(window_.root);
        visit(window_.root);
        for (const ObjectNode &o : window_.objects)
            if (o.knownClass() == "QAction" && !o.textOf("shortcut").isEmpty())
                line("addAction(" + o.name.toUtf8() + "); // so that its shortcut is heard");
    }
    void collectMenus(const WidgetNode &w)
    {
        if (w.knownClass() == "QMenu")
            menus_.insert(w.name);
        for (const WidgetNode &c : w.children)
            collectMenus(c);
    }

    const Project &project_;
    const WindowNode &window_;
    const LocalNames &locals_;
    QSet<QString> menus_;
};

void visitClasses(const WidgetNode &w, QSet<QString> &out)
{
    if (w.header.isEmpty() && w.className != "Spacer")
        out.insert(w.className);
    for (const WidgetNode &c : w.children)
        visitClasses(c, out);
    const ContainerPlan plan = planFor(w);
    if (!plan.layout.isEmpty() && !w.children.isEmpty())
        out.insert(QString::fromLatin1(layoutClass(plan.layout)));
}

QByteArray includes(const QSet<QString> &classes)
{
    QStringList sorted;
    for (const QString &c : classes)
        sorted << toolkitHeader(c);
    sorted.sort();
    QByteArray out;
    for (const QString &h : sorted)
        out += "#include <" + h.toUtf8() + ">\n";
    return out;
}

} // namespace

QSet<QString> classesIn(const WindowNode &w)
{
    QSet<QString> classes{"QWidget"};
    visitClasses(w.root, classes);
    for (const ObjectNode &o : w.objects)
        if (o.header.isEmpty())
            classes.insert(o.className);
    if (!w.timers.isEmpty())
        classes.insert("QTimer");
    const QSet<QString> named = classes; // parts of these may be sources too
    for (const QString &c : named) {
        if (c == "QDialogButtonBox")
            classes.insert("QPushButton");
        if (c == "QMainWindow")
            classes.insert("QDockWidget");
        if (Catalog::get().inherits(c, "QAbstractItemView"))
            classes.insert("QItemSelectionModel");
    }
    return classes;
}

QByteArray baseHeader(const Project &p, const WindowNode &w)
{
    QByteArray members, own;
    QSet<QString> headers;
    const std::function<void(const WidgetNode &)> visit = [&](const WidgetNode &n) {
        if (&n != &w.root && n.className != "Spacer") {
            const MemberType t = memberType(n);
            members += "    " + t.type + " *" + n.name.toUtf8() + " = nullptr;\n";
            if (t.own)
                headers.insert(t.header);
        }
        for (const WidgetNode &c : n.children)
            visit(c);
    };
    visit(w.root);
    for (const ObjectNode &o : w.objects) {
        members += "    " + o.className.toUtf8() + " *" + o.name.toUtf8() + " = nullptr;" +
                   (o.thread ? " // on a thread of its own" : "") + '\n';
        if (!o.header.isEmpty())
            headers.insert(o.header);
    }
    for (const TimerNode &t : w.timers)
        members += "    QTimer *" + t.name.toUtf8() + " = nullptr;\n";
    QByteArray forward;
    const int index = p.windowNamed(w.className);
    for (const WindowNode &other : p.windows)
        if (index == 0 && &other != &p.windows.first()) {
            forward += "class " + other.className.toUtf8() + ";\n";
            members += "    " + other.className.toUtf8() + " *" + other.root.name.toUtf8() +
                       " = nullptr; // a window of its own\n";
        }
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Background && p.windowOfHandler(h) == index && h.hasOwn(h.result))
            forward += "struct " + h.result.toUtf8() + ";\n";
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Background && p.windowOfHandler(h) == index)
            members += "    // The job of " + h.name.toUtf8() + ": cancel it, or ask it for its progress.\n" +
                       "    QFutureWatcher<" + h.result.toUtf8() + "> *" + h.name.toUtf8() +
                       "Job = nullptr;\n";
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Steps && p.windowOfHandler(h) == index)
            members += "    // The steps of " + h.name.toUtf8() + ": stop it, and they end.\n    QTimer *" +
                       jobName(h).toUtf8() + " = nullptr;\n";
    QStringList sorted(headers.begin(), headers.end());
    sorted.sort();
    for (const QString &h : sorted)
        own += "#include \"" + h.toUtf8() + "\"\n";
    const QByteArray name = w.className.toUtf8() + "Base";
    return "// Made by Pipit; edits here are overwritten.\n#pragma once\n\n#include "
           "\"wiring_support.h\"\n\n" +
           own + includes(classesIn(w) + QSet<QString>{"QCoreApplication"}) + '\n' + forward + "\nclass " +
           name + " : public " + w.root.className.toUtf8() + "\n{\n    Q_DECLARE_TR_FUNCTIONS(" +
           w.className.toUtf8() + ")\n\npublic:\n    explicit " + name + "(QWidget *parent = nullptr);\n\n" +
           members + "};\n";
}

QByteArray baseSource(const Project &p, const WindowNode &w)
{
    const LocalNames locals = localNames(p);
    WindowWriter writer(p, w, locals);
    writer.write();
    const QByteArray name = w.className.toUtf8() + "Base";
    QByteArray timers;
    for (const TimerNode &t : w.timers) {
        const QByteArray n = t.name.toUtf8();
        timers += "\n    " + n + " = new QTimer(this);\n    " + n + "->setObjectName(" + literal(t.name) +
                  ");\n    " + n + "->setInterval(" + QByteArray::number(t.interval) + ");\n";
        if (!t.repeat)
            timers += "    " + n + "->setSingleShot(true);\n";
        if (t.precise)
            timers += "    " + n + "->setTimerType(Qt::PreciseTimer);\n";
    }
    const int index = p.windowNamed(w.className);
    QByteArray user; // which says what jobs give
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Background && p.windowOfHandler(h) == index && h.hasOwn(h.result))
            user = "#include \"../" + w.file.toUtf8() + ".h\"\n";
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Background && p.windowOfHandler(h) == index)
            timers += "\n    " + h.name.toUtf8() + "Job = new QFutureWatcher<" + h.result.toUtf8() +
                      ">(this);\n    " + h.name.toUtf8() + "Job->setObjectName(" + literal(h.name + "Job") +
                      ");\n";
    for (const Handler &h : p.handlers)
        if (h.shape == Shape::Steps && p.windowOfHandler(h) == index) {
            const QByteArray n = jobName(h).toUtf8();
            timers += "\n    " + n + " = new QTimer(this);\n    " + n + "->setObjectName(" +
                      literal(jobName(h)) + ");\n    " + n + "->setInterval(0);\n";
        }
    return QByteArray("// Made by Pipit; edits here are overwritten.\n#include \"") + w.file.toUtf8() +
           "_base.h\"\n" + user + '\n' + name + "::" + name +
           "(QWidget *parent) : " + w.root.className.toUtf8() + "(parent)\n{\n" + writer.text + timers +
           "}\n";
}

} // namespace pipit
