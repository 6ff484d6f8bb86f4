#include "core/moves/back.h"

#include "core/codegen/stubs.h"
#include "core/userfiles/cpp_scan.h"

#include <algorithm>

namespace pipit
{

Result<Move> planBack(Move move, const Handler &old, const QString &text, const QString &className)
{
    const Handler *h = move.edit.after.handler(old.name);
    QString kept;
    for (const HandlerFunction &f : old.functions()) {
        const auto d = definitionOf(text, f.isFree() ? QString() : className, f.name);
        if (!d)
            continue;
        const QString whole = text.mid(d->begin, d->bodyClose + 1 - d->begin);
        kept += (kept.isEmpty() ? "" : "\n\n") + whole;
        move.edit.files.append({old.file, d->begin, whole, {}});
    }
    move.oldText = kept;
    move.newText = Stubs(move.edit.after).text(*h).trimmed();
    if (!kept.isEmpty()) {
        move.sentences << QStringLiteral("The old functions stay in %1, switched off, for you to take from.")
                              .arg(old.file);
        move.newText +=
            QStringLiteral("\n\n#if 0 // %1 as it was %2. Take what you need, then delete this.\n")
                .arg(old.name, shapeSentence(old.shape)) +
            kept + "\n#endif";
    }
    if (move.edit.files.isEmpty()) {
        move.edit.files.append({old.file, text.size(), {}, '\n' + move.newText + '\n'});
    } else {
        move.edit.files.first().inserted = move.newText;
        std::sort(move.edit.files.begin(), move.edit.files.end(),
                  [](const FileEdit &a, const FileEdit &b) { return a.offset > b.offset; });
    }
    return move;
}

} // namespace pipit
