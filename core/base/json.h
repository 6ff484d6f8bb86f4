// JSON that remembers where everything stood: key order, unknown keys and the line of each value.
//
// Threads: plain values. Parsing is RapidJSON's; this is only the tree that it fills.
#pragma once

#include "core/base/result.h"

#include <QByteArray>
#include <QList>
#include <QString>

#include <utility>

namespace pipit
{

class Json
{
public:
    enum Type { Null, Bool, Number, String, Array, Object };
    using Member = std::pair<QString, Json>;

    Json() = default;
    static Json string(const QString &s);
    static Json number(double n);
    static Json boolean(bool b);
    static Json array() { return ofType(Array); }
    static Json object(QList<Member> members = {});

    // The problem names the file and line.
    static Result<Json> parse(const QByteArray &bytes, const QString &file);

    Type type() const { return type_; }
    int line() const { return line_; }
    bool toBool() const { return bool_; }
    double toNumber() const { return number_; }
    const QString &toString() const { return string_; }
    const QList<Json> &items() const { return items_; }
    const QList<Member> &members() const { return members_; }
    const Json *find(const QString &key) const;

    void append(Json v) { items_.append(std::move(v)); }
    void set(const QString &key, Json v); // in place when the key is there, else at the end
    void remove(const QString &key);

    // One line, as in a list of items.
    QByteArray compact() const;

    friend bool operator==(const Json &a, const Json &b);

private:
    friend struct JsonFiller;
    static Json ofType(Type t);
    Type type_ = Null;
    bool bool_ = false;
    double number_ = 0;
    int line_ = 0;
    QString string_;
    QList<Json> items_;
    QList<Member> members_;
};

QString typeWord(Json::Type type);

} // namespace pipit
