#include "app/session/session.h"

#include "core/catalog/catalog.h"

#include <QFileInfo>

namespace pipit::app
{

Session::Session(QObject *parent) : QObject(parent)
{
    connect(&document, &Document::opened, this, [this] { selection.select({}); });
}

void Session::open(const QString &path)
{
    if (QFileInfo::exists(path + "/metadata"))
        shown.openRecording(path);
    else
        document.open(path);
}

QString Session::title() const
{
    if (const auto run = shown.liveRun(); run && !runs.isOfProject())
        return QFileInfo(run->spec().program.program).fileName();
    return document.isOpen() ? document.project().name : QFileInfo(shown.recordingFolder()).fileName();
}

std::pair<QString, QString> Session::lastInput() const
{
    const TraceModel *t = shown.trace();
    if (!t || !document.isOpen())
        return {};
    const auto classes = document.project().named();
    for (std::uint32_t i = t->spanCount(); i-- > 0;) {
        const Span &s = t->span(i);
        if (s.kind != SpanKind::Dispatch || !isInputEvent(s.what))
            continue;
        const QString name = t->object(s.object).name;
        const auto it = classes.constFind(name);
        if (it == classes.constEnd())
            continue;
        const Catalog &c = Catalog::get();
        for (const char *signal :
             {"clicked", "triggered", "textEdited", "activated", "valueChanged", "itemClicked"})
            if (!c.signalsNamed(it->className, QLatin1String(signal)).isEmpty())
                return {name, QLatin1String(signal)};
        return {name, eventWords(s.what)};
    }
    return {};
}

} // namespace pipit::app
