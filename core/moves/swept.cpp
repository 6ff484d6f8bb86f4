#include "core/moves/swept.h"

namespace pipit
{

namespace
{

const CodeNode &bare(const CodeNode &n)
{
    return (n.is("paren") || n.is("cast")) && n.children.size() == 1 ? bare(n.children.first()) : n;
}

// The operands of a row of && or ||.
void operands(const CodeNode &n, const char *op, QList<const CodeNode *> *all)
{
    const CodeNode &b = bare(n);
    if (b.is("binary") && b.op == QLatin1String(op)) {
        for (const CodeNode &c : b.children)
            operands(c, op, all);
        return;
    }
    all->append(&n);
}

QString textOf(const QString &text, const CodeNode &n)
{
    return n.begin < 0 ? QString() : text.mid(n.begin, n.end - n.begin);
}

class Sweep
{
public:
    Sweep(const CodeUnit &unit, const Effects &effects, const CodeFunction &tick, const QString &text)
        : unit_(unit), effects_(effects), tick_(tick), text_(text)
    {
    }

    Swept look()
    {
        const QList<CodeNode> &all = tick_.body.children;
        const CodeNode *first = all.isEmpty() ? nullptr : &all.first();
        const CodeNode *then = first && first->is("if") ? first->child("then") : nullptr;
        if (!then || first->child("else")) {
            for (const CodeNode &s : all)
                done_ << &s;
            always();
        } else if (const CodeNode *last = then; leaves(*last)) {
            asked(*first, true);
            for (qsizetype i = 1; i < all.size(); ++i)
                done_ << &all[i];
        } else {
            asked(*first, false);
            for (qsizetype i = 1; i < all.size(); ++i)
                against(all[i].begin, "a tick does more than end one thing, and one timer ends one");
            if (then->is("block"))
                for (const CodeNode &s : then->children)
                    done_ << &s;
            else
                done_ << then;
        }
        if (out_.how != Swept::How::Always)
            endsOnce();
        return out_;
    }

private:
    void against(int at, const QString &reason) { out_.against.append({at, reason}); }

    static bool leaves(const CodeNode &n)
    {
        return n.is("return") ? n.children.isEmpty()
                              : n.is("block") && n.children.size() == 1 && leaves(n.children.first());
    }

    const CodeDecl *fieldOf(const CodeNode &n) const
    {
        const CodeDecl *d = unit_.decl(n.is("member") || n.is("name") ? n.decl : -1);
        return d && d->own && (d->kind == CodeDecl::Field || d->kind == CodeDecl::Global) ? d : nullptr;
    }

    // The member whose method this is, if it is one of QElapsedTimer's.
    int clockOf(const CodeNode &n, const char *method) const
    {
        const CodeDecl *d = n.is("method") ? unit_.decl(n.decl) : nullptr;
        const CodeNode *object = d && d->name == QLatin1String(method) ? n.child("object") : nullptr;
        const CodeDecl *field = object ? fieldOf(bare(*object)) : nullptr;
        const CodeRecord *r = field ? unit_.recordOfType(field->type) : nullptr;
        return r && r->name == "QElapsedTimer" ? bare(*object).decl : -1;
    }

    // Milliseconds that have passed since it began; `leaves`: that have not.
    bool isElapsed(const CodeNode &given, bool leaves)
    {
        const CodeNode &n = bare(given);
        const CodeNode *length = nullptr;
        int clock = -1;
        if (n.is("binary") && n.children.size() == 2 &&
            (leaves ? n.op == "<" || n.op == "<=" : n.op == ">" || n.op == ">=")) {
            clock = clockOf(bare(n.children[0]), "elapsed");
            length = &bare(n.children[1]);
        } else {
            const CodeNode &asked = leaves && n.is("unary") && n.op == "!" ? bare(n.children.first()) : n;
            clock = leaves && &asked == &n ? -1 : clockOf(asked, "hasExpired");
            length = clock >= 0 ? &bare(asked.children.last()) : nullptr;
        }
        if (clock < 0)
            return false;
        bool number = false;
        const int ms = textOf(text_, *length).remove('\'').toInt(&number);
        const CodeDecl *named = unit_.decl(length->decl);
        if (!number && !(named && named->fixed && valueOf(*named) > 0))
            against(length->begin, "its duration is not a constant");
        take(Swept::How::Elapsed, clock, given.begin);
        out_.lasts = std::chrono::milliseconds(number ? ms : named ? valueOf(*named) : 0);
        return true;
    }

    // Of a constant of the file's own, "constexpr int flash = 300;".
    int valueOf(const CodeDecl &d) const
    {
        if (d.at < 0 || d.file != tick_.file)
            return 0;
        const qsizetype is = text_.indexOf('=', d.at), end = text_.indexOf(';', d.at);
        return is < 0 || end < is ? 0 : text_.mid(is + 1, end - is - 1).remove('\'').trimmed().toInt();
    }

    void take(Swept::How how, int decl, int at)
    {
        if (out_.decl >= 0 && out_.how == how && out_.decl != decl)
            against(at, "its end depends on more than one thing");
        if (out_.how == Swept::How::Elapsed)
            return;
        out_.how = how;
        out_.decl = decl;
    }

    void asked(const CodeNode &s, bool leaves)
    {
        const CodeNode *condition = s.child("condition");
        if (!condition)
            return against(s.begin, "the condition of its end is not understood");
        QList<const CodeNode *> all;
        operands(*condition, leaves ? "||" : "&&", &all);
        qsizetype elapsed = -1;
        for (qsizetype i = 0; i < all.size(); ++i) {
            const CodeNode &n = bare(*all[i]);
            const bool negated = n.is("unary") && n.op == "!";
            const CodeNode &of = negated ? bare(n.children.first()) : n;
            if (isElapsed(*all[i], leaves))
                elapsed = i;
            else if (const CodeDecl *d = fieldOf(of); d && negated == leaves && isFlag(*d))
                take(Swept::How::Flag, of.decl, n.begin);
            else if (!(negated == leaves && clockOf(of, "isValid") >= 0))
                against(n.begin, "its end depends on " + textOf(text_, n).simplified() +
                                     ", which is read at every tick");
        }
        if (elapsed >= 0)
            unask(s, all, elapsed, leaves);
        if (out_.decl < 0 && out_.against.isEmpty())
            against(condition->begin, "the condition of its end is not understood");
    }

    bool isFlag(const CodeDecl &d) const
    {
        const CodeType *t = unit_.type(d.type);
        return t && t->canonical == "bool";
    }

    // The time is the timer's by then.
    void unask(const CodeNode &s, const QList<const CodeNode *> &all, qsizetype at, bool leaves)
    {
        if (all.size() > 1) {
            const bool last = at == all.size() - 1;
            out_.pieces.append(
                {last ? all[at - 1]->end : all[at]->begin, last ? all[at]->end : all[at + 1]->begin});
            return;
        }
        if (leaves) {
            qsizetype end = s.end;
            while (end < text_.size() && text_[end].isSpace() && text_[end] != '\n')
                ++end;
            qsizetype begin = s.begin;
            while (begin > 0 && text_[begin - 1] == ' ')
                --begin;
            out_.pieces.append({int(begin), int(end) + 1});
            return;
        }
        const CodeNode &then = *s.child("then");
        if (!then.is("block")) {
            out_.pieces.append({s.begin, then.begin});
            return;
        }
        QString inner = text_.mid(then.begin + 1, then.end - then.begin - 2).trimmed();
        QStringList lines = inner.split('\n');
        for (QString &line : lines)
            if (line.startsWith("        "))
                line.remove(0, 4);
        out_.pieces.append({s.begin, s.end, lines.join('\n')});
    }

    // Ended whatever there is: only what does nothing the second time.
    void always()
    {
        for (const CodeNode *s : std::as_const(done_)) {
            if (setsWidget(*s))
                continue;
            against(s->begin, "a tick does more than end something: " +
                                  textOf(text_, *s).section('\n', 0, 0).simplified().left(60));
        }
        if (out_.widgets.isEmpty() && out_.against.isEmpty())
            against(tick_.body.begin, "it ends nothing: its ticks set no widget");
    }

    bool setsWidget(const CodeNode &s)
    {
        const CodeDecl *d = s.is("method") ? unit_.decl(s.decl) : nullptr;
        const CodeNode *object = d ? s.child("object") : nullptr;
        const CodeDecl *widget = object ? unit_.decl(Effects::root(*object)) : nullptr;
        if (!widget || widget->kind != CodeDecl::Field || settingOf(d->name).isEmpty())
            return false;
        bool constant = true;
        s.eachArgument([&](const CodeNode &a, QChar) {
            constant = constant && effects_.of(a).isEmpty() && effects_.locals(a).reads.isEmpty();
        });
        if (constant)
            out_.widgets.insert({Effects::root(*object), settingOf(d->name)});
        return constant;
    }

    // What it does must be done once: it takes back what it asks, or does nothing the second time.
    void endsOnce()
    {
        bool once = false;
        for (const CodeNode *s : std::as_const(done_))
            s->each([&](const CodeNode &n) {
                once = once ||
                       (n.is("assign") && n.children.size() == 2 && bare(n.children[0]).decl == out_.decl) ||
                       clockOf(n, "invalidate") == out_.decl;
                return !once;
            });
        if (once)
            return;
        for (const CodeNode *s : std::as_const(done_))
            if (!setsWidget(*s))
                against(s->begin, "it runs at every tick after that, not once");
        out_.widgets.clear();
    }

    const CodeUnit &unit_;
    const Effects &effects_;
    const CodeFunction &tick_;
    const QString &text_;
    QList<const CodeNode *> done_; // when it ends
    Swept out_;
};

class Beginnings
{
public:
    Beginnings(const CodeUnit &unit, const Swept &swept, const QString &text, QList<Swept::Against> *against)
        : unit_(unit), swept_(swept), text_(text), against_(against)
    {
    }

    QList<Begun> in(const CodeFunction &f)
    {
        block(f.body);
        return std::move(found_);
    }

private:
    bool begins(const CodeNode &s)
    {
        const CodeDecl *d = s.is("method") ? unit_.decl(s.decl) : nullptr;
        const CodeNode *object = d ? s.child("object") : nullptr;
        const int on = object ? Effects::root(*object) : -1;
        switch (swept_.how) {
        case Swept::How::Elapsed:
            return on == swept_.decl && on >= 0 && (d->name == "start" || d->name == "restart");
        case Swept::How::Flag:
            return (s.is("assign") || s.is("update")) && !s.children.isEmpty() &&
                   bare(s.children.first()).decl == swept_.decl && setsIt(s);
        case Swept::How::Always:
            return on >= 0 && swept_.widgets.contains({on, settingOf(d->name)}) && !isEnd(s);
        }
        return false;
    }
    bool setsIt(const CodeNode &s)
    {
        const QString value = s.children.size() == 2 ? textOf(text_, bare(s.children[1])) : QString();
        if (value != "true" && value != "false")
            against_->append({s.begin, "whether it begins is known only at run time: " +
                                           textOf(text_, s).simplified().left(60)});
        return value == "true";
    }
    // What sets a widget as the sweep does.
    bool isEnd(const CodeNode &s) const
    {
        const CodeDecl *d = unit_.decl(s.decl);
        return d->name == "clear" || d->name == "hide" || textOf(text_, s).contains("(\"\")") ||
               textOf(text_, s).contains("(QString())") || textOf(text_, s).contains("({})");
    }

    void block(const CodeNode &b)
    {
        Begun last;
        for (const CodeNode &s : b.children) {
            if (begins(s))
                last = {s.begin, endOf(s), false};
            else
                inside(s);
        }
        if (last.begin >= 0)
            found_.append(last);
    }
    void inside(const CodeNode &s)
    {
        for (const CodeNode &c : s.children) {
            if (c.is("block"))
                block(c);
            else if ((c.role == "then" || c.role == "else" || c.role == "body") && begins(c))
                found_.append({c.begin, endOf(c), true});
            else
                inside(c);
        }
    }
    int endOf(const CodeNode &s) const
    {
        const qsizetype end = s.end > 0 && text_[s.end - 1] == ';' ? s.end : text_.indexOf(';', s.end) + 1;
        return int(end);
    }

    const CodeUnit &unit_;
    const Swept &swept_;
    const QString &text_;
    QList<Swept::Against> *against_;
    QList<Begun> found_;
};

} // namespace

QStringList Swept::names(const CodeUnit &unit) const
{
    QStringList all;
    if (const CodeDecl *d = unit.decl(decl))
        all << d->name;
    for (const auto &[widget, setting] : widgets)
        all << unit.decls[widget].name;
    all.removeDuplicates();
    return all;
}

Swept sweptBy(const CodeUnit &unit, const Effects &effects, const CodeFunction &tick, const QString &text)
{
    return Sweep(unit, effects, tick, text).look();
}

QList<Begun> begunIn(const CodeUnit &unit, const Swept &swept, const CodeFunction &function,
                     const QString &text, QList<Swept::Against> *against)
{
    return Beginnings(unit, swept, text, against).in(function);
}

QString settingOf(const QString &method)
{
    static const QHash<QString, QString> settings{
        {"setText", "text"},        {"setNum", "text"},         {"clear", "text"},
        {"setPixmap", "text"},      {"setStyleSheet", "style"}, {"setVisible", "visible"},
        {"show", "visible"},        {"hide", "visible"},        {"setEnabled", "enabled"},
        {"setDisabled", "enabled"}, {"setChecked", "checked"},  {"setValue", "value"},
        {"reset", "value"},         {"showMessage", "message"}, {"clearMessage", "message"},
        {"setPalette", "palette"},  {"setToolTip", "tool tip"}};
    return settings.value(method);
}

} // namespace pipit
