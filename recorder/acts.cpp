#include "recorder/acts.h"

#include "link/control.h"
#include "recorder/control.h"
#include "recorder/shim/modules.h"

#include <QtCore/QJsonObject>

#include <dlfcn.h>
#include <string>

namespace pipit::recorder
{

const Acts *acts = nullptr;

// Beside the recorder's own.
static std::string handsLibrary()
{
    Dl_info self{};
    if (!dladdr(reinterpret_cast<const void *>(&loadActs), &self) || !self.dli_fname)
        return {};
    const std::string path = self.dli_fname;
    return path.substr(0, path.rfind('/') + 1) + "libpipit-hands.so";
}

void loadActs(bool captionsAllowed)
{
    pipit_module widgets{};
    if (!pipit_module_named("libQt6Widgets.so", &widgets))
        return;
    void *library = dlopen(handsLibrary().c_str(), RTLD_NOW | RTLD_LOCAL);
    const auto entry = library ? reinterpret_cast<ActsEntry>(dlsym(library, actsEntry)) : nullptr;
    if (entry)
        acts = entry(captionsAllowed, [] { notifyPipit(link::tells::posting, {}); });
    else
        notifyPipit(
            link::tells::limit,
            {{QStringLiteral("what"), QStringLiteral("hands")},
             {QStringLiteral("text"),
              QStringLiteral("No play can be performed, and widgets without a name have no caption: %1")
                  .arg(QString::fromLocal8Bit(dlerror()))}});
}

} // namespace pipit::recorder
