// Plain words for classes and properties.
#include "core/catalog/catalog.h"

namespace pipit
{

// The first word for a class is the one shown.
const QList<PlainWord> &plainWords()
{
    static const QList<PlainWord> words = {
        {"button", "QPushButton", {}},
        {"push button", "QPushButton", {}},
        {"toggle button", "QPushButton", {{"checkable", "true"}}},
        {"repeat button", "QPushButton", {{"autoRepeat", "true"}}},
        {"label", "QLabel", {}},
        {"picture", "QLabel", {{"pixmap", ""}}},
        {"picture label", "QLabel", {{"pixmap", ""}}},
        {"field", "QLineEdit", {}},
        {"line of text", "QLineEdit", {}},
        {"line edit", "QLineEdit", {}},
        {"text field", "QLineEdit", {}},
        {"password field", "QLineEdit", {{"echoMode", "Password"}}},
        {"tick box", "QCheckBox", {}},
        {"check box", "QCheckBox", {}},
        {"three-state tick box", "QCheckBox", {{"tristate", "true"}}},
        {"choice", "QRadioButton", {}},
        {"radio button", "QRadioButton", {}},
        {"drop-down", "QComboBox", {}},
        {"combo box", "QComboBox", {}},
        {"font choice", "QFontComboBox", {}},
        {"font combo", "QFontComboBox", {}},
        {"number", "QSpinBox", {}},
        {"spin box", "QSpinBox", {}},
        {"decimal number", "QDoubleSpinBox", {}},
        {"slider", "QSlider", {{"orientation", "Horizontal"}}},
        {"upright slider", "QSlider", {{"orientation", "Vertical"}}},
        {"dial", "QDial", {}},
        {"scroll bar", "QScrollBar", {{"orientation", "Horizontal"}}},
        {"progress bar", "QProgressBar", {}},
        {"list", "QListWidget", {}},
        {"tree", "QTreeWidget", {}},
        {"table", "QTableWidget", {}},
        {"list view", "QListView", {}},
        {"tree view", "QTreeView", {}},
        {"table view", "QTableView", {}},
        {"page of text", "QPlainTextEdit", {}},
        {"plain text", "QPlainTextEdit", {}},
        {"text area", "QPlainTextEdit", {}},
        {"rich text", "QTextEdit", {}},
        {"text with links", "QTextBrowser", {}},
        {"group", "QGroupBox", {}},
        {"frame", "QFrame", {{"frameShape", "StyledPanel"}}},
        {"separator", "QFrame", {{"frameShape", "HLine"}, {"frameShadow", "Sunken"}}},
        {"upright separator", "QFrame", {{"frameShape", "VLine"}, {"frameShadow", "Sunken"}}},
        {"spacer", "Spacer", {}},
        {"date", "QDateEdit", {{"calendarPopup", "true"}}},
        {"time", "QTimeEdit", {}},
        {"date and time", "QDateTimeEdit", {{"calendarPopup", "true"}}},
        {"calendar", "QCalendarWidget", {}},
        {"number display", "QLCDNumber", {}},
        {"shortcut field", "QKeySequenceEdit", {}},
        {"tool button", "QToolButton", {}},
        {"link button", "QCommandLinkButton", {}},
        {"area", "QWidget", {{"layout", "column"}}},
        {"column", "QWidget", {{"layout", "column"}, {"layoutMargins", "0"}}},
        {"row", "QWidget", {{"layout", "row"}, {"layoutMargins", "0"}}},
        {"grid", "QWidget", {{"layout", "grid"}, {"layoutMargins", "0"}}},
        {"labelled rows", "QWidget", {{"layout", "labelled"}, {"layoutMargins", "0"}}},
        {"tabs", "QTabWidget", {}},
        {"stack", "QStackedWidget", {}},
        {"tool box", "QToolBox", {}},
        {"splitter", "QSplitter", {{"orientation", "Horizontal"}}},
        {"scroll area", "QScrollArea", {{"widgetResizable", "true"}, {"layout", "column"}}},
        {"menu bar", "QMenuBar", {}},
        {"menu", "QMenu", {}},
        {"tool bar", "QToolBar", {}},
        {"status bar", "QStatusBar", {}},
        {"button box", "QDialogButtonBox", {{"standardButtons", "Ok|Cancel"}}},
        {"buttons", "QDialogButtonBox", {{"standardButtons", "Ok|Cancel"}}},
        {"window", "QWidget", {{"layout", "column"}}},
        {"main window", "QMainWindow", {{"layout", "column"}}},
        {"dialog", "QDialog", {{"layout", "column"}}},
        {"timer", "QTimer", {}},
        {"action", "QAction", {}},
        {"button group", "QButtonGroup", {}},
        {"file watch", "QFileSystemWatcher", {}},
        {"folder watch", "QFileSystemWatcher", {}},
        {"child process", "QProcess", {}},
        {"local socket", "QLocalSocket", {}},
        {"local server", "QLocalServer", {}},
        {"list of texts", "QStringListModel", {}},
        {"item model", "QStandardItemModel", {}},
    };
    return words;
}

const PlainWord *plainWord(const QString &text)
{
    const QString w = text.simplified().toLower();
    for (const PlainWord &p : plainWords())
        if (w == p.words)
            return &p;
    return nullptr;
}

QString Catalog::classFor(const QString &words) const
{
    const QString w = words.simplified().toLower();
    if (w.isEmpty())
        return {};
    for (const QString &name : classes())
        if (name.toLower() == w || name.mid(1).toLower() == w)
            return name;
    if (const PlainWord *p = plainWord(w))
        return p->className;
    for (const PlainWord &p : plainWords())
        if (p.words.startsWith(w))
            return p.className;
    for (const QString &name : classes())
        if (name.toLower().contains(w))
            return name;
    return {};
}

QString ownBaseFor(const QString &words)
{
    const QString w = words.simplified().toLower();
    return w == "object" || w == "qobject" ? QStringLiteral("QObject") : Catalog::get().classFor(words);
}

QString plainWordFor(const QString &className)
{
    for (const PlainWord &p : plainWords())
        if (className == p.className)
            return p.words;
    return className;
}

QString propertyNameFromWords(const QString &words)
{
    QString name;
    for (const QString &word : words.split(' ', Qt::SkipEmptyParts))
        name += name.isEmpty() ? word : word.left(1).toUpper() + word.mid(1);
    return name;
}

} // namespace pipit
