#include "core/catalog/orders.h"

namespace pipit
{

const QList<ActOrder> &actOrders()
{
    static const QList<ActOrder> all = {
        {"QCheckBox",
         "a click",
         {"mouse press", "pressed", "mouse release", "toggled", "stateChanged", "released", "clicked"}},
        {"QRadioButton",
         "a click",
         {"mouse press", "pressed", "mouse release", "toggled", "released", "clicked"}},
        {"QPushButton", "a click", {"mouse press", "pressed", "mouse release", "released", "clicked"}},
        {"QPushButton",
         "the second press of a double click",
         {"double click", "pressed", "mouse release", "released", "clicked"}},
        {"QPushButton",
         "Space",
         {"shortcut check", "key press", "pressed", "key release", "released", "clicked"}},
        {"QPushButton",
         "a click, when checkable",
         {"mouse press", "pressed", "mouse release", "toggled", "released", "clicked"}},
        {"QToolButton", "a click", {"mouse press", "pressed", "mouse release", "released", "clicked"}},
        {"QLineEdit",
         "a typed character",
         {"shortcut check", "key press", "textEdited", "textChanged", "cursorPositionChanged",
          "key release"}},
        {"QLineEdit",
         "Return",
         {"shortcut check", "key press", "returnPressed", "editingFinished", "key release"}},
        {"QLineEdit", "a key that is the shortcut of an action", {"shortcut check", "key release"}},
        {"QComboBox",
         "an arrow key",
         {"shortcut check", "key press", "currentIndexChanged", "currentTextChanged", "activated",
          "textActivated", "key release"}},
        {"QSpinBox",
         "an arrow key",
         {"shortcut check", "key press", "textChanged", "valueChanged", "key release"}},
        {"QSlider",
         "an arrow key",
         {"shortcut check", "key press", "actionTriggered", "valueChanged", "key release"}},
        {"QListWidget",
         "an arrow key",
         {"shortcut check", "key press", "itemSelectionChanged", "currentItemChanged", "currentTextChanged",
          "currentRowChanged", "key release"}},
        {"QTabBar", "an arrow key", {"shortcut check", "key press", "currentChanged", "key release"}},
        {"QAction", "its shortcut, when checkable", {"shortcut", "changed", "toggled", "triggered"}},
    };
    return all;
}

QList<ActOrder> actOrdersOf(const QStringList &lineage)
{
    QList<ActOrder> orders;
    for (const QString &cls : lineage)
        for (const ActOrder &o : actOrders())
            if (o.className == cls)
                orders << o;
    return orders;
}

QString orderSentence(const QStringList &lineage, const QString &signal)
{
    for (const ActOrder &o : actOrdersOf(lineage))
        if (o.steps.contains(signal))
            return QStringLiteral("On %1: %2.").arg(o.act, o.steps.join(", then "));
    return {};
}

} // namespace pipit
