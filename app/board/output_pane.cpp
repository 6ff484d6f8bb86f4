#include "app/board/output_pane.h"

#include "app/look/tokens.h"

namespace pipit::app
{

OutputPane::OutputPane()
{
    setReadOnly(true);
    setFont(codeFont());
    setMaximumBlockCount(lines);
    setAccessibleName("The program's output");
    timer_.setInterval(15);
    connect(&timer_, &QTimer::timeout, this, &OutputPane::takeSome);
}

void OutputPane::take(const QString &text)
{
    for (qsizetype from = 0; from < text.size();) {
        const qsizetype end = text.indexOf('\n', from);
        const qsizetype to = end < 0 ? text.size() : end + 1;
        waiting_ << text.mid(from, to - from);
        from = to;
    }
    if (waiting_.size() > lines) // these would not be kept anyway
        waiting_.remove(0, waiting_.size() - lines);
    if (!timer_.isActive()) {
        takeSome();
        timer_.start();
    }
}

void OutputPane::takeSome()
{
    const qsizetype n = std::min(atOnce, waiting_.size());
    if (n == 0) {
        timer_.stop();
        return;
    }
    moveCursor(QTextCursor::End);
    insertPlainText(waiting_.mid(0, n).join(QString()));
    moveCursor(QTextCursor::End);
    waiting_.remove(0, n);
}

void OutputPane::empty()
{
    waiting_.clear();
    clear();
}

} // namespace pipit::app
