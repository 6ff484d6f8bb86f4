#include "core/trace/names.h"

namespace pipit
{

using link::Kind;
using link::Record;

TraceNames::TraceNames()
{
    intern({});
    objects_.add({0, intern(QStringLiteral("?")), 0, 0});
    signals_.add({{}, QStringLiteral("?")});
}

std::uint32_t TraceNames::intern(const QString &text)
{
    if (const auto it = textRows_.constFind(text); it != textRows_.constEnd())
        return *it;
    return *textRows_.insert(text, texts_.add(text));
}

// Messages are texts of their own: few come twice.
std::uint32_t TraceNames::addMessage(const QString &text)
{
    return messages_.add(texts_.add(text));
}

ObjectInfo TraceNames::object(std::uint32_t i) const
{
    const ObjectRow &r = objects_[i < objects_.size() ? i : 0];
    return {texts_[r.className], texts_[r.name], texts_[captionOf(r).load(std::memory_order_acquire)],
            r.address};
}

SignalInfo TraceNames::signal(std::uint32_t i) const
{
    return signals_[i < signals_.size() ? i : 0];
}

CodeInfo TraceNames::code(std::uint64_t address) const
{
    std::lock_guard lock(mutex_);
    return codes_.value(address);
}

std::uint32_t TraceNames::signalIndex(std::uint64_t key) const
{
    const auto it = signalRows_.find(key);
    return it == signalRows_.end() ? 0 : it->second;
}

std::uint32_t TraceNames::linkIndex(const Record &call)
{
    const std::uint64_t serial = call.words[1];
    // A slot called by index has no connect call of its own: one row for each method.
    const std::uint64_t key = serial ? serial : call.words[2] | std::uint64_t(1) << 62;
    if (const auto it = linkRows_.find(key); it != linkRows_.end())
        return it->second;
    LinkRow row;
    row.kind = link::LinkKind(call.value & 0xff);
    row.codeIsFunction = call.value & link::CodeIsFunction;
    row.serial = serial;
    row.code = call.words[2];
    if (!serial)
        row.signal = signalIndex(call.words[2]) + 1;
    return linkRows_[key] = links_.add(row);
}

std::atomic_ref<std::uint32_t> TraceNames::captionOf(const ObjectRow &r)
{
    return std::atomic_ref(const_cast<ObjectRow &>(r).caption);
}

bool TraceNames::captionFound(const ObjectRow &row, std::uint32_t &index)
{
    const auto last = lastNamed_.find(row.address);
    if (last == lastNamed_.end() || !row.caption)
        return false;
    ObjectRow without = row;
    without.caption = 0;
    const auto it = objectRows_.find(without);
    if (it == objectRows_.end() || it->second != last->second)
        return false;
    index = it->second;
    captionOf(objects_[index]).store(row.caption, std::memory_order_release);
    objectRows_.erase(it); // the next one there without a caption is another
    return true;
}

void TraceNames::learnObject(ObjectsByAddress &objects, const Record &s, const QString &words)
{
    const qsizetype cut = words.indexOf('\n');
    ObjectRow row{s.words[0], intern(words.left(cut)), intern(words.section('\n', 1, 1)),
                  intern(words.section('\n', 2))};
    auto [it, fresh] = objectRows_.try_emplace(row, 0);
    if (fresh && !captionFound(row, it->second))
        it->second = objects_.add(row);
    objects.set(s.words[0], it->second);
    lastNamed_[s.words[0]] = it->second;
}

void TraceNames::learnLink(const Record &s)
{
    const auto [it, fresh] = linkRows_.try_emplace(s.words[0], 0);
    if (!fresh)
        return;
    LinkRow row;
    if (const auto places = linkPlaces_.find(s.words[0]); places != linkPlaces_.end()) {
        row = places->second;
        linkPlaces_.erase(places);
    }
    row.kind = link::LinkKind(s.value & 0xff);
    row.codeIsFunction = s.value & link::CodeIsFunction;
    row.serial = s.words[0];
    if (const auto sender = lastNamed_.find(s.words[1]); s.words[1] && sender != lastNamed_.end())
        row.sender = sender->second + 1;
    row.signal = s.words[2] ? signalIndex(s.words[2]) + 1 : 0;
    row.code = s.words[3];
    it->second = links_.add(row);
}

void TraceNames::learn(ObjectsByAddress &objects, const Record &s, const char *text, std::size_t bytes)
{
    switch (Kind(s.kind)) {
    case Kind::ObjectName:
        learnObject(objects, s, QString::fromUtf8(text, qsizetype(bytes)));
        break;
    case Kind::SignalName:
        if (const auto [it, fresh] = signalRows_.try_emplace(s.words[0], 0); fresh) {
            const QString words = QString::fromUtf8(text, qsizetype(bytes));
            const qsizetype cut = words.indexOf('\n');
            it->second = signals_.add({words.left(cut), words.mid(cut + 1)});
        }
        break;
    case Kind::CodePlace: {
        const QString &module = texts_[intern(QString::fromUtf8(text, qsizetype(bytes)))];
        std::lock_guard lock(mutex_);
        codes_.insert(s.words[0], {module, s.words[1]});
        break;
    }
    case Kind::LinkPlace: {
        LinkRow &row = linkPlaces_[s.words[0]];
        row.place = s.words[1];
        row.outerPlace = s.words[2];
        row.outermostPlace = s.words[3];
        break;
    }
    case Kind::LinkWords: {
        LinkRow &row = linkPlaces_[s.words[0]];
        row.first = s.words[1];
        row.second = s.words[2];
        row.fourth = s.words[3];
        break;
    }
    case Kind::Link:
        learnLink(s);
        break;
    default:
        break;
    }
}

} // namespace pipit
