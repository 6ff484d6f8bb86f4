// The classes that can stand in a project, in one list for the catalog's table and the preview.
//
// WIDGET: made with a parent, shown. OBJECT: made with a parent, not seen. PASSED: never made by a
// project itself, but there with signals of its own: a selection model, the job of a handler.
//
// Threads: none; a list of macros.
#pragma once

// clang-format off
#define PIPIT_CLASSES(WIDGET, OBJECT, PASSED)                                                        \
    WIDGET(QWidget) WIDGET(QMainWindow) WIDGET(QDialog) WIDGET(QLabel) WIDGET(QPushButton)           \
    WIDGET(QToolButton) WIDGET(QCommandLinkButton) WIDGET(QCheckBox) WIDGET(QRadioButton)            \
    WIDGET(QLineEdit) WIDGET(QTextEdit) WIDGET(QTextBrowser) WIDGET(QPlainTextEdit)                  \
    WIDGET(QSpinBox) WIDGET(QDoubleSpinBox) WIDGET(QComboBox) WIDGET(QFontComboBox)                  \
    WIDGET(QSlider) WIDGET(QDial) WIDGET(QScrollBar) WIDGET(QProgressBar) WIDGET(QDateEdit)          \
    WIDGET(QTimeEdit) WIDGET(QDateTimeEdit) WIDGET(QCalendarWidget) WIDGET(QLCDNumber)               \
    WIDGET(QKeySequenceEdit) WIDGET(QGroupBox) WIDGET(QFrame) WIDGET(QListWidget)                    \
    WIDGET(QTreeWidget) WIDGET(QTableWidget) WIDGET(QListView) WIDGET(QTreeView)                     \
    WIDGET(QTableView) WIDGET(QTabWidget) WIDGET(QStackedWidget) WIDGET(QToolBox)                    \
    WIDGET(QSplitter) WIDGET(QScrollArea) WIDGET(QMenuBar) WIDGET(QMenu) WIDGET(QToolBar)            \
    WIDGET(QStatusBar) WIDGET(QDialogButtonBox)                                                      \
    OBJECT(QTimer) OBJECT(QAction) OBJECT(QButtonGroup) OBJECT(QFileSystemWatcher)                   \
    OBJECT(QProcess) OBJECT(QLocalSocket) OBJECT(QLocalServer) OBJECT(QStringListModel)              \
    OBJECT(QStandardItemModel)                                                                       \
    PASSED(QItemSelectionModel) PASSED(QFutureWatcherBase)
// clang-format on
