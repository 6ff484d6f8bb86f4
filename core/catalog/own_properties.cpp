// Properties that Pipit itself understands, beside those of the tool-kit.
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
    to << layout("row", "int", "-1", "Its row in a grid; -1: the next free place.")
       << layout("column", "int", "-1", "Its column in a grid.")
       << layout("rowSpan", "int", "1", "How many rows of the grid it covers.")
       << layout("columnSpan", "int", "1", "How many columns of the grid it covers.")
       << layout("stretch", "int", "0", "Its share of the room that is left over.")
       << layout("label", "QString", "", "What stands before it in labelled rows.")
       << layout("tabTitle", "QString", "", "Its tab's words, where it is a page.");
    PropertyEntry align = layout("align", "Qt::Alignment", "", "Where it stands in its place.");
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
            << PropertyEntry{"repeat", "bool", "true", "wiring", {}, false, "Again and again, or once."}
            << PropertyEntry{"precise",
                             "bool",
                             "false",
                             "wiring",
                             {},
                             false,
                             "To the millisecond; otherwise up to 5 % early or late."}
            << PropertyEntry{"autostart", "bool", "true", "wiring", {}, false, "Started with the window."};
    if (cls == "Spacer")
        own << layout("size", "int", "0", "How much room it takes at least; 0: all that is left over.")
            << layout("stretch", "int", "1", "Its share of the room that is left over.");
    if (is("QWidget")) {
        place(own);
        own << wiring("textColour", "QColor", "The colour of its text, as in #2B2723 or teal.")
            << wiring("backgroundColour", "QColor", "The colour behind its text.")
            << wiring("dragType", "QString", "It can be dragged, as this MIME type.")
            << wiring("dragText", "QString",
                      "The property that is carried when it is dragged; text if empty.")
            << wiring("contextActions", "names",
                      "Actions of its own, for its context menu and their shortcuts.");
    }
    if (Catalog::holds(cls))
        own << layout("layoutSpacing", "int", "", "The room between the widgets in it.")
            << layout("layoutMargins", "margins", "",
                      "The room around them: one number, or left top right bottom.")
            << layout("stretches", "QString", "", "Shares of rows or columns of a grid, as in 1 2 1.")
            << wiring("tabOrder", "names", "The order in which Tab walks through its widgets.");
    if (cls == "QWidget" || cls == "QMainWindow" || cls == "QDialog")
        own << layout("windowSize", "QSize", "", "How large the window opens, as in 640x480.");
    if (is("QLabel"))
        own << wiring("buddy", "names", "The widget that its mnemonic leads to.");
    if (is("QAbstractButton"))
        own << wiring("group", "names", "The button group it belongs to.");
    if (is("QPushButton") || is("QToolButton"))
        own << wiring("menu", "names", "The menu that it opens.");
    if (is("QListWidget") || is("QComboBox"))
        own << wiring("items", "items", "Its entries, one a line.");
    if (is("QTreeWidget") || is("QTableWidget"))
        own << wiring("columns", "items", "Its headings, one a line.")
            << wiring("items", "items",
                      "Its rows, one a line, cells divided by a bar; in trees two spaces a step.");
    if (is("QMenu") || is("QToolBar"))
        own << wiring("actions", "names", "Its actions and menus in order; - is a separator.");
    if (is("QAbstractItemView") && !is("QListWidget") && !is("QTreeWidget") && !is("QTableWidget"))
        own << wiring("model", "names", "The model that it shows.");
    if (cls == "QStringListModel" || cls == "QStandardItemModel")
        own << wiring("items", "items", "Its rows, one a line, cells divided by a bar.");
    if (cls == "QStandardItemModel")
        own << wiring("columns", "items", "Its headings, one a line.");
    if (cls == "QFileSystemWatcher")
        own << wiring("paths", "items", "Files and folders to watch, one a line, from the project's folder.");
    if (cls == "QProcess")
        own << wiring(
                   "program", "QString",
                   "The program that its start slot runs; file:devices/gate for one in the project's folder.")
            << wiring("arguments", "items", "The program's arguments, one a line.")
            << PropertyEntry{"autostart", "bool", "false", "wiring", {}, false, "Started with the window."};
    if (cls == "QLocalSocket" || cls == "QLocalServer")
        own << wiring("server", "QString", "The name that it connects to or listens at.")
            << PropertyEntry{"autostart", "bool", "true", "wiring", {}, false, "Opened with the window."};
    return own;
}

} // namespace pipit
