#include "core/project/own_classes.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace pipit
{

namespace
{

QList<SignalEntry> methods(const QJsonArray &all, const QString &owner)
{
    QList<SignalEntry> list;
    for (const auto &v : all) {
        const QJsonObject o = v.toObject();
        if (o["access"].toString("public") == "private")
            continue;
        QStringList types, names;
        for (const auto &a : o["arguments"].toArray()) {
            types << a.toObject()["type"].toString();
            names << a.toObject()["name"].toString();
        }
        SignalEntry s;
        s.signature = o["name"].toString() + '(' + types.join(',') + ')';
        s.arguments = names;
        s.owner = owner;
        s.sentence = "It is declared in your class.";
        list.append(s);
    }
    return list;
}

} // namespace

OwnClasses ownClassesFrom(const QByteArray &json)
{
    OwnClasses all;
    for (const auto &v : QJsonDocument::fromJson(json).object()["classes"].toArray()) {
        const QJsonObject o = v.toObject();
        const QString name = o["className"].toString();
        OwnClass c;
        c.signalList = methods(o["signals"].toArray(), name);
        c.slotList = methods(o["slots"].toArray(), name);
        for (const auto &p : o["properties"].toArray()) {
            const QJsonObject property = p.toObject();
            if (property["write"].toString().isEmpty() && property["member"].toString().isEmpty())
                continue;
            c.properties.append(
                {property["name"].toString(), property["type"].toString(), {}, name, {}, false, {}});
        }
        all.insert(name, c);
    }
    return all;
}

} // namespace pipit
