// What the program does to widgets and timers: each call of a function that sets something is told, with the
// place that it was called from. All of these take an object and at most two words.
#include "recorder/callers.h"
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QObject>

#include <array>

namespace pipit::recorder
{

namespace
{

using Word = std::uintptr_t;
using Function = Word (*)(void *, Word, Word);

enum class Given { Nothing, Switch, Number, Value, Caption, Contents }; // Value: a number that it shows

struct Touch {
    StubId stub;
    const char *what;
    Given given;
    Function ours;
};
extern const std::array<Touch, 33> touches;

QByteArray valueOf(Given given, Word value)
{
    switch (given) {
    case Given::Switch:
        return (value & 1) ? "\ttrue" : "\tfalse";
    case Given::Value:
        if (!textsMayBeTold)
            return {};
        [[fallthrough]];
    case Given::Number:
        return '\t' + QByteArray::number(int(value));
    case Given::Caption: // what may be told of it is the caller's to say
        return '\t' + shortened(*reinterpret_cast<const QString *>(value));
    case Given::Nothing:
    case Given::Contents:
        break;
    }
    return {};
}

template <int n> Word hook(void *object, Word a, Word b)
{
    const Touch &touch = touches[n];
    static const auto real = reinterpret_cast<Function>(realFunction(touch.stub));
    static const void *const stub = stubFunction(touch.stub);
    auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    ThreadLog *log = object ? ThreadLog::current() : nullptr;
    if (log && whoCalled(log, place, stub) != Whose::Toolkits)
        tellTouched(static_cast<const QObject *>(object), place, touch.what + valueOf(touch.given, a));
    return real(object, a, b);
}

const std::array<Touch, 33> touches{{
    {StubLabelText, "text", Given::Caption, &hook<0>},
    {StubButtonText, "text", Given::Caption, &hook<1>},
    {StubButtonChecked, "checked", Given::Switch, &hook<2>},
    {StubLineText, "text", Given::Contents, &hook<3>},
    {StubLineClear, "text", Given::Nothing, &hook<4>},
    {StubBarValue, "value", Given::Value, &hook<5>},
    {StubSliderValue, "value", Given::Value, &hook<6>},
    {StubSpinValue, "value", Given::Value, &hook<7>},
    {StubStatusText, "text", Given::Caption, &hook<8>},
    {StubComboIndex, "index", Given::Value, &hook<9>},
    {StubPlainText, "text", Given::Contents, &hook<10>},
    {StubPlainAppend, "text", Given::Contents, &hook<11>},
    {StubEditPlainText, "text", Given::Contents, &hook<12>},
    {StubEditText, "text", Given::Contents, &hook<13>},
    {StubEditAppend, "text", Given::Contents, &hook<14>},
    {StubGroupTitle, "title", Given::Caption, &hook<15>},
    {StubWindowTitle, "windowTitle", Given::Caption, &hook<16>},
    {StubWidgetEnabled, "enabled", Given::Switch, &hook<17>},
    {StubWidgetDisabled, "disabled", Given::Switch, &hook<18>},
    {StubWidgetHide, "hidden", Given::Nothing, &hook<19>},
    {StubWidgetShow, "shown", Given::Nothing, &hook<20>},
    {StubWidgetFocus, "focus", Given::Number, &hook<21>},
    {StubWidgetUpdates, "updatesEnabled", Given::Switch, &hook<22>},
    {StubWidgetRepaint, "repaint", Given::Nothing, &hook<23>},
    {StubWidgetGrabMouse, "grabMouse", Given::Nothing, &hook<24>},
    {StubWidgetGrabKeyboard, "grabKeyboard", Given::Nothing, &hook<25>},
    {StubActionEnabled, "enabled", Given::Switch, &hook<26>},
    {StubActionChecked, "checked", Given::Switch, &hook<27>},
    {StubTimerStart, "start", Given::Nothing, &hook<28>},
    {StubTimerStartFor, "start", Given::Number, &hook<29>},
    {StubTimerStop, "stop", Given::Nothing, &hook<30>},
    {StubBlockSignals, "blockSignals", Given::Switch, &hook<31>},
    {StubDeleteLater, "deleteLater", Given::Nothing, &hook<32>},
}};

} // namespace

void installTouches()
{
    for (const Touch &t : touches)
        setStub(t.stub, reinterpret_cast<void *>(t.ours));
}

} // namespace pipit::recorder
