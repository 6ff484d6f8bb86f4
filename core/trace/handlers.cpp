#include "core/trace/handlers.h"

#include "core/base/files.h"

#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace pipit
{

namespace
{

// Header templates of the toolkit and the standard library hide the user's line.
bool isLibraryHeader(const QString &file)
{
    return file.contains("/qt6/Qt") || file.startsWith("/usr/include/") || file.contains("/include/c++/") ||
           file.contains("../sysdeps/") || file.contains("../csu/"); // the C library's own start
}

// Functions that the linker found alike and keeps once: any of them.
QString oneOf(const QStringList &names)
{
    constexpr qsizetype most = 3;
    QString text = names.mid(0, most).join(" or ");
    return names.size() > most ? text + QStringLiteral(" or %1 more").arg(names.size() - most) : text;
}

std::uint64_t keyOf(const LinkRow &row)
{
    return row.serial ? row.serial : row.code | std::uint64_t(1) << 62;
}

} // namespace

Result<WiringMap> WiringMap::load(const QString &path)
{
    auto file = readJsonObject(path);
    return file ? of(*file) : Result<WiringMap>(file.problem());
}

WiringMap WiringMap::of(const QJsonObject &root)
{
    WiringMap map;
    const QString only = root["file"].toString(); // of a map that knew one window
    for (const auto &v : root["lines"].toArray()) {
        const QJsonObject o = v.toObject();
        const int first = o["line"].toInt(), last = std::min(o["last"].toInt(first), first + 1000);
        for (int line = first; line <= last; ++line) // a later entry counts where two lie over each other
            map.lines.insert({o["file"].toString(only), line},
                             {o["connection"].toString(), o["handler"].toString(), o["name"].toString(),
                              o["source"].toString(), o["signal"].toString(), o["helper"].toBool()});
    }
    for (const auto &v : root["definitions"].toArray()) {
        const QJsonObject o = v.toObject();
        map.definitions.insert(o["name"].toString(), {o["file"].toString(), o["line"].toInt()});
    }
    return map;
}

HandlerName Handlers::fromMap(const WiringMap::Entry &entry, HandlerName h) const
{
    h.connection = entry.connection;
    h.handler = entry.handler;
    h.name = entry.name;
    h.source = entry.source;
    h.signal = entry.signal;
    h.helper = entry.helper;
    if (const auto it = map_.definitions.constFind(entry.name); it != map_.definitions.constEnd()) {
        h.file = it->first;
        h.line = it->second;
    }
    return h;
}

// The project's connection whose lines made this one. Only there do places in the code say who a handler
// is: Pipit built that program, and keeps its frames. Null for all other programs.
const WiringMap::Entry *Handlers::entryOf(const LinkRow &row)
{
    if (map_.lines.isEmpty())
        return nullptr;
    for (const std::uint64_t address : {row.place, row.outerPlace, row.outermostPlace}) {
        const CodeInfo code = trace_.code(address);
        if (code.module.isEmpty())
            continue;
        const Place p = places_.ownLine(code.module, code.offset - 1, isLibraryHeader);
        if (!p.known())
            continue;
        const auto it = map_.lines.constFind({QFileInfo(p.file).fileName(), p.line});
        return it == map_.lines.constEnd() ? nullptr : &*it;
    }
    return nullptr;
}

static QString lineText(const Place &place)
{
    return QStringLiteral("%1:%2").arg(QFileInfo(place.file).fileName()).arg(place.line);
}

// A function by its address; folded ones by all their names.
void Handlers::nameFunction(const CodeInfo &code, HandlerName &h)
{
    const Place function = places_.function(code.module, code.offset);
    const QStringList names = places_.names(code.module, code.offset);
    h.name = names.size() > 1 ? oneOf(names) : function.function;
    h.file = function.file;
    h.line = function.line;
    if (isOwnLibrary(code.module) || places_.folded(code.module, code.offset)) {
        h.file.clear();
        h.line = 0;
    }
}

// By what its template was made for; false when the debug information does not say.
bool Handlers::nameCallee(const CodeInfo &code, const LinkRow &row, HandlerName &h)
{
    if (places_.folded(code.module, code.offset))
        return false;
    const QList<Callee> callees = places_.callees(code.module, code.offset, isLibraryHeader);
    if (callees.isEmpty())
        return false;
    const Callee &callee = callees.front();
    const CodeInfo first = trace_.code(row.first), fourth = trace_.code(row.fourth);
    switch (callee.kind) {
    case Callee::Lambda:
        h.name = "lambda at " + lineText(callee.place);
        break;
    case Callee::Functor:
        h.name = callee.place.function + "::operator()";
        break;
    case Callee::FunctionPointer:
    case Callee::MemberPointer: // of a member, unless it is a virtual one
        if (first.module.isEmpty())
            return false;
        nameFunction(first, h);
        return !h.name.isEmpty();
    case Callee::StdFunction:
        if (fourth.module.isEmpty())
            return false;
        if (!nameCallee(fourth, {}, h))
            nameFunction(fourth, h);
        return !h.name.isEmpty();
    }
    h.file = callee.place.file;
    h.line = callee.place.line;
    return true;
}

// What the name of a link's handler follows from; all links with the same have it.
QByteArray Handlers::codeKey(const LinkRow &row) const
{
    const auto ifCode = [this](std::uint64_t word) { return trace_.code(word).module.isEmpty() ? 0 : word; };
    QByteArray key = QByteArray::number(int(row.kind)) + (row.codeIsFunction ? 'f' : ' ');
    for (const std::uint64_t word :
         {row.code, row.place, row.outerPlace, row.outermostPlace, ifCode(row.first), ifCode(row.fourth),
          std::uint64_t(row.kind == link::LinkKind::Work ? row.signal : 0)})
        key += QByteArray::number(qulonglong(word), 16) + ',';
    return key;
}

HandlerName Handlers::find(const LinkRow &row)
{
    HandlerName h;
    if (row.sender)
        h.source = trace_.object(row.sender - 1).text();
    if (row.signal && row.serial && row.kind != link::LinkKind::Work)
        h.signal = trace_.signal(row.signal - 1).name();
    const QByteArray key = codeKey(row);
    auto it = byCode_.constFind(key);
    if (it == byCode_.constEnd())
        it = byCode_.insert(key, findByCode(row));
    HandlerName found = *it;
    if (found.source.isEmpty())
        found.source = h.source; // else whichever of several it was
    if (found.connection.isEmpty())
        found.signal = h.signal;
    return found;
}

HandlerName Handlers::findByCode(const LinkRow &row)
{
    HandlerName h;
    if (row.kind == link::LinkKind::NamedMethod) {
        const SignalInfo method = row.signal ? trace_.signal(row.signal - 1) : SignalInfo{};
        h.name = method.className + "::" + method.name();
        return h;
    }
    if (const WiringMap::Entry *entry = entryOf(row))
        return fromMap(*entry, h);
    const CodeInfo code = trace_.code(row.code);
    if (!code.module.isEmpty() && (row.codeIsFunction || !nameCallee(code, row, h)))
        nameFunction(code, h);
    if (row.kind == link::LinkKind::Work && row.signal)
        nameWork(trace_.signal(row.signal - 1).className, h);
    // Templates that hold any function of their kind name nobody.
    static const QStringList holders{"a function", "a std::function"};
    const CodeInfo held = trace_.code(h.name == holders[0] ? row.first : row.fourth);
    if (holders.contains(h.name) && !held.module.isEmpty())
        nameFunction(held, h);
    if (isLibraryHeader(h.file)) {
        h.file.clear();
        h.line = 0;
    }
    if (h.name.isEmpty())
        h.name =
            code.module.isEmpty()
                ? QStringLiteral("an unknown handler")
                : QStringLiteral("%1+0x%2").arg(QFileInfo(code.module).fileName()).arg(code.offset, 0, 16);
    return h;
}

// Work is known by its class: its run() is often one for all that a template makes.
void Handlers::nameWork(const QString &className, HandlerName &h)
{
    const QString name = workName(className);
    if (name.startsWith("lambda in "))
        h.name = name;
    if (h.name.isEmpty() || h.name.startsWith("QtConcurrent::") || isLibraryHeader(h.file)) {
        h.name = name;
        h.file.clear();
        h.line = 0;
    }
}

const HandlerName &Handlers::of(std::uint32_t link)
{
    if (link < named_.size())
        if (const HandlerName *name = named_[link].name.load(std::memory_order_acquire))
            return *name;
    const LinkRow row = trace_.link(link);
    const auto key = keyOf(row);
    const auto keep = [&](const HandlerName &name) -> const HandlerName & {
        while (named_.size() <= link)
            named_.add({});
        named_.mutableAt(link).name.store(&name, std::memory_order_release);
        return name;
    };
    {
        std::lock_guard lock(mutex_);
        if (const auto it = known_.find(key); it != known_.end())
            return keep(it->second);
    }
    std::lock_guard reading(placesMutex_);
    HandlerName found = find(row);
    std::lock_guard lock(mutex_);
    return keep(known_.try_emplace(key, std::move(found)).first->second);
}

QString Handlers::identity(std::uint32_t link)
{
    const HandlerName &h = of(link);
    if (!h.handler.isEmpty())
        return h.handler;
    const LinkRow row = trace_.link(link);
    QString code = QString::number(row.code, 16);
    for (const std::uint64_t held : {row.first, row.fourth}) // what a template that holds any function holds
        if (held && !trace_.code(held).module.isEmpty())
            code += ' ' + QString::number(held, 16);
    return code;
}

void Handlers::nameFrame(StackFrame &f)
{
    if (f.module.isEmpty() || !f.function.isEmpty())
        return;
    const std::uint64_t at = f.exact ? f.offset : f.offset - 1; // it returns behind the call
    StackFrame &named = frames_[{f.module, at}];
    if (named.module.isEmpty()) {
        const Place own = places_.ownLine(f.module, at, isLibraryHeader);
        named = f;
        named.own = own.known() && !isSystemLibrary(f.module);
        named.function = own.function;
        // A function that Pipit stands in for has an entry of Pipit's, whose source is no place of the
        // program's.
        if (!isOwnLibrary(f.module)) {
            named.file = own.file;
            named.line = own.line;
        }
    }
    f.function = named.function;
    f.file = named.file;
    f.line = named.line;
    f.own = named.own;
}

void Handlers::nameFrames(StackSample &sample)
{
    std::lock_guard reading(placesMutex_);
    for (StackFrame &f : sample.frames)
        nameFrame(f);
}

StackFrame Handlers::placeAt(std::uint64_t returnAddress)
{
    const CodeInfo code = trace_.code(returnAddress);
    StackFrame f;
    f.module = code.module;
    f.offset = code.offset;
    std::lock_guard reading(placesMutex_);
    nameFrame(f);
    return f;
}

StackFrame Handlers::placeAt(const std::vector<std::uint64_t> &returnAddresses)
{
    for (const std::uint64_t address : returnAddresses) {
        if (const StackFrame f = placeAt(address); !f.file.isEmpty() && !isLibraryHeader(f.file))
            return f;
        // Only out of a header's function: who called the program's own is another line.
        if (!isInHeader(address))
            break;
    }
    return {};
}

bool Handlers::isInHeader(std::uint64_t returnAddress)
{
    const CodeInfo code = trace_.code(returnAddress);
    std::lock_guard reading(placesMutex_);
    const auto key = std::pair(code.module, code.offset - 1);
    auto it = inHeader_.find(key);
    if (it == inHeader_.end())
        it = inHeader_.insert(key, isLibraryHeader(places_.function(key.first, key.second).file));
    return *it;
}

std::vector<std::uint64_t> connectPlaces(const TraceModel &trace, const FactRow &fact)
{
    const int from = fact.fact == link::Fact::NotConnected ? 7 : 9;
    const QStringList fields = trace.factText(fact).split('\t');
    std::vector<std::uint64_t> places{fact.other};
    for (const QString &field : fields.mid(from, 2))
        if (const std::uint64_t place = field.toULongLong(nullptr, 16))
            places.push_back(place);
    return places;
}

std::vector<std::uint64_t> factPlaces(const TraceModel &trace)
{
    std::vector<std::uint64_t> places;
    QSet<std::uint64_t> known;
    for (std::uint32_t i = 0; i < trace.factCount(); ++i) {
        const FactRow &f = trace.fact(i);
        const bool isConnect = f.fact == link::Fact::Connected || f.fact == link::Fact::NotConnected;
        for (const std::uint64_t place : isConnect ? connectPlaces(trace, f) : std::vector{f.other})
            if (place && !known.contains(place)) {
                known.insert(place);
                places.push_back(place);
            }
    }
    return places;
}

bool Handlers::knowsConnection(const QString &id)
{
    std::lock_guard reading(placesMutex_);
    return std::any_of(map_.lines.begin(), map_.lines.end(),
                       [&](const WiringMap::Entry &e) { return e.connection == id; });
}

Places::Pieces Handlers::codeOf(const QStringList &connections, const QString &module)
{
    std::lock_guard reading(placesMutex_);
    QHash<QString, QSet<int>> lines;
    for (auto it = map_.lines.constBegin(); it != map_.lines.constEnd(); ++it)
        if (connections.contains(it->connection))
            lines[it.key().first].insert(it.key().second);
    Places::Pieces pieces;
    for (auto it = lines.constBegin(); it != lines.constEnd(); ++it)
        pieces += places_.codeOf(module, it.key(), *it);
    return pieces;
}

Outcome Handlers::save(const QString &path)
{
    for (std::uint32_t i = 0; i < trace_.linkCount(); ++i)
        of(i);
    QJsonArray places;
    for (const std::uint64_t place : factPlaces(trace_)) {
        if (const StackFrame f = placeAt(place); !f.file.isEmpty())
            places.append(QJsonObject{{"module", f.module},
                                      {"offset", QString::number(f.offset, 16)},
                                      {"function", f.function},
                                      {"file", f.file},
                                      {"line", f.line},
                                      {"own", f.own}});
        else if (isInHeader(place)) // who called it is looked for
            places.append(QJsonObject{
                {"module", f.module}, {"offset", QString::number(f.offset, 16)}, {"header", true}});
    }
    std::lock_guard reading(placesMutex_);
    QJsonArray rows;
    for (auto it = byCode_.constBegin(); it != byCode_.constEnd(); ++it)
        rows.append(QJsonObject{{"code", QString::fromLatin1(it.key())},
                                {"name", it->name},
                                {"file", it->file},
                                {"line", it->line},
                                {"connection", it->connection},
                                {"handler", it->handler},
                                {"source", it->source},
                                {"signal", it->signal},
                                {"helper", it->helper}});
    return writeFile(
        path, QJsonDocument(QJsonObject{{"version", 2}, {"handlers", rows}, {"places", places}}).toJson());
}

void Handlers::load(const QJsonObject &file)
{
    std::lock_guard reading(placesMutex_);
    std::lock_guard lock(mutex_);
    for (const auto &v : file["handlers"].toArray()) {
        const QJsonObject o = v.toObject();
        HandlerName h{o["name"].toString(),       o["file"].toString(),    o["line"].toInt(),
                      o["connection"].toString(), o["handler"].toString(), o["source"].toString(),
                      o["signal"].toString(),     o["helper"].toBool()};
        if (o.contains("code"))
            byCode_.insert(o["code"].toString().toLatin1(), h);
        else // version 1: each link by its serial
            known_.try_emplace(o["key"].toString().toULongLong(nullptr, 16), h);
    }
    for (const auto &v : file["places"].toArray()) {
        const QJsonObject o = v.toObject();
        StackFrame f;
        f.module = o["module"].toString();
        f.offset = o["offset"].toString().toULongLong(nullptr, 16);
        f.function = o["function"].toString();
        f.file = o["file"].toString();
        f.line = o["line"].toInt();
        f.own = o["own"].toBool();
        if (o["header"].toBool())
            inHeader_.insert({f.module, f.offset - 1}, true);
        else if (!f.module.isEmpty() && f.offset)
            frames_.insert({f.module, f.offset - 1}, f);
    }
}

void Handlers::setApart()
{
    std::lock_guard reading(placesMutex_);
    places_.setApart();
}

} // namespace pipit
