#include "core/base/json.h"

#include <rapidjson/error/en.h>
#include <rapidjson/reader.h>
#include <rapidjson/stringbuffer.h>
#include <rapidjson/writer.h>

#include <cmath>

namespace pipit
{

constexpr int deepestNesting = 200;

// Fills a Json tree from the parser's events, noting the line of each value.
struct JsonFiller : rapidjson::BaseReaderHandler<rapidjson::UTF8<>, JsonFiller> {
    explicit JsonFiller(const QByteArray &b, rapidjson::MemoryStream &s) : bytes(b), stream(s) {}

    bool add(Json v)
    {
        const auto at = qsizetype(stream.Tell());
        for (; counted < at && counted < bytes.size(); ++counted)
            line += bytes[counted] == '\n';
        v.line_ = line;
        if (stack.isEmpty()) {
            stack.append(std::move(v));
            return true;
        }
        Json &top = stack.last();
        if (top.type_ == Json::Array)
            top.items_.append(std::move(v));
        else
            top.members_.append({keys.takeLast(), std::move(v)});
        return true;
    }
    bool open(Json::Type type)
    {
        if (stack.size() > deepestNesting) {
            tooDeep = true;
            return false;
        }
        const auto at = qsizetype(stream.Tell());
        for (; counted < at && counted < bytes.size(); ++counted)
            line += bytes[counted] == '\n';
        Json v = Json::ofType(type);
        v.line_ = line;
        stack.append(std::move(v));
        return true;
    }
    bool close()
    {
        if (stack.size() == 1)
            return true;
        Json v = stack.takeLast();
        const int from = v.line_;
        add(std::move(v));
        Json &top = stack.last();
        (top.type_ == Json::Array ? top.items_.last() : top.members_.last().second).line_ = from;
        return true;
    }

    bool Null() { return add({}); }
    bool Bool(bool b) { return add(Json::boolean(b)); }
    bool Int(int i) { return add(Json::number(i)); }
    bool Uint(unsigned i) { return add(Json::number(i)); }
    bool Int64(int64_t i) { return add(Json::number(double(i))); }
    bool Uint64(uint64_t i) { return add(Json::number(double(i))); }
    bool Double(double v) { return add(Json::number(v)); }
    bool String(const char *s, rapidjson::SizeType n, bool)
    {
        return add(Json::string(QString::fromUtf8(s, n)));
    }
    bool StartObject() { return open(Json::Object); }
    bool Key(const char *s, rapidjson::SizeType n, bool)
    {
        keys.append(QString::fromUtf8(s, n));
        return true;
    }
    bool EndObject(rapidjson::SizeType) { return close(); }
    bool StartArray() { return open(Json::Array); }
    bool EndArray(rapidjson::SizeType) { return close(); }

    const QByteArray &bytes;
    rapidjson::MemoryStream &stream;
    QList<Json> stack;
    QList<QString> keys;
    qsizetype counted = 0;
    int line = 1;
    bool tooDeep = false;
};

Json Json::ofType(Type t)
{
    Json j;
    j.type_ = t;
    return j;
}

Json Json::string(const QString &s)
{
    Json j = ofType(String);
    j.string_ = s;
    return j;
}

Json Json::object(QList<Member> members)
{
    Json j = ofType(Object);
    j.members_ = std::move(members);
    return j;
}

Json Json::number(double n)
{
    Json j = ofType(Number);
    j.number_ = n;
    return j;
}

Json Json::boolean(bool b)
{
    Json j = ofType(Bool);
    j.bool_ = b;
    return j;
}

Result<Json> Json::parse(const QByteArray &bytes, const QString &file)
{
    rapidjson::MemoryStream stream(bytes.constData(), std::size_t(bytes.size()));
    JsonFiller filler(bytes, stream);
    rapidjson::Reader reader;
    constexpr unsigned flags = rapidjson::kParseValidateEncodingFlag | rapidjson::kParseIterativeFlag;
    const auto result = reader.Parse<flags>(stream, filler);
    if (result) {
        if (filler.stack.isEmpty())
            return Problem{"The file is empty", file, "Restore it from version control"};
        return filler.stack.first();
    }
    const int line = int(bytes.left(qsizetype(result.Offset())).count('\n')) + 1;
    if (filler.tooDeep)
        return Problem{"Values are nested too deeply", file, "Nest at most 200 levels", line};
    return Problem{QStringLiteral("This is not valid JSON: %1")
                       .arg(QString::fromLatin1(rapidjson::GetParseError_En(result.Code())).chopped(1)),
                   file, "Fix this line, or restore the file from version control", line};
}

const Json *Json::find(const QString &key) const
{
    for (const auto &[k, v] : members_)
        if (k == key)
            return &v;
    return nullptr;
}

void Json::set(const QString &key, Json v)
{
    for (auto &[k, old] : members_)
        if (k == key) {
            old = std::move(v);
            return;
        }
    members_.append({key, std::move(v)});
}

void Json::remove(const QString &key)
{
    members_.removeIf([&](const Member &m) { return m.first == key; });
}

namespace
{

using Writer = rapidjson::Writer<rapidjson::StringBuffer>;

void writeString(Writer &w, const QString &s)
{
    const QByteArray b = s.toUtf8();
    w.String(b.constData(), rapidjson::SizeType(b.size()));
}

void write(Writer &w, const Json &j)
{
    switch (j.type()) {
    case Json::Null:
        w.Null();
        break;
    case Json::Bool:
        w.Bool(j.toBool());
        break;
    case Json::Number:
        if (j.toNumber() == std::floor(j.toNumber()) && std::abs(j.toNumber()) < 9e15)
            w.Int64(int64_t(j.toNumber()));
        else
            w.Double(j.toNumber());
        break;
    case Json::String:
        writeString(w, j.toString());
        break;
    case Json::Array:
        w.StartArray();
        for (const Json &i : j.items())
            write(w, i);
        w.EndArray();
        break;
    case Json::Object:
        w.StartObject();
        for (const auto &[k, v] : j.members()) {
            writeString(w, k);
            write(w, v);
        }
        w.EndObject();
        break;
    }
}

// Spaces after colons and commas outside strings, so that a line reads well.
QByteArray spaced(const char *text, std::size_t n)
{
    QByteArray out;
    out.reserve(qsizetype(n + n / 8));
    bool inString = false;
    for (std::size_t i = 0; i < n; ++i) {
        out += text[i];
        if (text[i] == '\\') {
            out += text[++i];
            continue;
        }
        if (text[i] == '"')
            inString = !inString;
        else if (!inString && (text[i] == ',' || text[i] == ':'))
            out += ' ';
    }
    return out;
}

} // namespace

QByteArray Json::compact() const
{
    rapidjson::StringBuffer buffer;
    Writer w(buffer);
    write(w, *this);
    return spaced(buffer.GetString(), buffer.GetSize());
}

bool operator==(const Json &a, const Json &b)
{
    return a.type_ == b.type_ && a.bool_ == b.bool_ && a.number_ == b.number_ && a.string_ == b.string_ &&
           a.items_ == b.items_ && a.members_ == b.members_;
}

QString typeWord(Json::Type type)
{
    switch (type) {
    case Json::Null:
        return "null";
    case Json::Bool:
        return "true or false";
    case Json::Number:
        return "a number";
    case Json::String:
        return "a text";
    case Json::Array:
        return "a list";
    case Json::Object:
        return "an object";
    }
    return {};
}

} // namespace pipit
