#include "core/base/json_rows.h"

#include <rapidjson/stringbuffer.h>
#include <rapidjson/writer.h>

#include <cstring>
#include <utility>

namespace pipit
{

struct JsonRows::Private {
    explicit Private(std::FILE *file) : to(file) {}
    std::FILE *const to;
    rapidjson::StringBuffer buffer;
    rapidjson::Writer<rapidjson::StringBuffer> writer{buffer};
    bool first = true;

    void send()
    {
        std::fwrite(buffer.GetString(), 1, buffer.GetSize(), to);
        buffer.Clear();
    }
};

JsonRows::JsonRows(std::FILE *to) : d(new Private(to))
{
    std::fputc('[', to);
}

JsonRows::~JsonRows()
{
    d->send();
    std::fputs("]\n", d->to);
}

void JsonRows::beginRow()
{
    constexpr std::size_t atOnce = 1 << 16;
    if (d->buffer.GetSize() > atOnce)
        d->send();
    if (!std::exchange(d->first, false))
        for (const char c : {',', '\n', ' '})
            d->buffer.Put(c);
    d->writer.Reset(d->buffer);
    d->writer.StartObject();
}

void JsonRows::endRow()
{
    d->writer.EndObject();
}

JsonRows &JsonRows::key(const char *name)
{
    d->writer.Key(name, rapidjson::SizeType(std::strlen(name)));
    return *this;
}

void JsonRows::text(const QString &value)
{
    if (value.isEmpty())
        return void(d->writer.Null());
    const QByteArray bytes = value.toUtf8();
    d->writer.String(bytes.constData(), rapidjson::SizeType(bytes.size()));
}

void JsonRows::number(std::int64_t value)
{
    d->writer.Int64(value);
}

void JsonRows::flag(bool value)
{
    d->writer.Bool(value);
}

void JsonRows::null()
{
    d->writer.Null();
}

void JsonRows::ready(const QByteArray &json)
{
    d->writer.RawValue(json.constData(), std::size_t(json.size()), rapidjson::kObjectType);
}

void JsonRows::beginObject()
{
    d->writer.StartObject();
}

void JsonRows::endObject()
{
    d->writer.EndObject();
}

void JsonRows::beginList()
{
    d->writer.StartArray();
}

void JsonRows::endList()
{
    d->writer.EndArray();
}

} // namespace pipit
