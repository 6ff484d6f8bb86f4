#include "app/look/code_pane.h"

#include "app/look/tokens.h"

#include <QPainter>
#include <QTextBlock>

namespace pipit::app
{

CodePane::CodePane(const QString &accessibleName, QWidget *parent) : QPlainTextEdit(parent)
{
    setReadOnly(true);
    setFont(codeFont());
    setLineWrapMode(QPlainTextEdit::NoWrap);
    setAccessibleName(accessibleName);
    setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    setViewportMargins(0, 0, 0, 0);
    document()->setDocumentMargin(scaled(10));
}

void CodePane::setCode(const QString &text, const QList<Band> &bands)
{
    bands_ = bands;
    setPlainText(text);
}

// Colour is never alone: the loop's bar is hollow, the timer's broken, the background's double.
void CodePane::paintEvent(QPaintEvent *event)
{
    QPlainTextEdit::paintEvent(event);
    QPainter p(viewport());
    const Tokens &t = Tokens::current();
    const int x = scaled(2);
    for (QTextBlock b = firstVisibleBlock(); b.isValid(); b = b.next()) {
        const QRectF r = blockBoundingGeometry(b).translated(contentOffset());
        if (r.top() > event->rect().bottom())
            break;
        const Band band = bands_.value(b.blockNumber(), Band::None);
        const int top = int(r.top()), height = int(r.height());
        switch (band) {
        case Band::None:
            break;
        case Band::Loop:
            p.fillRect(x, top, 1, height, t.slate);
            p.fillRect(x + 3, top, 1, height, t.slate);
            break;
        case Band::Timer:
            p.fillRect(x, top + 2, 4, height - 4, t.ochre);
            break;
        case Band::Background:
            p.fillRect(x, top, 4, height, t.teal);
            break;
        case Band::Broken:
            p.fillRect(x, top, 4, height, t.vermilion);
            break;
        }
    }
}

} // namespace pipit::app
