#include "core/build/word_meanings.h"

#include "core/build/project_code.h"

#include <QMap>
#include <QRegularExpression>
#include <QSet>

namespace pipit
{

namespace
{

// A field or function of one of the windows, or a function of a handler that stands alone:
// c:@S@FerryDeskBase@FI@boardButton.
bool isOurs(const QString &meaning, const QString &name, const QSet<QString> &classes)
{
    static const QRegularExpression member("^c:@S@(\\w+)@(?:FI|F|S)@(\\w+)"), alone("^c:@F@(\\w+)");
    if (const auto m = member.match(meaning); m.hasMatch())
        return classes.contains(m.captured(1)) && m.captured(2) == name;
    const auto m = alone.match(meaning);
    return m.hasMatch() && m.captured(1) == name;
}

} // namespace

bool canAskReader()
{
    return CodeReader::isThere();
}

Result<WordVerdicts> askReader(const ProjectPlace &place, const Project &project, UserFiles &files,
                               const QList<CodeWord> &words, const std::atomic<bool> &cancel,
                               std::chrono::seconds patience)
{
    WordVerdicts verdicts;
    QMap<QString, QList<CodeWord>> byFile;
    for (const CodeWord &w : words)
        byFile[w.file] << w;
    if (byFile.isEmpty())
        return verdicts;
    ProjectCode code(cancel, patience);
    if (auto ok = code.lay(place, project, files); !ok)
        return ok.problem();
    QSet<QString> classes;
    for (const WindowNode &w : project.windows)
        classes << w.className << w.className + "Base";
    for (auto it = byFile.constBegin(); it != byFile.constEnd(); ++it) {
        QList<int> offsets;
        for (const CodeWord &w : *it)
            offsets << int(w.offset);
        const auto meanings = code.meanings(it.key(), offsets);
        if (!meanings)
            return meanings.problem();
        for (qsizetype i = 0; i < it->size(); ++i) {
            const QStringList each = meanings->value(i);
            if (each.isEmpty())
                continue;
            bool ours = false;
            for (const QString &meaning : each)
                ours = ours || isOurs(meaning, it->at(i).name, classes);
            verdicts.insert({it.key(), it->at(i).offset}, ours);
        }
    }
    return verdicts;
}

Result<QStringList> completionsByReader(const ProjectPlace &place, const Project &project, UserFiles &files,
                                        const QString &file, qsizetype at, const std::atomic<bool> &cancel,
                                        std::chrono::seconds patience)
{
    ProjectCode code(cancel, patience);
    if (auto ok = code.lay(place, project, files); !ok)
        return ok.problem();
    const auto all = code.completions(file, int(at));
    if (!all)
        return all.problem();
    QStringList words;
    for (const CodeCompletion &c : *all)
        words << c.word;
    return words;
}

} // namespace pipit
