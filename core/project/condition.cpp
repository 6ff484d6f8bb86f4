#include "core/project/condition.h"

#include <QMetaEnum>
#include <QRegularExpression>

namespace pipit
{

namespace
{

const QStringList modifierNames = {"Ctrl", "Shift", "Alt", "Meta"};

bool takeModifiers(QStringList words, QStringList *out)
{
    for (const QString &w : words) {
        const auto same = [&](const QString &m) { return m.compare(w, Qt::CaseInsensitive) == 0; };
        const auto it = std::find_if(modifierNames.begin(), modifierNames.end(), same);
        if (it == modifierNames.end())
            return false;
        *out << *it;
    }
    return true;
}

bool hasModifiers(const QString &eventClass)
{
    static const QStringList with = {"QKeyEvent",       "QMouseEvent",    "QWheelEvent", "QDropEvent",
                                     "QDragEnterEvent", "QDragMoveEvent", "QTouchEvent"};
    return with.contains(eventClass);
}

bool hasMime(const QString &eventClass)
{
    return eventClass == "QDropEvent" || eventClass == "QDragEnterEvent" || eventClass == "QDragMoveEvent";
}

Problem noFit(const QString &term, const QString &why, const QString &remedy)
{
    return {QStringLiteral("the condition '%1' %2").arg(term.left(80), why), {}, remedy};
}

constexpr char allForms[] = "Write for example key Return, key Ctrl+S, button left, type text/plain, "
                            "text not empty, value from 1 to 9, or checked";

Result<ConditionTerm> eventTerm(const QString &t, const QString &eventClass, bool *mine)
{
    static const QRegularExpression key("^key ((?:[A-Za-z]+\\+)*)(\\S{1,20})$"),
        button("^button (left|right|middle)$"), mime("^type ([A-Za-z0-9.+-]+/[A-Za-z0-9.+*_-]+)$"),
        with("^with ([A-Za-z]+(?:\\+[A-Za-z]+)*)$");
    ConditionTerm c;
    *mine = true;
    if (const auto m = key.match(t); m.hasMatch()) {
        if (eventClass != "QKeyEvent")
            return noFit(t, "does not fit this event: it has no key", "Use it with key press or key release");
        if (!takeModifiers(m.captured(1).split('+', Qt::SkipEmptyParts), &c.modifiers))
            return noFit(t, "names an unknown modifier", "Use Ctrl, Shift, Alt or Meta, as in key Ctrl+S");
        c.word = keyNamed(m.captured(2));
        if (c.word.isEmpty())
            return noFit(t, "names an unknown key",
                         "Use a key's name, such as Return, Escape, F1, Left or S");
        return c;
    }
    if (const auto m = button.match(t); m.hasMatch()) {
        if (eventClass != "QMouseEvent")
            return noFit(t, "does not fit this event: it has no button",
                         "Use it with mouse press, mouse release or double click");
        c.kind = ConditionTerm::Button;
        c.word = m.captured(1);
        return c;
    }
    if (const auto m = mime.match(t); m.hasMatch()) {
        if (!hasMime(eventClass))
            return noFit(t, "does not fit this event: it carries no data",
                         "Use it with drag enter, drag move or drop");
        c.kind = ConditionTerm::MimeType;
        c.word = m.captured(1);
        return c;
    }
    if (t == "not repeated" && eventClass == "QKeyEvent") {
        c.kind = ConditionTerm::NotRepeated;
        return c;
    }
    if (const auto m = with.match(t); m.hasMatch() || t == "without modifiers") {
        c.kind = ConditionTerm::Modifiers;
        if (!hasModifiers(eventClass))
            return noFit(t, "does not fit: there are no modifiers", "Use it with keys, mouse or drags");
        if (m.hasMatch() && !takeModifiers(m.captured(1).split('+'), &c.modifiers))
            return noFit(t, "names an unknown modifier", "Use Ctrl, Shift, Alt or Meta, as in with Ctrl");
        return c;
    }
    *mine = false;
    return c;
}

Result<ConditionTerm> stateTerm(const QString &t)
{
    static const QRegularExpression empty("^(?:([A-Za-z]\\w*) )?text (not )?empty$"),
        is("^(?:([A-Za-z]\\w*) )?text is (not )?\"([^\"]*)\"$"),
        between("^(?:([A-Za-z]\\w*) )?value from (-?[0-9.]+) to (-?[0-9.]+)$"),
        one("^(?:([A-Za-z]\\w*) )?value (over|under|at least|at most|is) (-?[0-9.]+)$"),
        checked("^(?:([A-Za-z]\\w*) )?(not )?checked$");
    ConditionTerm c;
    if (const auto m = empty.match(t); m.hasMatch()) {
        c.kind = ConditionTerm::TextEmpty;
        c.object = m.captured(1);
        c.negated = !m.captured(2).isEmpty();
        return c;
    }
    if (const auto m = is.match(t); m.hasMatch()) {
        c.kind = ConditionTerm::TextIs;
        c.object = m.captured(1);
        c.negated = !m.captured(2).isEmpty();
        c.word = m.captured(3);
        return c;
    }
    if (const auto m = between.match(t); m.hasMatch()) {
        c.kind = ConditionTerm::Value;
        c.object = m.captured(1);
        c.word = "from";
        c.least = m.captured(2).toDouble();
        c.most = m.captured(3).toDouble();
        if (*c.least > *c.most)
            return noFit(t, "can never hold", "Write the smaller number first");
        return c;
    }
    if (const auto m = one.match(t); m.hasMatch()) {
        c.kind = ConditionTerm::Value;
        c.object = m.captured(1);
        c.word = m.captured(2);
        c.least = m.captured(3).toDouble();
        return c;
    }
    if (const auto m = checked.match(t); m.hasMatch() && m.captured(1) != "not") {
        c.kind = ConditionTerm::Checked;
        c.object = m.captured(1);
        c.negated = !m.captured(2).isEmpty();
        return c;
    }
    return noFit(t, "is not understood", allForms);
}

// "and" outside quotes.
QStringList split(const QString &text)
{
    QStringList parts;
    QString one;
    bool quoted = false;
    for (qsizetype i = 0; i < text.size(); ++i) {
        quoted = quoted != (text[i] == '"');
        if (!quoted && QStringView(text).mid(i).startsWith(u" and ")) {
            parts << one.trimmed();
            one.clear();
            i += 4;
        } else {
            one += text[i];
        }
    }
    return parts << one.trimmed();
}

QString number(double n)
{
    return QString::number(n, 'g', 12);
}

} // namespace

QString keyNamed(const QString &name)
{
    static const QHash<QString, QString> keys = [] {
        QHash<QString, QString> all;
        const QMetaEnum e = QMetaEnum::fromType<Qt::Key>();
        for (int i = 0; i < e.keyCount(); ++i) {
            const QString key = QString::fromLatin1(e.key(i)).mid(4); // without Key_
            all.insert(key.toLower(), key);
        }
        all.remove("unknown");
        return all;
    }();
    return keys.value(name.toLower());
}

Result<Condition> parseCondition(const QString &text, const QString &eventClass)
{
    Condition c;
    if (text.trimmed().isEmpty())
        return c;
    for (const QString &t : split(text.trimmed())) {
        bool mine = false;
        auto term = eventTerm(t, eventClass, &mine);
        if (term && !mine)
            term = stateTerm(t);
        if (!term)
            return term.problem();
        c.terms.append(*term);
    }
    return c;
}

QString conditionText(const Condition &c)
{
    QStringList parts;
    for (const ConditionTerm &t : c.terms) {
        const QString who = t.object.isEmpty() ? QString() : t.object + ' ';
        const QString mods = t.modifiers.join('+');
        switch (t.kind) {
        case ConditionTerm::Key:
            parts << "key " + (mods.isEmpty() ? QString() : mods + '+') + t.word;
            break;
        case ConditionTerm::Modifiers:
            parts << (mods.isEmpty() ? QString("without modifiers") : "with " + mods);
            break;
        case ConditionTerm::Button:
            parts << "button " + t.word;
            break;
        case ConditionTerm::MimeType:
            parts << "type " + t.word;
            break;
        case ConditionTerm::NotRepeated:
            parts << "not repeated";
            break;
        case ConditionTerm::TextEmpty:
            parts << who + (t.negated ? "text not empty" : "text empty");
            break;
        case ConditionTerm::TextIs:
            parts << who + (t.negated ? "text is not \"" : "text is \"") + t.word + '"';
            break;
        case ConditionTerm::Value:
            parts << (t.most ? who + "value from " + number(*t.least) + " to " + number(*t.most)
                             : who + "value " + t.word + ' ' + number(*t.least));
            break;
        case ConditionTerm::Checked:
            parts << who + (t.negated ? "not checked" : "checked");
            break;
        }
    }
    return parts.join(" and ");
}

} // namespace pipit
