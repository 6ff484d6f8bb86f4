// The catalog against the live toolkit.
#include "core/catalog/catalog.h"
#include "core/catalog/class_headers.h"
#include "core/trace/model.h"

#include <QTest>
#include <QtCore/QMetaMethod>
#include <QtCore/QMetaProperty>
#include <QtNetwork/QLocalServer>
#include <QtNetwork/QLocalSocket>
#include <QtWidgets/QApplication>

using namespace pipit;

class CatalogTest : public QObject
{
    Q_OBJECT
private slots:
    void everySignalIsThere_data();
    void everySignalIsThere();
    void eventsNameRealTypes();
    void everyEventTypeIsOfferedOrNot();
    void defaultsAreTheToolkits();
    void wordsFindClasses();
    void signaturesBecomeParameters();
};

void CatalogTest::everySignalIsThere_data()
{
    QTest::addColumn<const QMetaObject *>("mo");
    QTest::addColumn<bool>("made");
#define ROW(cls) QTest::newRow(#cls) << &cls::staticMetaObject << true;
#define PASSED(cls) QTest::newRow(#cls) << &cls::staticMetaObject << false;
    PIPIT_CLASSES(ROW, ROW, PASSED)
}

void CatalogTest::everySignalIsThere()
{
    QFETCH(const QMetaObject *, mo);
    QFETCH(bool, made);
    const Catalog &c = Catalog::get();
    QVERIFY(c.has(mo->className()));
    QCOMPARE(c.makes(mo->className()), made);
    QStringList lineage;
    for (const QMetaObject *m = mo; m; m = m->superClass())
        lineage << m->className();
    QCOMPARE(c.lineage(mo->className()), lineage);
    for (int i = 0; i < mo->methodCount(); ++i) {
        const QMetaMethod m = mo->method(i);
        if (m.methodType() != QMetaMethod::Signal || m.access() == QMetaMethod::Private ||
            m.name() == "paused") // no longer to be used
            continue;
        const auto found = c.signalsNamed(mo->className(), QString::fromLatin1(m.name()));
        QVERIFY2(!found.isEmpty(), m.methodSignature());
    }
    for (const SignalEntry &s : c.signalsOf(mo->className())) {
        QVERIFY2(mo->indexOfSignal(s.signature.toLatin1()) >= 0, qPrintable(s.signature));
        QVERIFY2(s.sentence.endsWith('.'), qPrintable(s.owner + "::" + s.signature)); // when it happens
        QVERIFY2(s.often.endsWith('.'), qPrintable(s.owner + "::" + s.signature));    // and how often
    }
    // Slots and properties that can be set are there as well.
    for (int i = 0; i < mo->propertyCount(); ++i) {
        const QMetaProperty p = mo->property(i);
        const bool ours = mo->className() == QByteArray("QTimer") || p.name() == QByteArray("objectName");
        if (p.isWritable() && p.isDesignable() && !ours)
            QVERIFY2(c.property(mo->className(), QString::fromLatin1(p.name())), p.name());
    }
}

void CatalogTest::eventsNameRealTypes()
{
    const auto types = QMetaEnum::fromType<QEvent::Type>();
    for (const EventEntry &e : Catalog::get().eventsOf("QPushButton")) {
        QVERIFY2(types.keyToValue(e.type.section("::", 1).toLatin1()) > 0, qPrintable(e.type));
        QVERIFY(e.sentence.endsWith('.'));
        QCOMPARE(Catalog::get().event(e.words)->type, e.type);
    }
    QVERIFY(Catalog::get().eventsOf("QTimer").isEmpty());
    QCOMPARE(eventWords(QEvent::KeyPress), QString("key press"));
    QCOMPARE(eventName(QEvent::UpdateRequest), QString("UpdateRequest"));
}

// Each type of event that the toolkit has is one that a handler can be connected to, or one that
// is no business of a handler's, for a reason.
void CatalogTest::everyEventTypeIsOfferedOrNot()
{
    static const QSet<QByteArray> inner = {
        // of the object system and the loop
        "None", "Timer", "ChildAdded", "ChildPolished", "ChildRemoved", "DeferredDelete", "MetaCall",
        "ThreadChange", "DynamicPropertyChange", "Quit", "SockAct", "SockClose", "WinEventAct",
        "StateMachineSignal", "StateMachineWrapped", "FutureCallOut", "ApplicationStateChange", "Callout",
        "Pointer", "ApplicationActivated",
        // of painting, layout and styles
        "UpdateRequest", "UpdateLater", "LayoutRequest", "Polish", "PolishRequest", "StyleAnimationUpdate",
        "ContentsRectChange", "DynamicPropertyChange", "AcceptDropsChange", "ZeroTimerEvent",
        "MouseTrackingChange", "Expose", "UpdateSoftKeys", "PlatformSurface", "DevicePixelRatioChange",
        "ScreenChangeInternal",
        // of windows and their system
        "WinIdChange", "WindowChangeInternal", "ParentAboutToChange", "ParentChange",
        "ParentWindowAboutToChange", "ParentWindowChange", "ShowToParent", "HideToParent", "WindowBlocked",
        "WindowUnblocked", "Create", "Destroy", "EmbeddingControl", "MacSizeChange", "ShowWindowRequest",
        "ModifiedChange", "ToolBarChange", "OkRequest", "HelpRequest", "NonClientAreaMouseMove",
        "NonClientAreaMouseButtonPress", "NonClientAreaMouseButtonRelease",
        "NonClientAreaMouseButtonDblClick", "ReadOnlyChange", "OrientationChange", "SafeAreaMarginsChange",
        "QueryWhatsThis", "WhatsThisClicked", "EnterWhatsThisMode", "LeaveWhatsThisMode", "LeaveEditFocus",
        "EnterEditFocus", "RequestSoftwareInputPanel", "CloseSoftwareInputPanel", "ActivateControl",
        "DeactivateControl", "Style", "ApplicationDeactivated", "MacGLWindowChange", "NetworkReplyUpdated",
        "ThemeChange", "PlatformPanel", "WindowAboutToChangeInternal", "ToolTipChange", "IconTextChange",
        "IconDrag", "WindowTitleChange", "WindowIconChange", "ActivationChange", "ActionAdded",
        "ActionChanged", "ActionRemoved", "IconChange", "ZOrderChange", "WhatsThis", "StatusTip", "Clipboard",
        "Speech", "LocaleChange", "CursorChange", "HoverEnter", "HoverLeave", "HoverMove",
        "FocusAboutToChange", "ShortcutOverride", "Shortcut", "InputMethod", "InputMethodQuery", "GrabMouse",
        "UngrabMouse", "GrabKeyboard", "UngrabKeyboard", "KeyboardLayoutChange", "ApplicationFontChange",
        "ApplicationPaletteChange", "ApplicationLayoutDirectionChange", "ApplicationWindowIconChange",
        "ApplicationActivate", "ApplicationDeactivate", "LanguageChange", "DragResponse", "Scroll",
        "ScrollPrepare", "TabletMove", "TabletPress", "TabletRelease", "TabletEnterProximity",
        "TabletLeaveProximity", "TabletTrackingChange", "NativeGesture", "Gesture", "GestureOverride",
        "TouchCancel",
        // of scenes and accessibility
        "GraphicsSceneMouseMove", "GraphicsSceneMousePress", "GraphicsSceneMouseRelease",
        "GraphicsSceneMouseDoubleClick", "GraphicsSceneContextMenu", "GraphicsSceneHoverEnter",
        "GraphicsSceneHoverMove", "GraphicsSceneHoverLeave", "GraphicsSceneHelp", "GraphicsSceneDragEnter",
        "GraphicsSceneDragMove", "GraphicsSceneDragLeave", "GraphicsSceneDrop", "GraphicsSceneWheel",
        "GraphicsSceneResize", "GraphicsSceneMove", "GraphicsSceneLeave", "AccessibilityPrepare",
        "AccessibilityHelp", "AccessibilityDescription", "User", "MaxUser"};
    QSet<QByteArray> offered;
    for (const EventEntry &e : catalogEvents()) {
        offered.insert(e.type.section("::", 1).toLatin1());
        QVERIFY2(e.handled.endsWith('.'), qPrintable(e.words));
    }
    const auto types = QMetaEnum::fromType<QEvent::Type>();
    QByteArrayList forgotten;
    for (int i = 0; i < types.keyCount(); ++i)
        if (!offered.contains(types.key(i)) && !inner.contains(types.key(i)))
            forgotten << types.key(i);
    QVERIFY2(forgotten.isEmpty(), forgotten.join(", ").constData());
}

void CatalogTest::defaultsAreTheToolkits()
{
    const Catalog &c = Catalog::get();
    QCOMPARE(c.property("QCheckBox", "checkable")->defaultValue, QString("true"));
    QCOMPARE(c.property("QPushButton", "checkable")->defaultValue, QString("false"));
    QCOMPARE(c.property("QSpinBox", "maximum")->defaultValue, QString("99"));
    QCOMPARE(c.property("QLabel", "alignment")->keys.contains("AlignRight"), true);
    QVERIFY(c.property("QLabel", "alignment")->flags);
    QVERIFY(!c.property("QSlider", "orientation")->flags);
    QVERIFY(!c.property("QLabel", "stretch")->sentence.isEmpty());
}

void CatalogTest::wordsFindClasses()
{
    const Catalog &c = Catalog::get();
    QCOMPARE(c.classFor("button"), QString("QPushButton"));
    QCOMPARE(c.classFor("tick box"), QString("QCheckBox"));
    QCOMPARE(c.classFor("page of text"), QString("QPlainTextEdit"));
    QCOMPARE(c.classFor("drop-down"), QString("QComboBox"));
    QCOMPARE(c.classFor("QSlider"), QString("QSlider"));
    QCOMPARE(c.classFor("calen"), QString("QCalendarWidget"));
    QCOMPARE(c.classFor("frobnicator"), QString());
    QCOMPARE(c.classFor(""), QString());
}

void CatalogTest::signaturesBecomeParameters()
{
    const auto types = [](const char *cls, const char *signal) {
        return Catalog::get().signalsNamed(cls, signal).first().types();
    };
    QCOMPARE(types("QLineEdit", "textChanged"), QStringList{"const QString &"});
    QCOMPARE(types("QListWidget", "itemClicked"), QStringList{"QListWidgetItem *"});
    QCOMPARE(types("QTimer", "timeout"), QStringList());
    QCOMPARE(Catalog::get().signalsNamed("QPushButton", "clicked").size(), 1);
}

QTEST_MAIN(CatalogTest)
#include "catalog_test.moc"
