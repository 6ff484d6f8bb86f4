// When each signal happens: one plain sentence of ours.
#include "core/catalog/catalog.h"

#include <QHash>

namespace pipit
{

QString signalSentence(const QString &owner, const QString &name)
{
    static const QHash<QString, QString> sentences = {
        {"QAbstractButton::pressed", "The button goes down, by mouse or Space."},
        {"QAbstractButton::released", "The button comes up, or the pointer leaves it while held."},
        {"QAbstractButton::clicked",
         "The button was pressed and let go over itself, by mouse, Space or shortcut."},
        {"QAbstractButton::toggled",
         "A button that can be checked changed its state, by a person or by code."},
        {"QCheckBox::stateChanged",
         "The box became ticked, unticked or partly ticked, by a person or by code."},
        {"QLineEdit::textChanged", "The text changed, by typing or by code."},
        {"QLineEdit::textEdited", "The text changed by typing; never by code."},
        {"QLineEdit::returnPressed", "Return or Enter was pressed, if what is typed is acceptable."},
        {"QLineEdit::editingFinished", "Return was pressed or the field lost the keyboard."},
        {"QLineEdit::selectionChanged", "Other characters are selected."},
        {"QLineEdit::cursorPositionChanged", "The text cursor moved."},
        {"QLineEdit::inputRejected", "A character was typed that the field does not accept."},
        {"QTextEdit::textChanged", "The text or its formatting changed."},
        {"QPlainTextEdit::textChanged", "The text changed, by typing or by code."},
        {"QComboBox::activated", "A person chose an entry, even the same one again; never by code."},
        {"QComboBox::currentIndexChanged", "Another entry became the chosen one, by a person or by code."},
        {"QComboBox::currentTextChanged", "The text of the choice changed, by a person or by code."},
        {"QComboBox::editTextChanged", "What is typed into an editable drop-down changed."},
        {"QSpinBox::valueChanged",
         "The number changed, by arrow, wheel, typing or code; once for each digit typed."},
        {"QDoubleSpinBox::valueChanged", "The number changed, by arrow, wheel, typing or code."},
        {"QAbstractSpinBox::editingFinished", "Return was pressed or the field lost the keyboard."},
        {"QAbstractSlider::valueChanged",
         "The value changed; many times while it is dragged with tracking on."},
        {"QAbstractSlider::sliderMoved", "A person drags the handle; never by code."},
        {"QAbstractSlider::sliderPressed", "A person takes hold of the handle."},
        {"QAbstractSlider::sliderReleased", "A person lets go of the handle."},
        {"QListWidget::currentRowChanged", "Another row became the current one; -1 when there is none."},
        {"QListWidget::itemClicked", "A mouse button was clicked on a row."},
        {"QListWidget::itemActivated", "A row was chosen by Return or double click, as the desktop has it."},
        {"QListWidget::itemDoubleClicked", "A row was double-clicked."},
        {"QListWidget::itemSelectionChanged", "Other rows are selected."},
        {"QListWidget::itemChanged", "A row's text, tick or data changed."},
        {"QTimer::timeout", "The interval is over; late when the loop was busy meanwhile."},
        {"QGroupBox::toggled", "The group's tick changed."},
        {"QGroupBox::clicked", "The group's tick was clicked."},
        {"QProgressBar::valueChanged", "The value shown changed, by code."},
        {"QLabel::linkActivated", "A link in the text was clicked."},
        {"QWidget::customContextMenuRequested", "A menu is asked for, where the policy is a custom menu."},
        {"QWidget::windowTitleChanged", "The window's title changed."},
        {"QObject::destroyed", "The object is about to be gone; it can no longer be used as what it was."},
        {"QObject::objectNameChanged", "The object's name changed, by code."},
    };
    return sentences.value(owner + "::" + name);
}

} // namespace pipit
