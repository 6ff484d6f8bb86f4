// Words in the user's code, and what they stand for.
//
// Threads: plain values.
#pragma once

#include <QHash>
#include <QString>

namespace pipit
{

// A place in the user's sources where a name stands as a word.
struct CodeWord {
    QString file;
    qsizetype offset = 0;     // in the file's text
    int line = 1, column = 0; // lines from 1, columns from 0, in UTF-16
    QString name;
    friend bool operator==(const CodeWord &, const CodeWord &) = default;
};

// Whether the word at a file's offset is the thing that is asked about. Words that are not in it are
// judged by the text around them.
using WordVerdicts = QHash<std::pair<QString, qsizetype>, bool>;

} // namespace pipit
