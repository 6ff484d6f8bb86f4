#include "core/project/key_names.h"

#include "core/project/condition.h"

namespace pipit
{

namespace
{

struct Keys {
    QStringList modifiers;
    QString key; // as it is written, or by its usual name
};

// "Ctrl+Shift+X"; a plus at the end is the key.
Keys divided(const QString &text)
{
    Keys k;
    k.modifiers = text.trimmed().split('+', Qt::SkipEmptyParts);
    if (text.trimmed().endsWith("++") || text.trimmed() == "+")
        k.modifiers << "Plus";
    if (k.modifiers.isEmpty())
        return k;
    static const QHash<QString, QString> same = {{"Del", "Delete"},      {"Ins", "Insert"},
                                                 {"Esc", "Escape"},      {"PgUp", "PageUp"},
                                                 {"PgDown", "PageDown"}, {"Enter", "Return"}};
    const QString key = k.modifiers.takeLast().trimmed();
    k.key = same.value(key, key);
    return k;
}

bool isModifier(const QString &word)
{
    return QStringList{"ctrl", "shift", "alt", "meta"}.contains(word.trimmed().toLower());
}

} // namespace

QString normalKeys(const QString &text)
{
    const Keys k = divided(text);
    if (k.key.isEmpty())
        return {};
    const QString known = keyNamed(k.key);
    QString out;
    for (const char *m : {"Ctrl", "Shift", "Alt", "Meta"})
        for (const QString &p : k.modifiers)
            if (p.trimmed().compare(QLatin1String(m), Qt::CaseInsensitive) == 0)
                out += QLatin1String(m) + QLatin1Char('+');
    return out + (known.isEmpty() ? k.key.toUpper() : known);
}

bool isShortcut(const QString &text)
{
    const QStringList chords = text.split(", ");
    return chords.size() <= 4 && std::all_of(chords.begin(), chords.end(), [](const QString &chord) {
               const Keys k = divided(chord);
               const bool plain = k.key.size() == 1 && k.key[0].isPrint() && !k.key[0].isSpace();
               return (plain || !keyNamed(k.key).isEmpty()) &&
                      std::all_of(k.modifiers.begin(), k.modifiers.end(), isModifier);
           });
}

} // namespace pipit
