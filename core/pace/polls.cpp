#include "core/pace/polls.h"

#include <QRegularExpression>

namespace pipit
{

QString notificationInstead(const QString &code)
{
    struct Poll {
        const char *calls, *what, *instead;
    };
    static const Poll polls[] = {
        {R"(\b(QFutureWatcher|QFuture)\b[^;]*\bisFinished\s*\(|\.isFinished\s*\()",
         "polls whether work has finished", "QFutureWatcher::finished or QThread::finished signals it"},
        {R"(\b(bytesAvailable|canReadLine)\s*\()", "polls a device for data",
         "its readyRead signals new data"},
        {R"((\.|->)state\s*\(\s*\)\s*[!=]=\s*QProcess::)", "polls the state of a process",
         "QProcess::stateChanged and finished signal it"},
        {R"((\.|->)state\s*\(\s*\)\s*[!=]=\s*Q\w*Socket::)", "polls the state of a socket",
         "its stateChanged signals it"},
        {R"(\bclipboard\s*\(\s*\)\s*->\s*(text|mimeData|image|pixmap)\b)", "polls the clipboard",
         "QClipboard::dataChanged signals it"},
        {R"(\b(QFileInfo|QDir)\b|\bQFile::exists\s*\(|\blastModified\s*\(|\bentry(Info)?List\s*\()",
         "polls a file or folder", "QFileSystemWatcher signals changes"},
        {R"(\bQFile\b[^;]*;)", "reads a file", "QFileSystemWatcher signals changes"},
    };
    for (const Poll &p : polls)
        if (code.contains(QRegularExpression(QLatin1String(p.calls))))
            return QStringLiteral("Its handler %1; %2, so no timer is needed.")
                .arg(QLatin1String(p.what), QLatin1String(p.instead));
    return {};
}

} // namespace pipit
