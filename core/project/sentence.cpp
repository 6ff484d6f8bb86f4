#include "core/project/sentence.h"

#include "core/catalog/catalog.h"

#include <QRegularExpression>

namespace pipit
{

QString sentenceFor(const Connection &c)
{
    QString s = c.subject() + " · " + c.what() + (c.when.isEmpty() ? QString() : " (" + c.when + ')') +
                " calls " + c.target();
    if (c.pacing.kind != PacingKind::AtOnce)
        s += ", " + c.pacing.text();
    return c.enabled ? s : s + ", switched off";
}

Result<ConnectRequest> parseSentence(const QString &text)
{
    static const QRegularExpression form(
        "^\\s*([A-Za-z]\\w*(?:\\.viewport)?)\\s*(?:·|\\.|\\s)\\s*([^()]+?(?:\\([^()]*\\))?)"
        "\\s*(?:\\(((?:key|button) [^()]*)\\))?\\s+calls\\s+"
        "([A-Za-z]\\w*(?:\\s*(?:·|\\.)\\s*\\w+)?)\\s*(?:,\\s*(.*))?$");
    const auto m = form.match(text);
    if (!m.hasMatch())
        return Problem{
            "This is no connection yet", {}, "Write it as boardButton · clicked calls boardPassenger"};
    auto pacing = Pacing::parse(m.captured(5));
    if (!pacing)
        return pacing.problem();
    QString target = m.captured(4).simplified();
    target.replace(QRegularExpression("\\s*(?:·|\\.)\\s*"), ".");
    return ConnectRequest{m.captured(1), m.captured(2).simplified(), m.captured(3).simplified(), target,
                          *pacing};
}

QStringList sentenceCompletions(const Project &p, const QString &typed)
{
    QStringList lines;
    const QString source = typed.section(QRegularExpression("\\s*(?:·|\\s)\\s*"), 0, 0);
    const QString cls = p.classOf(source);
    if (cls.isEmpty()) {
        for (const QString &name : p.objectNames())
            lines << name + " · ";
        return lines;
    }
    const qsizetype calls = typed.indexOf(" calls ");
    if (calls > 0) {
        for (const Handler &h : p.handlers)
            lines << typed.left(calls) + " calls " + h.name;
        return lines;
    }
    QStringList seen;
    for (const SignalEntry &s : Catalog::get().signalsOf(cls)) {
        const bool overloaded = Catalog::get().signalsNamed(cls, s.name()).size() > 1;
        lines << source + " · " + (overloaded ? s.signature : s.name()) + " calls ";
    }
    for (const EventEntry &e : Catalog::get().eventsOf(cls))
        lines << source + " · " + e.words + " calls ";
    return lines;
}

Result<AddRequest> parseAddLine(const QString &text)
{
    static const QRegularExpression form("^\\s*(.+?)\\s+([A-Za-z]\\w*)\\s*(?:\"([^\"]*)\"\\s*)?$");
    const auto m = form.match(text);
    if (!m.hasMatch())
        return Problem{"This names no widget to add", {}, "Write it as button boardButton \"Board\""};
    if (Catalog::get().classFor(m.captured(1)).isEmpty())
        return Problem{QStringLiteral("No widget is known as '%1'").arg(m.captured(1).left(60)),
                       {},
                       "Use a class or a plain word, such as button, label, field, list"};
    return AddRequest{m.captured(1), m.captured(2), m.captured(3)};
}

} // namespace pipit
