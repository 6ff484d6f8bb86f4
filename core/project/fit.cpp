#include "core/project/fit.h"

namespace pipit
{

namespace
{

// The source's class as the catalog knows it derives from the wanted one, or it is the user's own.
bool isOf(const Reach &reach, const QString &source, const QString &part, const QString &wanted)
{
    return Catalog::get().inherits(reach.classOf(source, part), wanted) ||
           QString::fromUtf8(reach.typeOf(source, part)) == wanted;
}

} // namespace

Result<Occasion> occasionOf(const Reach &reach, const QString &name, const QString &part, const QString &what)
{
    const Catalog &catalog = Catalog::get();
    const QString cls = reach.classOf(name, part);
    const auto found = catalog.signalsNamed(cls, what);
    if (found.size() == 1) {
        const bool overloaded = catalog.signalsNamed(cls, found.first().name()).size() > 1;
        return Occasion{found.first(), nullptr, overloaded ? found.first().signature : found.first().name()};
    }
    if (found.size() > 1) {
        QStringList all;
        for (const SignalEntry &s : found)
            all << s.signature;
        return Problem{QStringLiteral("%1 has several signals '%2'").arg(name, what),
                       {},
                       "Name one of them: " + all.join(", ")};
    }
    if (auto own = reach.signal(name, part, what); own)
        return Occasion{*own, nullptr, own->signature};
    if (const EventEntry *e = catalog.event(what.simplified().toLower()); e && catalog.isWidget(cls))
        return Occasion{std::nullopt, e, e->words};
    QStringList names;
    const bool own = part.isEmpty() && cls != QString::fromUtf8(reach.typeOf(name));
    for (const SignalEntry &s :
         part.isEmpty() ? reach.members(name, Reach::Members::Signals) : catalog.signalsOf(cls))
        names << s.name();
    const QStringList sent = names;
    for (const EventEntry &e : catalog.eventsOf(cls))
        names << e.words;
    const QString near = nearestName(what, names);
    return Problem{
        QStringLiteral("%1, a %2, has no signal or event '%3'")
            .arg(name, part.isEmpty() ? QString::fromUtf8(reach.typeOf(name)) : cls, what.left(60)),
        {},
        !near.isEmpty() ? "Nearest: " + near
        : own           ? "It sends " + sent.mid(0, 12).join(", ")
                        : "See 'pipit catalog " + cls + "'"};
}

Fit fitOf(const Handler &h, const SignalEntry &signal, const Reach &reach, const QString &source,
          const QString &part, const QString &convert)
{
    if (h.kind != HandlerKind::Signal)
        return {Misfit::Kind};
    if (!h.source.isEmpty() && !isOf(reach, source, part, h.source))
        return {Misfit::Source};
    const QStringList given = signal.types();
    const qsizetype n = h.arguments.size();
    if (n <= given.size() && given.mid(0, n) == h.arguments)
        return {convert.isEmpty() ? Misfit::None : Misfit::Conversion};
    const Conversion *how = n == 1 && !given.isEmpty() ? conversionFor(given[0], h.arguments[0]) : nullptr;
    const bool named = how && how->says(convertChoice(convert).words);
    return {named ? Misfit::None : Misfit::Arguments, how};
}

Fit fitOf(const Handler &h, const EventEntry &event, const Reach &reach, const QString &source,
          const QString &part)
{
    if (h.kind != HandlerKind::Event)
        return {Misfit::Kind};
    if (h.arguments.size() != 2 || h.arguments[1] != event.cppClass + " *")
        return {Misfit::Event};
    const QString comesFrom = part == "viewport" ? QString() : part;
    const bool fits = isOf(reach, source, comesFrom, h.arguments[0].chopped(2));
    return {fits ? Misfit::None : Misfit::Source};
}

} // namespace pipit
