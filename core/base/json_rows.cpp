#include "core/base/json_rows.h"

#include <rapidjson/stringbuffer.h>
#include <rapidjson/writer.h>

#include <cstring>
#include <utility>

namespace pipit
{

struct JsonRows::Private {
    using Buffer = rapidjson::StringBuffer;
    // What needs no looking at is copied as it is: that is most of a long answer.
    struct Writer : rapidjson::Writer<Buffer> {
        using rapidjson::Writer<Buffer>::Writer;
        void ready(const char *json, std::size_t bytes)
        {
            Prefix(rapidjson::kObjectType);
            std::memcpy(os_->Push(bytes), json, bytes);
        }
        void plainKey(const char *name)
        {
            const std::size_t bytes = std::strlen(name);
            Prefix(rapidjson::kStringType);
            char *to = os_->Push(bytes + 2);
            to[0] = to[bytes + 1] = '"';
            std::memcpy(to + 1, name, bytes);
        }
    };
    explicit Private(std::FILE *file) : to(file) {}
    std::FILE *const to;
    Buffer buffer;
    Writer writer{buffer};
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
    d->writer.plainKey(name);
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
    d->writer.ready(json.constData(), std::size_t(json.size()));
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
