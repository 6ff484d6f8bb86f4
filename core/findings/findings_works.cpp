// What works in the background have to themselves, and who uses it on the loop all the same.
#include "core/findings/checker.h"
#include "core/userfiles/owned_members.h"

namespace pipit
{

void Checker::works()
{
    for (const Handler &h : p_.handlers) {
        if (h.shape != Shape::Background)
            continue;
        const Definition *work = nullptr;
        const QString code = code_.code.value(h.file);
        const QList<Definition> here = code_.definitions.value(h.file);
        for (const Definition &d : here)
            if (d.className.isEmpty() && d.name == h.function(Part::Work))
                work = &d;
        const QSet<QString> owned =
            work ? membersOwnedIn(code.mid(work->bodyOpen, work->bodyClose - work->bodyOpen))
                 : QSet<QString>();
        for (const QString &member : owned)
            usedBesides(h, member);
    }
}

// Functions of the window's that use a member which the work of one of its handlers has.
void Checker::usedBesides(const Handler &h, const QString &member)
{
    const QString window = p_.windowFor(h).className;
    for (auto it = code_.definitions.constBegin(); it != code_.definitions.constEnd(); ++it)
        for (const Definition &d : *it) {
            const bool constructs = d.name == window || d.name == '~' + window;
            if (d.className != window || constructs)
                continue;
            bool shows = false, fellow = false;
            for (const Handler &other : p_.handlers)
                for (const HandlerFunction &f :
                     other.shape == Shape::Background ? other.functions() : QList<HandlerFunction>())
                    if (f.name == d.name) {
                        shows = f.part == Part::Show || f.part == Part::Add;
                        fellow = other.name == h.name || (h.isQueued() && other.queue == h.queue);
                    }
            const QString code = code_.code.value(it.key()).mid(d.bodyOpen, d.bodyClose - d.bodyOpen);
            const bool said = code.contains('&' + member) && !fellow; // by a work of another queue
            if (!usesMember(code, member, shows) && !said)
                continue;
            say("used-on-both-threads", Severity::Warning, h.name,
                QStringLiteral("%1 (%2:%3) uses %4, which the work of %5 owns on its thread.")
                    .arg(d.name, it.key())
                    .arg(d.line)
                    .arg(member, h.name),
                said ? QStringLiteral("Put both handlers into one queue.")
                     : QStringLiteral("Move this code into the work, or put both handlers into one queue."),
                h.kept.line);
        }
}

} // namespace pipit
