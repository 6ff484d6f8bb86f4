#include "core/runs/python_stack.h"

#include <QDir>
#include <QFileInfo>

#include <algorithm>

namespace pipit
{

namespace
{

// The interpreter's own modules, and what is installed for it.
bool isInstalled(const QString &file)
{
    return file.startsWith('<') || file.contains("/lib/python3") || file.contains("/dist-packages/") ||
           file.contains("/site-packages/");
}

StackFrame frameOf(const PythonFrame &p, const QString &module, const QString &folder)
{
    StackFrame f;
    f.module = module;
    f.function = p.function.isEmpty() ? QStringLiteral("a function of Python") : p.function;
    f.file = p.file;
    if (const QString file = QDir(folder).filePath(p.file);
        QFileInfo(p.file).isRelative() && QFileInfo::exists(file))
        f.file = QDir::cleanPath(file);
    f.line = p.line;
    f.own = p.line > 0 && !p.file.isEmpty() && !isInstalled(f.file);
    return f;
}

} // namespace

std::vector<StackFrame> withPython(const std::vector<StackFrame> &native,
                                   const std::vector<PythonFrame> &python, const RunsCode &runsCode,
                                   const QString &folder)
{
    std::vector<StackFrame> all;
    auto next = python.begin();
    QString module;
    for (const StackFrame &f : native) {
        if (!runsCode(f)) {
            all.push_back(f);
            continue;
        }
        module = f.module;
        for (bool more = next != python.end(); more;) {
            more = !next->entry && next + 1 != python.end();
            all.push_back(frameOf(*next++, module, folder));
        }
    }
    for (; next != python.end(); ++next)
        all.push_back(frameOf(*next, module, folder));
    return all;
}

std::vector<StackFrame> withoutPython(std::vector<StackFrame> native, const RunsCode &runsCode,
                                      const QString &why)
{
    for (StackFrame &f : native)
        if (runsCode(f))
            f.function = QStringLiteral("Python code, function unknown: %1").arg(why);
    return native;
}

} // namespace pipit
