// What is said to the person: problems and offers in a line of their own, notes that pass in the header.
#include "app/shell/main_window.h"

#include "app/look/tokens.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>

namespace pipit::app
{

// What is wrong, with what may be done about it.
void MainWindow::makeMessageBar()
{
    messageBar_ = new QWidget;
    messageBar_->setObjectName("messageBar");
    message_ = new QLabel;
    message_->setWordWrap(true);
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto *dismiss = new QPushButton("Dismiss");
    dismiss->setProperty("word", true);
    auto *bar = new QHBoxLayout(messageBar_);
    bar->setContentsMargins(padding, 4, padding, 4);
    messageAction_ = new QPushButton;
    messageAction_->setObjectName("messageAction");
    messageAction_->hide();
    bar->addWidget(message_, 1);
    bar->addWidget(messageAction_);
    bar->addWidget(dismiss);
    messageBar_->hide();
    connect(dismiss, &QPushButton::clicked, messageBar_, &QWidget::hide);
}

// What the document offers, each with the button that does it.
void MainWindow::hearOffers()
{
    connect(&session_.document, &Document::unsavedFound, this, &MainWindow::offerUnsaved);
    connect(&session_.document, &Document::textLeft, this, &MainWindow::offerText);
    connect(&session_.document, &Document::removed, this, [this](const QString &text) {
        ask(text, "Restore it", [this] { session_.document.undo(); });
        offeredAt_ = session_.document.workspace().state();
    });
    connect(&session_.document, &Document::changed, this, [this] {
        if (offeredAt_ && *offeredAt_ != session_.document.workspace().state())
            messageBar_->hide(); // undo would take back something else by now
        if (messageBar_->isHidden())
            offeredAt_.reset();
    });
    connect(&session_.document, &Document::projectReplaced, this, [this] {
        ask("The project was changed on disk in the same places as in Pipit. Pipit shows the version on "
            "disk.",
            "Use Pipit's version", [this] { session_.document.keepOwnProject(); });
    });
    connect(messageAction_, &QPushButton::clicked, this, [this] {
        messageBar_->hide();
        if (answer_)
            std::exchange(answer_, {})();
    });
}

// What is wrong stays in its own line until dealt with; a note passes in the header and moves nothing.
void MainWindow::tell(const QString &text, bool broken)
{
    if (broken) {
        offeredAt_.reset();
        messageAction_->hide();
        message_->setText(text);
        message_->setStyleSheet(QStringLiteral("color: %1").arg(Tokens::current().vermilion.name()));
        messageBar_->show();
        if (outer_->currentIndex() == 0 && !start_->isAncestorOf(focusWidget()))
            start_->programLine()->setFocus(); // what was refused is put right there
        return;
    }
    stateText_->setText(text);
    QTimer::singleShot(6000, this, [this, text] {
        if (stateText_->text() == text)
            showState();
    });
}

// Something to decide, with the button that does it.
void MainWindow::ask(const QString &text, const QString &action, const std::function<void()> &answer)
{
    offeredAt_.reset();
    message_->setText(text);
    message_->setStyleSheet({});
    messageAction_->setText(action);
    messageAction_->show();
    messageBar_->show();
    answer_ = answer;
}

void MainWindow::offerUnsaved()
{
    ask("Pipit ended with unsaved work in this project. Restore it (one step of undo), or continue with the "
        "version on disk.",
        "Restore it", [this] { session_.document.recoverUnsaved(); });
}

void MainWindow::offerText(const QString &sentences, const QString &text)
{
    if (text.isEmpty())
        tell(sentences, true);
    else
        ask(sentences + " The rest of the step was applied.", "Copy the text",
            [text] { QApplication::clipboard()->setText(text); });
}

} // namespace pipit::app
