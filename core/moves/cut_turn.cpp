// Triggered again while it works: what may be read at once, and what must wait for its turn.
#include "core/moves/cutter.h"

#include <algorithm>

namespace pipit
{

// What comes before the work changes and its last run is about to change as well: the list that is cleared
// first and filled after it. A text that is only replaced by another does no harm.
QSet<int> Cutter::setTwice() const
{
    QHash<int, QSet<QString>> before, after;
    const auto note = [this](QHash<int, QSet<QString>> &to, const Effect &e) {
        if (e.decl < 0 || q_.owned.contains(e.decl) ||
            (e.kind != Effect::WritesWidget && e.kind != Effect::WritesShared))
            return;
        to[e.decl].insert(e.method);
    };
    for (int i = 0; i < pieces_.size(); ++i)
        for (const Effect &e : pieces_[i].effects)
            if (!out_.statements[i].leavesAtTurn)
                note(out_.statements[i].place == Stage::Take ? before : after, e);
    QSet<int> twice;
    for (auto it = before.constBegin(); it != before.constEnd(); ++it) {
        const QSet<QString> all = *it + after.value(it.key());
        const bool replaces =
            std::all_of(all.begin(), all.end(), [](const QString &m) { return m.startsWith("set"); });
        if (after.contains(it.key()) && !replaces)
            twice.insert(it.key());
    }
    return twice;
}

// Done at its turn, when the result is shown, what would otherwise make it wait with all that it reads.
void Cutter::sinkWhatIsSetTwice()
{
    const QSet<int> twice = setTwice();
    // What is filled while it works is empty before; what is filled at once need never be seen empty.
    const bool fills =
        std::any_of(out_.deferred.begin(), out_.deferred.end(), [](const Deferred &d) { return d.list; });
    if (twice.isEmpty() || (fills && !readsOthers()))
        return;
    for (int i = 0; i < pieces_.size(); ++i) {
        const Piece &p = pieces_[i];
        const bool sets = std::any_of(p.effects.begin(), p.effects.end(), [&](const Effect &e) {
            return e.kind == Effect::WritesWidget && twice.contains(e.decl);
        });
        if (out_.statements[i].place != Stage::Take || !sets || !canSink(i, twice))
            continue;
        out_.statements[i].place = Stage::Show;
        out_.statements[i].atTurn = true;
        out_.notes
            << QStringLiteral("Line %1 runs just before the result is shown.").arg(lineOf(p.node->begin));
    }
}

bool Cutter::canSink(int piece, const QSet<int> &twice) const
{
    const Piece &p = pieces_[piece];
    QSet<int> changes; // members that it sets itself
    for (const Piece &each : pieces_)
        for (const Effect &e : each.effects)
            if (e.kind == Effect::WritesShared)
                changes.insert(e.decl);
    const bool shows = std::all_of(p.effects.begin(), p.effects.end(), [&](const Effect &e) {
        const bool same =
            e.kind == Effect::ReadsShared && !q_.shared.contains(e.decl) && !changes.contains(e.decl);
        return same || (e.kind == Effect::WritesWidget && e.decl >= 0);
    });
    const QString text = textOf(*p.node);
    if (!shows || p.returns || p.node->is("declare") || !p.locals.writes.isEmpty() || text.contains('\n') ||
        text.contains("//") || p.node->macro)
        return false;
    for (int i = piece + 1; i < pieces_.size(); ++i) {
        if (pieces_[i].locals.writes.intersects(p.locals.reads))
            return false;
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::ReadsWidget && twice.contains(e.decl) &&
                out_.statements[i].place != Stage::Show)
                return false;
    }
    return true;
}

// Whether it reads anything that a person may change while it waits.
bool Cutter::readsOthers() const
{
    QSet<int> shows = deferredWidgets_;
    for (const Piece &p : pieces_)
        for (const Effect &e : p.effects)
            if (e.kind == Effect::WritesWidget || e.kind == Effect::WritesShared)
                shows.insert(e.decl);
    for (const Piece &p : pieces_)
        for (const Effect &e : p.effects)
            if (!shows.contains(e.decl) && !q_.owned.contains(e.decl) &&
                (e.kind == Effect::ReadsWidget ||
                 (e.kind == Effect::ReadsShared && q_.shared.contains(e.decl))))
                return true;
    return false;
}

// Whether what comes before the work reads what its last run is about to show.
void Cutter::checkTurn()
{
    QSet<int> shows = deferredWidgets_, reads = keptReads_;
    for (int i = 0; i < pieces_.size(); ++i)
        for (const Effect &e : pieces_[i].effects) {
            const Stage place = out_.statements[i].place;
            if (place != Stage::Take && (e.kind == Effect::WritesWidget || e.kind == Effect::WritesShared))
                shows.insert(e.decl);
            if (place != Stage::Show)
                if (e.kind == Effect::ReadsWidget || e.kind == Effect::ReadsShared)
                    reads.insert(e.decl);
        }
    shows.remove(-1);
    reads.remove(-1);
    reads -= q_.owned + setByItself_ + made_;
    out_.takesInTurn = shows.intersects(reads) || !setTwice().isEmpty();
    if (!out_.takesInTurn)
        return;
    if (q_.again == "together")
        refuse(q_.function.body.begin,
               "it reads what its own last run shows, so several runs at once are not possible");
    for (const Piece &p : std::as_const(pieces_))
        for (const Effect &e : p.effects)
            if (e.kind == Effect::Sender)
                refuse(e.at, "it calls sender(), but must wait for its turn in the queue");
    if (q_.again != "ignore" && q_.again != "restart")
        refuseLateReads(reads - shows);
}

// What waits for its turn reads then what a person may have changed since it was triggered.
void Cutter::refuseLateReads(const QSet<int> &reads)
{
    for (int i = 0; i < pieces_.size(); ++i)
        for (const Effect &e : pieces_[i].effects) {
            const CodeDecl *d = unit_.decl(e.decl);
            const bool changes = e.kind == Effect::ReadsWidget ||
                                 (e.kind == Effect::ReadsShared && q_.shared.contains(e.decl));
            if (!d || !changes || !reads.contains(e.decl) || isTrusted(e.at))
                continue;
            refuse(e.at, e.what + ": the run would wait for its turn, because it reads what the last run "
                                  "shows, and the value may change until then");
        }
}

// Whether some of the work sets what this piece sets.
bool Cutter::setsBetween(int piece, int from, int to) const
{
    QSet<int> sets;
    for (const Effect &e : pieces_[piece].effects)
        if (e.kind == Effect::WritesWidget)
            sets.insert(e.decl);
    for (int i = from; i <= to; ++i)
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesWidget && sets.contains(e.decl))
                return true;
    return false;
}

// What the work sets comes before what is shown after it, unless that is done first: a list that is emptied
// between two loops, of which the second fills it.
bool Cutter::comesFirst(int piece) const
{
    const Piece &p = pieces_[piece];
    return p.locals.reads.isEmpty() && p.locals.writes.isEmpty() && !p.node->is("declare") &&
           !p.node->macro && !textOf(*p.node).contains('\n') && !setsBetween(piece, first_, piece - 1);
}

// What it says where it returns before the work must not be said before its last run has said what it came
// to: it goes to its turn, with what was known when it was triggered.
void Cutter::leaveAtTurn()
{
    if (q_.steps || !(q_.again.isEmpty() || q_.again == "queue" || q_.again == "together"))
        return;
    QSet<int> after;
    for (int i = 0; i < pieces_.size(); ++i)
        for (const Effect &e : pieces_[i].effects)
            if (out_.statements[i].place != Stage::Take &&
                (e.kind == Effect::WritesWidget || e.kind == Effect::WritesShared))
                after.insert(e.decl);
    bool stays = false;
    for (int i = 0; i < pieces_.size(); ++i) {
        const Piece &p = pieces_[i];
        if (out_.statements[i].place != Stage::Take || !p.returns)
            continue;
        const bool both = std::any_of(p.effects.begin(), p.effects.end(), [&](const Effect &e) {
            return (e.kind == Effect::WritesWidget || e.kind == Effect::WritesShared) &&
                   after.contains(e.decl);
        });
        QList<TextChange> changes;
        if (both && q_.inPlace) {
            out_.notes
                << QStringLiteral(
                       "Line %1 returns early: its text is shown at once, even while an earlier run works.")
                       .arg(lineOf(p.node->begin));
            stays = true;
        } else if (both && leaveAtTurn(*p.node, &changes)) {
            out_.statements[i].leavesAtTurn = true;
            out_.leaves << changes;
            out_.notes << QStringLiteral(
                              "Line %1 returns early: its text is shown when its turn in the queue comes.")
                              .arg(lineOf(p.node->begin));
        } else {
            stays = true;
        }
    }
    out_.declines = stays;
}

// Blocks that end with a return: if (…) { tell; return; }. Nothing else of the statement may tell anything.
bool Cutter::leaveAtTurn(const CodeNode &n, QList<TextChange> *changes) const
{
    if (n.is("return") || n.is("lambda"))
        return false; // alone, or in what cannot be said later
    const bool leaves = n.is("block") && n.children.size() > 1 && n.children.last().is("return");
    if (leaves) {
        for (qsizetype i = 0; i + 1 < n.children.size(); ++i)
            for (const Effect &e : pieceOf(n.children[i]).effects)
                if (pieceOf(n.children[i]).returns ||
                    (e.kind != Effect::WritesWidget && e.kind != Effect::WritesShared))
                    return false;
        const CodeNode &first = n.children.first(), &last = n.children[n.children.size() - 2];
        const QString indent(first.begin - (q_.text.lastIndexOf('\n', first.begin) + 1), ' ');
        QString says = q_.text.mid(first.begin, last.end - first.begin);
        says = says.contains('\n')
                   ? "{\n" + indent + "    " + says.replace('\n' + indent, '\n' + indent + "    ") + '\n' +
                         indent + '}'
                   : "{ " + says + " }";
        changes->append(
            {first.begin, n.children.last().end,
             "@Input@ early;\n" + indent + "early.instead = [=] " + says + ";\n" + indent + "return early;"});
        return true;
    }
    bool fits = true;
    for (const CodeNode &c : n.children) {
        const Piece part = pieceOf(c);
        const bool tells = std::any_of(part.effects.begin(), part.effects.end(), [](const Effect &e) {
            return e.kind != Effect::ReadsWidget && e.kind != Effect::ReadsShared;
        });
        fits = fits && ((!tells && !part.returns) || leaveAtTurn(c, changes));
    }
    return fits;
}

} // namespace pipit
