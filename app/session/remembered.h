// What is remembered from one time to the next: places and sizes, the last projects, the person's keys.
// A text file below the user's configuration; what cannot be read or written is as if never said.
//
// Threads: the loop's thread only. Written a moment after the last change, and at the end.
#pragma once

#include "app/session/later.h"

#include <QJsonObject>
#include <QStringList>

namespace pipit::app
{

class Remembered
{
public:
    Remembered();
    ~Remembered();

    QJsonValue value(const QString &key) const { return all_[key]; }
    void setValue(const QString &key, const QJsonValue &value);

    // The newest first, without those that are gone; at most `most`.
    static constexpr int most = 12;
    QStringList recent(const QString &kind) const; // "projects", "recordings", "programs"
    void use(const QString &kind, const QString &path);

    static QString file(); // pipit/window.json below XDG_CONFIG_HOME

private:
    void write();
    QJsonObject all_;
    bool changed_ = false;
    Later soon_{std::chrono::milliseconds(800), [this] { write(); }};
};

} // namespace pipit::app
