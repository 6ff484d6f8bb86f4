// What reading a project file shares: values checked one by one, the first problem kept.
//
// Threads: one decoder, one thread. After the first problem everything is skipped.
#pragma once

#include "core/project/model.h"

#include <QRegularExpression>
#include <QSet>

#include <optional>

namespace pipit
{

class Decoder
{
public:
    explicit Decoder(QString file) : file_(std::move(file)) {}

    // From a whole file.
    Result<Project> decode(const Json &root);

private:
    using Known = QStringList;

    void fail(const QString &what, const QString &remedy, int line)
    {
        if (!problem_)
            problem_ = Problem{what, file_, remedy, line};
    }
    bool is(const Json &j, Json::Type type, const QString &what)
    {
        if (j.type() == type)
            return true;
        fail(QStringLiteral("%1 must be %2, but is %3").arg(what, typeWord(type), typeWord(j.type())),
             "Correct this value", j.line());
        return false;
    }
    QString text(const Json &o, const QString &key, const QString &what, bool needed = true)
    {
        const Json *j = o.find(key);
        if (!j) {
            if (needed)
                fail(QStringLiteral("%1 has no \"%2\"").arg(what, key), "Add it", o.line());
            return {};
        }
        return is(*j, Json::String, QStringLiteral("\"%1\" of %2").arg(key, what)) ? j->toString()
                                                                                   : QString();
    }
    bool flag(const Json &o, const QString &key, bool byDefault)
    {
        const Json *j = o.find(key);
        return j && is(*j, Json::Bool, '"' + key + '"') ? j->toBool() : byDefault;
    }
    int integer(const Json &o, const QString &key, int byDefault, int least, int most)
    {
        const Json *j = o.find(key);
        if (!j || !is(*j, Json::Number, '"' + key + '"'))
            return byDefault;
        const double n = j->toNumber();
        if (n != double(qint64(n)) || n < least || n > most)
            fail(QStringLiteral("\"%1\" must be a whole number from %2 to %3").arg(key).arg(least).arg(most),
                 "Correct this value", j->line());
        return problem_ ? byDefault : int(n);
    }
    template <class Each> void list(const Json &o, const QString &key, Each &&each)
    {
        const Json *j = o.find(key);
        if (!j || !is(*j, Json::Array, '"' + key + '"'))
            return;
        for (const Json &item : j->items())
            if (!problem_ && is(item, Json::Object, "An item of \"" + key + '"'))
                each(item);
    }
    Kept keep(const Json &o, const Known &known)
    {
        Kept k;
        k.line = o.line();
        for (const auto &[key, value] : o.members()) {
            if (k.order.contains(key))
                fail(QStringLiteral("The key \"%1\" is there twice").arg(key), "Keep one of them",
                     value.line());
            k.order << key;
            if (!known.contains(key))
                k.extra.append({key, value});
        }
        return k;
    }
    void name(const QString &n, const QString &what, int line)
    {
        if (problem_)
            return;
        if (!isIdentifier(n))
            fail(QStringLiteral("%1 \"%2\" is not a C++ name").arg(what, n.left(60)),
                 "Use letters, digits and _, beginning with a letter", line);
        else if (names_.contains(n))
            fail(QStringLiteral("The name \"%1\" is used twice").arg(n), "Give one of them another name",
                 line);
        names_.insert(n);
    }
    QString id(const Json &o, const QString &what)
    {
        const QString s = text(o, "id", what);
        static const QRegularExpression form("^[a-z]{1,4}[0-9]{1,9}$");
        if (!problem_ && !form.match(s).hasMatch())
            fail(QStringLiteral("The id \"%1\" is malformed").arg(s.left(60)),
                 "Use a letter and a number, as in c7", o.line());
        if (!problem_ && ids_.contains(s))
            fail(QStringLiteral("The id \"%1\" is used twice").arg(s), "Give one of them another id",
                 o.line());
        ids_.insert(s);
        return s;
    }
    QList<Property> properties(const Json &o);
    WidgetNode widget(const Json &o, int depth);
    WindowNode window(const Json &o);
    TimerNode timer(const Json &o);
    void ownClass(const Json &o, const char *what, QString &base, QString &header);
    ObjectNode object(const Json &o);
    Connection connection(const Json &o);
    void source(const Json &from, Connection &c);
    void occasion(const Json &on, Connection &c);
    void target(const Json &to, Connection &c);
    Handler handler(const Json &o);
    void pacing(const Json &o, Handler &h);
    void type(const QString &t, int line);

    QString file_;
    std::optional<Problem> problem_;
    QSet<QString> names_, ids_;
};

} // namespace pipit
