// What tests of the window share: desks of their own, typing and clicking as a person does.
#pragma once

#include "app/shell/main_window.h"
#include "tests/support/support.h"

#include <QCompleter>
#include <QTest>

namespace pipit::tests
{

// Copies of the small desk, one after the other, in a folder that goes with it.
class Desks
{
public:
    QString fresh(const QString &side = "before")
    {
        const QString to = dir_.path() + '/' + QString::number(++number_);
        copyFolder(smallDesk() + "/" + side, to);
        return to;
    }
    QString path() const { return dir_.path(); }

private:
    QTemporaryDir dir_;
    int number_ = 0;
};

// The sentences on the Board, in their order.
inline QStringList phrases(app::MainWindow &w)
{
    QStringList all;
    const app::SentenceModel *model = w.board()->wiring()->sentenceModel();
    for (int i = 0; i < model->rowCount(); ++i)
        all << model->row(i).sentence;
    return all;
}
// Shortcuts work in the active window only.
inline bool activate(app::MainWindow &w)
{
    w.activateWindow();
    return QTest::qWaitForWindowActive(&w);
}
// The text at once, then Return.
inline void enter(QLineEdit *line, const QString &text)
{
    line->setFocus();
    line->setText(text);
    QTest::keyClick(line, Qt::Key_Return);
}
// As a person types: every character its own event, what is offered left alone, then Return.
inline void typeInto(QLineEdit *line, const QString &text)
{
    line->setFocus();
    line->clear();
    QTest::keyClicks(line, text);
    if (line->completer() && line->completer()->popup())
        line->completer()->popup()->hide();
    QTest::keyClick(line, Qt::Key_Return);
}

} // namespace pipit::tests
