#include "core/build/scratch.h"

#include "core/base/files.h"

#include <QDir>

namespace pipit
{

Outcome layOut(const QString &folder, const ProjectPlace &place, const Project &project, UserFiles &files)
{
    auto generated = pipit::generate(project, place, files);
    if (!generated)
        return generated.problem();
    if (auto ok = makeFolder(folder + "/generated"); !ok)
        return ok;
    for (const GeneratedFile &g : generated->files)
        if (auto ok = writeFile(folder + '/' + g.name, g.bytes); !ok)
            return ok;
    for (const QString &f : QDir(place.folder).entryList({"*.h", "*.cpp"}, QDir::Files)) {
        auto text = files.text(f);
        if (!text)
            return text.problem();
        if (auto ok = writeFile(folder + '/' + f, text->toUtf8()); !ok)
            return ok;
    }
    return Done{};
}

} // namespace pipit
