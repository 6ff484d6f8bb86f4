// Properties that Pipit itself understands, beside those of the toolkit.
#include "core/catalog/catalog.h"

namespace pipit
{

namespace
{

QStringList alignKeys()
{
    return {"AlignLeft",   "AlignRight",   "AlignHCenter", "AlignTop",
            "AlignBottom", "AlignVCenter", "AlignCenter"};
}

PropertyEntry layout(const char *name, const char *type, const char *byDefault, const char *sentence)
{
    return {name, type, byDefault, "layout", {}, false, sentence};
}

PropertyEntry wiring(const char *name, const char *type, const char *sentence)
{
    return {name, type, "", "wiring", {}, false, sentence};
}

void place(QList<PropertyEntry> &to)
{
    to << layout("row", "int", "-1", "Its row in a grid; -1 is the next free cell.")
       << layout("column", "int", "-1", "Its column in a grid.")
       << layout("rowSpan", "int", "1", "How many rows of the grid it covers.")
       << layout("columnSpan", "int", "1", "How many columns of the grid it covers.")
       << layout("stretch", "int", "0", "Its share of the remaining space (stretch).")
       << layout("label", "QString", "", "Its label in labelled rows.")
       << layout("tabTitle", "QString", "", "The title of its tab, if it is a page.");
    PropertyEntry align = layout("align", "Qt::Alignment", "", "Its alignment in its cell.");
    align.keys = alignKeys();
    align.flags = true;
    to << align;
}

} // namespace

QList<PropertyEntry> ownProperties(const QString &cls, const QStringList &lineage)
{
    QList<PropertyEntry> own;
    const auto is = [&](const char *base) { return lineage.contains(QLatin1String(base)); };
    if (cls == "QTimer")
        own << PropertyEntry{"interval",
                             "int",
                             "1000",
                             "wiring",
                             {},
                             false,
                             "Milliseconds between two timeouts."}
            << PropertyEntry{"repeat", "bool", "true", "wiring", {}, false, "Repeating, or single-shot."}
            << PropertyEntry{"precise",
                             "bool",
                             "false",
                             "wiring",
                             {},
                             false,
                             "Precise to the millisecond; otherwise up to 5 % early or late."}
            << PropertyEntry{"autostart", "bool", "true", "wiring", {}, false, "Started with the window."};
    if (cls == "Spacer")
        own << layout("size", "int", "0", "Its minimum size; 0 takes all remaining space.")
            << layout("stretch", "int", "1", "Its share of the remaining space (stretch).");
    if (is("QWidget")) {
        place(own);
        own << wiring("textColour", "QColor", "The colour of its text, as in #2B2723 or teal.")
            << wiring("backgroundColour", "QColor", "The colour behind its text.")
            << wiring("dragType", "QString", "The MIME type under which it can be dragged.")
            << wiring("dragText", "QString", "The property that a drag carries; the default is the text.")
            << wiring("contextActions", "names",
                      "Its own actions, for its context menu and their shortcuts.");
    }
    if (Catalog::holds(cls))
        own << layout("layoutSpacing", "int", "", "The spacing between its widgets.")
            << layout("layoutMargins", "margins", "", "The margins: one number, or left top right bottom.")
            << layout("stretches", "QString", "", "Stretch of the rows or columns, such as 1 2 1.")
            << wiring("tabOrder", "names", "The order in which Tab visits its widgets.");
    if (cls == "QWidget" || cls == "QMainWindow" || cls == "QDialog")
        own << layout("windowSize", "QSize", "", "The size of the window at first, such as 640x480.");
    if (is("QLabel"))
        own << wiring("buddy", "names", "The widget that its mnemonic gives the focus.");
    if (is("QAbstractButton"))
        own << wiring("group", "names", "The button group it belongs to.");
    if (is("QPushButton") || is("QToolButton"))
        own << wiring("menu", "names", "The menu that it opens.");
    if (is("QListWidget") || is("QComboBox"))
        own << wiring("items", "items", "Its entries, one per line.");
    if (is("QTreeWidget") || is("QTableWidget"))
        own << wiring("columns", "items", "Its headers, one per line.")
            << wiring("items", "items",
                      "Its rows, one per line, with | between cells; two spaces per level in a tree.");
    if (is("QMenu") || is("QToolBar"))
        own << wiring("actions", "names", "Its actions and menus in order; - is a separator.");
    if (is("QAbstractItemView") && !is("QListWidget") && !is("QTreeWidget") && !is("QTableWidget"))
        own << wiring("model", "names", "The model that it shows.");
    if (cls == "QStringListModel" || cls == "QStandardItemModel")
        own << wiring("items", "items", "Its rows, one per line, with | between cells.");
    if (cls == "QStandardItemModel")
        own << wiring("columns", "items", "Its headers, one per line.");
    if (cls == "QFileSystemWatcher")
        own << wiring("paths", "items",
                      "Files and folders to watch, one per line, relative to the project's folder.");
    if (cls == "QProcess")
        own << wiring(
                   "program", "QString",
                   "The program that its start slot runs; file:devices/gate for one in the project's folder.")
            << wiring("arguments", "items", "The program's arguments, one per line.")
            << PropertyEntry{"autostart", "bool", "false", "wiring", {}, false, "Started with the window."};
    if (cls == "QLocalSocket" || cls == "QLocalServer")
        own << wiring("server", "QString", "The name that it connects to or listens on.")
            << PropertyEntry{"autostart", "bool", "true", "wiring", {}, false, "Opened with the window."};
    return own;
}

} // namespace pipit
