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
         "asks whether work has finished",
         "QFutureWatcher's finished or QThread's finished tells when it has"},
        {R"(\b(bytesAvailable|canReadLine)\s*\()", "asks a device for something to read",
         "its readyRead tells when there is"},
        {R"((\.|->)state\s*\(\s*\)\s*[!=]=\s*QProcess::)", "asks how a process is",
         "QProcess's stateChanged and finished tell"},
        {R"((\.|->)state\s*\(\s*\)\s*[!=]=\s*Q\w*Socket::)", "asks how a socket is",
         "its stateChanged tells"},
        {R"(\bclipboard\s*\(\s*\)\s*->\s*(text|mimeData|image|pixmap)\b)", "looks into the clipboard",
         "QClipboard's dataChanged tells"},
        {R"(\b(QFileInfo|QDir)\b|\bQFile::exists\s*\(|\blastModified\s*\(|\bentry(Info)?List\s*\()",
         "looks at a file or folder", "QFileSystemWatcher tells when one changes"},
        {R"(\bQFile\b[^;]*;)", "reads a file", "QFileSystemWatcher tells when one changes"},
    };
    for (const Poll &p : polls)
        if (code.contains(QRegularExpression(QLatin1String(p.calls))))
            return QStringLiteral("Its handler %1: %2, and needs no timer.")
                .arg(QLatin1String(p.what), QLatin1String(p.instead));
    return {};
}

} // namespace pipit
