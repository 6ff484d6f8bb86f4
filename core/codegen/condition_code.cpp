#include "core/codegen/condition_code.h"

#include "core/codegen/window_code.h"

namespace pipit
{

namespace
{

QByteArray modifiersCode(const QStringList &names, const QByteArray &e)
{
    QByteArrayList all;
    static const QHash<QString, QByteArray> qt = {{"Ctrl", "Qt::ControlModifier"},
                                                  {"Shift", "Qt::ShiftModifier"},
                                                  {"Alt", "Qt::AltModifier"},
                                                  {"Meta", "Qt::MetaModifier"}};
    for (const QString &n : names)
        all << qt.value(n);
    const QByteArray wanted = all.isEmpty() ? "Qt::NoModifier" : '(' + all.join(" | ") + ')';
    return '(' + e + "->modifiers() & ~Qt::KeypadModifier) == " + wanted;
}

// Return stands on two places of a keyboard.
QByteArray keyCode(const ConditionTerm &t, const QByteArray &e)
{
    const QByteArray is = e + "->key() == Qt::Key_";
    if (t.word == "Return")
        return '(' + is + "Return || " + is + "Enter)";
    return is + t.word.toUtf8();
}

QByteArray getter(const ConditionTerm &t, const QString &cls)
{
    const Catalog &c = Catalog::get();
    const auto is = [&](const char *base) { return c.inherits(cls, QLatin1String(base)); };
    switch (t.kind) {
    case ConditionTerm::TextEmpty:
    case ConditionTerm::TextIs:
        if (is("QComboBox"))
            return "currentText()";
        if (is("QTextEdit") || is("QPlainTextEdit"))
            return "toPlainText()";
        return is("QLineEdit") || is("QLabel") || is("QAbstractButton") || is("QAbstractSpinBox") ||
                       is("QAction")
                   ? "text()"
                   : "";
    case ConditionTerm::Value:
        return is("QAbstractSlider") || is("QSpinBox") || is("QDoubleSpinBox") || is("QProgressBar")
                   ? "value()"
               : is("QLCDNumber") ? "value()"
                                  : "";
    default:
        return is("QAbstractButton") || is("QGroupBox") || is("QAction") ? "isChecked()" : "";
    }
}

QByteArray comparison(const ConditionTerm &t, const QByteArray &value)
{
    const auto num = [](double n) { return QByteArray::number(n, 'g', 12); };
    if (t.most)
        return '(' + value + " >= " + num(*t.least) + " && " + value + " <= " + num(*t.most) + ')';
    const QByteArray op = t.word == "over"       ? " > "
                          : t.word == "under"    ? " < "
                          : t.word == "at least" ? " >= "
                          : t.word == "at most"  ? " <= "
                                                 : " == ";
    return value + op + num(*t.least);
}

Result<QByteArray> state(const ConditionTerm &t, const QString &source, const QByteArray &sourceCode,
                         const Reach &reach, int window)
{
    const QString who = t.object.isEmpty() ? source : t.object;
    const Project::Named *n = reach.find(who);
    if (!n || (n->window != window && window != 0))
        return Problem{QStringLiteral("the condition names '%1', which is not there").arg(who),
                       {},
                       "Name a widget of the same window"};
    const QByteArray get = getter(t, n->className);
    if (get.isEmpty())
        return Problem{
            QStringLiteral("the condition does not fit %1, a %2").arg(who, plainWordFor(n->className)),
            {},
            "Name a widget that has a text, a value or a tick"};
    const QByteArray object =
        who == source && !sourceCode.isEmpty() ? sourceCode : reach.code(who, {}, window);
    const QByteArray value = object + "->" + get;
    switch (t.kind) {
    case ConditionTerm::TextEmpty:
        return (t.negated ? "!" : "") + value + ".trimmed().isEmpty()";
    case ConditionTerm::TextIs:
        return value + (t.negated ? " != " : " == ") + stringCode(t.word);
    case ConditionTerm::Value:
        return comparison(t, value);
    default:
        return (t.negated ? "!" : "") + value;
    }
}

} // namespace

Result<QByteArray> conditionCode(const QString &when, const QString &eventClass, const QString &source,
                                 const QByteArray &sourceCode, const Reach &reach, int window,
                                 const QByteArray &e)
{
    auto condition = parseCondition(when, eventClass);
    if (!condition)
        return condition.problem();
    QByteArrayList parts;
    for (const ConditionTerm &t : condition->terms) {
        switch (t.kind) {
        case ConditionTerm::Key:
            parts << keyCode(t, e);
            if (!t.modifiers.isEmpty())
                parts << modifiersCode(t.modifiers, e);
            break;
        case ConditionTerm::Modifiers:
            parts << modifiersCode(t.modifiers, e);
            break;
        case ConditionTerm::Button:
            parts << e + "->button() == Qt::" + (t.word.left(1).toUpper() + t.word.mid(1)).toUtf8() +
                         "Button";
            break;
        case ConditionTerm::MimeType:
            parts << e + "->mimeData()->hasFormat(" + stringCode(t.word) + ')';
            break;
        case ConditionTerm::NotRepeated:
            parts << '!' + e + "->isAutoRepeat()";
            break;
        default: {
            auto code = state(t, source, sourceCode, reach, window);
            if (!code)
                return code.problem();
            parts << *code;
        }
        }
    }
    return parts.join(" && ");
}

} // namespace pipit
