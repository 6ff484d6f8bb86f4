#include "core/project/selector.h"

#include "core/catalog/catalog.h"
#include "core/project/naming.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

Problem misread(const QString &text)
{
    return {QStringLiteral("'%1' is not a selector").arg(text.left(80)),
            {},
            "Write a class, #name with *, [property=value], or several with spaces between, as in "
            "QGroupBox #key_*"};
}

QString textOf(const Json &v)
{
    switch (v.type()) {
    case Json::Bool:
        return v.toBool() ? "true" : "false";
    case Json::Number:
        return QString::number(v.toNumber(), 'g', 12);
    case Json::String:
        return v.toString();
    default:
        return {};
    }
}

// Matches * without regular expressions, so that a pattern's cost stays linear in the name.
bool glob(const QString &pattern, const QString &name, QString *star)
{
    const QStringList parts = pattern.split('*');
    if (parts.size() == 1)
        return pattern == name;
    if (!name.startsWith(parts.first()))
        return false;
    qsizetype at = parts.first().size(), firstEnd = -1;
    for (qsizetype i = 1; i < parts.size(); ++i) {
        const bool last = i + 1 == parts.size();
        const qsizetype found = last ? name.size() - parts[i].size() : name.indexOf(parts[i], at);
        if (found < at || !QStringView(name).mid(found).startsWith(parts[i]))
            return false;
        if (firstEnd < 0)
            firstEnd = found;
        at = found + parts[i].size();
    }
    *star = name.mid(parts.first().size(), firstEnd - parts.first().size());
    return true;
}

} // namespace

bool looksLikeSelector(const QString &text)
{
    return text.contains('#') || text.contains('*') || text.contains('[') || text.contains(":not(") ||
           text.contains(',');
}

namespace
{

// Divided by commas outside quotes and parentheses.
QStringList alternatives(const QString &text)
{
    QStringList parts{QString()};
    bool quoted = false;
    int depth = 0;
    for (const QChar c : text) {
        quoted = quoted != (c == '"');
        depth += quoted ? 0 : int(c == '(') - int(c == ')');
        if (c == ',' && !quoted && depth == 0)
            parts << QString();
        else
            parts.last() += c;
    }
    return parts;
}

} // namespace

Result<QString> withNames(const QString &selector, const Project &project)
{
    static const QRegularExpression plain("^[A-Za-z_]\\w*$");
    QStringList parts;
    for (const QString &each : alternatives(selector)) {
        const QString part = each.trimmed();
        bool isClass = !plain.match(part).hasMatch() || Catalog::get().has(part);
        if (!isClass && !project.classOf(part).isEmpty()) {
            parts << '#' + part;
            continue;
        }
        if (!isClass) // of the user's own
            project.eachWidget(
                [&](const WidgetNode &w, const WidgetNode *) { isClass = isClass || w.className == part; });
        for (const WindowNode &w : project.windows)
            for (const ObjectNode &o : w.objects)
                isClass = isClass || o.className == part;
        if (!isClass)
            return unknownObject(project, part);
        parts << part;
    }
    return parts.join(", ");
}

Result<Selector> Selector::parse(const QString &text)
{
    if (text.size() > 1000)
        return misread(text);
    Selector s;
    for (const QString &part : alternatives(text)) {
        auto path = parsePath(part.trimmed());
        if (!path)
            return path.problem();
        s.paths_.append(*path);
    }
    return s;
}

Result<Selector::Path> Selector::parsePath(const QString &t)
{
    static const QRegularExpression simple("\\G\\s*([A-Za-z_]\\w*|\\*)?(#[\\w*]+)?"
                                           "((?:\\[[A-Za-z]\\w*=(?:\"[^\"]*\"|[^\\]\"]*)\\])*)"
                                           "((?::not\\([^()]*\\))*)");
    static const QRegularExpression property("\\[([A-Za-z]\\w*)=(?:\"([^\"]*)\"|([^\\]\"]*))\\]"),
        without(":not\\(([^()]*)\\)");
    Path path;
    qsizetype at = 0;
    while (at < t.size()) {
        const auto m = simple.match(t, at);
        if (!m.hasMatch() || m.capturedEnd() == at || m.captured().trimmed().isEmpty())
            return misread(t);
        if (!path.isEmpty() && !m.captured().startsWith(' '))
            return misread(t);
        Simple one;
        one.className = m.captured(1) == "*" ? QString() : m.captured(1);
        one.name = m.captured(2).mid(1);
        for (auto it = property.globalMatch(m.captured(3)); it.hasNext();) {
            const auto p = it.next();
            one.properties.append({p.captured(1), p.captured(2) + p.captured(3)});
        }
        for (auto it = without.globalMatch(m.captured(4)); it.hasNext();)
            for (const QString &each : alternatives(it.next().captured(1))) {
                auto inner = parsePath(each.trimmed());
                if (!inner || inner->size() != 1 || !inner->first().excluded.isEmpty())
                    return misread(t);
                one.excluded.append(inner->first());
            }
        path.append(one);
        at = m.capturedEnd();
    }
    return path.isEmpty() ? Result<Path>(misread(t)) : Result<Path>(path);
}

bool Selector::fits(const Simple &s, const QString &cls, const QString &knownClass, const QString &name,
                    const QList<Property> &properties, QString *star) const
{
    if (!s.className.isEmpty() && s.className != cls && !Catalog::get().inherits(knownClass, s.className))
        return false;
    if (!s.name.isEmpty() && !glob(s.name, name, star))
        return false;
    for (const auto &[key, wanted] : s.properties) {
        const auto it = std::find_if(properties.begin(), properties.end(),
                                     [&, k = key](const Property &p) { return p.name == k; });
        const PropertyEntry *entry = Catalog::get().property(knownClass, key);
        const QString value = it != properties.end() ? textOf(it->value)
                              : entry                ? entry->defaultValue
                                                     : QString();
        if (value != wanted)
            return false;
    }
    QString ignored;
    return std::none_of(s.excluded.begin(), s.excluded.end(), [&](const Simple &e) {
        return fits(e, cls, knownClass, name, properties, &ignored);
    });
}

void Selector::match(const Path &path, const Project &project, QHash<QString, QString> &stars) const
{
    const auto found = [&](const QString &name, const QString &star) {
        if (!stars.contains(name))
            stars.insert(name, star);
    };
    // How much of the path, less its last part, the ancestors fit: the most is always the best.
    const qsizetype last = path.size() - 1;
    const std::function<void(const WidgetNode &, qsizetype)> walk = [&](const WidgetNode &w, qsizetype done) {
        QString star;
        if (done == last && fits(path[last], w.className, w.knownClass(), w.name, w.properties, &star))
            found(w.name, star);
        if (done < last && fits(path[done], w.className, w.knownClass(), w.name, w.properties, &star))
            ++done;
        for (const WidgetNode &c : w.children)
            walk(c, done);
    };
    for (const WindowNode &w : project.windows)
        walk(w.root, 0);
    if (last > 0)
        return;
    for (const WindowNode &w : project.windows) {
        QString star;
        for (const TimerNode &t : w.timers)
            if (fits(path[0], "QTimer", "QTimer", t.name, {}, &star))
                found(t.name, star);
        for (const ObjectNode &o : w.objects)
            if (fits(path[0], o.className, o.knownClass(), o.name, o.properties, &star))
                found(o.name, star);
    }
}

QList<SelectorMatch> Selector::matches(const Project &project) const
{
    QHash<QString, QString> stars;
    for (const Path &path : paths_)
        match(path, project, stars);
    QList<SelectorMatch> found;
    const auto take = [&](const QString &name) {
        if (const auto it = stars.constFind(name); it != stars.constEnd())
            found.append({name, *it});
    };
    project.eachWidget([&](const WidgetNode &w, const WidgetNode *) { take(w.name); });
    for (const WindowNode &w : project.windows) {
        for (const TimerNode &t : w.timers)
            take(t.name);
        for (const ObjectNode &o : w.objects)
            take(o.name);
    }
    return found;
}

} // namespace pipit
