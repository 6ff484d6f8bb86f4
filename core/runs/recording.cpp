#include "core/runs/recording.h"

#include "core/base/files.h"

#include <QJsonDocument>

namespace pipit
{

Result<std::unique_ptr<Recording>> Recording::open(const QString &folder, const std::atomic<bool> *stop)
{
    auto r = std::make_unique<Recording>();
    r->folder = folder;
    auto report = readRecording(folder, r->trace, stop);
    if (!report)
        return report.problem();
    r->report = *report;
    // A recording cut short has none of these; what it has is shown all the same.
    if (auto bytes = readFile(folder + "/pipit/info.json"))
        r->info = RunInfo::fromJson(QJsonDocument::fromJson(*bytes).object());
    else
        r->report.notes << "The recording was cut short: it does not say how the run ended.";
    if (auto map = WiringMap::load(folder + "/pipit/map.json"))
        r->handlers.setMap(*map);
    (void)r->handlers.load(folder + "/pipit/handlers.json");
    return r;
}

} // namespace pipit
