#include "core/project/layout_plan.h"

#include "core/project/values.h"

#include <QSet>

namespace pipit
{

namespace
{

int numberOf(const WidgetNode &w, const QString &property, int byDefault)
{
    const Json *v = w.property(property);
    return v && v->type() == Json::Number ? int(v->toNumber()) : byDefault;
}

QList<int> numbers(const QString &text)
{
    QList<int> list;
    for (const QString &n : nameList(text))
        list << n.toInt();
    return list;
}

Attach attachOf(const QString &container, const QString &child)
{
    if (child == "QMenu")
        return container == "QMenuBar" || container == "QMenu" ? Attach::Menu : Attach::Free;
    if (container == "QMainWindow") {
        if (child == "QMenuBar")
            return Attach::MenuBar;
        if (child == "QToolBar")
            return Attach::ToolBar;
        if (child == "QStatusBar")
            return Attach::StatusBar;
    }
    if (container == "QTabWidget" || container == "QStackedWidget" || container == "QToolBox")
        return Attach::Page;
    if (container == "QSplitter")
        return Attach::Pane;
    if (container == "QToolBar" || container == "QStatusBar")
        return Attach::BarWidget;
    return Attach::Layout;
}

// Free cells from left to right, row by row; at least two columns.
class Grid
{
public:
    explicit Grid(const WidgetNode &w)
    {
        for (const WidgetNode &c : w.children) {
            columns_ = std::max(columns_, numberOf(c, "column", 0) + numberOf(c, "columnSpan", 1));
            if (numberOf(c, "row", -1) >= 0)
                take(numberOf(c, "row", 0), std::max(0, numberOf(c, "column", 0)), numberOf(c, "rowSpan", 1),
                     numberOf(c, "columnSpan", 1));
        }
        columns_ = std::min(columns_, 1000);
    }
    void place(const WidgetNode &c, Placement &p)
    {
        p.rowSpan = std::clamp(numberOf(c, "rowSpan", 1), 1, 1000);
        p.columnSpan = std::clamp(numberOf(c, "columnSpan", 1), 1, 1000);
        p.row = numberOf(c, "row", -1);
        p.column = std::max(0, numberOf(c, "column", 0));
        if (p.row >= 0)
            return;
        while (taken_.contains({row_, column_}))
            step();
        p.row = row_;
        p.column = column_;
        take(row_, column_, p.rowSpan, p.columnSpan);
    }

private:
    void take(int row, int column, int rows, int columns)
    {
        for (int r = 0; r < std::min(rows, 100); ++r)
            for (int c = 0; c < std::min(columns, 100); ++c)
                taken_.insert({row + r, column + c});
    }
    void step()
    {
        if (++column_ >= columns_) {
            column_ = 0;
            ++row_;
        }
    }
    QSet<std::pair<int, int>> taken_;
    int columns_ = 2, row_ = 0, column_ = 0;
};

} // namespace

bool isPlacing(const QString &p)
{
    static const QSet<QString> names = {"row",           "column",        "rowSpan",   "columnSpan",
                                        "stretch",       "label",         "tabTitle",  "align",
                                        "layoutSpacing", "layoutMargins", "stretches", "size"};
    return names.contains(p);
}

bool isLate(const QString &p)
{
    static const QSet<QString> names = {"currentIndex", "currentRow",     "currentText", "value",
                                        "checked",      "sliderPosition", "date",        "time",
                                        "dateTime",     "visible",        "enabled",     "intValue"};
    return names.contains(p);
}

ContainerPlan planFor(const WidgetNode &w)
{
    const QString cls = w.knownClass();
    ContainerPlan plan;
    plan.layout = w.layout;
    plan.inner = cls == "QMainWindow" || cls == "QScrollArea";
    if (plan.inner && plan.layout.isEmpty())
        plan.layout = "column";
    if (cls == "QTabWidget" || cls == "QStackedWidget" || cls == "QToolBox" || cls == "QSplitter" ||
        cls == "QMenuBar" || cls == "QMenu" || cls == "QToolBar" || cls == "QStatusBar")
        plan.layout.clear();
    plan.spacing = numberOf(w, "layoutSpacing", -1);
    plan.margins = numbers(valueText(w.property("layoutMargins") ? *w.property("layoutMargins") : Json()));
    if (plan.margins.size() == 1)
        plan.margins = {plan.margins[0], plan.margins[0], plan.margins[0], plan.margins[0]};
    if (plan.margins.size() != 4)
        plan.margins.clear();
    plan.stretches = numbers(w.textOf("stretches"));
    Grid grid(w);
    for (qsizetype i = 0; i < w.children.size(); ++i) {
        const WidgetNode &c = w.children[i];
        Placement p;
        p.child = i;
        p.attach = attachOf(cls, c.knownClass());
        p.spacer = c.className == "Spacer";
        p.size = numberOf(c, "size", 0);
        p.stretch = numberOf(c, "stretch", p.spacer && p.size == 0 ? 1 : 0);
        p.align = c.textOf("align");
        p.label = c.textOf("label");
        p.title = c.textOf("tabTitle");
        if (p.title.isEmpty())
            p.title = c.name;
        if (p.attach == Attach::Layout && plan.layout == "grid")
            grid.place(c, p);
        const bool pairs = plan.layout == "labelled" && p.attach == Attach::Layout && p.label.isEmpty() &&
                           c.knownClass() == "QLabel" && i + 1 < w.children.size() &&
                           w.children[i + 1].textOf("label").isEmpty() &&
                           w.children[i + 1].className != "Spacer";
        if (pairs) {
            p.labelChild = i;
            p.child = ++i;
        }
        plan.places.append(p);
    }
    return plan;
}

} // namespace pipit
