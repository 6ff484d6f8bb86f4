// Connections as sentences: "ticketField · key press (key Escape) calls ticketKey, next turn".
//
// Threads: any. What is shown is what can be typed; a plain dot may stand for the middle one.
#pragma once

#include "core/project/workspace.h"

namespace pipit
{

QString sentenceFor(const Connection &connection);
Result<ConnectRequest> parseSentence(const QString &text);
// What could come next, as whole lines, for what is typed so far.
QStringList sentenceCompletions(const Project &project, const QString &typed);
// What is there to type to add a widget: `button boardButton "Board"`.
struct AddRequest {
    QString words, name, text;
};
Result<AddRequest> parseAddLine(const QString &text);

} // namespace pipit
