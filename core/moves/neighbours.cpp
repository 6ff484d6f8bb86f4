#include "core/moves/neighbours.h"

#include "core/userfiles/cpp_scan.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

QSet<QString> addedTo(const QString &code)
{
    static const QRegularExpression adding(
        R"(\b(\w+)\s*->\s*(?:addItems?|insertItems?|append|appendPlainText|appendHtml|insertPlainText|insertHtml|)"
        R"(addTopLevelItems?|insertTopLevelItems?|insertRow|appendRow)\s*\()");
    QSet<QString> widgets;
    for (auto it = adding.globalMatch(code); it.hasNext();)
        widgets.insert(it.next().captured(1));
    return widgets;
}

} // namespace

QStringList alsoAddedTo(const Cut &cut, const QString &text, const QString &className, const QString &handler)
{
    const QString code = codeOnly(text);
    QSet<QString> widgets;
    for (const Deferred &d : cut.deferred)
        if (d.list)
            widgets.insert(d.widget);
    for (const PlacedStatement &s : cut.statements)
        if (s.place == Stage::Show)
            widgets += addedTo(code.mid(s.node->begin, s.node->end - s.node->begin));
    QStringList told;
    for (const Definition &d : definitionsIn(text)) {
        if (widgets.isEmpty() || d.className != className || d.name == handler)
            continue;
        QStringList both;
        for (const QString &w : addedTo(code.mid(d.bodyOpen, d.bodyClose - d.bodyOpen)))
            if (widgets.contains(w))
                both << w;
        both.sort();
        if (!both.isEmpty())
            told << QStringLiteral("%1 adds to %2 too. Items that it adds during the work come %3.")
                        .arg(d.name, both.join(" and "),
                             cut.batches ? "between the items of this handler"
                                         : "before the items of this handler");
    }
    return told;
}

} // namespace pipit
