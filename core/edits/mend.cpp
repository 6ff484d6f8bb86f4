#include "core/edits/mend.h"

namespace pipit
{

Outcome mend(Workspace &w, const Finding &f)
{
    switch (f.mend) {
    case Finding::Mend::AddStub:
        return w.addStub(f.where);
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
    return Problem{"No one step mends this", {}, f.fix};
}

} // namespace pipit
