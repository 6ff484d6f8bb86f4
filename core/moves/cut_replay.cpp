// Rows and items that are made in the middle of the work: the values that they are made of come with the
// result, and the statements that make them are done with each when it is shown.
#include "core/moves/cutter.h"
#include "core/moves/writer.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

bool isItem(const CodeRecord *r)
{
    return r && (r->is("QListWidgetItem") || r->is("QTableWidgetItem") || r->is("QTreeWidgetItem"));
}

// What the compiler adds and nobody wrote.
const CodeNode &asWritten(const CodeNode &n)
{
    const bool wraps = (n.is("construct") || n.is("cast")) && n.children.size() == 1 &&
                       n.children.first().begin == n.begin && n.children.first().end == n.end;
    return wraps ? asWritten(n.children.first()) : n;
}

// "foreground" of setForeground.
QString toldBy(const QString &method)
{
    if (!method.startsWith("set") || method.size() < 4)
        return "text";
    return method[3].toLower() + method.mid(4);
}

} // namespace

// A group of statements in a row that only make rows and items.
struct Cutter::Replay {
    QSet<int> own;                                      // variables that it declares
    QList<std::pair<const CodeNode *, QString>> values; // that come with the result, and what they are
    const CodeNode *byRow = nullptr;                    // an item that is asked for by its row, and changed
    const CodeNode *item = nullptr;                     // how it is called there
};

// A widget of the window's, or an item of the group's.
bool Cutter::isShown(const CodeNode &n, Replay *r) const
{
    const CodeDecl *d = unit_.decl(n.decl);
    if (n.is("name") && d && r->own.contains(n.decl))
        return true;
    if (!n.is("member") || !d || d->kind != CodeDecl::Field)
        return false;
    const CodeRecord *cls = unit_.recordOfType(n.type);
    return cls && cls->is("QWidget");
}

// list->item(row), table->item(row, column)
bool Cutter::isLookup(const CodeNode &n, Replay *r, const Inside &inside) const
{
    const CodeDecl *d = n.is("method") ? unit_.decl(n.decl) : nullptr;
    const CodeNode *object = d && !d->own && d->isConst ? n.child("object") : nullptr;
    if (!object || !isItem(unit_.recordOfType(n.type)) || !isShown(*object, r))
        return false;
    bool fits = d->name == "item" || d->name == "topLevelItem";
    n.eachArgument([&](const CodeNode &a, QChar) { fits = fits && canReplayValue(a, r, inside, "row"); });
    if (fits)
        r->byRow = &n;
    return fits;
}

bool Cutter::canReplayValue(const CodeNode &given, Replay *r, const Inside &inside, const QString &what) const
{
    const CodeNode &n = asWritten(given);
    if (isShown(n, r) || isLookup(n, r, inside))
        return true;
    if (n.is("new")) {
        const CodeDecl *d = unit_.decl(n.decl);
        bool fits = isItem(d ? unit_.record(d->record) : nullptr);
        for (const CodeNode &c : n.children)
            fits = fits && canReplayValue(c, r, inside, "text");
        return fits;
    }
    if ((n.is("construct") || n.is("cast") || n.is("paren") || n.is("list")) && !n.children.isEmpty() &&
        n.type >= 0 && !pieceOf(n).kept.isEmpty())
        return std::all_of(n.children.begin(), n.children.end(),
                           [&](const CodeNode &c) { return canReplayValue(c, r, inside, what); });
    const Locals l = effects_.locals(n);
    bool own = false, others = false, lambda = false;
    n.each([&](const CodeNode &c) {
        lambda = lambda || c.is("lambda");
        return true;
    });
    for (const int v : l.reads)
        (r->own.contains(v) ? own : others) = true;
    if (n.macro || lambda || n.begin < 0 || !l.writes.isEmpty() || (own && others))
        return false;
    if (own) { // of its own items it asks when they are made
        const QList<Effect> all = pieceOf(n).effects;
        return std::all_of(all.begin(), all.end(), [&](const Effect &e) {
            return e.kind == Effect::ReadsWidget && r->own.contains(e.decl);
        });
    }
    if (pieceOf(n).kept.isEmpty()) {
        const bool constant = pieceOf(n).effects.isEmpty() && !others;
        if (constant)
            return true;
        if (!effects_.keptFromMoving(n.type).isEmpty() || typeName(n.type) == "const char *")
            return false;
    } else if (!canHoist(n, inside)) {
        return false;
    }
    r->values.append({&n, what});
    return true;
}

bool Cutter::canReplay(const CodeNode &s, Replay *r, const Inside &inside) const
{
    if (s.macro)
        return false;
    if (s.is("declare")) {
        const CodeNode *v = s.children.size() == 1 ? &s.children.first() : nullptr;
        const CodeDecl *d = v && v->children.size() == 1 ? unit_.decl(v->decl) : nullptr;
        if (!d)
            return false;
        const CodeNode &init = asWritten(v->children.first());
        const CodeType *t = unit_.type(d->type);
        if (t && t->form == CodeType::Pointer && isItem(unit_.recordOfType(d->type))) {
            if (!(init.is("new") || init.is("method")) || !canReplayValue(init, r, inside, "text"))
                return false;
        } else { // a row's number, asked of the widget that it is made in
            const CodeNode *object =
                init.is("method") && init.children.size() == 1 ? init.child("object") : nullptr;
            const CodeDecl *asked = unit_.decl(init.decl);
            if (!object || !asked || !asked->isConst || !t || !t->number || !isShown(*object, r))
                return false;
        }
        r->own.insert(v->decl);
        return true;
    }
    const CodeNode *object = s.is("method") ? s.child("object") : nullptr;
    const CodeDecl *d = unit_.decl(s.decl);
    if (s.is("new"))
        return canReplayValue(s, r, inside, "text");
    if (!object || !d || d->own || d->isSignal || d->isConst || d->name == "exec")
        return false;
    if (!isShown(*object, r)) {
        const auto taken = object->is("name") ? items_.constFind(object->decl) : items_.constEnd();
        const CodeNode &lookup = taken != items_.constEnd() ? *taken->init : *object;
        if (!isLookup(lookup, r, inside))
            return false;
        r->item = object;
    }
    bool fits = true;
    s.eachArgument(
        [&](const CodeNode &a, QChar) { fits = fits && canReplayValue(a, r, inside, toldBy(d->name)); });
    return fits;
}

// What is set or added to by one value alone is told by that value.
bool Cutter::needsReplay(const CodeNode &s) const
{
    if (s.is("declare"))
        return s.children.size() == 1;
    if (s.is("new"))
        return true;
    static const QStringList paints = {"repaint", "update"}; // no longer needed
    const CodeNode *object = s.is("method") ? s.child("object") : nullptr;
    return object && !paints.contains(nameOf(s.decl)) &&
           (!object->is("member") || s.children.size() != 2 ||
            isItem(unit_.recordOfType(asWritten(s.children.last()).type)) ||
            nameOf(s.decl).startsWith("insert"));
}

// Two ways to add to one widget, one after the other: their order counts.
bool Cutter::isMixed(const CodeNode &block, qsizetype at) const
{
    if (at + 1 >= block.children.size())
        return false;
    const CodeNode &one = block.children[at], &two = block.children[at + 1];
    const auto on = [](const CodeNode &n) {
        const CodeNode *object = n.is("method") ? n.child("object") : nullptr;
        return object && object->is("member") ? object->decl : -1;
    };
    const auto adds = [this](const CodeNode &n) {
        const QString name = nameOf(n.decl);
        return name.startsWith("append") || name.startsWith("add") || name.startsWith("insert");
    };
    return on(one) >= 0 && on(one) == on(two) && one.decl != two.decl && adds(one) && adds(two);
}

// How many statements of the block, from that one on, are done when the result is shown; 0: none.
int Cutter::replay(const CodeNode &block, qsizetype at, const Inside &inside)
{
    if (q_.steps || inside.loops.isEmpty() || pieceOf(block.children[at]).kept.isEmpty() ||
        !(needsReplay(block.children[at]) || isMixed(block, at)))
        return 0;
    Replay r;
    qsizetype end = at;
    for (Replay more = r; end < block.children.size() && canReplay(block.children[end], &more, inside);
         ++end) {
        if (more.byRow && end > at)
            break;
        r = more;
        if (r.byRow) {
            ++end;
            break; // it is asked for again, and looked whether it is there
        }
    }
    // What it declares is not used behind it, and it does more than to look.
    bool does = false, used = false;
    for (qsizetype i = at; i < end; ++i)
        does = does || !block.children[i].is("declare") ||
               !block.children[i].children.first().children.isEmpty();
    for (qsizetype i = end; i < block.children.size(); ++i)
        used = used || effects_.locals(block.children[i]).reads.intersects(r.own);
    if (end == at || !does || used || !rowsStay(r, inside) ||
        (r.byRow && q_.heard.contains(nameOf(Effects::root(*r.byRow)))) ||
        (r.byRow && !readsStay(block.children[at], r)))
        return 0;
    replayed(block, at, end, r, inside);
    return int(end - at);
}

bool Cutter::replayAlone(const CodeNode &statement, const Inside &inside)
{
    if (!inside.aloneIn)
        return false; // its block was asked already
    CodeNode block;
    block.kind = "block";
    block.children << statement;
    return replay(block, 0, inside) > 0;
}

// Rows by their number are the same ones later only where nothing else moves them.
bool Cutter::rowsStay(const Replay &r, const Inside &inside) const
{
    if (!r.byRow)
        return true;
    const QString list = nameOf(Effects::root(*r.byRow));
    if (q_.restless.contains(list) || q_.restless.contains("*"))
        return false;
    const QRegularExpression moved(
        "\\b" + list + "\\s*->\\s*(?:insert|remove|take|clear|sort|setSorting|move|setRowCount)\\w*\\(");
    for (const CodeNode *loop : inside.loops) // nor this one itself
        if (textOf(*loop).contains(moved))
            return false;
    return true;
}

// An item that is changed by its row may be gone by then.
QString Cutter::shownText(const Replay &r, int begin, int end, QList<TextChange> shown)
{
    if (!r.item)
        return CodeWriter::changed(q_.text, begin, end, shown);
    const QString name = r.item->is("name") ? nameOf(r.item->decl) : QString("item");
    const QString lookup = CodeWriter::changed(q_.text, r.byRow->begin, r.byRow->end, shown);
    shown.removeIf([&](const TextChange &c) { return c.begin >= r.item->begin && c.end <= r.item->end; });
    shown.append({r.item->begin, r.item->end, name});
    const QString indent(begin - (q_.text.lastIndexOf('\n', begin) + 1), ' ');
    return "if (auto *" + name + " = " + lookup + ")\n" + indent + "    " +
           CodeWriter::changed(q_.text, begin, end, shown);
}

// The item whose method this is, as it was taken.
const CodeNode *Cutter::itemAsked(const CodeNode *n) const
{
    const CodeNode *object = n && n->is("method") ? n->child("object") : nullptr;
    if (!object || !isItem(unit_.recordOfType(object->type)))
        return nullptr;
    const auto taken = object->is("name") ? items_.constFind(object->decl) : items_.constEnd();
    return taken != items_.constEnd() ? taken->init : object;
}

// What the work reads of rows, by whatever name, is not what this sets of them.
bool Cutter::readsStay(const CodeNode &statement, const Replay &r) const
{
    Effect write;
    write.kind = Effect::WritesWidget;
    write.decl = Effects::root(*r.byRow);
    write.method = nameOf(statement.decl);
    write.node = &statement;
    for (int i = first_; i <= last_; ++i)
        for (const Effect &e : pieces_[i].effects) {
            if (e.kind != Effect::ReadsWidget)
                continue;
            const CodeNode *item = itemAsked(e.node);
            const int list = item ? Effects::root(*item) : e.decl;
            const bool other = list >= 0 && list != write.decl && unit_.decl(list)->kind == CodeDecl::Field;
            if (!other && (!e.node || !isApart(*e.node, e, write)))
                return false;
        }
    return true;
}

// What is read of a widget and what is set of it that have nothing to do with each other.
bool Cutter::isApart(const CodeNode &node, const Effect &read, const Effect &write) const
{
    static const QStringList limits{"maximum", "minimum"}, moves{"setValue", "setFormat"},
        rows{"count", "rowCount", "columnCount", "item", "topLevelItem", "topLevelItemCount"},
        says{"text", "data", "checkState", "toolTip", "statusTip"},
        looks{"setCurrentRow", "setCurrentItem", "setCurrentCell",   "scrollToItem", "scrollToBottom",
              "scrollToTop",   "setEnabled",     "setDisabled",      "setVisible",   "show",
              "hide",          "setStyleSheet",  "setToolTip",       "setStatusTip", "setFont",
              "setCursor",     "setFocus",       "setUpdatesEnabled"};
    const CodeDecl *asked = read.node ? unit_.decl(read.node->decl) : nullptr;
    if (!asked)
        return false;
    if (limits.contains(asked->name) && moves.contains(write.method))
        return true;
    const CodeNode *readItem = itemAsked(read.node), *setItem = itemAsked(write.node);
    const bool saysIt = readItem && says.contains(asked->name),
               ofRows = !readItem && rows.contains(asked->name);
    if (!setItem)
        return looks.contains(write.method) && (saysIt || ofRows);
    return ofRows || (saysIt && isOncePerRow(node, *readItem, *setItem, *write.node));
}

// In a loop that counts up each row is read before it is set, and once.
bool Cutter::isOncePerRow(const CodeNode &node, const CodeNode &read, const CodeNode &set,
                          const CodeNode &statement) const
{
    const auto row = [](const CodeNode &n) {
        return n.is("method") && n.children.size() == 2 && n.children[1].is("name") ? n.children[1].decl : -1;
    };
    int variable = -1;
    QString from;
    for (int i = first_; i <= last_; ++i)
        if (const CodeNode &loop = *pieces_[i].node;
            loop.isLoop() && node.begin >= loop.begin && node.end <= loop.end)
            return countsUp(loop, &variable, &from) && row(read) == variable && row(set) == variable &&
                   statement.begin >= loop.begin && statement.end <= loop.end &&
                   node.begin <= statement.end && nameOf(read.decl) == "item" && nameOf(set.decl) == "item";
    return false;
}

// Widgets of the window's that a group sets; what it only reads of some comes with its values.
QSet<int> Cutter::widgetsOf(const CodeNode &block, qsizetype at, qsizetype end, const Replay &r) const
{
    QSet<int> widgets;
    if (r.byRow)
        widgets.insert(Effects::root(*r.byRow));
    for (qsizetype i = at; i < end; ++i)
        block.children[i].each([&](const CodeNode &n) {
            for (const auto &[value, what] : r.values)
                if (&n == value)
                    return false;
            const CodeDecl *d = unit_.decl(n.decl);
            if (n.is("member") && d && d->kind == CodeDecl::Field && !effects_.bound(n.type).isEmpty())
                widgets.insert(n.decl);
            return true;
        });
    return widgets;
}

void Cutter::replayed(const CodeNode &block, qsizetype at, qsizetype end, const Replay &r,
                      const Inside &inside)
{
    const CodeNode &first = block.children[at], &last = block.children[end - 1];
    Deferred told;
    told.at = first.begin;
    told.list = true;
    told.byRow = r.byRow != nullptr;
    told.method = told.byRow ? nameOf(first.decl) : QString("replay");
    told.widgets = widgetsOf(block, at, end, r);
    QString base = told.widgets.isEmpty() ? QString("shown") : nameOf(*told.widgets.begin());
    told.widget = base;
    told.replay = "-"; // it is one: the text follows
    if (!keepsOrder(told))
        return;
    QStringList types, given, taken; // only the group's own names matter there
    for (const int v : r.own)
        taken << nameOf(v);
    QList<TextChange> shown;
    for (const auto &[v, what] : r.values) {
        changeExpression(*v, inside);
        const QString text = CodeWriter::changed(q_.text, v->begin, v->end, out_.changes);
        const bool wide = v->is("binary") || v->is("conditional") || v->is("operator");
        given << (wide && r.values.size() == 1 ? '(' + text + ')' : text);
        QString name = v->is("name") ? nameOf(v->decl) : what;
        for (int n = 2; told.names.contains(name) || taken.contains(name); ++n)
            name = what + QString::number(n);
        told.names << name;
        types << typeName(v->type);
        shown.append({v->begin, v->end, name});
    }
    made_ += r.own;
    deferredWidgets_ += told.widgets;
    while (base.endsWith('_'))
        base.chop(1);
    told.field = fresh(base + "Rows");
    told.type = types.isEmpty()     ? QString("bool")
                : types.size() == 1 ? types.first()
                                    : "std::tuple<" + types.join(", ") + '>';
    const QString indent(first.begin - (q_.text.lastIndexOf('\n', first.begin) + 1), ' ');
    told.replay = shownText(r, first.begin, last.end, shown).replace('\n' + indent, "\n        ");
    dropWithin(first.begin, last.end);
    out_.changes.append({first.begin, last.end,
                         "result." + told.field +
                             (given.size() > 1 ? ".emplaceBack(" + given.join(", ") + ");"
                                               : " << " + given.value(0, "true") + ';')});
    out_.deferred << told;
}

void Cutter::dropWithin(int begin, int end)
{
    out_.changes.removeIf([&](const TextChange &c) {
        const bool beside = c.begin == c.end && (c.begin == begin || c.begin == end);
        return !beside && c.begin >= begin && c.end <= end;
    });
}

} // namespace pipit
