#include "core/edits/mend.h"

#include "core/userfiles/cpp_scan.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

// The name in the head of a function that nothing declares: "FerryDesk::bordPassenger" becomes
// "FerryDesk::boardPassenger", and its body stays.
Outcome renameBody(Workspace &w, const QString &file, const QString &from, const QString &to)
{
    const auto text = w.files().text(file);
    if (!text)
        return text.problem();
    const QString owner = from.section("::", 0, -2), name = from.section("::", -1);
    const auto d = definitionOf(*text, owner, name);
    const QRegularExpression head("\\b" + QRegularExpression::escape(from).replace("::", "\\s*::\\s*") +
                                  "(?=\\s*\\()");
    const auto at = d ? head.match(*text, d->headBegin) : QRegularExpressionMatch();
    if (!at.hasMatch() || at.capturedStart() > d->bodyOpen)
        return Problem{from + " is not defined there any more", file, "Check the findings again"};
    Edit e{"rename " + from + " to " + to, {}, w.project(), {}};
    e.files.append({file, at.capturedStart(), at.captured(), to});
    return w.apply(std::move(e));
}

} // namespace

Outcome mend(Workspace &w, const Finding &f)
{
    switch (f.mend) {
    case Finding::Mend::AddStub:
        return w.addStub(f.where);
    case Finding::Mend::RenameBody:
        return renameBody(w, f.with.value(0), f.with.value(1), f.with.value(2));
    case Finding::Mend::RemoveConnection:
        return w.disconnect(f.where);
    case Finding::Mend::SetProperty:
        if (f.with.size() > 3) { // several at once
            QList<SetRequest> each;
            for (const QString &name : f.with.mid(2))
                each.append({name, f.with[0], f.with[1]});
            auto set = w.applySettings(each);
            return set ? Outcome(Done{}) : Outcome(set.problem());
        }
        return w.setProperty(f.where, f.with.value(0), f.with.value(1));
    case Finding::Mend::Retarget:
        return w.retarget(f.where, f.with.value(0));
    case Finding::Mend::None:
        break;
    }
    return Problem{"There is no one-step fix for this", {}, f.fix};
}

} // namespace pipit
