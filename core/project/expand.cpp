#include "core/project/expand.h"

#include <QRegularExpression>
#include <QStringList>

namespace pipit
{

Result<QList<Expansion>> expandName(const QString &pattern)
{
    static const QRegularExpression form("^([A-Za-z0-9_]*)\\{([^{}]*)\\}([A-Za-z0-9_]*)$"),
        range("^(\\d{1,6})\\.\\.(\\d{1,6})$"), letters("^([a-z])\\.\\.([a-z])$|^([A-Z])\\.\\.([A-Z])$");
    if (!pattern.contains('{') && !pattern.contains('}'))
        return QList<Expansion>{{pattern, QString()}};
    const auto m = form.match(pattern);
    const Problem wrong{QStringLiteral("'%1' names nothing").arg(pattern.left(80)),
                        {},
                        "Write key_{0..9}, cell_{a..c} or fare_{child,adult}"};
    if (!m.hasMatch())
        return wrong;
    QStringList values;
    if (const auto r = range.match(m.captured(2)); r.hasMatch()) {
        const int from = r.captured(1).toInt(), to = r.captured(2).toInt();
        if (std::abs(to - from) >= 1000)
            return Problem{"At most 1,000 can be added at once", {}, "Add fewer at a time"};
        const bool padded = r.captured(1).size() == r.captured(2).size() && r.captured(1).startsWith('0');
        for (int i = from; from <= to ? i <= to : i >= to; i += from <= to ? 1 : -1)
            values << (padded ? QString::number(i).rightJustified(r.captured(1).size(), '0')
                              : QString::number(i));
    } else if (const auto r = letters.match(m.captured(2)); r.hasMatch()) {
        const ushort from = (r.captured(1) + r.captured(3))[0].unicode(),
                     to = (r.captured(2) + r.captured(4))[0].unicode();
        for (int c = from; from <= to ? c <= to : c >= to; c += from <= to ? 1 : -1)
            values << QString(QChar(c));
    } else if (m.captured(2).contains("..")) {
        return wrong;
    } else {
        for (const QString &v : m.captured(2).split(','))
            values << v.trimmed();
    }
    if (values.size() > 1000 || values.contains(QString()))
        return wrong;
    QList<Expansion> all;
    for (const QString &v : std::as_const(values))
        all.append({m.captured(1) + v + m.captured(3), v});
    return all;
}

} // namespace pipit
