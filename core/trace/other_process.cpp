#include "core/trace/other_process.h"

#include <QStringList>

#include <initializer_list>

namespace pipit
{

using link::Fact;
using link::Kind;

namespace
{

QString salted(const QString &hex, std::uint64_t salt)
{
    const std::uint64_t address = hex.toULongLong(nullptr, 16);
    return address ? QString::number(address ^ salt, 16) : hex;
}

QString saltedFields(const QString &line, std::uint64_t salt, std::initializer_list<int> which)
{
    QStringList fields = line.split('\t');
    for (const int i : which)
        if (i < fields.size())
            fields[i] = salted(fields[i], salt);
    return fields.join('\t');
}

QString saltedState(const QString &line, std::uint64_t salt)
{
    for (const char *key : {"in=", "proxy=", "model=", "on=", "filters="}) {
        if (!line.startsWith(QLatin1String(key)))
            continue;
        QStringList all = line.mid(qsizetype(qstrlen(key))).split('\t');
        for (QString &address : all)
            address = salted(address, salt);
        return QLatin1String(key) + all.join('\t');
    }
    return line;
}

} // namespace

link::Record ofProcess(link::Record s, std::uint64_t salt)
{
    unsigned keys = 0; // which of its words are such, by bits
    switch (Kind(s.kind)) {
    case Kind::Link:
    case Kind::LinkPlace:
    case Kind::LinkWords:
    case Kind::CallBegin:
        keys = 0b1111;
        break;
    case Kind::DispatchBegin:
    case Kind::SignalBegin:
    case Kind::Post:
    case Kind::Hop:
    case Kind::Fact:
    case Kind::Began:
        keys = 0b0011;
        break;
    case Kind::CameOf:
    case Kind::ObjectName:
    case Kind::SignalName:
    case Kind::CodePlace:
    case Kind::LoopBegin:
        keys = 0b0001;
        break;
    default:
        break;
    }
    for (unsigned i = 0; i < 4; ++i)
        if ((keys >> i & 1) && s.words[i])
            s.words[i] ^= salt;
    return s;
}

QString ofProcess(Fact fact, const QString &text, std::uint64_t salt)
{
    if (!salt)
        return text;
    switch (fact) {
    case Fact::Connected:
        return saltedFields(text, salt, {1, 6, 9, 10});
    case Fact::NotConnected:
        return saltedFields(text, salt, {1, 7, 8});
    case Fact::State:
    case Fact::Wires: {
        QStringList lines = text.split('\n');
        for (QString &line : lines)
            line = fact == Fact::State ? saltedState(line, salt) : saltedFields(line, salt, {1, 6});
        return lines.join('\n');
    }
    default:
        return text;
    }
}

} // namespace pipit
