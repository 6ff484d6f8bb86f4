// The catalog against the live tool-kit.
#include "core/catalog/catalog.h"
#include "core/trace/model.h"

#include <QtTest>
#include <QtWidgets>

using namespace pipit;

class CatalogTest : public QObject
{
    Q_OBJECT
private slots:
    void everySignalIsThere_data();
    void everySignalIsThere();
    void eventsNameRealTypes();
    void wordsFindClasses();
    void signaturesBecomeParameters();
};

void CatalogTest::everySignalIsThere_data()
{
    QTest::addColumn<const QMetaObject *>("mo");
    for (const QMetaObject *m :
         {&QPushButton::staticMetaObject, &QLineEdit::staticMetaObject, &QListWidget::staticMetaObject,
          &QComboBox::staticMetaObject, &QSpinBox::staticMetaObject, &QSlider::staticMetaObject,
          &QCheckBox::staticMetaObject, &QPlainTextEdit::staticMetaObject, &QLabel::staticMetaObject,
          &QTimer::staticMetaObject, &QTableWidget::staticMetaObject, &QCalendarWidget::staticMetaObject})
        QTest::newRow(m->className()) << m;
}

void CatalogTest::everySignalIsThere()
{
    QFETCH(const QMetaObject *, mo);
    const Catalog &c = Catalog::get();
    QVERIFY(c.makes(mo->className()));
    QStringList lineage;
    for (const QMetaObject *m = mo; m; m = m->superClass())
        lineage << m->className();
    QCOMPARE(c.lineage(mo->className()), lineage);
    for (int i = 0; i < mo->methodCount(); ++i) {
        const QMetaMethod m = mo->method(i);
        if (m.methodType() != QMetaMethod::Signal || m.access() == QMetaMethod::Private)
            continue;
        const auto found = c.signalsNamed(mo->className(), QString::fromLatin1(m.name()));
        QVERIFY2(!found.isEmpty(), m.methodSignature());
    }
    for (const SignalEntry &s : c.signalsOf(mo->className()))
        QVERIFY2(mo->indexOfSignal(s.signature.toLatin1()) >= 0, qPrintable(s.signature));
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
