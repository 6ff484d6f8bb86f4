// The sentence of the selected thing, edited where it stands.
#include "app/board/outline.h"

#include "core/sentences/sentence.h"

#include <QKeyEvent>
#include <QScrollBar>

namespace pipit::app
{

namespace
{

constexpr int widest = 560; // of the line, which may lie over the next column

} // namespace

void Outline::editSentence()
{
    const QString name = session_->selection.now().object;
    const QString sentence =
        session_->document.isOpen() ? sentenceToEdit(session_->document.project(), name) : QString();
    const QRect row = objects_->visualRect(objects_->currentIndex());
    if (sentence.isEmpty() || row.isEmpty())
        return;
    if (!sentence_) {
        sentence_ = new QLineEdit(window());
        sentence_->setObjectName("sentenceLine");
        sentence_->setAccessibleName("The sentence of what is selected");
        sentence_->installEventFilter(this);
        connect(sentence_, &QLineEdit::returnPressed, this, &Outline::takeSentence);
        connect(objects_->verticalScrollBar(), &QScrollBar::valueChanged, sentence_, &QWidget::hide);
    }
    edited_ = name;
    sentence_->setText(sentence);
    const int wanted = sentence_->fontMetrics().horizontalAdvance(sentence) + 32;
    const QPoint at = objects_->viewport()->mapTo(window(), row.topLeft());
    sentence_->setGeometry(at.x() + 4, at.y(), std::clamp(wanted, row.width() - 8, widest), row.height());
    sentence_->show();
    sentence_->raise();
    sentence_->setFocus();
    // What is changed most often: the first text, else the name.
    const qsizetype from = sentence.indexOf("“"), to = sentence.indexOf("”", from);
    if (from >= 0 && to > from)
        sentence_->setSelection(int(from) + 1, int(to - from) - 1);
    else
        sentence_->setSelection(0, int(name.size()));
}

void Outline::takeSentence()
{
    auto change = parseEditedSentence(session_->document.project(), edited_, sentence_->text());
    if (!change) {
        Q_EMIT session_->messages.problem(change.problem().text());
        return; // the line stays, to be mended
    }
    const bool ok = change->settings.isEmpty() || session_->document.edit([&](Workspace &w) -> Outcome {
        auto done = w.applySettings(change->settings);
        return done ? Outcome(Done{}) : Outcome(done.problem());
    });
    if (!ok)
        return;
    sentence_->hide();
    objects_->setFocus();
    if (!change->name.isEmpty())
        Q_EMIT renameAsked(edited_, change->name, false);
}

// Escape and a click elsewhere leave the sentence as it was.
bool Outline::sentenceEvent(QEvent *event)
{
    const bool escape = (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride) &&
                        static_cast<QKeyEvent *>(event)->key() == Qt::Key_Escape;
    if (escape) {
        event->accept();
        sentence_->hide();
        objects_->setFocus();
        return true;
    }
    if (event->type() == QEvent::FocusOut &&
        static_cast<QFocusEvent *>(event)->reason() != Qt::PopupFocusReason)
        sentence_->hide();
    return false;
}

} // namespace pipit::app
