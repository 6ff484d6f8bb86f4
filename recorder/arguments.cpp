#include "recorder/arguments.h"

#include "link/facts.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QMetaMethod>
#include <QtCore/private/qmetaobject_p.h>

#include <cstdio>
#include <string>

namespace pipit::recorder
{

namespace
{
constexpr qsizetype mostText = 40; // characters
} // namespace

SignalArguments::Form SignalArguments::formOf(QMetaType type)
{
    switch (type.id()) {
    case QMetaType::Bool:
        return Form::Bool;
    case QMetaType::Int:
        return Form::Int;
    case QMetaType::UInt:
        return Form::UInt;
    case QMetaType::LongLong:
        return Form::Long;
    case QMetaType::ULongLong:
        return Form::ULong;
    case QMetaType::Double:
        return Form::Double;
    case QMetaType::Float:
        return Form::Float;
    case QMetaType::QString:
        return Form::Text;
    default:
        return type.isValid() && type.flags() & QMetaType::IsEnumeration && type.sizeOf() == 4 ? Form::Int
                                                                                               : Form::Other;
    }
}

const SignalArguments::Carried &SignalArguments::carriedBy(const QMetaObject *of, int index)
{
    const auto h = reinterpret_cast<std::uintptr_t>(of) >> 5;
    Carried &c = known_[(h + std::uintptr_t(index) * 31) & 255];
    if (c.of == of && c.index == index)
        return c;
    c = {of, index, 0, false, {}};
    const QMetaMethod m = QMetaObjectPrivate::signal(of, index);
    if (!m.isValid())
        return c;
    c.count = std::min(m.parameterCount(), mostArguments);
    for (int i = 0; i < c.count; ++i) {
        c.forms[std::size_t(i)] = formOf(m.parameterMetaType(i));
        c.readable = c.readable || c.forms[std::size_t(i)] != Form::Other;
    }
    return c;
}

template <class T> static T valueOf(const void *at)
{
    return *static_cast<const T *>(at);
}

void SignalArguments::add(std::string &to, Form form, const void *at, Say say)
{
    char number[32];
    switch (form) {
    case Form::Bool:
        to += valueOf<bool>(at) ? "true" : "false";
        return;
    case Form::Int:
        to += std::to_string(valueOf<int>(at));
        return;
    case Form::UInt:
        to += std::to_string(valueOf<unsigned>(at));
        return;
    case Form::Long:
        to += std::to_string(valueOf<qlonglong>(at));
        return;
    case Form::ULong:
        to += std::to_string(valueOf<qulonglong>(at));
        return;
    case Form::Double:
    case Form::Float:
        std::snprintf(number, sizeof number, "%.6g",
                      form == Form::Double ? valueOf<double>(at) : double(valueOf<float>(at)));
        to += number;
        return;
    case Form::Text: {
        if (say == Say::Nothing) {
            to += "…";
            return;
        }
        const QString &text = *static_cast<const QString *>(at);
        to += say == Say::Words
                  ? '"' + text.left(mostText).replace(u'\n', u' ').toStdString() +
                        (text.size() > mostText ? "…\"" : "\"")
                  : std::to_string(text.size()) + (text.size() == 1 ? " character" : " characters");
        return;
    }
    case Form::Other:
        to += "…";
    }
}

// A field whose characters are not shown, or its inner part.
static bool isSecret(const QObject *sender)
{
    for (const QObject *o : {sender, static_cast<const QObject *>(sender->parent())})
        if (o && o->inherits("QLineEdit") && o->property("echoMode").toInt() != 0)
            return true;
    return false;
}

// So many a second, and as many at once after a quiet while.
bool SignalArguments::mayBeTold()
{
    constexpr std::uint64_t each = 1'000'000, most = 200 * each; // ns
    const std::uint64_t time = now();
    earned_ = std::min(most, earned_ + (at_ ? time - at_ : 0));
    at_ = time;
    if (earned_ < each)
        return false;
    earned_ -= each;
    return true;
}

void SignalArguments::tell(ThreadLog *log, QObject *sender, int index, void **values)
{
    static const bool leftOut = isLeftOut("arguments");
    if (!textsMayBeTold || leftOut) // a number or a length is what somebody entered, too
        return;
    const Carried &c = carriedBy(sender->metaObject(), index);
    if (!c.readable || !values || !mayBeTold())
        return;
    const Say say = isSecret(sender) ? Say::Nothing : ownTexts ? Say::Words : Say::Length;
    std::string text;
    for (int i = 0; i < c.count; ++i) {
        if (i)
            text += ", ";
        values[i + 1] ? add(text, c.forms[std::size_t(i)], values[i + 1], say) : (void)(text += "…");
    }
    log->text(link::Kind::Fact, std::uint32_t(link::Fact::Arguments), text.data(), text.size());
}

} // namespace pipit::recorder
