#include "core/base/command_words.h"

namespace pipit
{

Result<QStringList> commandWords(const QString &command)
{
    QStringList words;
    QString word;
    bool any = false; // a word has begun, be it empty
    QChar quote;      // the one that is open; null: none
    for (qsizetype i = 0; i < command.size(); ++i) {
        const QChar c = command[i], next = i + 1 < command.size() ? command[i + 1] : QChar();
        const bool escape = c == '\\' && !next.isNull() &&
                            (quote.isNull() || (quote == '"' && (next == '"' || next == '\\')));
        if (escape) {
            word += next;
            any = true;
            ++i;
        } else if (!quote.isNull() ? c == quote : c == '"' || c == '\'') {
            quote = quote.isNull() ? c : QChar();
            any = true;
        } else if (quote.isNull() && c.isSpace()) {
            if (any)
                words << word;
            word.clear();
            any = false;
        } else {
            word += c;
            any = true;
        }
    }
    if (!quote.isNull())
        return Problem{QStringLiteral("A %1 is missing at the end").arg(quote), {}, "Close what it opens"};
    if (any)
        words << word;
    return words;
}

} // namespace pipit
