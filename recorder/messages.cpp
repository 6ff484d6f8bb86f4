// Messages of qDebug, qInfo, qWarning, qCritical and qFatal, recorded where they happen and then
// passed on to the program's own message handler, or to the toolkit's.
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QByteArray>
#include <QtCore/QLoggingCategory>
#include <QtCore/QString>

#include <algorithm>
#include <cctype>

namespace pipit::recorder
{

namespace
{

using Install = QtMessageHandler (*)(QtMessageHandler);
std::atomic<QtMessageHandler> next{nullptr};

// What the toolkit says begins with the function that says it, and names classes: "QObject::connect: …".
bool isOfToolkit(const QByteArray &text)
{
    const qsizetype end = text.indexOf(':');
    return end > 1 && text[0] == 'Q' && text[1] >= 'A' && text[1] <= 'Z' &&
           std::all_of(text.begin(), text.begin() + end, [](char c) { return std::isalnum(c) || c == '_'; });
}

void onMessage(QtMsgType type, const QMessageLogContext &context, const QString &text)
{
    if (ThreadLog *log = ThreadLog::current()) {
        QByteArray bytes = text.toUtf8();
        if (!textsMayBeTold && !isOfToolkit(bytes))
            bytes = "(masked)"; // a program's own may hold anything
        log->text(link::Kind::Message, std::uint32_t(type), bytes.constData(), std::size_t(bytes.size()));
    }
    if (QtMessageHandler handler = next.load())
        handler(type, context, text);
}

QtMessageHandler hookInstall(QtMessageHandler handler)
{
    static const auto real = reinterpret_cast<Install>(realFunction(StubInstallMessageHandler));
    static std::atomic<bool> own{false};
    static QtMessageHandler byDefault = real(&onMessage);
    if (!own.exchange(true))
        next = byDefault;
    const QtMessageHandler before = next.exchange(handler ? handler : byDefault);
    return before;
}

} // namespace

void installMessages()
{
    const auto real = reinterpret_cast<Install>(realFunction(StubInstallMessageHandler));
    const QtMessageHandler before = real(nullptr); // what the program set up before, if anything
    hookInstall(before);
    setStub(StubInstallMessageHandler, reinterpret_cast<void *>(&hookInstall));
}

} // namespace pipit::recorder
