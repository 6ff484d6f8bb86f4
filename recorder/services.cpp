// What the program's own code uses outside of its windows: settings, the clipboard, the desktop, sounds and
// notices. Each is told in the span in which it was done.
//
// Threads: any.
#include "link/facts.h"
#include "recorder/callers.h"
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QAnyStringView>
#include <QtCore/QSettings>
#include <QtCore/QUrl>

#include <array>
#include <cstring>

namespace pipit::recorder
{

namespace
{

using Word = std::uintptr_t;
using Function = Word (*)(Word, Word, Word, Word, Word);

enum class Names { Nothing, View, Text, Address }; // how the call says what it uses

struct Service {
    StubId stub;
    const char *what;
    Names names;
    Function ours;
};
extern const std::array<Service, 13> services;

QString inGroup(Word settings, const QString &key)
{
    const QString group = reinterpret_cast<const QSettings *>(settings)->group();
    return group.isEmpty() ? key : group + '/' + key;
}

QString nameOf(Names names, Word first, Word second, Word third)
{
    switch (names) {
    case Names::View: { // in two words, as the system's rules for calls have it
        const Word words[] = {second, third};
        QAnyStringView view;
        static_assert(sizeof view == sizeof words);
        std::memcpy(static_cast<void *>(&view), words, sizeof words);
        return inGroup(first, view.toString());
    }
    case Names::Text:
        return inGroup(first, *reinterpret_cast<const QString *>(second));
    case Names::Address:
        return reinterpret_cast<const QUrl *>(first)->scheme();
    case Names::Nothing:
        break;
    }
    return {};
}

void tellUsed(ThreadLog *log, const Service &service, std::uint64_t place, const QString &name)
{
    QByteArray text = service.what;
    text += '\t' + (service.names == Names::Address ? name.left(20).toUtf8() : shortened(name));
    if (place)
        log->code(place);
    log->text(link::Kind::Fact, std::uint32_t(link::Fact::Used), text.constData(), std::size_t(text.size()),
              0, place);
}

template <int n> Word hook(Word a, Word b, Word c, Word d, Word e)
{
    const Service &service = services[n];
    static const auto real = reinterpret_cast<Function>(realFunction(service.stub));
    static const void *const stub = stubFunction(service.stub);
    auto place = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    ThreadLog *log = ThreadLog::current();
    const Whose whose = log ? whoCalled(log, place, stub) : Whose::Toolkits;
    // The toolkit's own code uses them as well: what is not known to be own code's is told in a handler only.
    if (whose == Whose::Own || (whose == Whose::Unknown && log->inHandler()))
        tellUsed(log, service, place, nameOf(service.names, a, b, c));
    return real(a, b, c, d, e);
}

const std::array<Service, 13> services{{
    {StubSettingsSet, "setting", Names::View, &hook<0>},
    {StubSettingsSetText, "setting", Names::Text, &hook<1>},
    {StubSettingsRemove, "no setting", Names::View, &hook<2>},
    {StubSettingsRemoveText, "no setting", Names::Text, &hook<3>},
    {StubClipboardText, "clipboard", Names::Nothing, &hook<4>},
    {StubClipboardData, "clipboard", Names::Nothing, &hook<5>},
    {StubClipboardImage, "clipboard", Names::Nothing, &hook<6>},
    {StubClipboardPixmap, "clipboard", Names::Nothing, &hook<7>},
    {StubOpenAddress, "desktop", Names::Address, &hook<8>},
    {StubBeep, "sound", Names::Nothing, &hook<9>},
    {StubAlert, "attention", Names::Nothing, &hook<10>},
    {StubTrayMessage, "notice", Names::Nothing, &hook<11>},
    {StubTrayMessageIcon, "notice", Names::Nothing, &hook<12>},
}};

} // namespace

void installServices()
{
    for (const Service &s : services)
        setStub(s.stub, reinterpret_cast<void *>(s.ours));
}

} // namespace pipit::recorder
