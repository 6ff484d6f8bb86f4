// Everything that can be done, in one list: what the keys do, what the sheet under the bird and the
// finder show. A person's own keys take the place of ours and are remembered.
//
// Threads: the loop's thread only.
#pragma once

#include "app/session/remembered.h"

#include <QShortcut>

#include <functional>

namespace pipit::app
{

struct Action {
    QString id;    // stable: the person's keys hang on it
    QString group; // "Run", "Compose", …
    QString words;
    QStringList keys; // ours, the first is the one that is shown
    std::function<void()> run;
    std::function<QString()> unable = {}; // why it cannot act now; empty: it can
};

class Actions : public QObject
{
    Q_OBJECT
public:
    Actions(QWidget *window, Remembered *remembered);

    void add(QList<Action> actions);
    const QList<Action> &all() const { return all_; }
    const Action *find(const QString &id) const;
    // Does it, or says why not.
    void trigger(const QString &id);

    QStringList keysOf(const Action &action) const; // the person's, or ours
    QString keyText(const Action &action) const;    // "Alt+I", as it is shown
    // Another action that has these keys; null: none.
    const Action *takenBy(const QString &keys, const QString &exceptId) const;
    void setKeys(const QString &id, const QString &keys); // empty: ours again

Q_SIGNALS:
    void refused(const QString &why);
    void keysChanged();

private:
    void bind();
    QWidget *window_;
    Remembered *remembered_;
    QList<Action> all_;
    QList<QShortcut *> shortcuts_;
};

} // namespace pipit::app
