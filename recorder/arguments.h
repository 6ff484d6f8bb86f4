// What a signal carries, in readable form: truth values, numbers, enumerations, texts. Told as a fact within
// the signal (link/facts.h), of at most a thousand signals a second on a thread. Nothing where texts are
// masked; of a text of another's program its length; of a field that hides what is typed not even that.
//
// Threads: one for each.
#pragma once

#include <QtCore/QObject>

#include <array>
#include <cstdint>

namespace pipit::recorder
{

class ThreadLog;

class SignalArguments
{
public:
    // `index` is that of the signal as the toolkit's spy gives it, `values` its arguments behind the return
    // value.
    void tell(ThreadLog *log, QObject *sender, int index, void **values);

private:
    enum class Form : std::uint8_t { Other, Bool, Int, UInt, Long, ULong, Double, Float, Text };
    static constexpr int mostArguments = 4;
    struct Carried {
        const QMetaObject *of = nullptr;
        int index = -1, count = 0;
        bool readable = false;
        std::array<Form, mostArguments> forms{};
    };
    static Form formOf(QMetaType type);
    enum class Say : std::uint8_t { Nothing, Length, Words }; // of a text
    static void add(std::string &to, Form form, const void *at, Say say);
    const Carried &carriedBy(const QMetaObject *of, int index);
    bool mayBeTold();

    std::array<Carried, 256> known_;
    std::uint64_t earned_ = 200'000'000, at_ = 0; // ns
};

} // namespace pipit::recorder
