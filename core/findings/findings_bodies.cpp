// The wiring check: handlers, and what stands of them in the user's files.
#include "core/findings/checker.h"

#include <QRegularExpression>

namespace pipit
{

void Checker::handlers()
{
    for (const Handler &h : p_.handlers) {
        bool called = calledHandlers_.contains(h.name);
        for (const HandlerFunction &f : h.functions()) // by hand, from the user's own code
            called = called || code_.does("this", {f.name.toUtf8().constData()});
        if (!called)
            say("dead-handler", Severity::Warning, h.name,
                QStringLiteral("No connection calls %1.").arg(h.name), "Connect a signal or event to it.",
                h.kept.line);
        if (const auto it = code_.unreadable.constFind(h.file); it != code_.unreadable.constEnd()) {
            say("unreadable-file", Severity::Error, h.name, it->text(), {}, h.kept.line);
            continue;
        }
        handlerBody(h);
    }
}

namespace
{

bool isOf(const Definition &d, const QString &owner)
{
    return d.className == owner || (!owner.isEmpty() && d.className.endsWith("::" + owner));
}

// What a body gives back, where that is a type of the language: "void", "bool"; empty where it is another.
QString plainReturn(const Definition &d)
{
    static const QRegularExpression word("\\b(void|bool|int|double|float|char|long|short|unsigned)\\s*$");
    const qsizetype name = d.head.indexOf(d.className.isEmpty() ? d.name : d.className);
    return word.match(d.head.left(std::max<qsizetype>(0, name))).captured(1);
}

QString qualified(const QString &className, const QString &name)
{
    return className.isEmpty() ? name : className + "::" + name;
}

} // namespace

void Checker::handlerBody(const Handler &h)
{
    for (const HandlerFunction &f : h.functions()) {
        const QString owner = f.isFree() ? QString() : p_.windowFor(h).className;
        QList<std::pair<QString, const Definition *>> found; // by file; its own first
        const auto lookIn = [&](const QString &file) {
            const auto it = code_.definitions.constFind(file);
            if (it == code_.definitions.constEnd())
                return;
            for (const Definition &d : *it)
                if (d.name == f.name && isOf(d, owner))
                    found.append({file, &d});
        };
        lookIn(h.file);
        for (auto it = code_.definitions.constBegin(); it != code_.definitions.constEnd(); ++it)
            if (it.key() != h.file)
                lookIn(it.key());
        if (found.isEmpty()) {
            missingBody(h, f);
            continue;
        }
        // Of several the compiler takes the one that fits.
        if (found.size() == 1)
            bodySignature(h, f, found.first().first, *found.first().second);
        if (h.kind == HandlerKind::Event)
            neverHandled(h, found.first().first, *found.first().second);
    }
}

// A body that nothing declares and that no handler has, with nearly that name, or with it and without its
// class: it was meant.
const Definition *Checker::misspelt(const Handler &h, const QString &function, const QString &owner) const
{
    const auto it = code_.definitions.constFind(h.file);
    if (it == code_.definitions.constEnd())
        return nullptr;
    const Definition *same = nullptr;
    QHash<QString, const Definition *> others;
    for (const Definition &d : *it) {
        bool declared = false;
        for (auto file = code_.code.constBegin(); file != code_.code.constEnd() && !declared; ++file)
            declared = file.key().endsWith(".h") && declaresFunction(*file, d.name);
        if (d.name == function && !owner.isEmpty() && p_.windowNamed(d.className) < 0 && !declared)
            same = &d;
        else if (isOf(d, owner) && !functions_.contains(d.name) && !declared)
            others.insert(d.name, &d);
    }
    return same ? same : others.value(nearestName(function, others.keys()), nullptr);
}

void Checker::missingBody(const Handler &h, const HandlerFunction &f)
{
    const QString owner = f.isFree() ? QString() : p_.windowFor(h).className;
    const QString wanted = qualified(owner, f.name);
    const Definition *meant = misspelt(h, f.name, owner);
    Finding &finding =
        say("missing-handler", Severity::Error, h.name,
            QStringLiteral("%1 has no definition of %2.").arg(h.file, wanted), "Add its stub.", h.kept.line);
    if (!meant) {
        finding.mend = h.functions().size() == 1 ? Finding::Mend::AddStub : Finding::Mend::None;
        return;
    }
    const QString written = qualified(meant->className, meant->name);
    finding.message =
        QStringLiteral("%1 has no definition of %2, but line %4 defines %3, which is not declared.")
            .arg(h.file, wanted, written)
            .arg(meant->line);
    finding.fix = QStringLiteral("Rename %1 to %2.").arg(written, wanted);
    finding.mend = Finding::Mend::RenameBody;
    finding.with = {h.file, written, wanted};
}

// A body that takes something else than it is declared with does not compile; it is said at its line.
void Checker::bodySignature(const Handler &h, const HandlerFunction &f, const QString &file,
                            const Definition &d)
{
    if (f.part != Part::Whole && f.part != Part::Take && f.part != Part::Begin)
        return;
    const QString header = p_.windowFor(h).file + ".h";
    if (declaresFunction(code_.code.value(header), f.name))
        return; // the person's own declaration counts, and it may be another
    QStringList wanted = h.arguments;
    if (!h.source.isEmpty())
        wanted.prepend(h.source + " *");
    const QStringList written = parameterTypes(d);
    const QString returns = f.part != Part::Whole          ? QString()
                            : h.kind == HandlerKind::Event ? "bool"
                                                           : "void";
    const bool otherReturn = !returns.isEmpty() && !plainReturn(d).isEmpty() && plainReturn(d) != returns;
    const bool isConst = d.head.section(')', -1).contains("const");
    if (sameParameters(written, wanted).value_or(true) && !otherReturn && !isConst)
        return;
    const QString head = (returns.isEmpty() ? QString() : returns + ' ') + qualified(d.className, f.name) +
                         '(' + wanted.join(", ") + ')';
    QString gives;
    for (const Connection &c : p_.connections)
        if (gives.isEmpty() && c.callsHandler(h.name))
            gives = c.subject() + " · " + c.what();
    const QString other = otherReturn ? QStringLiteral("gives back %1").arg(plainReturn(d))
                          : isConst   ? QString("is const")
                                      : QStringLiteral("takes (%1)").arg(written.join(", "));
    say("body-signature", Severity::Error, h.name,
        QStringLiteral("%1:%2: %3 %4 as it is written, but %5 %6.")
            .arg(file)
            .arg(d.line)
            .arg(f.name, other, gives.isEmpty() ? QString("it is declared as") : gives + " calls it as",
                 head),
        QStringLiteral("Change its signature to %1.").arg(head), h.kept.line);
}

void Checker::neverHandled(const Handler &h, const QString &file, const Definition &d)
{
    QStringList events;
    for (const One &one : ones_)
        if (one.c->callsHandler(h.name) && !events.contains(one.c->event))
            events << one.c->event;
    const bool matters =
        events.contains("drag enter") || events.contains("drop") || events.contains("shortcut check");
    const QString body = code_.code.value(file).mid(d.bodyOpen, d.bodyClose - d.bodyOpen);
    static const QRegularExpression returns("\\breturn\\s+(?!false\\s*;)");
    if (matters && !returns.match(body).hasMatch())
        say("never-handled", Severity::Warning, h.name,
            QStringLiteral("%1 never returns true, so the %2 is always refused.").arg(h.name, events.first()),
            "Return true to accept it.", h.kept.line);
}

} // namespace pipit
