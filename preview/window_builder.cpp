#include "preview/window_builder.h"

#include "core/catalog/catalog.h"
#include "core/catalog/class_headers.h"
#include "core/project/layout_plan.h"
#include "core/project/values.h"

#include <QApplication>
#include <QFormLayout>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QMetaEnum>
#include <QMetaProperty>
#include <QPainter>
#include <QStyleFactory>
#include <QVBoxLayout>

namespace pipit::preview
{

QString pseudoText(const QString &text)
{
    if (text.trimmed().isEmpty())
        return text;
    static const QHash<QChar, QChar> accents = {{'a', u'å'}, {'e', u'é'}, {'i', u'î'}, {'o', u'ö'},
                                                {'u', u'ü'}, {'A', u'Å'}, {'E', u'É'}, {'O', u'Ö'}};
    QString out;
    for (const QChar c : text)
        out += accents.value(c, c);
    const qsizetype more = (text.size() * 2 + 4) / 5;
    QString tail;
    while (tail.size() < more)
        tail += " lorem ipsum";
    return out + tail.left(more);
}

namespace
{

template <class T> QWidget *make(QWidget *parent)
{
    return new T(parent);
}

QWidget *makeWidget(const QString &cls, QWidget *parent)
{
#define WIDGET(c) {#c, make<c>},
#define NONE(c)
    static const QHash<QString, QWidget *(*)(QWidget *)> makers = {PIPIT_CLASSES(WIDGET, NONE, NONE)};
#undef WIDGET
#undef NONE
    if (const auto maker = makers.value(cls))
        return maker(parent);
    return new QWidget(parent);
}

QLayout *makeLayout(const QString &kind, QWidget *owner)
{
    if (kind == "row")
        return new QHBoxLayout(owner);
    if (kind == "grid")
        return new QGridLayout(owner);
    if (kind == "labelled")
        return new QFormLayout(owner);
    return new QVBoxLayout(owner);
}

Qt::Alignment alignment(const QString &keys)
{
    const QMetaEnum e = QMetaEnum::fromType<Qt::Alignment>();
    bool ok = false;
    const int v = e.keysToValue(keys.toLatin1().constData(), &ok);
    return ok ? Qt::Alignment(v) : Qt::Alignment();
}

class Builder
{
public:
    Builder(const Project &p, int window, const Look &look) : node_(p.windows[window]), look_(look) {}

    Built run()
    {
        Built b;
        for (const ObjectNode &o : node_.objects)
            if (o.knownClass() == "QAction" || o.knownClass() == "QButtonGroup" ||
                o.knownClass().endsWith("Model"))
                makeObject(o);
        b.window.reset(makeWidget(node_.root.knownClass(), nullptr));
        widgets_.insert(node_.root.name, b.window.get());
        setUp(node_.root, b.window.get(), false);
        children(node_.root, b.window.get());
        setUp(node_.root, b.window.get(), true);
        joins(node_.root, b.window.get());
        for (QObject *o : std::as_const(objects_))
            o->setParent(b.window.get());
        b.problems = problems_;
        return b;
    }

private:
    QString said(const QString &text) const { return look_.longer ? pseudoText(text) : text; }

    void makeObject(const ObjectNode &o)
    {
        if (o.knownClass() == "QButtonGroup") {
            objects_.insert(o.name, new QButtonGroup);
        } else if (o.knownClass() == "QAction") {
            auto *a = new QAction;
            for (const Property &p : o.properties)
                property(a, "QAction", p, o.name);
            objects_.insert(o.name, a);
        } else if (o.knownClass() == "QStringListModel") {
            objects_.insert(o.name, new QStringListModel(o.textOf("items").split('\n')));
        } else {
            auto *m = new QStandardItemModel;
            if (!o.textOf("columns").isEmpty())
                m->setHorizontalHeaderLabels(o.textOf("columns").split('\n'));
            for (const QString &line : o.textOf("items").split('\n', Qt::SkipEmptyParts)) {
                QList<QStandardItem *> row;
                for (const QString &cell : line.split('|'))
                    row << new QStandardItem(cell.trimmed());
                m->appendRow(row);
            }
            objects_.insert(o.name, m);
        }
    }

    void items(QWidget *w, const QString &text)
    {
        const QStringList lines = text.split('\n');
        if (auto *list = qobject_cast<QListWidget *>(w))
            list->addItems(lines);
        else if (auto *box = qobject_cast<QComboBox *>(w))
            box->addItems(lines);
        else if (auto *tree = qobject_cast<QTreeWidget *>(w))
            treeItems(tree, lines);
        else if (auto *table = qobject_cast<QTableWidget *>(w))
            tableItems(table, lines);
    }
    static void treeItems(QTreeWidget *tree, const QStringList &lines)
    {
        QList<QTreeWidgetItem *> open;
        for (const QString &line : lines) {
            int depth = 0;
            while (line.mid(2 * depth).startsWith("  "))
                ++depth;
            depth = std::min(depth, int(open.size()));
            open = open.mid(0, depth);
            const QStringList cells = line.trimmed().split('|');
            open << (open.isEmpty() ? new QTreeWidgetItem(tree, cells)
                                    : new QTreeWidgetItem(open.last(), cells));
        }
        tree->expandAll();
    }
    static void tableItems(QTableWidget *table, const QStringList &lines)
    {
        table->setRowCount(int(lines.size()));
        for (int row = 0; row < lines.size(); ++row) {
            const QStringList cells = lines[row].split('|');
            table->setColumnCount(std::max(table->columnCount(), int(cells.size())));
            for (int column = 0; column < cells.size(); ++column)
                table->setItem(row, column, new QTableWidgetItem(cells[column].trimmed()));
        }
    }

    void columns(QWidget *w, const QStringList &names)
    {
        if (auto *tree = qobject_cast<QTreeWidget *>(w))
            tree->setHeaderLabels(names);
        else if (auto *table = qobject_cast<QTableWidget *>(w)) {
            table->setColumnCount(int(names.size()));
            table->setHorizontalHeaderLabels(names);
        }
    }

    static void colour(QWidget *w, const QString &property, const QColor &c)
    {
        QPalette palette = w->palette();
        const bool ink = property == "textColour";
        for (const auto role :
             {ink ? QPalette::WindowText : QPalette::Window, ink ? QPalette::Text : QPalette::Base,
              ink ? QPalette::ButtonText : QPalette::Button})
            palette.setColor(role, c);
        w->setPalette(palette);
        if (!ink)
            w->setAutoFillBackground(true);
    }

    void font(QWidget *w, const QString &text)
    {
        auto f = parseFont(text);
        if (!f)
            return;
        QFont font = w->font();
        if (!f->family.isEmpty())
            font.setFamily(f->family);
        if (f->points)
            font.setPointSizeF(f->points * look_.fontScale);
        font.setBold(f->bold || font.bold());
        font.setItalic(f->italic || font.italic());
        font.setUnderline(f->underline || font.underline());
        w->setFont(font);
    }

    static QIcon icon(const QString &text)
    {
        // Files are the program's own; the preview shows a mark in their place.
        if (text.startsWith("theme:"))
            return QIcon::fromTheme(text.mid(6));
        return QApplication::style()->standardIcon(QStyle::SP_FileIcon);
    }

    void property(QObject *object, const QString &cls, const Property &p, const QString &who)
    {
        const QString text = valueText(p.value);
        const PropertyEntry *entry = Catalog::get().property(cls, p.name);
        auto *w = qobject_cast<QWidget *>(object);
        if (isPlacing(p.name) || (entry && entry->type == "names") || p.name == "dragType" ||
            p.name == "dragText")
            return;
        if (w && p.name == "visible" && w->isWindow())
            return;
        if (p.name == "windowSize")
            return; // the one who asks for the picture may want another
        if (w && p.name == "items")
            return items(w, text);
        if (w && p.name == "columns")
            return columns(w, text.split('\n'));
        if (entry && entry->type == "QFont")
            return w ? font(w, text) : void();
        if (entry && entry->type == "QColor")
            return w ? colour(w, p.name, QColor(text)) : void();
        QVariant v = p.value.type() == Json::Bool     ? QVariant(p.value.toBool())
                     : p.value.type() == Json::Number ? QVariant(p.value.toNumber())
                                                      : QVariant(text);
        static const QStringList spoken = {"text", "title", "windowTitle", "placeholderText", "toolTip"};
        if (spoken.contains(p.name) && p.value.type() == Json::String)
            v = said(text);
        if (entry && entry->type == "QSize")
            v = QSize(text.section('x', 0, 0).toInt(), text.section('x', 1).toInt());
        if (entry && (entry->type == "QIcon" || entry->type == "QPixmap")) {
            if (text.isEmpty())
                return;
            v = entry->type == "QIcon" ? QVariant(icon(text)) : QVariant(icon(text).pixmap(48));
        }
        if (entry && entry->type == "QSizePolicy" && w) {
            const QMetaEnum e = QMetaEnum::fromType<QSizePolicy::Policy>();
            w->setSizePolicy(QSizePolicy::Policy(e.keyToValue(text.section(' ', 0, 0).toLatin1())),
                             QSizePolicy::Policy(e.keyToValue(text.section(' ', 1).toLatin1())));
            return;
        }
        const QByteArray name = p.name.toUtf8();
        const int index = object->metaObject()->indexOfProperty(name.constData());
        if (index < 0) {
            if (!entry)
                problems_ << QStringLiteral("%1 has no property %2.").arg(who, p.name);
            return;
        }
        if (!object->metaObject()->property(index).write(object, v))
            problems_ << QStringLiteral("%1: %2 cannot be '%3'.").arg(who, p.name, text.left(60));
    }

    void setUp(const WidgetNode &n, QWidget *w, bool late)
    {
        if (!late)
            w->setObjectName(n.name);
        for (const bool heads : {true, false}) // columns before rows
            for (const Property &p : n.properties)
                if (isLate(p.name) == late && (p.name == "columns") == heads && !isOwn(n, p.name, w))
                    property(w, n.knownClass(), p, n.name);
    }
    // What only the user's class has; here stands what it derives from.
    static bool isOwn(const WidgetNode &n, const QString &property, const QWidget *w)
    {
        return !n.header.isEmpty() && !Catalog::get().property(n.knownClass(), property) &&
               w->metaObject()->indexOfProperty(property.toUtf8().constData()) < 0;
    }

    QWidget *widget(const WidgetNode &n, QWidget *parent)
    {
        if (n.className == "Spacer")
            return nullptr;
        QWidget *w = makeWidget(n.knownClass(), parent);
        widgets_.insert(n.name, w);
        setUp(n, w, false);
        children(n, w);
        setUp(n, w, true);
        return w;
    }

    void children(const WidgetNode &n, QWidget *w)
    {
        const ContainerPlan plan = planFor(n);
        QWidget *owner = plan.inner ? new QWidget : w;
        QHash<qsizetype, QWidget *> made;
        for (const Placement &p : plan.places)
            for (const qsizetype i : {p.labelChild, p.child})
                if (i >= 0)
                    made.insert(i, widget(n.children[i], p.attach == Attach::Layout ? owner : w));
        layout(plan, owner, made);
        if (auto *main = plan.inner ? qobject_cast<QMainWindow *>(w) : nullptr)
            main->setCentralWidget(owner);
        else if (auto *area = plan.inner ? qobject_cast<QScrollArea *>(w) : nullptr)
            area->setWidget(owner);
        for (const Placement &p : plan.places)
            attach(n, p, w, made.value(p.child));
    }

    void attach(const WidgetNode &n, const Placement &p, QWidget *w, QWidget *child)
    {
        if (!child)
            return;
        if (p.attach == Attach::Page) {
            if (auto *tabs = qobject_cast<QTabWidget *>(w))
                tabs->addTab(child, said(p.title));
            else if (auto *box = qobject_cast<QToolBox *>(w))
                box->addItem(child, said(p.title));
            else if (auto *stack = qobject_cast<QStackedWidget *>(w))
                stack->addWidget(child);
        } else if (p.attach == Attach::Pane) {
            auto *s = qobject_cast<QSplitter *>(w);
            s->addWidget(child);
            if (p.stretch)
                s->setStretchFactor(int(p.child), p.stretch);
        } else if (p.attach == Attach::MenuBar) {
            qobject_cast<QMainWindow *>(w)->setMenuBar(qobject_cast<QMenuBar *>(child));
        } else if (p.attach == Attach::ToolBar) {
            qobject_cast<QMainWindow *>(w)->addToolBar(qobject_cast<QToolBar *>(child));
        } else if (p.attach == Attach::StatusBar) {
            qobject_cast<QMainWindow *>(w)->setStatusBar(qobject_cast<QStatusBar *>(child));
        } else if (p.attach == Attach::BarWidget) {
            if (auto *status = qobject_cast<QStatusBar *>(w))
                status->addPermanentWidget(child);
            else
                qobject_cast<QToolBar *>(w)->addWidget(child);
        } else if (p.attach == Attach::Menu && !nameList(n.textOf("actions")).contains(child->objectName())) {
            if (auto *bar = qobject_cast<QMenuBar *>(w))
                bar->addMenu(qobject_cast<QMenu *>(child));
            else
                qobject_cast<QMenu *>(w)->addMenu(qobject_cast<QMenu *>(child));
        }
    }

    void layout(const ContainerPlan &plan, QWidget *owner, const QHash<qsizetype, QWidget *> &made)
    {
        const bool any = std::any_of(plan.places.begin(), plan.places.end(),
                                     [](const Placement &p) { return p.attach == Attach::Layout; });
        if (plan.layout.isEmpty() || !any)
            return;
        QLayout *l = makeLayout(plan.layout, owner);
        if (plan.spacing >= 0)
            l->setSpacing(plan.spacing);
        if (!plan.margins.isEmpty())
            l->setContentsMargins(plan.margins[0], plan.margins[1], plan.margins[2], plan.margins[3]);
        for (const Placement &p : plan.places)
            if (p.attach == Attach::Layout)
                placeIn(l, p, made);
        for (int i = 0; i < plan.stretches.size(); ++i)
            if (auto *grid = qobject_cast<QGridLayout *>(l))
                grid->setColumnStretch(i, plan.stretches[i]);
            else if (auto *box = qobject_cast<QBoxLayout *>(l); box && i < box->count())
                box->setStretch(i, plan.stretches[i]);
    }

    void placeIn(QLayout *l, const Placement &p, const QHash<qsizetype, QWidget *> &made)
    {
        QWidget *child = made.value(p.child);
        if (auto *grid = qobject_cast<QGridLayout *>(l)) {
            if (child)
                grid->addWidget(child, p.row, p.column, p.rowSpan, p.columnSpan, alignment(p.align));
            else
                grid->addItem(new QSpacerItem(p.size, p.size, QSizePolicy::Expanding, QSizePolicy::Expanding),
                              p.row, p.column, p.rowSpan, p.columnSpan);
        } else if (auto *form = qobject_cast<QFormLayout *>(l)) {
            if (!child)
                form->addItem(new QSpacerItem(0, p.size));
            else if (QWidget *label = made.value(p.labelChild))
                form->addRow(label, child);
            else if (p.label.isEmpty())
                form->addRow(child);
            else
                form->addRow(said(p.label), child);
        } else if (auto *box = qobject_cast<QBoxLayout *>(l)) {
            if (child)
                box->addWidget(child, p.stretch, alignment(p.align));
            else if (p.size)
                box->addSpacing(p.size);
            else
                box->addStretch(p.stretch);
        }
    }

    void joins(const WidgetNode &n, QWidget *w)
    {
        for (const QString &name : nameList(n.textOf("actions"))) {
            auto *menu = qobject_cast<QMenu *>(widgets_.value(name));
            if (name == "-") {
                auto *line = new QAction(w);
                line->setSeparator(true);
                w->addAction(line);
            } else if (menu) {
                w->addAction(menu->menuAction());
            } else if (auto *a = qobject_cast<QAction *>(objects_.value(name))) {
                w->addAction(a);
            }
        }
        if (auto *view = qobject_cast<QAbstractItemView *>(w))
            if (auto *model = qobject_cast<QAbstractItemModel *>(objects_.value(n.textOf("model"))))
                view->setModel(model);
        if (auto *group = qobject_cast<QButtonGroup *>(objects_.value(n.textOf("group"))))
            if (auto *button = qobject_cast<QAbstractButton *>(w))
                group->addButton(button);
        if (auto *label = qobject_cast<QLabel *>(w))
            if (QWidget *buddy = widgets_.value(n.textOf("buddy")))
                label->setBuddy(buddy);
        if (auto *menu = qobject_cast<QMenu *>(widgets_.value(n.textOf("menu")))) {
            if (auto *push = qobject_cast<QPushButton *>(w))
                push->setMenu(menu);
            else if (auto *tool = qobject_cast<QToolButton *>(w))
                tool->setMenu(menu);
        }
        for (const WidgetNode &c : n.children)
            if (QWidget *child = widgets_.value(c.name))
                joins(c, child);
    }

    const WindowNode &node_;
    Look look_;
    QHash<QString, QWidget *> widgets_;
    QHash<QString, QObject *> objects_;
    QStringList problems_;
};

QPalette darkPalette()
{
    QPalette p(QColor(0x38, 0x35, 0x31), QColor(0x26, 0x23, 0x20));
    p.setColor(QPalette::Base, QColor(0x1e, 0x1b, 0x18));
    p.setColor(QPalette::Text, QColor(0xed, 0xe6, 0xda));
    p.setColor(QPalette::WindowText, QColor(0xed, 0xe6, 0xda));
    p.setColor(QPalette::ButtonText, QColor(0xed, 0xe6, 0xda));
    p.setColor(QPalette::PlaceholderText, QColor(0xa9, 0x9f, 0x91));
    return p;
}

} // namespace

Built build(const Project &project, int window, const Look &look)
{
    static const QFont plain = QApplication::font();
    static const QPalette light = QApplication::palette();
    static QString style = QApplication::style()->objectName();
    QFont font = plain;
    font.setPointSizeF(plain.pointSizeF() * look.fontScale);
    QApplication::setFont(font);
    const QString wanted = look.style.isEmpty() ? QString("fusion") : look.style;
    if (style.compare(wanted, Qt::CaseInsensitive) != 0)
        if (QStyle *made = QStyleFactory::create(wanted)) {
            QApplication::setStyle(made);
            style = wanted;
        }
    QApplication::setPalette(look.dark ? darkPalette() : light);
    QApplication::setLayoutDirection(look.rightToLeft ? Qt::RightToLeft : Qt::LeftToRight);
    return Builder(project, window, look).run();
}

} // namespace pipit::preview
