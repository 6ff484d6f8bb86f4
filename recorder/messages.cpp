// Messages of qDebug, qInfo, qWarning, qCritical and qFatal, recorded where they happen and then
// passed on to the program's own message handler, or to the tool-kit's.
#include "recorder/hooks.h"
#include "recorder/thread_log.h"

#include <QtCore/QByteArray>
#include <QtCore/QLoggingCategory>
#include <QtCore/QString>

namespace pipit::recorder
{

namespace
{

using Install = QtMessageHandler (*)(QtMessageHandler);
std::atomic<QtMessageHandler> next{nullptr};

void onMessage(QtMsgType type, const QMessageLogContext &context, const QString &text)
{
    if (ThreadLog *log = ThreadLog::current()) {
        const QByteArray bytes = text.toUtf8();
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
