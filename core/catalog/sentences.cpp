#include "core/catalog/sentences.h"

#include "core/catalog/catalog.h"

#include <QHash>

namespace pipit
{

namespace
{

// Owner::name | how often: o once for each act, m many in a row, s seldom, c also when code does it |
// when | the usual mistake.
constexpr char table[] = R"(
QObject::destroyed|s|The object is being destroyed. Only its QObject part is left.|The members of its class are already destroyed when the handler runs.
QObject::objectNameChanged|s|The object's name changed, by code.|
QWidget::windowTitleChanged|s|The window's title changed.|
QWidget::windowIconChanged|s|The window's icon changed.|
QWidget::windowIconTextChanged|s|The text beside the window's icon changed.|
QWidget::customContextMenuRequested|o|A right click or the menu key requests a menu.|It is emitted only if contextMenuPolicy is CustomContextMenu.
QMainWindow::iconSizeChanged|s|The icon size of tool bars changed.|
QMainWindow::toolButtonStyleChanged|s|The style of tool buttons changed.|
QMainWindow::tabifiedDockWidgetActivated|o|Another docked area in tabs came to the front.|
QDialog::finished|o|The dialog was closed, with its result.|It is also emitted when the dialog is rejected; check the result.
QDialog::accepted|o|The dialog was closed with OK or its like.|
QDialog::rejected|o|The dialog was closed with Cancel, Escape or its close button.|
QLabel::linkActivated|o|A link in the text was clicked.|
QLabel::linkHovered|m|The pointer entered a link in the text, or left it.|
QAbstractButton::pressed|o|The button was pressed, by mouse or Space.|Connect actions to clicked; a person can cancel it by leaving the button.
QAbstractButton::released|o|The button was released, or the pointer left it while held.|It is also emitted when the click is cancelled.
QAbstractButton::clicked|o|The button was pressed and released, by mouse, Space or shortcut.|Checking the button by code emits toggled, not clicked.
QAbstractButton::toggled|c|A button that can be checked changed its state, by a person or by code.|It is never emitted by a button that is not checkable.
QToolButton::triggered|o|An action of the button or of its menu was chosen.|A button without actions emits clicked instead.
QCheckBox::stateChanged|c|The box became ticked, unticked or partly ticked, by a person or by code.|The number is 0, 1 or 2, not true or false.
QLineEdit::textChanged|m|The text changed, by typing or by code.|A handler that sets the text calls itself again. Use textEdited to avoid it.
QLineEdit::textEdited|m|The text changed by typing; never by code.|
QLineEdit::cursorPositionChanged|m|The text cursor moved.|
QLineEdit::returnPressed|o|Return or Enter was pressed, if the text is acceptable.|With a validator or a mask it is not emitted while the text is incomplete.
QLineEdit::editingFinished|o|Return was pressed, or the field lost the focus after a change.|With returnPressed connected too, Return calls both.
QLineEdit::selectionChanged|m|Other characters are selected.|
QLineEdit::inputRejected|o|A character was typed that the field does not accept.|
QTextEdit::textChanged|m|The text or its formatting changed, by typing or by code.|
QTextEdit::undoAvailable|c|Undo became possible or impossible.|
QTextEdit::redoAvailable|c|Redo became possible or impossible.|
QTextEdit::currentCharFormatChanged|m|The format of the text at the cursor changed.|
QTextEdit::copyAvailable|m|A selection was made or removed.|
QTextEdit::selectionChanged|m|Other text is selected.|
QTextEdit::cursorPositionChanged|m|The text cursor moved.|
QTextBrowser::backwardAvailable|c|Going back became possible or impossible.|
QTextBrowser::forwardAvailable|c|Going forward became possible or impossible.|
QTextBrowser::historyChanged|c|The list of pages seen changed.|
QTextBrowser::sourceChanged|c|Another page is shown.|
QTextBrowser::highlighted|m|A link is under the pointer or has the keyboard.|
QTextBrowser::anchorClicked|o|A link was clicked.|Without openLinks=false the view follows the link by itself too.
QPlainTextEdit::textChanged|m|The text changed, by typing or by code.|
QPlainTextEdit::undoAvailable|c|Undo became possible or impossible.|
QPlainTextEdit::redoAvailable|c|Redo became possible or impossible.|
QPlainTextEdit::copyAvailable|m|A selection was made or removed.|
QPlainTextEdit::selectionChanged|m|Other text is selected.|
QPlainTextEdit::cursorPositionChanged|m|The text cursor moved.|
QPlainTextEdit::updateRequest|m|A part of the text is about to be repainted.|
QPlainTextEdit::blockCountChanged|m|There are more or fewer lines.|
QPlainTextEdit::modificationChanged|c|The text became modified, or is unmodified again.|
QAbstractSpinBox::editingFinished|o|Return was pressed or the field lost the focus.|
QSpinBox::valueChanged|m|The number changed, by arrow, wheel, typing or code; once for each digit typed.|Set keyboardTracking=false to get the final number only.
QSpinBox::textChanged|m|The text with prefix and suffix changed.|
QDoubleSpinBox::valueChanged|m|The number changed, by arrow, wheel, typing or code.|Set keyboardTracking=false to get the final number only.
QDoubleSpinBox::textChanged|m|The text with prefix and suffix changed.|
QComboBox::editTextChanged|m|What is typed into an editable drop-down changed.|
QComboBox::activated|o|A person chose an entry, even the same one again; never by code.|Setting the choice by code does not emit it.
QComboBox::textActivated|o|A person chose an entry; its text is given.|
QComboBox::highlighted|m|The pointer or the arrow keys are on an entry of the open list.|It is not chosen yet.
QComboBox::textHighlighted|m|The pointer or the arrow keys are on an entry; its text is given.|
QComboBox::currentIndexChanged|c|Another entry became the chosen one, by a person or by code.|The first added entry becomes current, so the signal is emitted while the list is filled.
QComboBox::currentTextChanged|c|The text of the choice changed, by a person or by code.|
QFontComboBox::currentFontChanged|c|Another font family was chosen.|
QAbstractSlider::valueChanged|m|The value changed; many times while it is dragged with tracking on.|
QAbstractSlider::sliderPressed|o|A person pressed the handle.|
QAbstractSlider::sliderMoved|m|A person drags the handle; never by code.|Keys and the wheel do not emit it.
QAbstractSlider::sliderReleased|o|A person released the handle.|
QAbstractSlider::rangeChanged|s|The minimum or maximum changed, by code.|
QAbstractSlider::actionTriggered|m|A step, a page, an end or a move was requested. The value is not changed yet.|
QProgressBar::valueChanged|m|The value shown changed, by code.|
QDateTimeEdit::dateTimeChanged|m|Date or time changed, by a person or by code.|
QDateTimeEdit::timeChanged|m|The time changed, by a person or by code.|
QDateTimeEdit::dateChanged|m|The date changed, by a person or by code.|
QDateEdit::userDateChanged|m|The date changed, by a person or by code.|
QTimeEdit::userTimeChanged|m|The time changed, by a person or by code.|
QCalendarWidget::selectionChanged|c|Another day was selected.|
QCalendarWidget::clicked|o|A day was clicked.|Arrow keys choose a day without a click; selectionChanged covers both.
QCalendarWidget::activated|o|A day was chosen by Return or double click.|
QCalendarWidget::currentPageChanged|o|Another month is shown.|
QLCDNumber::overflow|s|A number did not fit into the digits.|
QKeySequenceEdit::editingFinished|o|The shortcut is complete: a short time passed after the last key.|
QKeySequenceEdit::keySequenceChanged|m|The shortcut changed, with each key.|
QGroupBox::clicked|o|The group's tick was clicked.|It is never emitted by a group that is not checkable.
QGroupBox::toggled|c|The group's tick changed, by a person or by code.|It is never emitted by a group that is not checkable.
QAbstractItemView::pressed|o|A mouse button was pressed on an item.|
QAbstractItemView::clicked|o|An item was clicked with the left button.|Arrow keys do not click; the selection model covers both.
QAbstractItemView::doubleClicked|o|An item was double-clicked.|
QAbstractItemView::activated|o|An item was chosen by Return or double click, depending on the desktop.|If clicked is connected too, one input may call both.
QAbstractItemView::entered|m|The pointer entered an item.|It is emitted only with mouseTracking=true or a button held.
QAbstractItemView::viewportEntered|m|The pointer came to a place without an item.|It is emitted only with mouseTracking=true or a button held.
QAbstractItemView::iconSizeChanged|s|The icon size of items changed.|
QListView::indexesMoved|o|Items were moved by dragging in a list that allows it.|
QListWidget::itemPressed|o|A mouse button was pressed on a row.|
QListWidget::itemClicked|o|A mouse button was clicked on a row.|Arrow keys do not click; currentRowChanged covers both.
QListWidget::itemDoubleClicked|o|A row was double-clicked.|
QListWidget::itemActivated|o|A row was chosen by Return or double click, depending on the desktop.|
QListWidget::itemEntered|m|The pointer entered a row.|It is emitted only with mouseTracking=true or a button held.
QListWidget::itemChanged|c|A row's text, tick or data changed.|Setting it in the handler calls the handler again.
QListWidget::currentItemChanged|c|Another row became the current one; the old one is given too.|Either may be null.
QListWidget::currentTextChanged|c|Another row became the current one; its text is given.|
QListWidget::currentRowChanged|c|Another row became the current one; -1 when there is none.|Adding rows makes none current: the first becomes it when the list gets the keyboard.
QListWidget::itemSelectionChanged|c|Other rows are selected.|
QTreeView::expanded|o|A branch was opened, by a person or by code.|
QTreeView::collapsed|o|A branch was closed, by a person or by code.|
QTreeWidget::itemPressed|o|A mouse button was pressed on a row.|
QTreeWidget::itemClicked|o|A mouse button was clicked on a row.|Arrow keys do not click; currentItemChanged covers both.
QTreeWidget::itemDoubleClicked|o|A row was double-clicked.|
QTreeWidget::itemActivated|o|A row was chosen by Return or double click, depending on the desktop.|
QTreeWidget::itemEntered|m|The pointer entered a row.|It is emitted only with mouseTracking=true or a button held.
QTreeWidget::itemChanged|c|A row's text, tick or data changed.|Setting it in the handler calls the handler again.
QTreeWidget::itemExpanded|o|A branch was opened, by a person or by code.|
QTreeWidget::itemCollapsed|o|A branch was closed, by a person or by code.|
QTreeWidget::currentItemChanged|c|Another row became the current one; the old one is given too.|Either may be null.
QTreeWidget::itemSelectionChanged|c|Other rows are selected.|
QTableWidget::itemPressed|o|A mouse button was pressed on a cell that has an item.|
QTableWidget::itemClicked|o|A cell that has an item was clicked.|Empty cells have no item; cellClicked is emitted for them too.
QTableWidget::itemDoubleClicked|o|A cell that has an item was double-clicked.|
QTableWidget::itemActivated|o|A cell that has an item was chosen by Return or double click, depending on the desktop.|
QTableWidget::itemEntered|m|The pointer entered a cell that has an item.|It is emitted only with mouseTracking=true or a button held.
QTableWidget::itemChanged|c|A cell's text, tick or data changed.|Setting it in the handler calls the handler again.
QTableWidget::currentItemChanged|c|Another cell became the current one; the old one is given too.|Either may be null.
QTableWidget::itemSelectionChanged|c|Other cells are selected.|
QTableWidget::cellPressed|o|A mouse button was pressed on a cell.|
QTableWidget::cellClicked|o|A cell was clicked.|
QTableWidget::cellDoubleClicked|o|A cell was double-clicked.|
QTableWidget::cellActivated|o|A cell was chosen by Return or double click, depending on the desktop.|
QTableWidget::cellEntered|m|The pointer entered a cell.|It is emitted only with mouseTracking=true or a button held.
QTableWidget::cellChanged|c|A cell's text, tick or data changed.|Filling the table by code gives it for each cell.
QTableWidget::currentCellChanged|c|Another cell became the current one; the old one is given too.|
QTabWidget::currentChanged|c|Another tab is in front.|It is emitted when the first tab is added.
QTabWidget::tabCloseRequested|o|A tab's close button was clicked.|The tab stays until the handler removes it; tabsClosable must be true.
QTabWidget::tabBarClicked|o|A tab was clicked, even the one in front; -1 beside the tabs.|
QTabWidget::tabBarDoubleClicked|o|A tab was double-clicked; -1 beside the tabs.|
QStackedWidget::currentChanged|c|Another page is in front.|
QStackedWidget::widgetRemoved|s|A page was taken out, by code.|
QToolBox::currentChanged|c|Another page is open.|
QSplitter::splitterMoved|m|A person drags the border between two parts.|
QMenuBar::triggered|o|An action of one of the bar's menus was chosen.|The action also emits its own triggered.
QMenuBar::hovered|m|The pointer or a key is on an action of the bar.|
QMenu::aboutToShow|o|The menu is about to open: the moment to fill it or to enable what fits.|
QMenu::aboutToHide|o|The menu is about to close.|
QMenu::triggered|o|An action of the menu or of one below it was chosen.|The action also emits its own triggered.
QMenu::hovered|m|The pointer or a key is on an action of the menu.|
QToolBar::actionTriggered|o|An action of the tool bar was chosen.|The action also emits its own triggered.
QToolBar::movableChanged|s|The bar may or may no longer be moved.|
QToolBar::allowedAreasChanged|s|The bar may stand elsewhere than before.|
QToolBar::orientationChanged|o|The bar lies or stands otherwise than before.|
QToolBar::iconSizeChanged|s|The bar got another size of icons.|
QToolBar::toolButtonStyleChanged|s|The bar shows text or icons in another way.|
QToolBar::topLevelChanged|o|The bar was torn off the window, or put back.|
QToolBar::visibilityChanged|c|The bar is shown or hidden.|
QStatusBar::messageChanged|c|The passing message changed; empty when it went.|
QDialogButtonBox::clicked|o|One of the box's buttons was clicked.|accepted or rejected is emitted after it.
QDialogButtonBox::accepted|o|OK, Yes, Save or their like was clicked.|The box closes nothing by itself: connect it to the dialog's accept.
QDialogButtonBox::helpRequested|o|Help was clicked.|
QDialogButtonBox::rejected|o|Cancel, No, Close or their like was clicked.|The box closes nothing by itself: connect it to the dialog's reject.
QTimer::timeout|t|The interval is over; later if the event loop was busy.|A timer that was never started does not fire.
QAction::changed|c|Anything about the action changed: text, icon, enabled, shown.|
QAction::enabledChanged|c|The action became enabled or disabled.|
QAction::checkableChanged|s|The action can or can no longer be checked.|
QAction::visibleChanged|c|The action is shown or hidden.|
QAction::triggered|o|The action was chosen: by menu, tool bar or shortcut.|An action in no menu, bar or window never hears its shortcut.
QAction::hovered|m|The pointer or a key is on the action.|
QAction::toggled|c|An action that can be checked changed its state, by a person or by code.|It is never emitted by an action that is not checkable.
QButtonGroup::buttonClicked|o|One of the group's buttons was clicked.|
QButtonGroup::buttonPressed|o|One of the group's buttons went down.|
QButtonGroup::buttonReleased|o|One of the group's buttons came up.|
QButtonGroup::buttonToggled|c|One of the group's buttons changed its state.|In an exclusive group one act gives it twice: off for one, on for another.
QButtonGroup::idClicked|o|One of the group's buttons was clicked; its number is given.|
QButtonGroup::idPressed|o|One of the group's buttons went down; its number is given.|
QButtonGroup::idReleased|o|One of the group's buttons came up; its number is given.|
QButtonGroup::idToggled|c|One of the group's buttons changed its state; its number is given.|In an exclusive group one act gives it twice: off for one, on for another.
QFileSystemWatcher::fileChanged|m|A watched file was changed, renamed or removed.|Programs that save by renaming end the watch: add the path again in the handler.
QFileSystemWatcher::directoryChanged|m|Something in a watched folder was added, renamed or removed.|
QIODevice::readyRead|m|More bytes can be read.|It may hold half a message or three; read all there is, each time.
QIODevice::channelReadyRead|m|More bytes can be read on a channel.|
QIODevice::bytesWritten|m|Bytes left the device.|
QIODevice::channelBytesWritten|m|Bytes left the device on a channel.|
QIODevice::aboutToClose|o|The device is about to be closed.|
QIODevice::readChannelFinished|o|The other side will send no more.|
QProcess::started|o|The other program runs.|
QProcess::finished|o|The other program ended, with its exit code.|After a crash the code means nothing; look at the status.
QProcess::errorOccurred|o|The other program could not be started, crashed, or could not be talked to.|Without it a misspelt program name goes unnoticed.
QProcess::stateChanged|o|The other program starts, runs or is over.|
QProcess::readyReadStandardOutput|m|The other program wrote more.|It may hold half a line; keep what is left for the next time.
QProcess::readyReadStandardError|m|The other program wrote more to its error output.|
QLocalSocket::connected|o|The connection stands.|
QLocalSocket::disconnected|o|The connection is over.|
QLocalSocket::errorOccurred|o|Connecting, reading or writing failed.|Without it a server that is not there goes unnoticed.
QLocalSocket::stateChanged|o|The socket connects, is connected, closes or is closed.|
QLocalServer::newConnection|o|Somebody connected.|The connection waits, unread, until nextPendingConnection() takes it.
QAbstractItemModel::dataChanged|m|Values in a stretch of cells changed.|
QAbstractItemModel::headerDataChanged|s|Headings changed.|
QAbstractItemModel::layoutChanged|s|Items were sorted or otherwise rearranged.|
QAbstractItemModel::layoutAboutToBeChanged|s|Items are about to be rearranged.|
QAbstractItemModel::rowsAboutToBeInserted|m|Rows are about to be added.|
QAbstractItemModel::rowsInserted|m|Rows were added.|
QAbstractItemModel::rowsAboutToBeRemoved|m|Rows are about to go.|
QAbstractItemModel::rowsRemoved|m|Rows are gone.|
QAbstractItemModel::columnsAboutToBeInserted|s|Columns are about to be added.|
QAbstractItemModel::columnsInserted|s|Columns were added.|
QAbstractItemModel::columnsAboutToBeRemoved|s|Columns are about to go.|
QAbstractItemModel::columnsRemoved|s|Columns are gone.|
QAbstractItemModel::modelAboutToBeReset|s|The whole model is about to change.|
QAbstractItemModel::modelReset|s|The whole model changed; every index is void.|
QAbstractItemModel::rowsAboutToBeMoved|s|Rows are about to move.|
QAbstractItemModel::rowsMoved|s|Rows moved.|
QAbstractItemModel::columnsAboutToBeMoved|s|Columns are about to move.|
QAbstractItemModel::columnsMoved|s|Columns moved.|
QStandardItemModel::itemChanged|c|An item's text, tick or data changed.|Setting it in the handler calls the handler again.
QItemSelectionModel::selectionChanged|c|Other items are selected.|It is lost when the view gets another model.
QItemSelectionModel::currentChanged|c|Another item became the current one.|
QItemSelectionModel::currentRowChanged|c|The current item is in another row.|
QItemSelectionModel::currentColumnChanged|c|The current item is in another column.|
QItemSelectionModel::modelChanged|s|The selection belongs to another model.|
QFutureWatcherBase::started|o|The background job began.|
QFutureWatcherBase::finished|o|The background job is over: done, failed or cancelled.|
QFutureWatcherBase::canceled|o|The background job was cancelled.|
QFutureWatcherBase::suspending|s|The background job was asked to pause.|
QFutureWatcherBase::suspended|s|The background job pauses.|
QFutureWatcherBase::resumed|s|The background job goes on.|
QFutureWatcherBase::resultReadyAt|m|One result of the background job is there.|
QFutureWatcherBase::resultsReadyAt|m|Results of the background job are there.|
QFutureWatcherBase::progressRangeChanged|s|The job said how far it has to go.|
QFutureWatcherBase::progressValueChanged|m|The job reported its progress.|It is emitted at most 25 times a second.
QFutureWatcherBase::progressTextChanged|m|The job said what it is doing.|
)";

QString oftenWords(const QString &code)
{
    static const QHash<QString, QString> words = {
        {"o", "Once for each input or external event."},
        {"m", "Many times in a row."},
        {"c", "Once for each change, also by code."},
        {"s", "Seldom."},
        {"t", "Once per interval."},
    };
    return words.value(code);
}

QHash<QString, SignalWords> readTable()
{
    QHash<QString, SignalWords> all;
    for (const QString &line : QString::fromUtf8(table).split('\n', Qt::SkipEmptyParts)) {
        const QStringList f = line.split('|');
        all.insert(f[0], {f[2], oftenWords(f[1]), f[3]});
    }
    return all;
}

} // namespace

SignalWords signalWords(const QString &owner, const QString &name)
{
    static const QHash<QString, SignalWords> all = readTable();
    return all.value(owner + "::" + name);
}

} // namespace pipit
