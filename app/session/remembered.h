// What is remembered from one time to the next: places and sizes, the last projects, the person's keys.
// A text file below the user's configuration; what cannot be read or written is as if never said.
//
// Threads: the loop's thread only. Written a moment after the last change, on a worker, and at the end.
#pragma once

#include "app/session/background.h"
#include "app/session/later.h"

#include <QJsonObject>
#include <QStringList>

#include <functional>
#include <mutex>

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
    struct OnDisk {
        std::mutex mutex;
        int version = 0; // the newest that was written
    };
    std::function<void()> writing() const; // of what is so now, on any thread; older ones come too late

    QJsonObject all_;
    int version_ = 0;
    std::shared_ptr<OnDisk> disk_ = std::make_shared<OnDisk>();
    Later soon_{std::chrono::milliseconds(800), [this] { quietPool()->start(writing()); }};
};

} // namespace pipit::app
