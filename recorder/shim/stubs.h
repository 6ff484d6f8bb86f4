// The functions that the shim stands in for, in the order of its slots. One list for the shim,
// which makes a stub for each, and the recorder, which hangs its own functions in.
// X(id, mangled name, library)
#pragma once

#define PIPIT_STUBS(X)                                                                                       \
    X(ConnectImpl,                                                                                           \
      "_ZN7QObject11connectImplEPKS_PPvS1_S3_PN9QtPrivate15QSlotObjectBaseEN2Qt14ConnectionTypeEPKiPK11QM"   \
      "etaObject",                                                                                           \
      "libQt6Core.so")                                                                                       \
    X(ConnectNames, "_ZN7QObject7connectEPKS_PKcS1_S3_N2Qt14ConnectionTypeE", "libQt6Core.so")               \
    X(ConnectMethods, "_ZN7QObject7connectEPKS_RK11QMetaMethodS1_S4_N2Qt14ConnectionTypeE", "libQt6Core.so") \
    X(ConnectByRule, "_ZN11QMetaObject18connectSlotsByNameEP7QObject", "libQt6Core.so")                      \
    X(InvokeImpl,                                                                                            \
      "_ZN11QMetaObject16invokeMethodImplEP7QObjectPN9QtPrivate15QSlotObjectBaseEN2Qt14ConnectionTypeEPv",   \
      "libQt6Core.so")                                                                                       \
    X(InvokeByName,                                                                                          \
      "_ZN11QMetaObject12invokeMethodEP7QObjectPKcN2Qt14ConnectionTypeE22QGenericReturnArgument16QGeneric"   \
      "ArgumentS7_S7_S7_S7_S7_S7_S7_S7_S7_",                                                                 \
      "libQt6Core.so")                                                                                       \
    X(InvokeMethod,                                                                                          \
      "_ZNK11QMetaMethod6invokeEP7QObjectN2Qt14ConnectionTypeE22QGenericReturnArgument16QGenericArgumentS5"  \
      "_S5_S5_S5_S5_S5_S5_S5_S5_",                                                                           \
      "libQt6Core.so")                                                                                       \
    X(SingleShotByName, "_ZN6QTimer10singleShotEiPK7QObjectPKc", "libQt6Core.so")                            \
    X(SingleShotTyped, "_ZN6QTimer10singleShotEiN2Qt9TimerTypeEPK7QObjectPKc", "libQt6Core.so")              \
    X(LookupHost, "_ZN9QHostInfo14lookupHostImplERK7QStringPK7QObjectPN9QtPrivate15QSlotObjectBaseEPKc",     \
      "libQt6Network.so")                                                                                    \
    X(PoolStart, "_ZN11QThreadPool5startEP9QRunnablei", "libQt6Core.so")                                     \
    X(PoolTryStart, "_ZN11QThreadPool8tryStartEP9QRunnable", "libQt6Core.so")                                \
    X(PoolStartReserved, "_ZN11QThreadPool21startOnReservedThreadEP9QRunnable", "libQt6Core.so")             \
    X(PoolStartFunction, "_ZN11QThreadPool5startESt8functionIFvvEEi", "libQt6Core.so")                       \
    X(PoolTryStartFunction, "_ZN11QThreadPool8tryStartESt8functionIFvvEE", "libQt6Core.so")                  \
    X(PoolStartReservedFunction, "_ZN11QThreadPool21startOnReservedThreadESt8functionIFvvEE",                \
      "libQt6Core.so")                                                                                       \
    X(SingleShotImpl, "_ZN6QTimer14singleShotImplEiN2Qt9TimerTypeEPK7QObjectPN9QtPrivate15QSlotObjectBaseE", \
      "libQt6Core.so")                                                                                       \
    X(LabelText, "_ZN6QLabel7setTextERK7QString", "libQt6Widgets.so")                                        \
    X(ButtonText, "_ZN15QAbstractButton7setTextERK7QString", "libQt6Widgets.so")                             \
    X(ButtonChecked, "_ZN15QAbstractButton10setCheckedEb", "libQt6Widgets.so")                               \
    X(LineText, "_ZN9QLineEdit7setTextERK7QString", "libQt6Widgets.so")                                      \
    X(LineClear, "_ZN9QLineEdit5clearEv", "libQt6Widgets.so")                                                \
    X(BarValue, "_ZN12QProgressBar8setValueEi", "libQt6Widgets.so")                                          \
    X(SliderValue, "_ZN15QAbstractSlider8setValueEi", "libQt6Widgets.so")                                    \
    X(SpinValue, "_ZN8QSpinBox8setValueEi", "libQt6Widgets.so")                                              \
    X(StatusText, "_ZN10QStatusBar11showMessageERK7QStringi", "libQt6Widgets.so")                            \
    X(ComboIndex, "_ZN9QComboBox15setCurrentIndexEi", "libQt6Widgets.so")                                    \
    X(PlainText, "_ZN14QPlainTextEdit12setPlainTextERK7QString", "libQt6Widgets.so")                         \
    X(PlainAppend, "_ZN14QPlainTextEdit15appendPlainTextERK7QString", "libQt6Widgets.so")                    \
    X(EditPlainText, "_ZN9QTextEdit12setPlainTextERK7QString", "libQt6Widgets.so")                           \
    X(EditText, "_ZN9QTextEdit7setTextERK7QString", "libQt6Widgets.so")                                      \
    X(EditAppend, "_ZN9QTextEdit6appendERK7QString", "libQt6Widgets.so")                                     \
    X(GroupTitle, "_ZN9QGroupBox8setTitleERK7QString", "libQt6Widgets.so")                                   \
    X(WindowTitle, "_ZN7QWidget14setWindowTitleERK7QString", "libQt6Widgets.so")                             \
    X(WidgetEnabled, "_ZN7QWidget10setEnabledEb", "libQt6Widgets.so")                                        \
    X(WidgetDisabled, "_ZN7QWidget11setDisabledEb", "libQt6Widgets.so")                                      \
    X(WidgetHide, "_ZN7QWidget4hideEv", "libQt6Widgets.so")                                                  \
    X(WidgetShow, "_ZN7QWidget4showEv", "libQt6Widgets.so")                                                  \
    X(WidgetFocus, "_ZN7QWidget8setFocusEN2Qt11FocusReasonE", "libQt6Widgets.so")                            \
    X(WidgetUpdates, "_ZN7QWidget17setUpdatesEnabledEb", "libQt6Widgets.so")                                 \
    X(WidgetRepaint, "_ZN7QWidget7repaintEv", "libQt6Widgets.so")                                            \
    X(WidgetGrabMouse, "_ZN7QWidget9grabMouseEv", "libQt6Widgets.so")                                        \
    X(WidgetGrabKeyboard, "_ZN7QWidget12grabKeyboardEv", "libQt6Widgets.so")                                 \
    X(ActionEnabled, "_ZN7QAction10setEnabledEb", "libQt6Gui.so")                                            \
    X(ActionChecked, "_ZN7QAction10setCheckedEb", "libQt6Gui.so")                                            \
    X(TimerStart, "_ZN6QTimer5startEv", "libQt6Core.so")                                                     \
    X(TimerStartFor, "_ZN6QTimer5startEi", "libQt6Core.so")                                                  \
    X(TimerStop, "_ZN6QTimer4stopEv", "libQt6Core.so")                                                       \
    X(BlockSignals, "_ZN7QObject12blockSignalsEb", "libQt6Core.so")                                          \
    X(DeleteLater, "_ZN7QObject11deleteLaterEv", "libQt6Core.so")                                            \
    X(LoopExec, "_ZN10QEventLoop4execE6QFlagsINS_17ProcessEventsFlagEE", "libQt6Core.so")                    \
    X(ProcessEvents, "_ZN16QCoreApplication13processEventsE6QFlagsIN10QEventLoop17ProcessEventsFlagEE",      \
      "libQt6Core.so")                                                                                       \
    X(ProcessEventsFor, "_ZN16QCoreApplication13processEventsE6QFlagsIN10QEventLoop17ProcessEventsFlagEEi",  \
      "libQt6Core.so")                                                                                       \
    X(LoopPass, "_ZN10QEventLoop13processEventsE6QFlagsINS_17ProcessEventsFlagEE", "libQt6Core.so")          \
    X(LoopPassFor, "_ZN10QEventLoop13processEventsE6QFlagsINS_17ProcessEventsFlagEEi", "libQt6Core.so")      \
    X(InstallMessageHandler, "_Z22qInstallMessageHandlerPFv9QtMsgTypeRK18QMessageLogContextRK7QStringE",     \
      "libQt6Core.so")                                                                                       \
    X(AppC1, "_ZN16QCoreApplicationC1ERiPPci", "libQt6Core.so")                                              \
    X(AppC2, "_ZN16QCoreApplicationC2ERiPPci", "libQt6Core.so")                                              \
    X(AppPrivateC1, "_ZN16QCoreApplicationC1ER23QCoreApplicationPrivate", "libQt6Core.so")                   \
    X(AppPrivateC2, "_ZN16QCoreApplicationC2ER23QCoreApplicationPrivate", "libQt6Core.so")                   \
    X(ThreadCreate, "pthread_create", "libc.so")                                                             \
    X(ProcessStart, "_ZN8QProcess5startERK7QStringRK5QListIS0_E6QFlagsIN13QIODeviceBase12OpenModeFlagEE",    \
      "libQt6Core.so")                                                                                       \
    X(ProcessStartSet, "_ZN8QProcess5startE6QFlagsIN13QIODeviceBase12OpenModeFlagEE", "libQt6Core.so")       \
    X(ProcessCommand, "_ZN8QProcess12startCommandERK7QString6QFlagsIN13QIODeviceBase12OpenModeFlagEE",       \
      "libQt6Core.so")                                                                                       \
    X(WatcherPath, "_ZN18QFileSystemWatcher7addPathERK7QString", "libQt6Core.so")                            \
    X(WatcherPaths, "_ZN18QFileSystemWatcher8addPathsERK5QListI7QStringE", "libQt6Core.so")                  \
    X(FutureWatcher, "_ZN18QFutureWatcherBase22connectOutputInterfaceEv", "libQt6Core.so")                   \
    X(AnimationStart, "_ZN18QAbstractAnimation5startENS_14DeletionPolicyE", "libQt6Core.so")                 \
    X(TimeLineStart, "_ZN9QTimeLine5startEv", "libQt6Core.so")                                               \
    X(LocalConnect, "_ZN12QLocalSocket15connectToServerE6QFlagsIN13QIODeviceBase12OpenModeFlagEE",           \
      "libQt6Network.so")                                                                                    \
    X(LocalConnectTo,                                                                                        \
      "_ZN12QLocalSocket15connectToServerERK7QString6QFlagsIN13QIODeviceBase12OpenModeFlagEE",               \
      "libQt6Network.so")                                                                                    \
    X(LocalListen, "_ZN12QLocalServer6listenERK7QString", "libQt6Network.so")                                \
    X(TcpListen, "_ZN10QTcpServer6listenERK12QHostAddresst", "libQt6Network.so")                             \
    X(NetworkGet, "_ZN21QNetworkAccessManager3getERK15QNetworkRequest", "libQt6Network.so")                  \
    X(NetworkPost, "_ZN21QNetworkAccessManager4postERK15QNetworkRequestRK10QByteArray", "libQt6Network.so")  \
    X(NetworkPostDevice, "_ZN21QNetworkAccessManager4postERK15QNetworkRequestP9QIODevice",                   \
      "libQt6Network.so")                                                                                    \
    X(NetworkPut, "_ZN21QNetworkAccessManager3putERK15QNetworkRequestRK10QByteArray", "libQt6Network.so")    \
    X(NetworkHead, "_ZN21QNetworkAccessManager4headERK15QNetworkRequest", "libQt6Network.so")                \
    X(CallWatcher, "_ZN23QDBusPendingCallWatcherC1ERK16QDBusPendingCallP7QObject", "libQt6DBus.so")          \
    X(MenuPopup, "_ZN5QMenu5popupERK6QPointP7QAction", "libQt6Widgets.so")                                   \
    X(Poll, "poll", "libc.so")                                                                               \
    X(Ppoll, "ppoll", "libc.so")                                                                             \
    X(FileOpen, "open", "libc.so")                                                                           \
    X(FileOpen64, "open64", "libc.so")                                                                       \
    X(FileOpenAt, "openat64", "libc.so")                                                                     \
    X(FileStream, "fopen", "libc.so")                                                                        \
    X(FileStream64, "fopen64", "libc.so")                                                                    \
    X(FileRename, "rename", "libc.so")                                                                       \
    X(FileRenameAt, "renameat2", "libc.so")                                                                  \
    X(FileLinkAt, "linkat", "libc.so")                                                                       \
    X(FileUnlink, "unlink", "libc.so")                                                                       \
    X(FileRemove, "remove", "libc.so")                                                                       \
    X(SettingsSet, "_ZN9QSettings8setValueE14QAnyStringViewRK8QVariant", "libQt6Core.so")                    \
    X(SettingsSetText, "_ZN9QSettings8setValueERK7QStringRK8QVariant", "libQt6Core.so")                      \
    X(SettingsRemove, "_ZN9QSettings6removeE14QAnyStringView", "libQt6Core.so")                              \
    X(SettingsRemoveText, "_ZN9QSettings6removeERK7QString", "libQt6Core.so")                                \
    X(ClipboardText, "_ZN10QClipboard7setTextERK7QStringNS_4ModeE", "libQt6Gui.so")                          \
    X(ClipboardData, "_ZN10QClipboard11setMimeDataEP9QMimeDataNS_4ModeE", "libQt6Gui.so")                    \
    X(ClipboardImage, "_ZN10QClipboard8setImageERK6QImageNS_4ModeE", "libQt6Gui.so")                         \
    X(ClipboardPixmap, "_ZN10QClipboard9setPixmapERK7QPixmapNS_4ModeE", "libQt6Gui.so")                      \
    X(OpenAddress, "_ZN16QDesktopServices7openUrlERK4QUrl", "libQt6Gui.so")                                  \
    X(Beep, "_ZN12QApplication4beepEv", "libQt6Widgets.so")                                                  \
    X(Alert, "_ZN12QApplication5alertEP7QWidgeti", "libQt6Widgets.so")                                       \
    X(TrayMessage, "_ZN15QSystemTrayIcon11showMessageERK7QStringS2_NS_11MessageIconEi", "libQt6Widgets.so")  \
    X(TrayMessageIcon, "_ZN15QSystemTrayIcon11showMessageERK7QStringS2_RK5QIconi", "libQt6Widgets.so")

enum StubId {
#define X(id, name, lib) Stub##id,
    PIPIT_STUBS(X)
#undef X
        StubCount
};
