// The desktop's wishes, from a settings portal of our own on a private bus, and what is remembered.
#include "app/session/remembered.h"
#include "app/shell/desktop_settings.h"
#include "tests/support/registered.h"

#include <QDBusContext>
#include <QDBusMessage>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest/QSignalSpy>

using namespace pipit::app;

// What the portal is on a desktop.
class Portal : public QObject, protected QDBusContext
{
    Q_OBJECT
    Q_CLASSINFO("D-Bus Interface", "org.freedesktop.portal.Settings")
public:
    uint scheme = 1;
    bool moves = true;

public slots:
    QDBusVariant Read(const QString &group, const QString &key)
    {
        if (group == "org.freedesktop.appearance" && key == "color-scheme")
            return QDBusVariant(QVariant::fromValue(QDBusVariant(scheme))); // wrapped twice, as some do
        if (group == "org.gnome.desktop.interface" && key == "enable-animations")
            return QDBusVariant(moves);
        sendErrorReply("org.freedesktop.portal.Error.NotFound", "no such setting");
        return {};
    }

signals:
    void SettingChanged(const QString &group, const QString &key, const QDBusVariant &value);
};

class DesktopTest : public QObject
{
    Q_OBJECT
private:
    QProcess bus_;
    QString address_;

private slots:
    void initTestCase()
    {
        bus_.start("dbus-daemon", {"--session", "--nofork", "--print-address"});
        QVERIFY2(bus_.waitForReadyRead(5000), "dbus-daemon did not start");
        address_ = QString::fromUtf8(bus_.readLine()).trimmed();
        QVERIFY(!address_.isEmpty());
    }
    void cleanupTestCase()
    {
        bus_.terminate();
        bus_.waitForFinished(3000);
    }
    void theDesktopIsFollowedWhileRunning();
    void withoutAPortalNothingIsSaid();
    void placesAreRemembered();
};

void DesktopTest::theDesktopIsFollowedWhileRunning()
{
    QDBusConnection service = QDBusConnection::connectToBus(address_, "portal");
    QVERIFY(service.isConnected());
    Portal portal;
    QVERIFY(service.registerObject("/org/freedesktop/portal/desktop", &portal,
                                   QDBusConnection::ExportAllSlots | QDBusConnection::ExportAllSignals));
    QVERIFY(service.registerService("org.freedesktop.portal.Desktop"));
    DesktopSettings settings(nullptr, QDBusConnection::connectToBus(address_, "pipit"));
    QSignalSpy dark(&settings, &DesktopSettings::darkChanged),
        motion(&settings, &DesktopSettings::motionChanged);
    QVERIFY(QTest::qWaitFor([&] { return dark.size() == 1 && motion.size() == 1; }, 5000));
    QCOMPARE(dark.last().first().toBool(), true);
    QCOMPARE(motion.last().first().toBool(), true);
    Q_EMIT portal.SettingChanged("org.freedesktop.appearance", "color-scheme", QDBusVariant(2u));
    QVERIFY(QTest::qWaitFor([&] { return dark.size() == 2; }, 5000));
    QCOMPARE(dark.last().first().toBool(), false);
    Q_EMIT portal.SettingChanged("org.gnome.desktop.interface", "enable-animations", QDBusVariant(false));
    QVERIFY(QTest::qWaitFor([&] { return motion.size() == 2; }, 5000));
    QCOMPARE(motion.last().first().toBool(), false);
    Q_EMIT portal.SettingChanged("org.freedesktop.appearance", "color-scheme", QDBusVariant(0u)); // no wish
    Q_EMIT portal.SettingChanged("org.freedesktop.appearance", "accent-color", QDBusVariant(1u));
    QTest::qWait(200);
    QCOMPARE(dark.size(), 2);
    service.unregisterService("org.freedesktop.portal.Desktop");
}

void DesktopTest::withoutAPortalNothingIsSaid()
{
    DesktopSettings alone(nullptr, QDBusConnection::connectToBus(address_, "alone"));
    DesktopSettings without(nullptr, QDBusConnection("there is no such bus"));
    QSignalSpy a(&alone, &DesktopSettings::darkChanged), b(&without, &DesktopSettings::darkChanged);
    QTest::qWait(300);
    QVERIFY(a.isEmpty() && b.isEmpty());
}

void DesktopTest::placesAreRemembered()
{
    QTemporaryDir dir;
    const QByteArray usual = qgetenv("XDG_CONFIG_HOME");
    qputenv("XDG_CONFIG_HOME", dir.path().toUtf8());
    {
        Remembered r;
        r.setValue("page", 2);
        r.use("projects", dir.path());
        r.use("projects", "/nowhere");
        r.use("programs", "editor --new");
    }
    {
        Remembered r;
        QCOMPARE(r.value("page").toInt(), 2);
        QCOMPARE(r.recent("projects"), QStringList{dir.path()}); // without those that are gone
        QCOMPARE(r.recent("programs"), QStringList{"editor --new"});
    }
    QFile torn(Remembered::file());
    QVERIFY(torn.open(QIODevice::WriteOnly) && torn.write("{\"page\": ") > 0);
    torn.close();
    QVERIFY(Remembered().value("page").isUndefined()); // as if never said
    qputenv("XDG_CONFIG_HOME", usual);
}

PIPIT_TEST(DesktopTest)
#include "desktop_test.moc"
