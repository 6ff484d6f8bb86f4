#include "app/shell/desktop_settings.h"

#include <QDBusPendingCallWatcher>
#include <QDBusPendingReply>

namespace pipit::app
{

namespace
{

// The portal's names: https://flatpak.github.io/xdg-desktop-portal, interface Settings.
constexpr char service[] = "org.freedesktop.portal.Desktop", path[] = "/org/freedesktop/portal/desktop",
               interface[] = "org.freedesktop.portal.Settings";
constexpr char appearance[] = "org.freedesktop.appearance", desktop[] = "org.gnome.desktop.interface";
constexpr uint prefersDark = 1, prefersLight = 2; // 0: no preference

} // namespace

DesktopSettings::DesktopSettings(QObject *parent, const QDBusConnection &bus) : QObject(parent), bus_(bus)
{
    if (!bus_.isConnected())
        return;
    bus_.connect(service, path, interface, "SettingChanged", this, SLOT(settingChanged(QDBusMessage)));
    ask(appearance, "color-scheme");
    ask(desktop, "enable-animations");
}

void DesktopSettings::ask(const QString &group, const QString &key)
{
    QDBusMessage call = QDBusMessage::createMethodCall(service, path, interface, "Read");
    call << group << key;
    auto *waiting = new QDBusPendingCallWatcher(bus_.asyncCall(call), this);
    connect(waiting, &QDBusPendingCallWatcher::finished, this,
            [this, group, key](QDBusPendingCallWatcher *w) {
                const QDBusPendingReply<QDBusVariant> reply = *w;
                if (!reply.isError())
                    take(group, key, reply.value().variant());
                w->deleteLater();
            });
}

void DesktopSettings::settingChanged(const QDBusMessage &message)
{
    if (const QVariantList told = message.arguments(); told.size() == 3)
        take(told[0].toString(), told[1].toString(), told[2]);
}

void DesktopSettings::take(const QString &group, const QString &key, QVariant value)
{
    while (value.metaType() == QMetaType::fromType<QDBusVariant>()) // some portals wrap it twice
        value = value.value<QDBusVariant>().variant();
    if (group == appearance && key == "color-scheme") {
        if (const uint wants = value.toUInt(); wants == prefersDark || wants == prefersLight)
            Q_EMIT darkChanged(wants == prefersDark);
    } else if (group == desktop && key == "enable-animations") {
        Q_EMIT motionChanged(value.toBool());
    }
}

} // namespace pipit::app
