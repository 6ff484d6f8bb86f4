// What the desktop wants: dark or light, motion or none, asked of the settings portal on the session bus
// and heard of when it changes. Without a portal nothing is ever said, and what the toolkit found at the
// start stands.
//
// Threads: the loop's thread only; the bus is asked without waiting.
#pragma once

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusVariant>
#include <QObject>

namespace pipit::app
{

class DesktopSettings : public QObject
{
    Q_OBJECT
public:
    explicit DesktopSettings(QObject *parent = nullptr,
                             const QDBusConnection &bus = QDBusConnection::sessionBus());

Q_SIGNALS:
    void darkChanged(bool dark);
    void motionChanged(bool wanted);

private Q_SLOTS:
    void settingChanged(
        const QDBusMessage &message); // as a whole: by types it is refused until these are registered

private:
    void ask(const QString &group, const QString &key);
    void take(const QString &group, const QString &key, QVariant value);
    QDBusConnection bus_;
};

} // namespace pipit::app
