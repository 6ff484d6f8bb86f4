// What the verbs that answer from a recording have in common.
//
// Threads: the program's only one.
#pragma once

#include "cli/verbs.h"

#include "core/base/json_rows.h"
#include "core/runs/recording.h"

#include <QJsonValue>

#include <functional>

namespace pipit::cli
{

struct OfRecording {
    QString recording;
    bool json = false;

    void takes(Words &words)
    {
        words.word("RECORDING", recording, Words::Needed, "A recording: its folder, or a packed file");
        words.flag("--json", json);
    }
};

// Opens it, says what is missing in it, and gives it to `what`.
int with(const QString &folder, const std::function<int(Recording &)> &what);
QString at(const Recording &r, std::int64_t ns); // seconds since it began
QString column(const QString &text, int width);
// Rows for --json; nothing for people.
std::unique_ptr<JsonRows> rowsIf(bool json);
QJsonObject handlerJson(const HandlerName &h);
QJsonValue orNull(const QString &s);
QJsonValue orNull(int n); // null where it is not positive

} // namespace pipit::cli
