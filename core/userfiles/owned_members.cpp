#include "core/userfiles/owned_members.h"

#include <QRegularExpression>

namespace pipit
{

QSet<QString> membersOwnedIn(const QString &work)
{
    static const QRegularExpression had("&\\s*(\\w+) = \\*input\\.\\w+;");
    QSet<QString> names;
    for (auto it = had.globalMatch(work); it.hasNext();)
        names.insert(it.next().captured(1));
    return names;
}

bool usesMember(const QString &code, const QString &member, bool shows)
{
    const QString name = "\\b" + QRegularExpression::escape(member) + "\\b";
    static const QString from = QStringLiteral(" = (?:result\\.|outcome\\.)");
    return code.contains(QRegularExpression("(?<!&)" + name)) &&
           !(shows && code.contains(QRegularExpression(name + from)));
}

} // namespace pipit
