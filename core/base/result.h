// Results and problems: the one way in which core says that something did not work.
//
// Threads: plain values. A Problem says what is wrong, where, and what to do; `text()` is the
// line that a person reads, so that every face of Pipit says the same.
#pragma once

#include <QString>
#include <utility>
#include <variant>

namespace pipit
{

struct Problem {
    QString what;   // a sentence without its full stop
    QString where;  // a file, a path within it, a name; may be empty
    QString remedy; // what to do, a sentence without its full stop; may be empty
    int line = 0;   // 1-based line in `where`; 0 when there is none

    QString text() const
    {
        QString s;
        if (!where.isEmpty())
            s = where + (line > 0 ? QStringLiteral(":%1").arg(line) : QString()) + QStringLiteral(": ");
        s += what + u'.';
        if (!remedy.isEmpty())
            s += u' ' + remedy + u'.';
        return s;
    }
};

template <class T> class [[nodiscard]] Result
{
public:
    Result(T value) : state_(std::in_place_index<0>, std::move(value)) {}
    Result(Problem problem) : state_(std::in_place_index<1>, std::move(problem)) {}

    explicit operator bool() const { return state_.index() == 0; }
    T &operator*() { return std::get<0>(state_); }
    const T &operator*() const { return std::get<0>(state_); }
    T *operator->() { return &std::get<0>(state_); }
    const T *operator->() const { return &std::get<0>(state_); }
    const Problem &problem() const { return std::get<1>(state_); }

private:
    std::variant<T, Problem> state_;
};

struct Done {
};
using Outcome = Result<Done>;

} // namespace pipit
