#include "core/project/selector.h"

#include "core/catalog/catalog.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

Problem misread(const QString &text)
{
    return {QStringLiteral("'%1' is no selector").arg(text.left(80)),
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
    return text.contains('#') || text.contains('*') || text.contains('[');
}

Result<Selector> Selector::parse(const QString &text)
{
    static const QRegularExpression simple("\\G\\s*([A-Za-z_]\\w*|\\*)?(#[\\w*]+)?"
                                           "((?:\\[[A-Za-z]\\w*=(?:\"[^\"]*\"|[^\\]\"]*)\\])*)");
    static const QRegularExpression property("\\[([A-Za-z]\\w*)=(?:\"([^\"]*)\"|([^\\]\"]*))\\]");
    const QString t = text.trimmed();
    if (t.isEmpty() || t.size() > 1000)
        return misread(text);
    Selector s;
    qsizetype at = 0;
    while (at < t.size()) {
        const auto m = simple.match(t, at);
        if (!m.hasMatch() || m.capturedEnd() == at || m.captured().trimmed().isEmpty())
            return misread(text);
        if (!s.path_.isEmpty() && !m.captured().startsWith(' '))
            return misread(text);
        Simple one;
        one.className = m.captured(1) == "*" ? QString() : m.captured(1);
        one.name = m.captured(2).mid(1);
        for (auto it = property.globalMatch(m.captured(3)); it.hasNext();) {
            const auto p = it.next();
            one.properties.append({p.captured(1), p.captured(2) + p.captured(3)});
        }
        s.path_.append(one);
        at = m.capturedEnd();
    }
    return s;
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
    return true;
}

QList<SelectorMatch> Selector::matches(const Project &project) const
{
    QList<SelectorMatch> found;
    // How much of the path, less its last part, the ancestors fit: the most is always the best.
    const qsizetype last = path_.size() - 1;
    const std::function<void(const WidgetNode &, qsizetype)> walk = [&](const WidgetNode &w, qsizetype done) {
        QString star;
        if (done == last && fits(path_[last], w.className, w.knownClass(), w.name, w.properties, &star))
            found.append({w.name, star});
        if (done < last && fits(path_[done], w.className, w.knownClass(), w.name, w.properties, &star))
            ++done;
        for (const WidgetNode &c : w.children)
            walk(c, done);
    };
    for (const WindowNode &w : project.windows)
        walk(w.root, 0);
    if (last > 0)
        return found;
    for (const WindowNode &w : project.windows) {
        QString star;
        for (const TimerNode &t : w.timers)
            if (fits(path_[0], "QTimer", "QTimer", t.name, {}, &star))
                found.append({t.name, star});
        for (const ObjectNode &o : w.objects)
            if (fits(path_[0], o.className, o.className, o.name, o.properties, &star))
                found.append({o.name, star});
    }
    return found;
}

} // namespace pipit
