#include "core/build/project_code.h"

#include "core/build/compiler.h"
#include "core/build/scratch.h"

namespace pipit
{

Outcome ProjectCode::lay(const ProjectPlace &place, const Project &project, UserFiles &files)
{
    folder_ = std::make_unique<QTemporaryDir>();
    if (!folder_->isValid())
        return Problem{"There is no room for a copy of the code", folder_->errorString(),
                       "Free some space in /tmp"};
    if (auto ok = layOut(folder(), place, project, files); !ok)
        return ok;
    // A header that clang++ compiled for building is read in a twentieth of the time.
    const QStringList headers = toolkitHeaders(project, true);
    const bool quick = clang() && isPrecompiled(*clang(), headers);
    const Compiler &c = quick ? *clang() : gcc();
    arguments_ = c.flags();
    arguments_.removeAll("-fdiagnostics-format=json"); // of another compiler
    arguments_.removeAll("-Winvalid-pch");
    if (quick)
        arguments_ += c.beginWith(precompiledPath(c, headers));
    arguments_ += {"-I", folder()};
    return Done{};
}

CodeQuestion ProjectCode::questionFor(const QString &file) const
{
    CodeQuestion q;
    q.file = path(file);
    q.arguments = arguments_;
    if (file.endsWith(".h"))
        q.arguments += {"-x", "c++-header"};
    q.own = {folder() + '/'};
    return q;
}

Result<CodeUnit> ProjectCode::read(const QString &file, const QStringList &functions)
{
    CodeQuestion q = questionFor(file);
    q.functions = functions;
    return reader_.read(q);
}

Result<QList<QStringList>> ProjectCode::meanings(const QString &file, const QList<int> &offsets)
{
    CodeQuestion q = questionFor(file);
    q.words = offsets;
    return reader_.meanings(q);
}

Result<QList<CodeCompletion>> ProjectCode::completions(const QString &file, int at)
{
    CodeQuestion q = questionFor(file);
    q.at = at;
    return reader_.completions(q);
}

} // namespace pipit
