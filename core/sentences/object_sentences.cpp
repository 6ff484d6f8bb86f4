// Widgets, objects and timers in words, and what an edited sentence asks for. One table says how each
// property is worded, for reading and for writing.
#include "core/catalog/catalog.h"
#include "core/project/naming.h"
#include "core/project/values.h"
#include "core/sentences/sentence.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

QString article(const QString &word)
{
    return QString("aeiou").contains(word.left(1).toLower()) ? "an " + word : "a " + word;
}

template <class Node> bool isBool(const Node &n, const char *property, bool wanted)
{
    const Json *v = n.property(QLatin1String(property));
    return v && v->type() == Json::Bool && v->toBool() == wanted;
}

// How much of a text is shown: enough to recognise it, or all of it, as it can be typed.
enum class Texts { Short, Whole };

QString quoted(const QString &s, Texts how)
{
    if (how == Texts::Whole)
        return '"' + QString(s).replace('\\', "\\\\").replace('"', "\\\"").replace('\n', "\\n") + '"';
    const QString line = QString(s).replace('\n', ' ');
    return "“" + (line.size() > 60 ? line.left(59) + "…" : line) + "”";
}

QString kindOf(const WidgetNode &w)
{
    if (!w.header.isEmpty())
        return w.className;
    if (w.className == "QFrame" && (w.textOf("frameShape") == "HLine" || w.textOf("frameShape") == "VLine"))
        return "separator";
    if (w.className == "QPushButton" && isBool(w, "checkable", true))
        return "toggle button";
    if (w.className == "QWidget" && w.layout == "row")
        return "row";
    if (w.className == "QWidget" && w.layout == "grid")
        return "grid";
    if (w.className == "QWidget" && w.layout == "labelled")
        return "area of labelled rows";
    return plainWordFor(w.className);
}

QString kindOf(const ObjectNode &o)
{
    if (!o.header.isEmpty())
        return o.className + (o.thread ? " on a thread of its own" : "");
    return plainWordFor(o.className);
}

// What is said of a property: " saying " and its text, or a word alone.
struct Wording {
    enum Kind { Quoted, Rows, Plain, Word, Range, AsItIs } kind;
    const char *property; // several divided by |: the first that is set, or that the class has
    const char *words;    // with the space or comma before it
    bool value = true;    // of a word: what the property is when it is said
};

// In the order in which they are said.
const std::vector<Wording> &wordings(bool widget)
{
    using W = Wording;
    static const std::vector<Wording> ofWidgets{{W::Quoted, "text|title|windowTitle|tabTitle", " saying "},
                                                {W::Quoted, "placeholderText", " asking for "},
                                                {W::Range, "minimum|maximum", " from "},
                                                {W::Rows, "items", " of "},
                                                {W::AsItIs, "icon|pixmap", " with "},
                                                {W::AsItIs, "actions", " with "},
                                                {W::AsItIs, "standardButtons", " "},
                                                {W::Plain, "dragType", ", can be dragged as "},
                                                {W::Word, "acceptDrops", ", takes drops"},
                                                {W::Word, "checked", ", checked"},
                                                {W::Word, "tristate", ", in three states"},
                                                {W::Word, "readOnly", ", read only"},
                                                {W::Word, "enabled", ", disabled", false},
                                                {W::Word, "visible", ", hidden", false}};
    static const std::vector<Wording> ofObjects{
        {W::Quoted, "text", " saying "},       {W::Plain, "shortcut", " by "},
        {W::Plain, "program", " running "},    {W::Plain, "server", " at "},
        {W::Plain, "paths", " on "},           {W::Plain, "items", " of "},
        {W::Word, "checkable", ", checkable"}, {W::Word, "enabled", ", disabled", false}};
    return widget ? ofWidgets : ofObjects;
}

QStringList namesIn(const Wording &w)
{
    return QString::fromLatin1(w.property).split('|');
}

double edgeOf(const WidgetNode &n, const char *property, double byDefault)
{
    const Json *v = n.property(QLatin1String(property));
    return v && v->type() == Json::Number ? v->toNumber() : byDefault;
}
double edgeOf(const ObjectNode &, const char *, double)
{
    return 0; // objects have no range
}

// What the sentence says of this property; empty where it says nothing.
template <class Node> QString said(const Node &n, const Wording &w, Texts how)
{
    const QString words = QString::fromUtf8(w.words);
    if (w.kind == Wording::Word)
        return isBool(n, w.property, w.value) ? words : QString();
    if (w.kind == Wording::Range)
        return n.property("minimum") || n.property("maximum")
                   ? QStringLiteral(" from %1 to %2")
                         .arg(edgeOf(n, "minimum", 0))
                         .arg(edgeOf(n, "maximum", n.className.contains("Spin") ? 99 : 100))
                   : QString();
    QString text;
    for (const QString &p : namesIn(w))
        if (text.isEmpty())
            text = n.textOf(p);
    if (text.isEmpty())
        return {};
    switch (w.kind) {
    case Wording::Quoted:
        return words + quoted(text, how);
    case Wording::Rows: {
        const qsizetype rows = text.count('\n') + 1;
        return rows <= 4 ? words + text.split('\n').join(", ") : QStringLiteral(" of %1 rows").arg(rows);
    }
    case Wording::AsItIs:
        return words + text.replace('|', ", ");
    default:
        return words + (how == Texts::Whole ? text.replace('\n', ", ") : text.replace('\n', ", ").left(80));
    }
}

template <class Node> QString sentenceOf(const Node &n, bool widget, bool window, Texts how)
{
    QString s = n.name + ", " + (window ? QString("the window") : article(kindOf(n)));
    for (const Wording &w : wordings(widget))
        s += said(n, w, how);
    return s;
}

// --- edited sentences

QString unquoted(QString s)
{
    static const QRegularExpression escape("\\\\(.)");
    QString out;
    qsizetype from = 0;
    for (auto it = escape.globalMatch(s); it.hasNext();) {
        const auto m = it.next();
        out += s.mid(from, m.capturedStart() - from) + (m.captured(1) == "n" ? QString('\n') : m.captured(1));
        from = m.capturedEnd();
    }
    return out + s.mid(from);
}

// Where a plain text ends: at the next words that may follow it, or at the end.
QString plainText(const QString &rest, const QStringList &mayFollow)
{
    qsizetype end = rest.size();
    for (const QString &words : mayFollow)
        if (const qsizetype at = rest.indexOf(words); at > 0)
            end = std::min(end, at);
    return rest.left(end);
}

// What may follow a plain text about `mine`: the words of others, and what is said now of those that
// cannot be written in the sentence.
template <class Node> QStringList followers(const Node &n, bool widget, const Wording &mine)
{
    QStringList all;
    for (const Wording &w : wordings(widget)) {
        const QString words = QString::fromUtf8(w.words);
        const QString follows = words.startsWith(',') ? words : said(n, w, Texts::Whole);
        if (&w != &mine && !follows.isEmpty())
            all << follows;
    }
    return all;
}

// Takes what is said of a property from the front of `rest`: what the property is set to, by name.
std::optional<QList<std::pair<QString, QString>>> take(QString &rest, const Wording &w,
                                                       const QString &property, const QStringList &mayFollow)
{
    const QString words = QString::fromUtf8(w.words);
    if (!rest.startsWith(words))
        return std::nullopt;
    if (w.kind == Wording::Word) {
        rest.remove(0, words.size());
        return {{{property, w.value ? "true" : "false"}}};
    }
    static const QRegularExpression text("^\"((?:[^\"\\\\]|\\\\.)*)\""), range("^(-?[\\d.]+) to (-?[\\d.]+)"),
        count("^\\d+ rows");
    const QString after = rest.mid(words.size());
    if (w.kind == Wording::Quoted || w.kind == Wording::Range) {
        const auto m = (w.kind == Wording::Quoted ? text : range).match(after);
        if (!m.hasMatch())
            return std::nullopt;
        rest = after.mid(m.capturedLength());
        if (w.kind == Wording::Quoted)
            return {{{property, unquoted(m.captured(1))}}};
        return {{{"minimum", m.captured(1)}, {"maximum", m.captured(2)}}};
    }
    if (w.kind == Wording::AsItIs || count.match(after).hasMatch())
        return std::nullopt;
    const QString value = plainText(after, mayFollow);
    if (value.trimmed().isEmpty())
        return std::nullopt;
    rest = after.mid(value.size());
    const bool lines = w.kind == Wording::Rows || property == "items" || property == "paths";
    return {{{property, lines ? value.trimmed().split(", ").join('\n') : value.trimmed()}}};
}

// The property that a wording means for this thing: the one that is set, or that its class has.
template <class Node> QString propertyMeant(const Node &n, const Wording &w, const QString &cls, bool window)
{
    const QStringList names = namesIn(w);
    for (const QString &p : names)
        if (n.property(p))
            return p;
    for (const QString &p : names)
        if (p != "windowTitle" || Catalog::get().inherits(cls, "QDialog") || cls == "QMainWindow" || window)
            if (propertyFor(cls, p))
                return p;
    return {};
}

template <class Node>
Result<SentenceChange> changed(const Node &n, const QString &cls, bool widget, bool window,
                               const QString &text)
{
    static const QRegularExpression head("^(\\w+), (.*)$", QRegularExpression::DotMatchesEverythingOption);
    const auto m = head.match(text.trimmed());
    const QString kind = window ? "the window" : article(kindOf(n));
    const QChar next = m.captured(2).size() > kind.size() ? m.captured(2)[kind.size()] : QChar(' ');
    if (!m.hasMatch() || !m.captured(2).startsWith(kind) || (next != ' ' && next != ','))
        return Problem{
            "A sentence begins with the name and the kind",
            {},
            QStringLiteral("Begin with %1, %2. For another kind, add a new widget").arg(n.name, kind)};
    SentenceChange change;
    change.name = m.captured(1) == n.name ? QString() : m.captured(1);
    QString rest = m.captured(2).mid(kind.size());
    QStringList saidNow;
    const auto set = [&](const QString &p, const QString &value) {
        change.settings.append({n.name, p, value});
    };
    while (!rest.isEmpty()) {
        bool understood = false;
        for (const Wording &w : wordings(widget)) {
            const QString old = said(n, w, Texts::Whole), property = propertyMeant(n, w, cls, window);
            const bool same =
                !old.isEmpty() && rest.startsWith(old) &&
                (rest.size() == old.size() || rest[old.size()] == ' ' || rest[old.size()] == ',');
            if (same) {
                rest.remove(0, old.size());
            } else if (n.textOf(property).contains(", ") && w.kind != Wording::Quoted) {
                continue; // where one ends and the next begins cannot be told
            } else if (auto taken = property.isEmpty() ? std::nullopt
                                                       : take(rest, w, property, followers(n, widget, w))) {
                for (const auto &[p, value] : *taken)
                    set(p, value);
            } else {
                continue;
            }
            saidNow << QLatin1String(w.property);
            understood = true;
            break;
        }
        if (!understood)
            return Problem{
                QStringLiteral("'%1' is not understood here").arg(rest.trimmed().left(60)),
                {},
                "Change texts, numbers and words such as ', disabled'; other properties are set in the "
                "line below, as in minimum width 48"};
    }
    for (const Wording &w : wordings(widget)) // what is no longer said goes back to its default
        if (!said(n, w, Texts::Whole).isEmpty() && !saidNow.contains(QLatin1String(w.property)))
            for (const QString &p : namesIn(w))
                if (n.property(p))
                    set(p, QString());
    return change;
}

Result<SentenceChange> changed(const TimerNode &t, const QString &text)
{
    static const QRegularExpression form(
        "^(\\w+), a timer (every|once after) (\\d{1,9}) ms(, precise)?(, not started by itself)?$");
    const auto m = form.match(text.simplified());
    if (!m.hasMatch())
        return Problem{"This is not a sentence about a timer",
                       {},
                       "Write it as gateTimer, a timer every 250 ms, precise, not started by itself"};
    SentenceChange change;
    change.name = m.captured(1) == t.name ? QString() : m.captured(1);
    const auto set = [&](bool differs, const char *p, const QString &value) {
        if (differs)
            change.settings.append({t.name, QLatin1String(p), value});
    };
    const auto word = [](bool b) { return QString(b ? "true" : "false"); };
    const bool repeat = m.captured(2) == "every", precise = !m.captured(4).isEmpty(),
               autostart = m.captured(5).isEmpty();
    set(m.captured(3).toInt() != t.interval, "interval", m.captured(3));
    set(repeat != t.repeat, "repeat", word(repeat));
    set(precise != t.precise, "precise", word(precise));
    set(autostart != t.autostart, "autostart", word(autostart));
    return change;
}

} // namespace

QString widgetSentence(const WidgetNode &w, bool window)
{
    return sentenceOf(w, true, window, Texts::Short);
}

QString objectSentence(const ObjectNode &o)
{
    return sentenceOf(o, false, false, Texts::Short);
}

QString timerSentence(const TimerNode &t)
{
    return t.name +
           (t.repeat ? QStringLiteral(", a timer every %1 ms").arg(t.interval)
                     : QStringLiteral(", a timer once after %1 ms").arg(t.interval)) +
           (t.precise ? ", precise" : "") + (t.autostart ? "" : ", not started by itself");
}

QString paceSentence(const Handler &h)
{
    if (h.isTogether())
        return QStringLiteral("up to %1 at once").arg(h.workers);
    return h.isQueued() ? "in the queue " + h.queue : QString();
}

QString handlerSentence(const Handler &h)
{
    QString text = h.name + ", " + shapeSentence(h.shape) + ", in " + h.file;
    if (h.shape != Shape::OneGo)
        text += ", its job is " + jobName(h);
    const QString pace = paceSentence(h);
    return pace.isEmpty() ? text : text + ", " + pace;
}

// A plain widget that is a window says so; a dialog or a main window says that anyway.
static bool isPlainWindow(const Project &p, const WidgetNode &w)
{
    return w.className == "QWidget" && !p.parentOf(w.name);
}

QString sentenceToEdit(const Project &p, const QString &name)
{
    if (const WidgetNode *w = p.widget(name))
        return sentenceOf(*w, true, isPlainWindow(p, *w), Texts::Whole);
    if (const ObjectNode *o = p.object(name))
        return sentenceOf(*o, false, false, Texts::Whole);
    const TimerNode *t = p.timer(name);
    return t ? timerSentence(*t) : QString();
}

// Typographic quotes around a text are as good as straight ones.
static QString withStraightQuotes(const QString &text)
{
    QString out;
    QChar closing; // of the text that is open; null: none
    for (qsizetype i = 0; i < text.size(); ++i) {
        const QChar c = text[i];
        if (!closing.isNull() && c == '\\' && i + 1 < text.size()) {
            out += c;
            out += text[++i];
        } else if (closing.isNull() && (c == '"' || c == u'“')) {
            closing = c == '"' ? QChar('"') : QChar(u'”');
            out += '"';
        } else if (!closing.isNull() && c == closing) {
            closing = QChar();
            out += '"';
        } else {
            out += c == '"' ? QStringLiteral("\\\"") : QString(c);
        }
    }
    return out;
}

Result<SentenceChange> parseEditedSentence(const Project &p, const QString &name, const QString &typed)
{
    const QString text = withStraightQuotes(typed);
    if (text.size() > 100'000)
        return Problem{"This is too long to be a sentence", {}, "Set long texts in the line below"};
    if (const WidgetNode *w = p.widget(name))
        return changed(*w, w->knownClass(), true, isPlainWindow(p, *w), text);
    if (const ObjectNode *o = p.object(name))
        return changed(*o, o->knownClass(), false, false, text);
    if (const TimerNode *t = p.timer(name))
        return changed(*t, text);
    return unknownObject(p, name);
}

} // namespace pipit
