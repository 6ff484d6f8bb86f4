#include "core/exports/spans_out.h"

#include <unordered_map>

namespace pipit
{

QByteArray jsonText(const QString &text)
{
    QByteArray out = "\"";
    for (const char c : text.toUtf8()) {
        if (c == '"' || c == '\\')
            out += '\\';
        if (static_cast<unsigned char>(c) < 0x20) {
            char hex[8];
            std::snprintf(hex, sizeof hex, "\\u%04x", unsigned(c));
            out += hex;
            continue;
        }
        out += c;
    }
    return out + '"';
}

void SpansOut::flush() const
{
    ok_ = ok_ && to_.write(buffer_) == buffer_.size();
    buffer_.clear();
}

void SpansOut::write(const QByteArray &bytes)
{
    buffer_ += bytes;
    if (buffer_.size() > 1 << 20)
        flush();
}

bool SpansOut::ok() const
{
    flush();
    return ok_;
}

// Most spans have their words in common with many: these are made once in each chunk.
void SpansOut::each(const std::function<void(const Span &, const ThreadInfo &, const QString &)> &take)
{
    for (std::uint16_t t = 0; t < r_.trace.threadCount(); ++t) {
        const ThreadRows &rows = r_.trace.rows(t);
        const ThreadInfo info = r_.trace.thread(t);
        std::unordered_map<std::uint32_t, QString> words;
        std::uint32_t chunk = UINT32_MAX;
        for (std::uint32_t row = 0; row < rows.count(); ++row) {
            if (const std::uint32_t c = ThreadRows::chunkOf(row); c != chunk) {
                chunk = c;
                words.clear();
            }
            const Span s = rows.at(row);
            if (s.kind == SpanKind::Turn || (s.kind == SpanKind::Dispatch && isInputEvent(int(s.what)))) {
                take(s, info,
                     s.kind == SpanKind::Turn ? QStringLiteral("turn")
                                              : sentenceOf(r_.trace, r_.handlers, s));
                continue;
            }
            QString &text = words[rows.alikeOf(row)];
            if (text.isEmpty())
                text = sentenceOf(r_.trace, r_.handlers, s);
            take(s, info, text);
        }
    }
}

} // namespace pipit
