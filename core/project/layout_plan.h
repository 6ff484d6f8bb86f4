// Where the widgets in a container go: one decision for generated code and for the preview.
//
// Threads: any. Plain values computed from the model.
#pragma once

#include "core/project/model.h"

namespace pipit
{

enum class Attach {
    Layout,  // in the container's layout, by its Placement
    Page,    // a tab, a page of a stack or a tool box
    Pane,    // a part of a splitter
    MenuBar, // of a main window
    ToolBar,
    StatusBar,
    Menu,      // in a menu bar or a menu
    BarWidget, // a widget in a tool bar or a status bar
    Free,      // a child without a place: a menu that a button opens
};

struct Placement {
    qsizetype child = 0;       // its index; for a labelled row the field
    qsizetype labelChild = -1; // of a labelled row: the child that stands before it, -1: none
    Attach attach = Attach::Layout;
    int row = 0, column = 0, rowSpan = 1, columnSpan = 1, stretch = 0, size = 0;
    bool spacer = false;
    QString align, label, title;
};

struct ContainerPlan {
    QString layout;     // "column", "row", "grid", "labelled", or empty
    bool inner = false; // the layout belongs to a widget of its own: of main windows and scroll areas
    int spacing = -1;   // -1: as the style has it
    QList<int> margins; // empty: as the style has it; else left top right bottom
    QList<int> stretches;
    QList<Placement> places;
};

ContainerPlan planFor(const WidgetNode &container);
// Properties that only say where a widget stands or how it is wired, with no effect of their own.
bool isPlacing(const QString &property);
// Set after the children are there: the current page, the value after its range.
bool isLate(const QString &property);

} // namespace pipit
