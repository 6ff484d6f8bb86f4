#include "core/moves/elsewhere.h"

#include "core/project/selector.h"

#include <QDirIterator>
#include <QRegularExpression>

namespace pipit
{

namespace
{

using Match = QRegularExpressionMatch;

constexpr qsizetype mostFiles = 500;

// What a function on a source does that its signals may come of: it sets, adds, takes away, clicks.
const QRegularExpression &settingOff()
{
    static const QRegularExpression form(
        "^(?:set(?!Enabled|Disabled|Visible|Hidden|ToolTip|StatusTip|WhatsThis|StyleSheet|Palette|Font|Focus|"
        "Cursor|"
        "ObjectName|Accessible\\w*|Minimum(?:Width|Height|Size)|Maximum(?:Width|Height|Size)|Fixed\\w*|"
        "Geometry|"
        "Placeholder\\w*|Alignment|Icon\\w*|Layout)\\w*|clear\\w*|click|animateClick|toggle|trigger|activate|"
        "insert\\w*|add\\w*|"
        "remove\\w*|take\\w*|append\\w*|prepend\\w*|start|stop|step\\w*|select\\w*|undo|redo|cut|paste|reset|"
        "close|accept|reject|done|sort\\w*|move\\w*)$");
    return form;
}

bool isWithin(qsizetype at, const Definition &d)
{
    return at >= d.headBegin && at <= d.bodyClose;
}

} // namespace

QStringList codeIn(const QString &folder)
{
    QStringList files;
    const QDir dir(folder);
    QDirIterator it(folder, {"*.cpp", "*.cc", "*.cxx", "*.h", "*.hh", "*.hpp"}, QDir::Files,
                    QDirIterator::Subdirectories);
    static const QRegularExpression made("^(?:generated|build[^/]*|\\.[^/]+)/");
    while (it.hasNext() && files.size() < mostFiles)
        if (const QString file = dir.relativeFilePath(it.next()); !file.contains(made))
            files << file;
    files.sort();
    return files;
}

OtherCode::OtherCode(const Project &project, UserFiles files, const QString &folder, const Handler &handler,
                     const QString &className)
    : project_(project), handler_(handler), class_(className)
{
    QStringList names = codeIn(folder);
    if (!names.contains(handler.file)) // not saved yet
        names << handler.file;
    for (const QString &file : std::as_const(names))
        if (const auto text = files.text(file))
            texts_.append({file, codeOnly(*text), *text, definitionsIn(*text)});
}

bool OtherCode::isHandlers(const Text &t, qsizetype at) const
{
    for (const Definition &d : t.definitions)
        if (d.name == handler_.name && isWithin(at, d) &&
            (d.className == class_ || d.className.endsWith("::" + class_)))
            return true;
    return false;
}

// Whether `object->` or `scope::` before a function's name says that it is another class's: that is so of the
// project's objects, and of what is declared as something else. Of all others it is not known, so it is not.
bool OtherCode::isAnothers(const QString &object, const QString &scope) const
{
    if (!scope.isEmpty())
        return scope != class_;
    if (object.isEmpty() || object == "this")
        return false;
    const QRegularExpression declared(
        "\\b([A-Za-z_][\\w:]*)(?:<[^;{}()]*>)?\\s*(?:[*&]+\\s*|\\s)(?:const\\s+)?" + object +
        "\\s*[;=,){(\\[:]");
    static const QStringList noTypes = {"return", "auto",  "new",   "delete",  "else",
                                        "case",   "const", "throw", "typename"};
    bool another = !project_.classOf(object).isEmpty();
    for (const WindowNode &w : project_.windows)
        another = another && !(w.root.name == object && w.className == class_);
    for (const Text &t : texts_)
        for (auto it = declared.globalMatch(t.code); it.hasNext();) {
            const QString type = it.next().captured(1);
            if (type == "auto" || type.section("::", -1) == class_)
                return false;
            another = another || !noTypes.contains(type);
        }
    return another;
}

QList<Elsewhere> OtherCode::calls() const
{
    QList<Elsewhere> all;
    const QString name = "\\b" + QRegularExpression::escape(handler_.name);
    const QRegularExpression call("(?:(\\w+)\\s*(?:->|\\.)\\s*|(\\w+)\\s*::\\s*)?" + name + "\\s*\\("),
        byName("\\b(?:invokeMethod|SLOT|SIGNAL)\\s*\\([^;]*?" + name + "\\b");
    for (const Text &t : texts_) {
        // Only within a function; elsewhere it is declared.
        const auto look = [&](const QRegularExpressionMatch &m, const QString &how) {
            const qsizetype at = m.capturedEnd();
            for (const Definition &d : t.definitions)
                if (at > d.bodyOpen && at < d.bodyClose && !isHandlers(t, at)) {
                    all.append({t.file, lineAt(t.whole, at), how});
                    return;
                }
        };
        for (auto it = call.globalMatch(t.code); it.hasNext();)
            if (const Match m = it.next(); !isAnothers(m.captured(1), m.captured(2)))
                look(m, handler_.name + " is called here as a function, and the caller uses the result");
        for (auto it = byName.globalMatch(t.whole); it.hasNext();)
            if (const Match m = it.next(); t.code[m.capturedStart()] != ' ')
                look(m, handler_.name + " is called here by its name");
    }
    return all;
}

QList<Elsewhere> OtherCode::readsAtOnce(const QSet<QString> &set) const
{
    QList<Elsewhere> all;
    if (set.isEmpty())
        return all;
    QSet<QString> names = set, sources, signals_;
    for (const Connection &c : project_.connections) {
        if (!c.callsHandler(handler_.name) || c.sourceKind != Connection::Source::Signal ||
            c.pacing.kind != PacingKind::AtOnce || !c.enabled)
            continue;
        sources.insert(c.from);
        signals_.insert(c.signal.section('(', 0, 0));
        if (const auto s = Selector::parse(c.select); !c.select.isEmpty() && s)
            for (const SelectorMatch &m : s->matches(project_))
                sources.insert(m.name);
    }
    sources.remove({});
    const auto mentions = [&names](const QString &code) {
        static const QRegularExpression word("\\b[A-Za-z_]\\w*\\b");
        for (auto it = word.globalMatch(code); it.hasNext();)
            if (const QString w = it.next().captured(); names.contains(w))
                return w;
        return QString();
    };
    // Functions that look at it are as good as it.
    for (bool more = true; more;) {
        more = false;
        for (const Text &t : texts_)
            for (const Definition &d : t.definitions)
                if (!names.contains(d.name) && d.name != handler_.name &&
                    !mentions(t.code.mid(d.bodyOpen, d.bodyClose - d.bodyOpen)).isEmpty()) {
                    names.insert(d.name);
                    more = true;
                }
    }
    static const QRegularExpression onObject("\\b(\\w+)\\s*->\\s*(\\w+)\\s*\\("),
        emitted("\\b(?:emit|Q_EMIT)\\s+(\\w+)\\s*\\(");
    for (const Text &t : texts_)
        for (const Definition &d : t.definitions) {
            if (d.name == handler_.name)
                continue;
            const QString body = t.code.mid(d.bodyOpen, d.bodyClose - d.bodyOpen);
            const auto look = [&](const Match &m, const QString &what) {
                const qsizetype end = body.indexOf(';', m.capturedEnd());
                const QString after = end < 0 ? QString() : mentions(body.mid(end));
                if (!after.isEmpty())
                    all.append({t.file, lineAt(t.whole, d.bodyOpen + m.capturedStart()),
                                QStringLiteral("%1 triggers %2 directly with %3 and then uses %4")
                                    .arg(d.name, handler_.name, what, after)});
            };
            for (auto it = onObject.globalMatch(body); it.hasNext();)
                if (const Match m = it.next();
                    sources.contains(m.captured(1)) &&
                    (settingOff().match(m.captured(2)).hasMatch() || signals_.contains(m.captured(2))))
                    look(m, m.captured(1) + "->" + m.captured(2) + "()");
            for (auto it = emitted.globalMatch(body); it.hasNext();)
                if (const Match m = it.next(); signals_.contains(m.captured(1)))
                    look(m, "the signal " + m.captured(1));
        }
    return all;
}

namespace
{

// Declared, made, laid out or connected, by what stands before and after its name.
bool isOnlyNamed(const QString &before, const QString &after)
{
    static const QRegularExpression declared("[\\w>]\\s*\\*\\s*$"),
        made("^=\\s*(?:new\\b|nullptr\\b)|^\\(?\\s*new\\b"),
        laidOut("\\b(?:addWidget|addTab|addRow|setCentralWidget|setBuddy|setTabOrder|setWidget)\\s*\\([^;(){}"
                "]*$"),
        connected("\\b(?:connect|disconnect|installEventFilter)\\s*\\([^;{}]*$"),
        cleared("^,\\s*(?:&\\w+::|SLOT\\s*\\(\\s*)clear\\b");
    if (declared.match(before).hasMatch() && !before.contains("delete"))
        return true;
    return made.match(after).hasMatch() || laidOut.match(before).hasMatch() ||
           (connected.match(before).hasMatch() && !cleared.match(after).hasMatch());
}

// Of widgets that a text names with ->, those whose rows some statement outside [from, to) may take away or
// move.
QSet<QString> restlessIn(const QString &code, qsizetype from, qsizetype to)
{
    // What leaves every row where it is.
    static const QRegularExpression harmless(
        "^->\\s*(?:count|rowCount|columnCount|row|column|currentRow|currentColumn|setCurrentRow|"
        "setCurrentCell|"
        "setCurrentItem|addItems?|text|font|isRowHidden|setRowHidden|isColumnHidden|setColumnHidden|"
        "isEnabled|"
        "setEnabled|setDisabled|isVisible|setVisible|show|hide|setFocus|hasFocus|clearFocus|scrollTo\\w*|"
        "viewport|"
        "setToolTip|setStyleSheet|setFont|setPalette|selectAll|clearSelection|setColumnWidth|setRowHeight|"
        "resizeColumns?ToContents|resizeRows?ToContents|horizontalHeader|verticalHeader|verticalScrollBar|"
        "horizontalScrollBar|update|repaint|setMinimum\\w+|setMaximum\\w+|setFixed\\w+|setAccessible\\w+)\\s*"
        "\\("),
        asked("^->\\s*(?:item|currentItem|selectedItems|findItems|itemAt|topLevelItem|itemFromIndex|"
              "cellWidget)\\s*\\("),
        deletes("\\b(?:delete|qDeleteAll|deleteLater|swap)\\b"), word("\\b([A-Za-z_]\\w*)\\b(?=(\\s*->)?)");
    QSet<QString> restless;
    const auto bodyAround = [&](qsizetype at) { // as far as braces go that begin a line, or the statement
        const qsizetype begin = code.lastIndexOf("\n{", at), end = code.indexOf("\n}", at);
        return code.mid(std::max<qsizetype>(0, begin),
                        (end < 0 ? code.size() : end) - std::max<qsizetype>(0, begin));
    };
    QSet<QString> lists; // that are used as such somewhere
    static const QRegularExpression list("\\b(\\w+)\\s*->\\s*(?:item|topLevelItem|count|rowCount)\\s*\\(");
    for (auto it = list.globalMatch(code); it.hasNext();)
        lists.insert(it.next().captured(1));
    for (auto it = word.globalMatch(code); it.hasNext();) {
        const Match m = it.next();
        const qsizetype at = m.capturedStart();
        if (!lists.contains(m.captured(1)) || (at >= from && at < to))
            continue;
        const QString after = code.mid(m.capturedEnd(), 60).trimmed();
        if (harmless.match(after).hasMatch() ||
            isOnlyNamed(code.mid(std::max<qsizetype>(0, at - 120), std::min<qsizetype>(at, 120)), after))
            continue;
        if (asked.match(after).hasMatch() && !bodyAround(at).contains(deletes))
            continue;
        restless.insert(m.captured(1));
    }
    return restless;
}

} // namespace

QSet<QString> OtherCode::restless() const
{
    QSet<QString> all;
    for (const Text &t : texts_) {
        qsizetype from = 0, to = 0;
        for (const Definition &d : t.definitions)
            if (d.name == handler_.name && (d.className == class_ || d.className.endsWith("::" + class_))) {
                from = d.headBegin;
                to = d.bodyClose;
            }
        all += restlessIn(t.code, from, to);
        // By another name any of them may be meant.
        static const QRegularExpression unnamed(
            "\\b(?:findChild|findChildren|qobject_cast|static_cast|dynamic_cast)\\s*<[^;>]*\\b(?:Q(?:List|"
            "Table|Tree|Column)(?:"
            "Widget|View)|QAbstractItemView|QAbstractScrollArea|Q\\w*Model)\\b");
        for (auto it = unnamed.globalMatch(t.code); it.hasNext();)
            if (const qsizetype at = it.next().capturedStart(); at < from || at >= to)
                all.insert("*");
    }
    static const QSet<QString> calm = {"setEnabled",  "setDisabled",    "setVisible",   "setHidden",
                                       "show",        "hide",           "setFocus",     "update",
                                       "repaint",     "setCurrentRow",  "selectAll",    "clearSelection",
                                       "scrollToTop", "scrollToBottom", "setStyleSheet"};
    for (const Connection &c : project_.connections)
        if (c.targetKind == Connection::Target::Slot && !calm.contains(c.toMember.section('(', 0, 0)))
            all.insert(c.to);
    project_.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        for (const char *p : {"dragDropMode", "dragEnabled", "sortingEnabled", "model"})
            if (!w.textOf(p).isEmpty() && w.textOf(p) != "false")
                all.insert(w.name);
    });
    return all;
}

} // namespace pipit
