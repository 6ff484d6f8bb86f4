// The line under a line that is typed: what it would do, or what is wrong with it.
//
// Threads: the loop's thread only. Empty it takes no room; it never makes its window wider.
#pragma once

#include "app/look/tokens.h"

#include <QLabel>

namespace pipit::app
{

class NoteLine : public QLabel
{
public:
    explicit NoteLine(QWidget *parent = nullptr) : QLabel(parent)
    {
        setFont(smallFont());
        setWordWrap(true);
        setTextInteractionFlags(Qt::TextSelectableByMouse);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Minimum);
        hide();
    }
    void say(const QString &text) { show(text, Tokens::current().ink2); }
    void saysWrong(const QString &text) { show(text, Tokens::current().vermilion); }
    void clearNote() { hide(); }
    QString said() const { return isHidden() ? QString() : text(); }

private:
    void show(const QString &text, const QColor &colour)
    {
        setText(text);
        setStyleSheet(QStringLiteral("color: %1").arg(colour.name()));
        setVisible(!text.isEmpty());
    }
};

} // namespace pipit::app
