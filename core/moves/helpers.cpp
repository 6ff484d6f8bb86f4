#include "core/moves/helpers.h"

#include "core/userfiles/cpp_scan.h"

#include <QFileInfo>
#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

Outcome freeHelpers(const CodeUnit &unit, const QSet<int> &methods, const QString &className,
                    const QString &source, const QString &header, UserFiles &files, QList<FileEdit> &edits,
                    QStringList &sentences)
{
    if (methods.isEmpty())
        return Done{};
    auto declared = files.text(header);
    if (!declared)
        return declared.problem();
    const QString file = edits.isEmpty() ? QString() : edits.first().file;
    QString forward;
    QList<int> ordered(methods.begin(), methods.end());
    std::sort(ordered.begin(), ordered.end());
    for (const int m : std::as_const(ordered)) {
        const CodeDecl &d = unit.decls[m];
        const CodeFunction *f = unit.functionOf(m);
        const auto no = [&](const QString &why) {
            return Problem{d.name + " would have to be a plain function, but " + why,
                           {},
                           {},
                           lineAt(source, f ? f->name : 0)};
        };
        if (!f || QFileInfo(unit.files.value(f->file)).fileName() != file)
            return no("it stands in another file");
        const QRegularExpression form("^[^\\n;{}#]*\\b" + d.name + "\\s*\\(([^;{}]*)\\)[^;{}()]*;[^\\n]*\\n",
                                      QRegularExpression::MultilineOption);
        auto it = form.globalMatch(*declared);
        if (!it.hasNext())
            return no("its declaration was not found in " + header);
        const auto where = it.next();
        if (it.hasNext() || where.captured(1).contains('='))
            return no("its declaration in " + header + " is not a plain one");
        QString head = source.mid(f->begin, f->body.begin - f->begin);
        head.remove(QRegularExpression("\\b" + className + "\\s*::\\s*(?=" + d.name + "\\b)"));
        head.remove(QRegularExpression("\\)\\s*const\\b[^)]*$"));
        if (head.count('(') > head.count(')'))
            head += ')';
        head = "static " + head.trimmed();
        edits.append({file, f->begin, source.mid(f->begin, f->body.begin - f->begin), head + '\n'});
        edits.append({header, where.capturedStart(), where.captured(), {}});
        forward += head + ";\n";
        sentences << d.name + " uses nothing of the window and becomes a plain function.";
    }
    const qsizetype include =
        source.lastIndexOf(QRegularExpression("^#include[^\\n]*\\n", QRegularExpression::MultilineOption));
    const qsizetype at = include < 0 ? 0 : source.indexOf('\n', include) + 1;
    edits.append({file, at, {}, '\n' + forward});
    return Done{};
}

} // namespace pipit
