#include "core/moves/polled.h"

#include "core/moves/library.h"
#include "core/userfiles/cpp_scan.h"

#include <algorithm>

namespace pipit
{

namespace
{

class Polling
{
public:
    explicit Polling(const PolledQuestion &q) : q_(q), unit_(q.unit) {}

    Polled look()
    {
        q_.function.body.each([&](const CodeNode &n) {
            source(n);
            return true;
        });
        helpers();
        readsInTurn(q_.function.body, false);
        if (out_.isSomething())
            judge();
        std::stable_sort(out_.against.begin(), out_.against.end(),
                         [](const auto &a, const auto &b) { return a.at < b.at; });
        return out_;
    }

private:
    QString nameOf(int decl) const
    {
        const CodeDecl *d = unit_.decl(decl);
        return d ? d->name : QString();
    }
    QString textOf(const CodeNode &n) const
    {
        return n.begin < 0 ? QString() : q_.text.mid(n.begin, n.end - n.begin);
    }
    void against(int at, const QString &reason)
    {
        for (const auto &a : std::as_const(out_.against))
            if (a.at == at && a.reason == reason)
                return;
        out_.against.append({at, reason});
    }

    // What it looks at: a file or folder by a path, or a device.
    void source(const CodeNode &n)
    {
        const CodeDecl *d = unit_.decl(n.decl);
        if (!d)
            return;
        const CodeRecord *r = unit_.record(d->record);
        if (n.is("variable")) {
            const CodeRecord *of = unit_.recordOfType(d->type);
            if (of && isPlace(of->name) && !n.children.isEmpty() && !n.passes.isEmpty())
                place(n.children.first(), of->name, n.begin);
            else if (of && isPlace(of->name) && n.children.size() == 1)
                place(argumentOf(n.children.first()), of->name, n.begin);
        } else if (n.is("construct") && r && isPlace(r->name) && !n.children.isEmpty()) {
            place(n.children.first(), r->name, n.begin);
        } else if (n.is("call") && r && isPlace(r->name) && d->name == "exists" && !n.children.isEmpty()) {
            place(lastOf(n), r->name, n.begin);
        } else if (n.is("method")) {
            device(n, *d);
        }
    }

    static bool isPlace(const QString &cls) { return cls == "QFile" || cls == "QFileInfo" || cls == "QDir"; }
    static const CodeNode &argumentOf(const CodeNode &n)
    {
        return (n.is("construct") || n.is("cast") || n.is("list")) && n.children.size() == 1
                   ? argumentOf(n.children.first())
                   : n;
    }
    static const CodeNode &lastOf(const CodeNode &n) { return n.children.last(); }

    void place(const CodeNode &given, const QString &cls, int at)
    {
        const QString path = pathOf(given, 0);
        if (path.isEmpty())
            return against(at, "the file is known only at run time");
        if (path.startsWith("\"/proc/") || path.startsWith("\"/sys/"))
            return against(at, "files in " + path.mid(1).section('/', 0, 1) + " send no notifications");
        const bool folder = cls == "QDir";
        for (const Polled::Place &p : std::as_const(out_.places))
            if (p.path == path && p.folder == folder)
                return;
        Polled::Place made{path, folder};
        nameIn(argumentOf(given), made);
        out_.places.append(made);
    }

    // Of a variable that is there whenever the handler runs.
    void nameIn(const CodeNode &given, Polled::Place &place) const
    {
        const CodeDecl *d = given.is("name") ? unit_.decl(given.decl) : nullptr;
        if (!d || d->kind != CodeDecl::Local)
            return;
        for (const CodeNode &s : q_.function.body.children) {
            bool leaves = false;
            s.each([&](const CodeNode &n) {
                leaves = leaves || n.is("return");
                return !leaves;
            });
            if (leaves)
                return;
            if (!s.is("declare") || s.children.size() != 1 || s.children.first().decl != given.decl)
                continue;
            place.name = d->name;
            place.declaredBy = s.end;
            return;
        }
    }

    // As it can stand anywhere in the handler: nothing of it changes.
    QString pathOf(const CodeNode &n, int depth) const
    {
        const CodeDecl *d = unit_.decl(n.decl);
        if (n.is("name") && d && d->kind == CodeDecl::Local && depth < 4) {
            const CodeNode *made = nullptr;
            bool written = false;
            q_.function.body.each([&](const CodeNode &v) {
                if (v.is("variable") && v.decl == n.decl && v.children.size() == 1)
                    made = &v.children.first();
                else if (!v.is("variable") && !v.is("block"))
                    written = written || ((v.is("assign") || v.is("update")) && !v.children.isEmpty() &&
                                          Effects::root(v.children.first()) == n.decl);
                return true;
            });
            return made && !written ? pathOf(*made, depth + 1) : QString();
        }
        if (!q_.effects.locals(n).reads.isEmpty())
            return {};
        for (const Effect &e : q_.effects.of(n))
            if (e.kind != Effect::ReadsShared || q_.changed.contains(nameOf(e.decl)) || !e.through.isEmpty())
                return {};
        return textOf(n).trimmed();
    }

    void device(const CodeNode &n, const CodeDecl &d)
    {
        const CodeNode *object = n.child("object");
        const QString name = object ? nameOf(Effects::root(*object)) : QString();
        const QString cls = name.isEmpty() ? QString() : q_.project.classOf(name);
        QString signal;
        if (cls == "QProcess")
            signal = d.name == "bytesAvailable" || d.name == "canReadLine"
                         ? QString("readyReadStandardOutput")
                     : d.name == "state" ? QString("stateChanged")
                                         : QString();
        else if (cls == "QLocalSocket")
            signal = d.name == "bytesAvailable" || d.name == "canReadLine" ? QString("readyRead")
                     : d.name == "state"                                   ? QString("stateChanged")
                                                                           : QString();
        else if (cls == "QFutureWatcherBase" && (d.name == "isFinished" || d.name == "isRunning"))
            signal = "finished";
        if (signal.isEmpty())
            return;
        devices_.insert(Effects::root(*object));
        if (!out_.senders.contains({name, signal}))
            out_.senders.append({name, signal});
    }

    // What its helpers look at is not followed: their paths may be anything.
    void helpers()
    {
        q_.function.body.each([&](const CodeNode &n) {
            const CodeFunction *f = n.is("method") || n.is("call") ? unit_.functionOf(n.decl) : nullptr;
            if (f)
                f->body.each([&](const CodeNode &inner) {
                    const CodeDecl *d = unit_.decl(inner.decl);
                    const CodeRecord *r = d ? unit_.record(inner.is("variable") ? -1 : d->record) : nullptr;
                    const CodeRecord *of = d && inner.is("variable") ? unit_.recordOfType(d->type) : r;
                    if (of && isPlace(of->name))
                        against(n.begin, nameOf(n.decl) + " reads files, too, which is not analysed");
                    return true;
                });
            return true;
        });
    }

    // Who is told once and reads a line leaves the rest where it is.
    void readsInTurn(const CodeNode &n, bool again)
    {
        const CodeDecl *d = n.is("method") ? unit_.decl(n.decl) : nullptr;
        const CodeNode *object = n.is("method") ? n.child("object") : nullptr;
        if (d && object && devices_.contains(Effects::root(*object)) && d->name.startsWith("read") &&
            !d->name.startsWith("readAll") && !again)
            against(n.begin, d->name + " reads a part only: after one notification the rest would stay");
        for (const CodeNode &c : n.children)
            readsInTurn(c, again || n.isLoop());
    }

    // From here on only what has changed is dealt with.
    bool leavesIfSame(const CodeNode &s) const
    {
        const CodeNode *then = s.is("if") ? s.child("then") : nullptr;
        const CodeNode *condition = s.is("if") ? s.child("condition") : nullptr;
        if (!then || !condition || s.child("else") || !compares(*condition, "=="))
            return false;
        const CodeNode *last = then;
        while (last->is("block") && last->children.size() == 1)
            last = &last->children.first();
        return last->is("return");
    }
    bool onlyIfOther(const CodeNode &s) const
    {
        const CodeNode *condition = s.is("if") ? s.child("condition") : nullptr;
        return condition && !s.child("else") && compares(*condition, "!=");
    }
    // With a member that the handler itself remembers.
    bool compares(const CodeNode &condition, const char *how) const
    {
        const CodeNode &n =
            condition.is("paren") && condition.children.size() == 1 ? condition.children.first() : condition;
        if (!(n.is("binary") || n.is("operator")) || n.op != QLatin1String(how) || n.children.size() < 2)
            return false;
        for (const CodeNode &side : n.children)
            if (remembered().contains(Effects::root(side)))
                return true;
        return false;
    }
    QSet<int> remembered() const
    {
        QSet<int> all;
        q_.function.body.each([&](const CodeNode &n) {
            const bool assigns = (n.is("assign") && n.op.size() <= 1) || (n.is("operator") && n.op == "=");
            if (assigns && !n.children.isEmpty()) {
                const int m = Effects::root(n.children.first());
                const CodeDecl *d = unit_.decl(m);
                if (d && d->kind == CodeDecl::Field && !q_.shared.contains(m))
                    all.insert(m);
            }
            return true;
        });
        return all;
    }

    void judge()
    {
        for (const CodeNode &s : q_.function.body.children) {
            if (leavesIfSame(s)) {
                calm(*s.child("condition"));
                break;
            }
            if (onlyIfOther(s))
                calm(*s.child("condition"));
            else
                calm(s);
        }
    }

    // What happens at every tick must be the same whenever nothing has changed.
    void calm(const CodeNode &s)
    {
        for (const Effect &e : q_.effects.of(s)) {
            const CodeDecl *d = unit_.decl(e.decl);
            if (devices_.contains(e.decl))
                continue;
            if (e.kind == Effect::ReadsWidget)
                against(e.at, e.what + ", and a change of the file says nothing about it");
            else if (e.kind == Effect::WritesWidget && !e.method.startsWith("set"))
                against(e.at, e.what + " at every tick");
            else if (e.kind == Effect::ReadsShared && d && q_.shared.contains(e.decl) &&
                     q_.changed.contains(d->name))
                against(e.at, e.what + ", and others change it");
            else if (e.kind == Effect::WritesShared && (!e.through.isEmpty() || !isPlainAssignment(s, e)))
                against(e.at, e.what + " at every tick");
            else if (e.kind == Effect::Emits || e.kind == Effect::Asks || e.kind == Effect::Creates ||
                     e.kind == Effect::Unknown || e.kind == Effect::Pumps)
                against(e.at, e.what + ", at every tick");
        }
        s.each([&](const CodeNode &n) {
            const CodeDecl *d = n.is("call") || n.is("method") ? unit_.decl(n.decl) : nullptr;
            static const QStringList clocks = {"currentDateTime",
                                               "currentDateTimeUtc",
                                               "currentTime",
                                               "currentDate",
                                               "elapsed",
                                               "currentMSecsSinceEpoch",
                                               "now",
                                               "nsecsElapsed",
                                               "hasExpired",
                                               "restart",
                                               "time",
                                               "generate",
                                               "bounded",
                                               "currentSecsSinceEpoch"};
            if (d && !d->own && clocks.contains(d->name))
                against(n.begin, d->name + " changes at every tick");
            if (d && (d->name == "write" || d->name == "remove" || d->name == "rename") && !d->own)
                against(n.begin, d->name + " runs at every tick");
            return true;
        });
    }

    // A member is given a value that does not come of what it was.
    bool isPlainAssignment(const CodeNode &s, const Effect &e) const
    {
        bool found = false;
        s.each([&](const CodeNode &n) {
            const bool assigns = (n.is("assign") && n.op.size() <= 1) || (n.is("operator") && n.op == "=");
            if (assigns && n.children.size() == 2 && Effects::root(n.children[0]) == e.decl) {
                bool own = false;
                n.children[1].each([&](const CodeNode &inner) {
                    own = own || inner.decl == e.decl;
                    return !own;
                });
                found = found || !own;
            }
            return true;
        });
        return found;
    }

    const PolledQuestion &q_;
    const CodeUnit &unit_;
    QSet<int> devices_;
    Polled out_;
};

} // namespace

Polled polledBy(const PolledQuestion &question)
{
    return Polling(question).look();
}

} // namespace pipit
