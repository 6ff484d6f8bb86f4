#include "app/shell/actions.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QWidget>

namespace pipit::app
{

namespace
{

// Keys that a text needs for itself: no action takes them while one is being written.
bool belongsToTexts(const QKeySequence &keys)
{
    static const QList<QKeySequence> all = {QKeySequence("Insert"), QKeySequence("Ctrl+Insert"),
                                            QKeySequence("Delete")};
    return all.contains(keys);
}

bool writesText(const QWidget *w)
{
    return w && (qobject_cast<const QLineEdit *>(w) || qobject_cast<const QPlainTextEdit *>(w) ||
                 w->inherits("QsciScintillaBase"));
}

} // namespace

Actions::Actions(QWidget *window, Remembered *remembered)
    : QObject(window), window_(window), remembered_(remembered)
{
}

void Actions::add(QList<Action> actions)
{
    all_ += std::move(actions);
    bind();
}

const Action *Actions::find(const QString &id) const
{
    const auto it = std::find_if(all_.begin(), all_.end(), [&](const Action &a) { return a.id == id; });
    return it == all_.end() ? nullptr : &*it;
}

void Actions::trigger(const QString &id)
{
    const Action *a = find(id);
    if (!a)
        return;
    const QString why = a->unable ? a->unable() : QString();
    if (why.isEmpty())
        a->run();
    else
        Q_EMIT refused(why);
}

QStringList Actions::keysOf(const Action &a) const
{
    const QString own = remembered_->value("keys").toObject()[a.id].toString();
    return own.isEmpty() ? a.keys : QStringList{own};
}

QString Actions::keyText(const Action &a) const
{
    return keysOf(a).value(0);
}

const Action *Actions::takenBy(const QString &keys, const QString &exceptId) const
{
    for (const Action &a : all_)
        for (const QString &k : keysOf(a))
            if (a.id != exceptId && QKeySequence(k) == QKeySequence(keys))
                return &a;
    return nullptr;
}

void Actions::setKeys(const QString &id, const QString &keys)
{
    QJsonObject own = remembered_->value("keys").toObject();
    if (keys.isEmpty())
        own.remove(id);
    else
        own[id] = keys;
    remembered_->setValue("keys", own);
    bind();
    Q_EMIT keysChanged();
}

void Actions::bind()
{
    qDeleteAll(shortcuts_);
    shortcuts_.clear();
    for (const Action &a : std::as_const(all_))
        for (const QString &keys : keysOf(a)) {
            auto *s = new QShortcut(QKeySequence(keys), window_);
            connect(s, &QShortcut::activated, this, [this, id = a.id] { trigger(id); });
            // Where a text is being written it keeps its own keys.
            if (belongsToTexts(s->key()))
                connect(qApp, &QApplication::focusChanged, s,
                        [s](QWidget *, QWidget *now) { s->setEnabled(!writesText(now)); });
            shortcuts_ << s;
        }
}

} // namespace pipit::app
