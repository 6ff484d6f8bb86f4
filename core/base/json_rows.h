// A long answer as JSON, written row by row as it is found: nothing of it is gathered.
//
// Threads: one. Rows are objects, one a line; who writes them gives their keys in the order of the alphabet.
#pragma once

#include <QByteArray>
#include <QString>

#include <cstdio>
#include <memory>

namespace pipit
{

class JsonRows
{
public:
    explicit JsonRows(std::FILE *to);
    ~JsonRows(); // ends the list
    JsonRows(const JsonRows &) = delete;
    JsonRows &operator=(const JsonRows &) = delete;

    void beginRow();
    void endRow();
    JsonRows &key(const char *name); // letters, digits and underscores
    void text(const QString &value); // null where it is empty
    void number(std::int64_t value);
    void flag(bool value);
    void null();
    void ready(const QByteArray &json); // a value that was made before
    void beginObject();
    void endObject();
    void beginList();
    void endList();

private:
    struct Private;
    std::unique_ptr<Private> d;
};

} // namespace pipit
