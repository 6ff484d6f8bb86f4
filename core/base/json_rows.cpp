#include "core/base/json_rows.h"

#include <rapidjson/stringbuffer.h>
#include <rapidjson/writer.h>

namespace pipit
{

struct JsonRows::Private {
    explicit Private(std::FILE *file) : to(file) {}
    std::FILE *const to;
    rapidjson::StringBuffer buffer;
    rapidjson::Writer<rapidjson::StringBuffer, rapidjson::UTF16<char16_t>, rapidjson::UTF8<>> writer{buffer};
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
    char16_t wide[64];
    std::size_t n = 0;
    for (; name[n] && n < 63; ++n)
        wide[n] = char16_t(name[n]);
    d->writer.Key(wide, rapidjson::SizeType(n));
    return *this;
}

void JsonRows::text(const QString &value)
{
    if (value.isEmpty())
        d->writer.Null();
    else
        d->writer.String(reinterpret_cast<const char16_t *>(value.utf16()),
                         rapidjson::SizeType(value.size()));
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
    // The writer would take it for UTF-16: only its place is told.
    d->writer.RawValue(u"", 0, rapidjson::kObjectType);
    for (const char c : json)
        d->buffer.Put(c);
}

void JsonRows::beginObject()
{
    d->writer.StartObject();
}

void JsonRows::endObject()
{
    d->writer.EndObject();
}

} // namespace pipit
