#include "core/moves/cut.h"

#include "core/moves/cutter.h"
#include "core/userfiles/cpp_scan.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

bool hasReturn(const CodeNode &node)
{
    bool found = false;
    node.each([&](const CodeNode &n) {
        found = found || n.is("return");
        return !found && !n.is("lambda");
    });
    return found;
}

bool isField(const CodeDecl *d)
{
    return d && (d->kind == CodeDecl::Field || d->kind == CodeDecl::Global);
}

} // namespace

Cutter::Cutter(const CutQuestion &question) : q_(question), unit_(question.unit), effects_(question.effects)
{
    for (const CodeDecl &d : unit_.decls)
        if (d.own)
            names_.insert(d.name);
    const CodeDecl *self = unit_.decl(q_.function.decl);
    const CodeRecord *window = self ? unit_.record(self->record) : nullptr;
    for (const CodeRecord &r : unit_.records)
        if (window && !q_.inPlace && r.own && r.name.startsWith(window->name + "::") &&
            !r.name.mid(window->name.size() + 2).contains("::"))
            ownTypes_ << r.name;
    q_.function.body.each([this](const CodeNode &n) {
        if (n.is("variable") && effects_.isConstant(n.decl))
            constants_.insert(nameOf(n.decl));
        return true;
    });
    for (const char *n : {"input", "promise", "result", "outcome", "stopped", "early", "instead"})
        names_.insert(QLatin1String(n));
}

QString Cutter::textOf(const CodeNode &n) const
{
    return n.begin < 0 ? QString() : q_.text.mid(n.begin, n.end - n.begin);
}

QString Cutter::nameOf(int decl) const
{
    const CodeDecl *d = unit_.decl(decl);
    return d ? d->name : QString("the window");
}

int Cutter::lineOf(int at) const
{
    return lineAt(q_.text, std::max(at, 0));
}

bool Cutter::isFieldKind(const CodeDecl *d)
{
    return isField(d);
}

QString Cutter::typeName(int type) const
{
    const CodeType *t = unit_.type(type);
    if (!t)
        return {};
    // A constant of the function has no name elsewhere.
    static const QRegularExpression word("[A-Za-z_]\\w*");
    for (auto it = word.globalMatch(t->name); it.hasNext();)
        if (const QString name = it.next().captured(); constants_.contains(name))
            return t->canonical;
    // Nor has a type of the class's own, without the class.
    QString full = t->name;
    for (const QString &own : ownTypes_)
        full.replace(QRegularExpression("(?<![:\\w])" + own.section("::", -1) + "\\b"), own);
    return full;
}

void Cutter::refuse(int at, const QString &reason)
{
    for (const Refusal &r : std::as_const(out_.refused))
        if (r.at == at && r.reason == reason)
            return;
    out_.refused.append({at, reason});
}

bool Cutter::isTrusted(int at) const
{
    return !q_.trusted.isEmpty() && at >= 0 && q_.trusted.contains(lineOf(at));
}

// Whether it must happen on the loop. What is only read can be handed over as it was.
bool Cutter::keeps(const Effect &e) const
{
    if (q_.steps && e.kind != Effect::ReadsWidget && e.kind != Effect::Asks && e.kind != Effect::Pumps &&
        e.kind != Effect::Sender)
        return e.kind == Effect::WritesShared && q_.shared.contains(e.decl);
    if (e.kind != Effect::ReadsShared && e.kind != Effect::WritesShared)
        return true;
    const CodeDecl *d = unit_.decl(e.decl);
    if (!d)
        return true;
    if (d->kind == CodeDecl::Static)
        return !e.through.isEmpty(); // it goes where the code goes
    const bool lent = e.through.isEmpty() || (e.ofThis && d->kind == CodeDecl::Field);
    if (lent && q_.owned.contains(e.decl))
        return false;
    if (!lent || !effects_.keptFromMoving(d->type).isEmpty())
        return true;
    return e.kind == Effect::WritesShared && (d->kind != CodeDecl::Field || q_.shared.contains(e.decl));
}

Cutter::Piece Cutter::pieceOf(const CodeNode &node) const
{
    Piece p;
    p.node = &node;
    for (const Effect &e : effects_.of(node))
        if (!isTrusted(e.at))
            p.effects << e;
    std::copy_if(p.effects.begin(), p.effects.end(), std::back_inserter(p.kept),
                 [this](const Effect &e) { return keeps(e); });
    p.locals = effects_.locals(node);
    p.returns = hasReturn(node);
    p.slow = effects_.mayTakeLong(node);
    return p;
}

QList<Cutter::Piece> Cutter::piecesOf(const CodeNode &block) const
{
    QList<Piece> list;
    for (const CodeNode &s : block.children)
        list << pieceOf(s);
    return list;
}

QString Cutter::reasonOf(const Piece &p) const
{
    for (const Effect &e : p.kept)
        return e.what + (e.through.isEmpty() ? QString() : " in " + e.through);
    return {};
}

// From the first to the last statement that may take long; where none does, calls of the person's own
// functions.
bool Cutter::chooseRegion()
{
    const auto pick = [this](auto &&fits) {
        for (int i = 0; i < pieces_.size(); ++i)
            if (fits(pieces_[i])) {
                first_ = first_ < 0 ? i : first_;
                last_ = i;
            }
        return first_ >= 0;
    };
    if (pick([](const Piece &p) { return p.slow; }))
        return true;
    return pick([this](const Piece &p) {
        if (!readsOnly(p.kept) || p.returns)
            return false;
        bool calls = false;
        p.node->each([&](const CodeNode &n) {
            const CodeDecl *d = n.is("call") || n.is("method") ? unit_.decl(n.decl) : nullptr;
            calls = calls || (d && d->own);
            return !calls;
        });
        return calls;
    });
}

bool Cutter::isDuplicated(int decl) const
{
    const CodeDecl *d = unit_.decl(decl);
    if (out_.tellers.contains(decl))
        return true;
    return d && effects_.isConstant(decl) && (d->kind == CodeDecl::Local || d->kind == CodeDecl::Static);
}

const Cutter::Piece *Cutter::pieceDeclaring(int decl) const
{
    for (const Piece &p : pieces_)
        if (p.locals.declares.contains(decl))
            return &p;
    return nullptr;
}

// A file that is open cannot be handed over: where it is made, the work begins. What only the work uses goes
// along.
void Cutter::takeAlong()
{
    for (bool again = true; again;) {
        again = false;
        for (int i = first_; i <= last_; ++i)
            for (const int v : pieces_[i].locals.reads + pieces_[i].locals.writes) {
                const CodeDecl *d = unit_.decl(v);
                const CodeType *t = d ? unit_.type(d->type) : nullptr;
                if (!d || d->kind != CodeDecl::Local || isDuplicated(v) || !effects_.bound(d->type).isEmpty())
                    continue;
                if (effects_.keptFromMoving(d->type).isEmpty() && !(t && t->reference && !t->isConst))
                    continue;
                for (int j = 0; j < first_; ++j)
                    if (pieces_[j].locals.declares.contains(v)) {
                        first_ = j;
                        again = true;
                    }
            }
        for (int i = last_ + 1; i < pieces_.size() && !again; ++i)
            for (const int v : pieces_[i].locals.reads + pieces_[i].locals.writes) {
                const CodeDecl *d = unit_.decl(v);
                if (!d || d->kind != CodeDecl::Local || isDuplicated(v) ||
                    effects_.keptFromMoving(d->type).isEmpty() || !pieces_[i].kept.isEmpty() ||
                    pieces_[i].returns)
                    continue;
                for (int j = first_; j <= last_; ++j)
                    if (pieces_[j].locals.declares.contains(v) && i == last_ + 1) {
                        last_ = i;
                        again = true;
                        break;
                    }
            }
    }
    // Declarations before it that touch nothing; and statements between them, if what these change is
    // declared there as well: a clock that is started then runs from when the work begins.
    QSet<int> undeclared;
    for (int i = first_ - 1; i >= 0; --i) {
        const Piece &p = pieces_[i];
        const bool calm = std::all_of(p.effects.begin(), p.effects.end(),
                                      [this](const Effect &e) { return q_.owned.contains(e.decl); });
        if (!p.kept.isEmpty() || p.returns || (!p.node->is("declare") && !calm))
            break;
        if (!p.node->is("declare"))
            undeclared += p.locals.writes;
        else if (p.locals.declares.isEmpty() &&
                 !p.calm()) // a type, as it may be, is declared where it is used
            break;
        undeclared -= p.locals.declares;
        if (undeclared.isEmpty())
            first_ = i;
    }
    // And what follows in the same way, up to the first that touches something.
    while (last_ + 1 < pieces_.size()) {
        const Piece &p = pieces_[last_ + 1];
        const bool pure = p.kept.isEmpty() && !p.returns && !p.node->is("declare");
        if (!pure || p.effects.size() > p.kept.size())
            break;
        ++last_;
    }
}

bool Cutter::canGoBefore(int piece) const
{
    const Piece &p = pieces_[piece];
    if (p.returns)
        return false;
    for (int i = first_; i < piece; ++i) {
        const Piece &o = pieces_[i];
        const bool stays =
            std::any_of(out_.statements.begin(), out_.statements.end(),
                        [&](const PlacedStatement &s) { return s.node == o.node && s.place == Stage::Take; });
        if (stays)
            continue;
        const QSet<int> made = o.locals.declares + o.locals.writes;
        if (made.intersects(p.locals.reads + p.locals.writes) ||
            (o.locals.reads + made).intersects(p.locals.writes))
            return false;
        if (!o.kept.isEmpty() || o.returns)
            return false; // what touches widgets keeps its order
    }
    return true;
}

bool Cutter::canGoAfter(int piece) const
{
    const Piece &p = pieces_[piece];
    if (p.returns)
        return false;
    for (int i = piece + 1; i <= last_; ++i) {
        const Piece &o = pieces_[i];
        const QSet<int> made = p.locals.declares + p.locals.writes;
        if (made.intersects(o.locals.reads + o.locals.writes) || p.locals.reads.intersects(o.locals.writes) ||
            o.returns)
            return false;
    }
    for (int i = first_; i < piece; ++i)
        if (pieces_[i].returns)
            return false;
    return !setsBetween(piece, piece + 1, last_) || comesFirst(piece);
}

// A function made before the work that only what comes after it calls, and that holds nothing of its own.
bool Cutter::isFunctionForLater(int piece) const
{
    const CodeNode &n = *pieces_[piece].node;
    if (!n.is("declare") || n.children.size() != 1 || n.children.first().children.size() != 1 ||
        !n.children.first().children.first().is("lambda"))
        return false;
    for (const CodeNode &c : n.children.first().children.first().children)
        if (c.is("capture") && !c.onThis && c.how != "reference")
            return false;
    for (int i = piece + 1; i <= last_; ++i)
        if (pieces_[i].locals.reads.contains(n.children.first().decl))
            return false;
    return true;
}

void Cutter::placeAll()
{
    bool sunk = false;
    for (int i = 0; i < pieces_.size(); ++i) {
        const Piece &p = pieces_[i];
        bool first = false;
        Stage place = i < first_ ? Stage::Take : i > last_ ? Stage::Show : Stage::Work;
        if (place == Stage::Take && isFunctionForLater(i))
            place = Stage::Show;
        if (inRegion(i) && !p.kept.isEmpty()) {
            const bool asks = std::any_of(p.kept.begin(), p.kept.end(),
                                          [](const Effect &e) { return e.kind == Effect::Asks; });
            const qsizetype before = out_.refused.size(), changes = out_.changes.size(),
                            deferred = out_.deferred.size();
            changeStatement(*p.node, {});
            if (out_.refused.size() > before && !p.slow && !asks &&
                ((!sunk && canGoBefore(i)) || canGoAfter(i))) {
                // It need not be part of the work at all.
                out_.refused.resize(before);
                out_.changes.resize(changes);
                out_.deferred.resize(deferred);
                place = !sunk && canGoBefore(i) ? Stage::Take : Stage::Show;
                sunk = sunk || place == Stage::Show;
                first = place == Stage::Show && setsBetween(i, i + 1, last_);
            }
        } else if (inRegion(i)) {
            changeStatement(*p.node, {});
        }
        if (place == Stage::Take && p.returns)
            out_.declines = true;
        if (place == Stage::Take && inRegion(i))
            regionWrites_ -= p.locals.declares;
        if (place != Stage::Work)
            for (const Effect &e : p.effects)
                if (e.kind == Effect::Sender && place == Stage::Show)
                    refuse(e.at, "it calls sender(), which is known only while the signal is emitted");
        out_.statements.append({p.node, place, reasonOf(p), false, first, false});
    }
}

// A field that the work began with is emptied when it begins, not when it ends: what a person types meanwhile
// is the next one's.
void Cutter::emptyFieldsEarly()
{
    if (out_.stops)
        return;
    const auto touches = [this](int i, int widget, Effect::Kind kind) {
        return std::any_of(pieces_[i].effects.begin(), pieces_[i].effects.end(),
                           [&](const Effect &e) { return e.decl == widget && e.kind == kind; });
    };
    for (int i = 0; i < pieces_.size(); ++i) {
        const CodeNode &n = *pieces_[i].node;
        const CodeNode *object = n.is("method") ? n.child("object") : nullptr;
        const CodeRecord *cls = object ? unit_.recordOfType(object->type) : nullptr;
        if (out_.statements[i].place != Stage::Show || !cls || pieces_[i].effects.size() != 1 ||
            !pieces_[i].locals.reads.isEmpty())
            continue;
        bool takes = false; // what a person enters
        for (const char *c : {"QLineEdit", "QAbstractSpinBox", "QTextEdit", "QPlainTextEdit", "QComboBox",
                              "QCheckBox", "QRadioButton", "QAbstractSlider"})
            takes = takes || cls->is(c);
        const int widget = Effects::root(*object);
        bool read = false, elsewhere = widget < 0;
        for (int j = 0; j < pieces_.size(); ++j) {
            read =
                read || (out_.statements[j].place != Stage::Show && touches(j, widget, Effect::ReadsWidget));
            elsewhere = elsewhere || (j != i && touches(j, widget, Effect::WritesWidget)) ||
                        (out_.statements[j].place == Stage::Show && touches(j, widget, Effect::ReadsWidget));
        }
        if (!takes || !read || elsewhere)
            continue;
        out_.statements[i].place = Stage::Take;
        out_.statements[i].early = true;
        out_.notes << QStringLiteral(
                          "Line %1 runs when the work starts, so that text typed meanwhile is kept.")
                          .arg(lineOf(n.begin));
    }
}

// What stands outside and is changed may be used by others, and may be gone.
void Cutter::refuseBorrowed()
{
    for (const Piece &p : std::as_const(pieces_))
        for (const int v : p.locals.writes)
            if (q_.captured.contains(v) && effects_.bound(unit_.decl(v)->type).isEmpty() &&
                !isTrusted(p.node->begin))
                refuse(p.node->begin, nameOf(v) + " is changed, and it is declared outside the lambda");
}

Cut Cutter::cut()
{
    pieces_ = piecesOf(q_.function.body);
    if (!chooseRegion()) {
        refuse(q_.function.body.begin,
               "nothing in it is known to take long: no loop, no wait, no call of a function with one");
        return out_;
    }
    findTellers();
    refuseBorrowed();
    takeOwned();
    takeAlong();
    for (int i = first_; i <= last_; ++i)
        regionWrites_ += pieces_[i].locals.declares + pieces_[i].locals.writes;
    placeAll();
    emptyFieldsEarly();
    findStaying();
    tellTogether();
    for (const Deferred &d : std::as_const(out_.deferred))
        if (d.progress && q_.again == "together")
            refuse(d.at,
                   d.widget + " shows the progress of one run, and several runs have no common progress");
    leaveAtTurn();
    refuseUnguarded();
    if (out_.refused.isEmpty())
        sinkWhatIsSetTwice();
    if (out_.refused.isEmpty())
        handAll();
    showInBatches();
    std::sort(out_.refused.begin(), out_.refused.end(),
              [](const Refusal &a, const Refusal &b) { return a.at < b.at; });
    return out_;
}

// The one statement that takes long, which must be a loop.
bool Cutter::chooseLoop()
{
    for (int i = 0; i < pieces_.size(); ++i) {
        if (!pieces_[i].slow)
            continue;
        if (first_ >= 0)
            refuse(pieces_[i].node->begin, "a second statement takes long; steps work with one loop only");
        else if (!pieces_[i].node->isLoop())
            refuse(pieces_[i].node->begin, "it takes long and is not a loop, so it has no steps");
        else
            first_ = last_ = i;
    }
    if (first_ < 0 && out_.refused.isEmpty())
        refuse(q_.function.body.begin, "it has no loop that takes long");
    return out_.refused.isEmpty();
}

Cut Cutter::cutIntoSteps()
{
    pieces_ = piecesOf(q_.function.body);
    if (!chooseLoop())
        return out_;
    findTellers();
    const CodeNode &loop = *pieces_[first_].node;
    if (loop.is("do"))
        refuse(loop.begin, "a do loop cannot be cut into steps");
    regionWrites_ = pieces_[first_].locals.declares + pieces_[first_].locals.writes;
    for (int i = 0; i < pieces_.size(); ++i) {
        const Stage stage = i < first_ ? Stage::Take : i > last_ ? Stage::Show : Stage::Work;
        out_.declines = out_.declines || (stage == Stage::Take && pieces_[i].returns);
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::Sender && stage != Stage::Take)
                refuse(e.at, "it calls sender(), which is known only while the signal is emitted");
        if (stage == Stage::Work)
            changeStatement(loop, {});
        out_.statements.append({pieces_[i].node, stage, reasonOf(pieces_[i]), false, false, false});
    }
    if (loop.is("each") && !out_.gathered.isEmpty())
        refuse(loop.begin, "it loops over items of a widget, which other code may remove meanwhile");
    goRoundByRound(loop);
    refuseUnguarded();
    if (out_.refused.isEmpty())
        handAll();
    std::sort(out_.refused.begin(), out_.refused.end(),
              [](const Refusal &a, const Refusal &b) { return a.at < b.at; });
    return out_;
}

Cut cutForSteps(const CutQuestion &question)
{
    return Cutter(question).cutIntoSteps();
}

Cut cutForBackground(const CutQuestion &question)
{
    return Cutter(question).cut();
}

} // namespace pipit
