#include "core/findings/keys.h"

#include "core/catalog/catalog.h"
#include "core/project/condition.h"
#include "core/project/key_names.h"
#include "core/project/values.h"

namespace pipit
{

namespace
{

QChar mnemonicIn(const QString &text)
{
    for (qsizetype i = 0; i + 1 < text.size(); ++i)
        if (text[i] == '&') {
            if (text[i + 1] != '&')
                return text[i + 1].toUpper();
            ++i;
        }
    return {};
}

void fromWidgets(const WidgetNode &w, QList<KeyUse> &out)
{
    const Catalog &c = Catalog::get();
    const QString cls = w.knownClass();
    if (const QString keys = w.textOf("shortcut"); !keys.isEmpty() && c.inherits(cls, "QAbstractButton"))
        out.append(
            {normalKeys(keys), w.name, QStringLiteral("%1 has the shortcut %2").arg(w.name, keys), true});
    const bool button = c.inherits(cls, "QAbstractButton") || cls == "QGroupBox";
    const bool label = cls == "QLabel" && !w.textOf("buddy").isEmpty();
    const bool menu = cls == "QMenu";
    if (button || label || menu) {
        const QString text = cls == "QGroupBox" || menu ? w.textOf("title") : w.textOf("text");
        if (const QChar m = mnemonicIn(text); !m.isNull())
            out.append({QStringLiteral("Alt+%1").arg(m), w.name,
                        QStringLiteral("%1 is reached by Alt+%2").arg(w.name, QString(m)), true});
    }
    for (const WidgetNode &child : w.children)
        fromWidgets(child, out);
}

} // namespace

QList<KeyUse> shortcutsIn(const WindowNode &window)
{
    QList<KeyUse> all;
    for (const ObjectNode &o : window.objects)
        if (o.knownClass() == "QAction")
            for (const QString &keys : o.textOf("shortcut").split(", ", Qt::SkipEmptyParts))
                all.append({normalKeys(keys), o.name,
                            QStringLiteral("%1 has the shortcut %2").arg(o.name, keys), true});
    fromWidgets(window.root, all);
    return all;
}

QString ownUse(const QString &cls, const QString &keys)
{
    const Catalog &c = Catalog::get();
    const bool field = c.inherits(cls, "QLineEdit") || c.inherits(cls, "QAbstractSpinBox");
    const bool page = c.inherits(cls, "QTextEdit") || c.inherits(cls, "QPlainTextEdit");
    static const QHash<QString, QString> editing = {
        {"Ctrl+X", "cuts"},           {"Ctrl+C", "copies"},          {"Ctrl+V", "pastes"},
        {"Ctrl+Z", "undoes typing"},  {"Ctrl+Y", "redoes typing"},   {"Ctrl+Shift+Z", "redoes typing"},
        {"Ctrl+A", "selects all"},    {"Backspace", "deletes"},      {"Delete", "deletes"},
        {"Left", "moves the cursor"}, {"Right", "moves the cursor"}, {"Home", "goes to the beginning"},
        {"End", "goes to the end"}};
    if (field || page)
        if (const QString what = editing.value(keys); !what.isEmpty())
            return QStringLiteral("%1 in a %2 %3").arg(keys, plainWordFor(cls), what);
    if (page && (keys == "Return" || keys == "Tab"))
        return QStringLiteral("%1 in a %2 is typed").arg(keys, plainWordFor(cls));
    if (field && keys == "Return")
        return QStringLiteral("Return in a %1 ends the typing").arg(plainWordFor(cls));
    if (c.inherits(cls, "QAbstractButton") && keys == "Space")
        return QStringLiteral("Space on a %1 clicks it").arg(plainWordFor(cls));
    const bool moves =
        QStringList{"Up", "Down", "Left", "Right", "Home", "End", "PageUp", "PageDown"}.contains(keys);
    if (moves && (c.inherits(cls, "QAbstractItemView") || c.inherits(cls, "QAbstractSlider") ||
                  c.inherits(cls, "QAbstractSpinBox") || c.inherits(cls, "QComboBox")))
        return QStringLiteral("%1 moves in a %2").arg(keys, plainWordFor(cls));
    if (c.inherits(cls, "QAbstractItemView") && keys == "Return")
        return QStringLiteral("Return in a %1 chooses the row").arg(plainWordFor(cls));
    if (c.inherits(cls, "QDialog") && (keys == "Escape" || keys == "Return"))
        return keys == "Escape" ? QStringLiteral("Escape closes a dialog")
                                : QStringLiteral("Return clicks a dialog's default button");
    if (keys == "Tab" || keys == "Shift+Tab" || keys == "Backtab")
        return QStringLiteral("%1 moves the keyboard to another widget").arg(keys);
    return {};
}

QString keysOf(const Connection &c)
{
    auto condition = parseCondition(c.when, "QKeyEvent");
    if (!condition)
        return {};
    for (const ConditionTerm &t : condition->terms)
        if (t.kind == ConditionTerm::Key)
            return normalKeys((t.modifiers + QStringList{t.word}).join('+'));
    return {};
}

QStringList keyNotes(const Project &p, const Connection &c)
{
    QStringList notes;
    const QString keys = keysOf(c);
    if (c.event != "key press" || keys.isEmpty())
        return notes;
    const int at = p.windowOf(c.from);
    if (at < 0)
        return notes;
    for (const KeyUse &use : shortcutsIn(p.windows[at]))
        if (use.keys == keys)
            notes << use.sentence + "; it gets the key first, so the handler is not called.";
    const QString cls = p.classOf(c.from);
    if (c.scope == Connection::Scope::Widget) {
        if (const QString use = ownUse(cls, keys); !use.isEmpty())
            notes << use + "; if the handler returns true, this no longer happens.";
        return notes;
    }
    QStringList said; // what it takes from the widgets of the window
    p.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        const QString use = ownUse(w.knownClass(), keys);
        if (!use.isEmpty() && !said.contains(use) &&
            (c.scope == Connection::Scope::Application || p.windowOf(w.name) == at))
            said << use;
    });
    for (const QString &use : std::as_const(said))
        notes << use + "; if the handler returns true, this no longer happens.";
    return notes;
}

} // namespace pipit
