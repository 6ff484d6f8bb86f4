// Pieces of the program's source that a recording carries along, so that it can be read where the source is
// not: the handlers that ran, the places of connects, what stood on the stacks of stalls.
//
// Threads: a value. `gather` reads files and may read debug information: off the event loop.
#pragma once

#include "core/trace/handlers.h"

#include <QJsonObject>
#include <QMap>
#include <QStringList>

#include <optional>

namespace pipit
{

class Excerpts
{
public:
    struct Piece {
        int first = 1; // number of the first line
        QStringList lines;
    };

    // From the files on this machine. One that was changed after the run began (ns since 1970; 0: not known)
    // may not be what ran: it is left out, and listed in `leftOut`.
    static Excerpts gather(const TraceModel &trace, Handlers &handlers, std::int64_t began,
                           QStringList *leftOut);
    static Excerpts of(const QJsonObject &file);
    [[nodiscard]] QJsonObject toJson() const;

    QStringList files() const { return pieces_.keys(); }
    int lineCount() const;
    // The piece that holds this line.
    std::optional<Piece> around(const QString &file, int line) const;
    bool empty() const { return pieces_.isEmpty(); }

private:
    QMap<QString, std::vector<Piece>> pieces_; // by file, in order of line
};

} // namespace pipit
