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
        sentence_->setAccessibleName("Sentence of the selection");
        sentence_->installEventFilter(this);
        connect(sentence_, &QLineEdit::returnPressed, this, &Outline::takeSentence);
        connect(objects_->verticalScrollBar(), &QScrollBar::valueChanged, this, &Outline::leaveSentence);
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
    const qsizetype from = sentence.indexOf('"'), to = sentence.indexOf('"', from + 1);
    if (from >= 0 && to > from)
        sentence_->setSelection(int(from) + 1, int(to - from) - 1);
    else
        sentence_->setSelection(0, int(name.size()));
}

void Outline::takeSentence()
{
    auto change = parseEditedSentence(session_->document.project(), edited_, sentence_->text());
    if (!change) {
        noteUnderSentence(change.problem().text());
        return; // the line stays, to be mended
    }
    std::optional<Problem> wrong;
    if (!change->settings.isEmpty())
        session_->document.edit([&](Workspace &w) -> Outcome {
            if (auto done = w.applySettings(change->settings); !done)
                wrong = done.problem();
            return Done{};
        });
    if (wrong) {
        noteUnderSentence(wrong->text());
        return;
    }
    leaveSentence();
    objects_->setFocus();
    if (!change->name.isEmpty())
        Q_EMIT renameAsked(edited_, change->name, false);
}

void Outline::leaveSentence()
{
    sentence_->hide();
    if (sentenceNote_)
        sentenceNote_->clearNote();
}

// What is wrong with it, under the line.
void Outline::noteUnderSentence(const QString &text)
{
    if (!sentenceNote_) {
        sentenceNote_ = new NoteLine(window());
        sentenceNote_->setObjectName("sentenceNote");
        sentenceNote_->setAutoFillBackground(true);
        sentenceNote_->setContentsMargins(8, 4, 8, 4);
        connect(sentence_, &QLineEdit::textChanged, sentenceNote_, [this] { sentenceNote_->clearNote(); });
    }
    sentenceNote_->saysWrong(text);
    const QRect line = sentence_->geometry();
    sentenceNote_->setGeometry(line.left(), line.bottom() + 1, line.width(),
                               sentenceNote_->heightForWidth(line.width()));
    sentenceNote_->raise();
}

// Escape and a click elsewhere leave the sentence as it was.
bool Outline::sentenceEvent(QEvent *event)
{
    const bool escape = (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride) &&
                        static_cast<QKeyEvent *>(event)->key() == Qt::Key_Escape;
    if (escape) {
        event->accept();
        leaveSentence();
        objects_->setFocus();
        return true;
    }
    if (event->type() == QEvent::FocusOut &&
        static_cast<QFocusEvent *>(event)->reason() != Qt::PopupFocusReason)
        leaveSentence();
    return false;
}

} // namespace pipit::app
