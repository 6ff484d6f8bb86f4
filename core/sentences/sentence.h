// Sentences: connections, widgets and what is typed to add or set them. What is shown is what can
// be typed; a plain dot may stand for the middle one. docs/sentences.md is the reference.
//
//   ticketField · key press (key Escape) afterwards calls ticketKey
//   #key_* · clicked calls press_*, after a pause of 300 ms
//   fareField · textChanged calls setFare, as number else skip
//   boardButton · clicked opens fareDialog
//   button key_{0..9} "{}" minimumWidth=48 in keypad
//   #key_*: minimum width 48
//
// Threads: any.
#pragma once

#include "core/project/requests.h"
#include "core/userfiles/user_files.h"

namespace pipit
{

QString sentenceFor(const Connection &connection);
bool readAlike(const Connection &a, const Connection &b); // whether that is the same, decided sooner
// The phrase alone, without the subject: "clicked calls boardPassenger".
QString phraseFor(const Connection &connection);
// What stands apart as a mark: the condition, the pacing, the scope.
QString markFor(const Connection &connection);
Result<ConnectRequest> parseSentence(const QString &text);
// What could come next, as whole lines, for what is typed so far.
QStringList sentenceCompletions(const Project &project, UserFiles &files, const QString &typed);

// "boardButton, a button saying “Board”, disabled": what matters most for its class.
QString widgetSentence(const WidgetNode &widget, bool window = false); // a plain widget that is a window
QString objectSentence(const ObjectNode &object);
QString timerSentence(const TimerNode &timer);
QString handlerSentence(const Handler &handler);
// "in the queue gauge", "up to 3 at once"; empty where it goes one after the other, by itself.
QString paceSentence(const Handler &handler);

Result<AddRequest> parseAddLine(const QString &text);

// `subject` is meant when the line names none. Several are divided by semicolons.
Result<QList<SetRequest>> parseSetLine(const Project &project, const QString &text,
                                       const QString &subject = {});
// A thing's own sentence, to be edited: its texts are whole, with \n for a new line. What is changed in
// it is set, what is left out goes back to its default, another name renames.
struct SentenceChange {
    QString name; // the new one; empty: kept
    QList<SetRequest> settings;
};
QString sentenceToEdit(const Project &project, const QString &name);
Result<SentenceChange> parseEditedSentence(const Project &project, const QString &name, const QString &text);

} // namespace pipit
