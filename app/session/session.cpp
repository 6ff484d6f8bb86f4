#include "app/session/session.h"

#include "core/catalog/catalog.h"
#include "core/trace/order.h"

#include <QFileInfo>

namespace pipit::app
{

Session::Session(QObject *parent) : QObject(parent)
{
    connect(&document, &Document::opened, this, [this] { selection.select({}); });
}

void Session::open(const QString &path)
{
    if (QFileInfo::exists(path + "/metadata") || RecordingFiles::isPacked(path))
        shown.openRecording(path);
    else
        document.open(path);
}

QString Session::title() const
{
    if (const auto run = shown.liveRun(); run && !runs.isOfProject())
        return QFileInfo(run->spec().program.program).fileName();
    return document.isOpen() ? document.project().name : QFileInfo(shown.recordingPath()).fileName();
}

// What an input on it is about: its signal, or else the event.
static QString signalOf(const QString &className, int event)
{
    const Catalog &c = Catalog::get();
    for (const char *signal :
         {"clicked", "triggered", "textEdited", "activated", "valueChanged", "itemClicked"})
        if (!c.signalsNamed(className, QLatin1String(signal)).isEmpty())
            return QLatin1String(signal);
    return eventWords(event);
}

std::pair<QString, QString> Session::lastInput() const
{
    const TraceModel *t = shown.trace();
    if (!t || !document.isOpen())
        return {};
    const auto classes = document.project().named();
    std::pair<QString, QString> found;
    constexpr int mostLooked = 100'000; // back from the end
    int looked = 0;
    newestFirst(*t, [&](const ThreadRows &rows, std::uint32_t row) {
        if (rows.kind(row) != SpanKind::Dispatch)
            return ++looked < mostLooked;
        const Span s = rows.at(row);
        if (isInputEvent(int(s.what)))
            if (const auto it = classes.constFind(t->object(s.object).name); it != classes.constEnd()) {
                found = {it.key(), signalOf(it->className, int(s.what))};
                return false;
            }
        return ++looked < mostLooked;
    });
    return found;
}

} // namespace pipit::app
