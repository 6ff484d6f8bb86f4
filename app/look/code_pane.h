// Code to be read, with a bar in a band's colour beside each line that belongs to it.
//
// Threads: the loop's thread only.
#pragma once

#include <QPlainTextEdit>

namespace pipit::app
{

class CodePane : public QPlainTextEdit
{
    Q_OBJECT
public:
    explicit CodePane(const QString &accessibleName, QWidget *parent = nullptr);
    enum class Band { None, Loop, Timer, Background, Broken };
    // One for each line of the text.
    void setCode(const QString &text, const QList<Band> &bands);
    const QList<Band> &bands() const { return bands_; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    QList<Band> bands_;
};

} // namespace pipit::app
