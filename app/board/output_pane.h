// What the program prints: its last lines, taken in a few at a time, so that no amount of it keeps the
// loop busy.
//
// Threads: the loop's thread only.
#pragma once

#include <QPlainTextEdit>
#include <QTimer>

namespace pipit::app
{

class OutputPane : public QPlainTextEdit
{
public:
    static constexpr int lines = 5000;

    OutputPane();
    void take(const QString &text);
    void empty();

private:
    void takeSome();
    static constexpr qsizetype atOnce = 200; // lines: 2 to 4 ms
    QStringList waiting_;                    // each with its line break, the last perhaps without
    QTimer timer_;
};

} // namespace pipit::app
