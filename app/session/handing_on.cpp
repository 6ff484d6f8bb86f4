#include "app/session/handing_on.h"

#include "app/session/background.h"
#include "core/base/duration_text.h"
#include "core/exports/exports.h"

namespace pipit::app
{

HandingOn::HandingOn(Messages *messages, ShownTrace *shown, QObject *parent)
    : QObject(parent), messages_(messages), shown_(shown)
{
}

QString HandingOn::hindrance() const
{
    if (working_)
        return "A file is being written. Wait until it is finished.";
    if (!shown_->trace())
        return "Run a program first, or open a recording.";
    if (shown_->recordedAt().isEmpty())
        return shown_->liveRun() ? "Stop the program first." : "The recording is still being read.";
    return {};
}

void HandingOn::start(const QString &what, Work work)
{
    if (const QString why = hindrance(); !why.isEmpty()) {
        Q_EMIT messages_->problem(why);
        return;
    }
    working_ = true;
    Q_EMIT messages_->progress(what);
    inBackground(
        this,
        [path = shown_->recordedAt(), recording = shown_->recording(),
         work = std::move(work)]() -> Result<QString> {
            if (recording)
                return work(*recording);
            auto read = Recording::open(path);
            return read ? work(**read) : Result<QString>(read.problem());
        },
        [this](const Result<QString> &said) {
            working_ = false;
            Q_EMIT messages_->progress({});
            if (said)
                Q_EMIT messages_->note(*said);
            else
                Q_EMIT messages_->problem(said.problem().text());
            Q_EMIT done(bool(said));
        });
}

void HandingOn::pack(const QString &to, bool withSources)
{
    start("Packing the recording", [to, withSources](Recording &r) -> Result<QString> {
        const PackedExtras extras = extrasOf(r, withSources);
        if (auto ok = packRecording(*r.files, extras.files, to); !ok)
            return ok.problem();
        QString said = QStringLiteral("Packed into %1, with %2 of source.")
                           .arg(to, counted(extras.sources.lineCount(), "line", "lines"));
        if (!extras.leftOut.isEmpty())
            said += QStringLiteral(" Left out, because changed since the run began: %1.")
                        .arg(extras.leftOut.join(", "));
        return said;
    });
}

void HandingOn::write(const QString &format, const QString &to)
{
    start("Writing " + to, [format, to](Recording &r) -> Result<QString> {
        if (auto ok = exportTo(r, format, to); !ok)
            return ok.problem();
        return "Written: " + to;
    });
}

} // namespace pipit::app
