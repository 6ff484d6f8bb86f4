// What is handed from before the work to the work, and from there to what shows it.
#include "core/moves/cutter.h"

#include <algorithm>

namespace pipit
{

namespace
{

QString fieldName(QString name)
{
    while (name.endsWith('_') && name.size() > 1)
        name.chop(1);
    if (name.startsWith("m_") && name.size() > 2)
        name.remove(0, 2);
    return name;
}

} // namespace

Handed Cutter::handedOf(int decl)
{
    const CodeDecl *d = unit_.decl(decl);
    Handed h;
    h.decl = decl;
    h.name = d->name;
    h.field = fieldName(d->name);
    h.typeId = d->type;
    h.type = typeName(d->type);
    return h;
}

void Cutter::handInput(int decl, bool written)
{
    for (Handed &h : out_.input)
        if (h.decl == decl) {
            h.written = h.written || written;
            return;
        }
    const CodeDecl *d = unit_.decl(decl);
    const CodeType *t = d ? unit_.type(d->type) : nullptr;
    if (!d || !t)
        return;
    const CodeRecord *r = unit_.record(t->record);
    Handed h = handedOf(decl);
    h.written = written;
    if (isAskedMeanwhile(decl)) {
        h.owned = h.asked = true;
        h.type = "const std::atomic<bool>";
        h.value = '&' + h.name;
        out_.input << h;
        out_.notes << h.name +
                          " becomes a std::atomic<bool>, because the work reads it while other code sets it.";
        return;
    }
    if (t->form == CodeType::Pointer && r && r->is("QObject")) {
        h.guarded = true;
        h.type = "QPointer<" + r->name + '>';
    } else if (const QString why = effects_.keptFromMoving(d->type); !why.isEmpty()) {
        const Piece *p = pieceDeclaring(decl);
        return refuse(p ? p->node->begin : q_.function.body.begin,
                      d->name + " is used on both sides of the work, and " + why);
    } else if (t->reference && !t->isConst && d->kind == CodeDecl::Local) {
        const Piece *p = pieceDeclaring(decl);
        return refuse(p ? p->node->begin : q_.function.body.begin,
                      d->name + " is an alias of something that the work cannot use");
    } else if (t->reference && !t->isConst && d->kind == CodeDecl::Parameter) {
        return refuse(q_.function.body.begin,
                      d->name + " is a reference argument, so the emitter of the signal could read it");
    }
    out_.input << h;
}

// A flag that other functions set while the loop lets events in: the work looks at it where it is.
bool Cutter::isAskedMeanwhile(int decl) const
{
    const CodeDecl *d = unit_.decl(decl);
    const CodeType *t = d ? unit_.type(d->type) : nullptr;
    if (q_.steps || q_.inPlace || !t || d->kind != CodeDecl::Field || t->canonical != "bool" ||
        !q_.shared.contains(decl) || q_.owned.contains(decl))
        return false;
    bool pumps = false;
    for (int i = first_; i <= last_; ++i)
        for (const Effect &e : pieces_[i].effects) {
            pumps = pumps || e.kind == Effect::Pumps;
            if (e.decl == decl && (e.kind != Effect::ReadsShared || !e.through.isEmpty()))
                return false;
        }
    return pumps;
}

void Cutter::handResult(int decl)
{
    for (const Handed &h : std::as_const(out_.result))
        if (h.decl == decl)
            return;
    const CodeDecl *d = unit_.decl(decl);
    if (!d)
        return;
    const CodeType *t = unit_.type(d->type);
    const CodeRecord *r = t ? unit_.record(t->record) : nullptr;
    Handed h = handedOf(decl);
    if (t && t->form == CodeType::Pointer && r && r->is("QObject")) {
        h.guarded = true;
        h.type = "QPointer<" + r->name + '>';
    } else if (const QString why = effects_.keptFromMoving(d->type); !why.isEmpty()) {
        const Piece *p = pieceDeclaring(decl);
        return refuse(p ? p->node->begin : q_.function.body.begin,
                      d->name + " is shown after the work, and " + why);
    }
    out_.result << h;
}

void Cutter::handAll()
{
    QSet<int> declared, used, written, shown, lent;
    for (int i = 0; i < pieces_.size(); ++i) {
        const Piece &p = pieces_[i];
        const Stage place = out_.statements[i].place;
        if (place == Stage::Work) {
            declared += p.locals.declares;
            used += p.locals.reads + p.locals.writes;
            written += p.locals.writes;
            for (const Effect &e : p.effects) {
                const CodeDecl *d = unit_.decl(e.decl);
                if (!keeps(e) && isFieldKind(d) &&
                    (!q_.steps ||
                     (e.kind == Effect::ReadsShared && e.through.isEmpty() && q_.shared.contains(e.decl)))) {
                    lent.insert(e.decl);
                    if (e.kind == Effect::WritesShared)
                        written.insert(e.decl);
                }
            }
        }
    }
    // What was gathered or read before the work is not used in it any more.
    const auto stillUsed = [&](int v) {
        bool found = std::any_of(put_.begin(), put_.end(), [&](int f) {
            bool uses = false;
            const CodeFunction *function = unit_.functionOf(f);
            if (!function)
                return false; // a lambda's text is the handler's own
            function->body.each([&](const CodeNode &n) {
                uses = uses || (n.decl == v && (n.is("name") || n.is("member")));
                return !uses;
            });
            return uses;
        });
        for (const PlacedStatement &s : std::as_const(out_.statements))
            if (s.place == Stage::Work)
                s.node->each([&](const CodeNode &n) {
                    const bool replaced =
                        std::any_of(out_.changes.begin(), out_.changes.end(), [&](const TextChange &c) {
                            return n.begin >= 0 && c.begin <= n.begin && n.end <= c.end && c.end > c.begin &&
                                   !c.text.startsWith("result.") && c.text != nameOf(v);
                        });
                    if (replaced && !n.is("block"))
                        return false;
                    found = found || ((n.is("name") || n.is("member") || n.is("capture")) && n.decl == v) ||
                            out_.lends.value(n.decl).contains(v);
                    return !found;
                });
        return found;
    };
    keepOutOfShow();
    for (int i = 0; i < pieces_.size(); ++i)
        if (out_.statements[i].place == Stage::Show) {
            const Piece &p = pieces_[i];
            shown += (p.locals.reads + p.locals.writes) - p.locals.declares;
        }
    QSet<int> shownDeclared;
    for (int i = 0; i < pieces_.size(); ++i)
        if (out_.statements[i].place == Stage::Show)
            shownDeclared += pieces_[i].locals.declares;
    shown -= shownDeclared;

    const auto ordered = [](const QSet<int> &set) {
        QList<int> list(set.begin(), set.end());
        std::sort(list.begin(), list.end());
        return list;
    };
    for (const int v : ordered(used - declared))
        if (!isDuplicated(v) && stillUsed(v))
            handInput(v, written.contains(v));
    handOwned(lent);
    for (const int v : ordered(lent - q_.owned))
        if (stillUsed(v)) {
            handInput(v, written.contains(v));
            if (written.contains(v)) {
                handResult(v);
                if (!out_.result.isEmpty())
                    out_.members << out_.result.last();
            }
        }
    for (const int v : ordered(shown)) {
        // A lambda has its own.
        if (q_.captured.contains(v) &&
            (!q_.borrowed.contains(v) || !effects_.bound(unit_.decl(v)->type).isEmpty()))
            continue;
        if (isDuplicated(v) || unit_.decl(v)->kind == CodeDecl::Static)
            continue;
        const CodeDecl *d = unit_.decl(v);
        const bool made = declared.contains(v);
        if (!made)
            handInput(v, written.contains(v));
        if (d)
            handResult(v);
    }
    keepWhatWasRead();
    checkMembers();
    checkTurn();
}

// What the work has for itself is handed over by where it is.
void Cutter::handOwned(const QSet<int> &used)
{
    QList<int> all(used.begin(), used.end());
    std::sort(all.begin(), all.end());
    for (const int v : std::as_const(all)) {
        if (!q_.owned.contains(v))
            continue;
        Handed h = handedOf(v);
        h.owned = true;
        h.value = '&' + h.name;
        out_.input << h;
    }
    for (int i = 0; i < pieces_.size(); ++i) {
        const Stage place = out_.statements[i].place;
        for (const Effect &e : pieces_[i].effects) {
            if (place == Stage::Work || !used.contains(e.decl) || !q_.owned.contains(e.decl))
                continue;
            refuse(e.at, e.what + ", which only the work may do");
        }
    }
}

// What a statement that shows reads from widgets and members was read when the handler was triggered, if
// nothing of the handler itself changes it before.
void Cutter::keepWhatWasRead()
{
    QSet<int> touched = deferredWidgets_;
    QSet<int> changed; // what it sets before the work is read with the input, after that
    for (int i = 0; i < pieces_.size(); ++i)
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesShared)
                (out_.statements[i].place == Stage::Take ? setBefore_ : changed).insert(e.decl);
    for (int i = first_; i <= last_; ++i)
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesWidget)
                touched.insert(e.decl);
    for (int i = 0; i < pieces_.size(); ++i) {
        if (out_.statements[i].place != Stage::Show)
            continue;
        keepRead(*pieces_[i].node, touched + changed);
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesWidget)
                touched.insert(e.decl);
    }
}

bool Cutter::readsSomething(const CodeNode &n) const
{
    const QList<Effect> effects = effects_.of(n);
    return std::any_of(effects.begin(), effects.end(), [this](const Effect &e) {
        return e.kind == Effect::ReadsWidget ||
               (e.kind == Effect::ReadsShared && !q_.owned.contains(e.decl) &&
                (q_.shared.contains(e.decl) || setBefore_.contains(e.decl)));
    });
}

// What the handler itself shows and no person changes is read when it is shown: by then its last run has
// shown what it came to.
bool Cutter::isOwnTelling(const Effect &read) const
{
    const CodeDecl *d = unit_.decl(read.decl);
    const CodeRecord *cls = d ? unit_.recordOfType(d->type) : nullptr;
    const CodeDecl *asked = read.node ? unit_.decl(read.node->decl) : nullptr;
    if (!cls || !asked || read.kind != Effect::ReadsWidget)
        return false;
    static const QStringList counts = {"count", "rowCount", "columnCount", "topLevelItemCount"};
    const bool rows = cls->is("QAbstractItemView") && counts.contains(asked->name);
    if (!rows && !cls->is("QLabel") && !cls->is("QProgressBar"))
        return false;
    for (int i = 0; i < pieces_.size(); ++i)
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesWidget && e.decl == read.decl)
                return out_.statements[i].place == Stage::Show;
    return false;
}

bool Cutter::canKeepRead(const CodeNode &n, const QSet<int> &touched) const
{
    const QList<Effect> effects = effects_.of(n);
    if (n.begin < 0 || n.macro || n.type < 0 || n.is("lambda") || !readsOnly(effects) ||
        !dependsOnTakeOnly(n) || !effects_.keptFromMoving(n.type).isEmpty() || mayBeAbsent(n))
        return false;
    for (const Effect &e : effects)
        if (e.decl < 0 || touched.contains(e.decl) || isOwnTelling(e))
            return false;
    // All that it uses is there before the work.
    for (const int v : effects_.locals(n).reads)
        for (int i = 0; i < pieces_.size(); ++i)
            if (out_.statements[i].place != Stage::Take &&
                (pieces_[i].locals.declares.contains(v) || pieces_[i].locals.writes.contains(v)))
                return false;
    return true;
}

bool Cutter::readBelow(const CodeNode &n, const QSet<int> &touched) const
{
    bool any = false;
    for (const Effect &e : effects_.of(n))
        if ((e.kind == Effect::ReadsWidget || e.kind == Effect::ReadsShared) &&
            (e.node == &n || (!e.node && e.at == n.begin)))
            return false;
    for (const CodeNode &c : n.children)
        if (readsSomething(c)) {
            any = true;
            if (!readBelow(c, touched) && !canKeepRead(c, touched))
                return false;
        }
    return any;
}

bool Cutter::keepRead(const CodeNode &n, const QSet<int> &touched)
{
    if (n.is("lambda") || !readsSomething(n))
        return false;
    if (!readBelow(n, touched) && canKeepRead(n, touched)) {
        const QString text = textOf(n);
        for (const Effect &e : effects_.of(n))
            keptReads_.insert(e.decl);
        // A member goes by its own name.
        if (n.is("member") && isFieldKind(unit_.decl(n.decl))) {
            handInput(n.decl, false);
            handResult(n.decl);
            return true;
        }
        QString &name = hoisted_[text];
        Handed h;
        if (name.isEmpty()) {
            name = nameFor(n);
            h.name = h.field = name;
            h.type = typeName(n.type);
            h.typeId = n.type;
            h.value = text;
            out_.input << h;
        }
        const bool there = std::any_of(out_.result.begin(), out_.result.end(),
                                       [&](const Handed &r) { return r.name == name; });
        if (!there) {
            h.name = h.field = name;
            h.type = typeName(n.type);
            h.typeId = n.type;
            h.value.clear();
            out_.result << h;
        }
        out_.showChanges.append({n.begin, n.end, name});
        return true;
    }
    for (const CodeNode &c : n.children)
        keepRead(c, touched);
    return false;
}

// Members that others use while the work runs: what was read is no longer so when it is written.
void Cutter::checkMembers()
{
    QHash<int, int> readBefore, writtenAfter, written;
    for (int i = 0; i < pieces_.size(); ++i)
        for (const Effect &e : pieces_[i].effects) {
            if ((e.kind != Effect::ReadsShared && e.kind != Effect::WritesShared) ||
                q_.owned.contains(e.decl))
                continue;
            const Stage place = out_.statements[i].place;
            if (place != Stage::Show && e.kind == Effect::ReadsShared)
                readBefore.insert(e.decl, e.at);
            if (place != Stage::Take && e.kind == Effect::WritesShared)
                writtenAfter.insert(e.decl, e.at);
        }
    bool pumps = false;
    for (const Piece &p : std::as_const(pieces_))
        for (const Effect &e : p.effects) {
            pumps = pumps || (e.kind == Effect::Pumps && inRegion(int(&p - pieces_.constData())));
            const CodeDecl *d = unit_.decl(e.decl);
            if (!d || d->kind != CodeDecl::Static)
                continue;
            // One function's own state cannot be in two.
            QSet<Stage> places;
            for (int i = 0; i < pieces_.size(); ++i)
                for (const Effect &o : pieces_[i].effects)
                    if (o.decl == e.decl && o.through.isEmpty() &&
                        !(o.kind == Effect::ReadsShared && out_.statements[i].place == Stage::Show &&
                          keptReads_.contains(e.decl)))
                        places.insert(out_.statements[i].place);
            if (places.size() > 1)
                refuse(
                    e.at,
                    d->name +
                        " keeps its value from one call to the next, and is used on both sides of the work");
        }
    for (auto it = writtenAfter.constBegin(); it != writtenAfter.constEnd(); ++it) {
        if (!q_.shared.contains(it.key()) || isAskedMeanwhile(it.key()))
            continue;
        if (readBefore.contains(it.key()) && !isTrusted(it.value()))
            refuse(it.value(), nameOf(it.key()) + " is used by other functions while the work would run");
        else
            out_.notes
                << QStringLiteral(
                       "%1 is set when the result is shown. Until then, other code sees the old value.")
                       .arg(nameOf(it.key()));
    }
    if (pumps)
        for (const Handed &h : std::as_const(out_.input))
            if (const CodeDecl *d = unit_.decl(h.decl);
                d && d->kind == CodeDecl::Field && q_.shared.contains(h.decl) && !h.owned)
                refuse(readBefore.value(h.decl, q_.function.body.begin),
                       d->name + " may change during the work, because the handler lets other handlers run");
}

} // namespace pipit
