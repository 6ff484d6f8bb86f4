#include "core/project/own_classes.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QRegularExpression>
#include <QSet>

namespace pipit
{

namespace
{

// A comment without its marks.
QString bare(QString line)
{
    static const QRegularExpression marks("^\\s*(//[/!]?<?|/\\*[*!]?|\\*/|\\*(?!/))\\s?"),
        end("\\s*\\*/\\s*$");
    return line.remove(end).remove(marks).trimmed();
}

bool isComment(const QString &line)
{
    const QString t = line.trimmed();
    return t.startsWith("//") || t.startsWith("/*") || t.startsWith('*') || t.endsWith("*/");
}

// The lines of one class, and what is said there of what is declared in it.
class Comments
{
public:
    Comments(const QString &header, const QString &className)
    {
        const QRegularExpression head("\\b(?:class|struct)\\s+(?:\\w+\\s+)?" + className + "\\b[^;{]*\\{");
        const auto m = head.match(header);
        if (m.hasMatch())
            lines_ = header.mid(m.capturedEnd(), 200'000).split('\n');
    }
    // Of the first line that the pattern fits: what stands behind it, else what stands directly above.
    QString of(const QString &pattern) const
    {
        const QRegularExpression declared(pattern);
        for (qsizetype i = 0; i < lines_.size(); ++i) {
            const QString &line = lines_[i];
            if (isComment(line) || !declared.match(line).hasMatch())
                continue;
            if (const qsizetype at = line.indexOf("//"); at > 0)
                return bare(line.mid(at));
            QStringList above;
            for (qsizetype j = i; j-- > 0 && isComment(lines_[j]) && above.size() < 20;)
                above.prepend(bare(lines_[j]));
            above.removeAll(QString());
            return above.join(' ').left(600);
        }
        return {};
    }

private:
    QStringList lines_;
};

// One class as it is read.
class OneClass
{
public:
    OneClass(const QJsonObject &o, const QString &header)
        : o_(o), name_(o["className"].toString()), comments_(header, name_)
    {
        for (const auto &v : o["enums"].toArray()) {
            const QJsonObject e = v.toObject();
            Enumeration one{e["name"].toString(), {}, e["isFlag"].toBool()};
            for (const auto &key : e["values"].toArray())
                one.keys << key.toString();
            enumerations_ << one;
            if (const QString alias = e["alias"].toString(); !alias.isEmpty())
                enumerations_ << Enumeration{alias, one.keys, false};
        }
    }
    OwnClass read() const
    {
        OwnClass c;
        for (const auto &v : o_["superClasses"].toArray())
            if (c.base.isEmpty() && v.toObject()["access"].toString() == "public")
                c.base = v.toObject()["name"].toString();
        c.signalList = methods("signals");
        c.slotList = methods("slots");
        for (const auto &v : o_["properties"].toArray())
            if (const QJsonObject p = v.toObject();
                !p["write"].toString().isEmpty() || !p["member"].toString().isEmpty())
                c.properties << property(p);
        return c;
    }

private:
    struct Enumeration {
        QString name;
        QStringList keys;
        bool flags;
    };

    QString qualified(QString type) const
    {
        for (const Enumeration &e : enumerations_)
            type.replace(QRegularExpression("(?<![\\w:])" + e.name + "\\b"), name_ + "::" + e.name);
        return type;
    }
    QList<SignalEntry> methods(const char *which) const
    {
        QList<SignalEntry> list;
        for (const auto &v : o_[QLatin1String(which)].toArray()) {
            const QJsonObject m = v.toObject();
            if (m["access"].toString("public") == "private")
                continue;
            SignalEntry s;
            QStringList types;
            for (const auto &a : m["arguments"].toArray()) {
                types << qualified(a.toObject()["type"].toString());
                s.arguments << a.toObject()["name"].toString();
            }
            s.signature = m["name"].toString() + '(' + types.join(',') + ')';
            s.owner = name_;
            const QString said = comments_.of("^[^{}();=]*[\\s*&]" + m["name"].toString() + "\\s*\\(");
            s.sentence = said.isEmpty() ? "It is declared in your class." : said;
            list << s;
        }
        return list;
    }
    PropertyEntry property(const QJsonObject &o) const
    {
        PropertyEntry p;
        p.name = o["name"].toString();
        p.type = qualified(o["type"].toString());
        p.owner = name_;
        p.setter = o["write"].toString();
        p.sentence = comments_.of("Q_PROPERTY\\s*\\([^)]*\\b" + p.name + "\\b");
        for (const Enumeration &e : enumerations_)
            if (p.type == name_ + "::" + e.name) {
                p.keys = e.keys;
                p.flags = e.flags;
            }
        return p;
    }

    QJsonObject o_;
    QString name_;
    Comments comments_;
    QList<Enumeration> enumerations_;
};

} // namespace

const PropertyEntry *OwnClass::property(const QString &name) const
{
    const auto it = std::find_if(properties.begin(), properties.end(),
                                 [&](const PropertyEntry &p) { return p.name == name; });
    return it == properties.end() ? nullptr : &*it;
}

OwnClasses ownClassesFrom(const QByteArray &json, const QString &header)
{
    OwnClasses all;
    for (const auto &v : QJsonDocument::fromJson(json).object()["classes"].toArray())
        all.insert(v.toObject()["className"].toString(), OneClass(v.toObject(), header).read());
    return all;
}

void inheritAmong(OwnClasses &classes)
{
    const OwnClasses alone = classes;
    for (auto it = classes.begin(); it != classes.end(); ++it) {
        QSet<QString> seen{it.key()}; // a header may say anything, circles too
        for (QString up = it->base; alone.contains(up) && !seen.contains(up); up = alone[up].base) {
            seen.insert(up);
            it->signalList += alone[up].signalList;
            it->slotList += alone[up].slotList;
            it->properties += alone[up].properties;
        }
    }
}

QString baseInHeader(const QString &header, const QString &className)
{
    static const QRegularExpression comment("//[^\n]*|/\\*.*?\\*/",
                                            QRegularExpression::DotMatchesEverythingOption);
    QString code = header.left(1'000'000);
    code.remove(comment);
    QString base = className;
    for (int n = 0; n < 20; ++n) {
        const QRegularExpression head("\\b(?:class|struct)\\s+(?:\\w+\\s+)?" +
                                      QRegularExpression::escape(base) +
                                      "\\s*(?:final\\s*)?:\\s*public\\s+(\\w+)");
        const auto m = head.match(code);
        if (!m.hasMatch())
            break;
        base = m.captured(1);
    }
    return base == className ? QString() : base;
}

} // namespace pipit
