#include "core/trace/places_module.h"

#include <QRegularExpression>

#include <cxxabi.h>
#include <dwarf.h>
#include <fcntl.h>
#include <unistd.h>

namespace pipit
{

struct Places::Private {
    QHash<QString, std::shared_ptr<Module>> modules;
    bool apart = false;
};

namespace
{

// No lookups of separate debug files over the network: only the module and Debian's debug folder.
char *debugPath = nullptr;
const Dwfl_Callbacks callbacks = {dwfl_linux_proc_find_elf, dwfl_standard_find_debuginfo,
                                  dwfl_offline_section_address, &debugPath};

QString demangle(const char *name)
{
    int status = 0;
    char *text = abi::__cxa_demangle(name, nullptr, nullptr, &status);
    const QString result = QString::fromUtf8(status == 0 ? text : name);
    free(text);
    return result;
}

// The same without an index of address ranges, which clang++ does not write: unit by unit.
const char *lineByUnits(Dwfl_Module *module, std::uint64_t offset, int *number)
{
    Dwarf_Addr bias = 0;
    for (Dwarf_Die *unit = nullptr; (unit = dwfl_module_nextcu(module, unit, &bias));) {
        if (dwarf_haspc(unit, offset - bias) != 1)
            continue;
        Dwarf_Line *line = dwarf_getsrc_die(unit, offset - bias);
        if (line && dwarf_lineno(line, number) == 0)
            return dwarf_linesrc(line, nullptr, nullptr);
    }
    return nullptr;
}

} // namespace

Places::Places() : d(std::make_unique<Private>())
{
    unsetenv("DEBUGINFOD_URLS");
}
Places::~Places() = default;

void Places::setApart()
{
    d->apart = true;
    d->modules.clear();
}

Places::Module *Places::module(const QString &path)
{
    auto it = d->modules.find(path);
    if (it == d->modules.end()) {
        auto m = std::make_shared<Module>();
        if (!d->apart)
            m->dwfl = dwfl_begin(&callbacks);
        if (m->dwfl) {
            dwfl_report_begin(m->dwfl);
            m->module = dwfl_report_elf(m->dwfl, "module", path.toUtf8().constData(), -1, 0, false);
            dwfl_report_end(m->dwfl, nullptr, nullptr);
        }
        it = d->modules.insert(path, m);
    }
    return it->get();
}

Place Places::line(const QString &path, std::uint64_t offset)
{
    Place place;
    Module *m = module(path);
    if (!m->module)
        return place;
    if (const Symbols::One *symbol = m->symbols().holding(offset))
        place.function = plainFunctionName(demangle(symbol->name));
    int number = 0;
    const char *file = nullptr;
    if (Dwfl_Line *l = dwfl_module_getsrc(m->module, offset))
        file = dwfl_lineinfo(l, nullptr, &number, nullptr, nullptr, nullptr);
    else
        file = lineByUnits(m->module, offset, &number);
    if (file) {
        place.file = QString::fromUtf8(file);
        place.line = number;
    }
    return place;
}

Dwarf_Die *unitAt(Dwfl_Module *module, std::uint64_t offset, Dwarf_Addr *bias)
{
    if (Dwarf_Die *unit = dwfl_module_addrdie(module, offset, bias))
        return unit;
    for (Dwarf_Die *unit = nullptr; (unit = dwfl_module_nextcu(module, unit, bias));)
        if (dwarf_haspc(unit, offset - *bias) == 1)
            return unit;
    return nullptr;
}

Place Places::ownLine(const QString &path, std::uint64_t offset,
                      const std::function<bool(const QString &)> &foreign)
{
    Place place = line(path, offset);
    if (place.known() && !foreign(place.file))
        return place;
    place.file.clear();
    place.line = 0;
    Module *m = module(path);
    Dwarf_Addr bias = 0;
    Dwarf_Die *unit = m->module ? unitAt(m->module, offset, &bias) : nullptr;
    Dwarf_Files *files = nullptr;
    std::size_t fileCount = 0;
    if (!unit || dwarf_getsrcfiles(unit, &files, &fileCount) != 0)
        return place;
    // Around what was inlined that gives the scopes of the function as it is written, not of where it ended
    // up.
    Dwarf_Die *innermost = nullptr, *scopes = nullptr;
    const int found = dwarf_getscopes(unit, offset - bias, &innermost);
    const int count = found > 0 ? dwarf_getscopes_die(&innermost[0], &scopes) : 0;
    free(innermost);
    for (int i = 0; i < count && !place.known(); ++i) { // the innermost first
        Dwarf_Attribute attribute;
        Dwarf_Word file = 0, number = 0;
        if (dwarf_tag(&scopes[i]) != DW_TAG_inlined_subroutine ||
            dwarf_formudata(dwarf_attr(&scopes[i], DW_AT_call_file, &attribute), &file) != 0 ||
            dwarf_formudata(dwarf_attr(&scopes[i], DW_AT_call_line, &attribute), &number) != 0)
            continue;
        const char *source = file < fileCount ? dwarf_filesrc(files, file, nullptr, nullptr) : nullptr;
        if (!source || foreign(QString::fromUtf8(source)))
            continue;
        place.file = QString::fromUtf8(source);
        place.line = int(number);
    }
    free(scopes);
    return place;
}

// The functions that begin where the one at this address begins.
QList<QByteArray> Places::symbolsAt(const QString &path, std::uint64_t offset)
{
    Module *m = module(path);
    const Symbols::One *symbol = m->module ? m->symbols().holding(offset) : nullptr;
    return symbol ? m->symbols().functionsAt(symbol->at) : QList<QByteArray>();
}

QStringList Places::names(const QString &path, std::uint64_t offset)
{
    QStringList names;
    for (const QByteArray &name : symbolsAt(path, offset)) {
        const QString plain = plainFunctionName(demangle(name.constData()));
        if (!names.contains(plain))
            names.append(plain);
    }
    return names;
}

bool Places::folded(const QString &path, std::uint64_t offset)
{
    return symbolsAt(path, offset).size() > 1;
}

Place Places::function(const QString &path, std::uint64_t offset)
{
    Module *m = module(path);
    if (!m->module)
        return {};
    const Symbols::One *symbol = m->symbols().holding(offset);
    return line(path, symbol ? symbol->at : offset);
}

Places::Pieces Places::codeOf(const QString &path, const QString &file, const QSet<int> &lines)
{
    Pieces pieces;
    Module *m = module(path);
    if (!m->module)
        return pieces;
    const QByteArray tail = '/' + file.toUtf8();
    Dwarf_Addr bias = 0;
    for (Dwarf_Die *unit = nullptr; (unit = dwfl_module_nextcu(m->module, unit, &bias));) {
        Dwarf_Lines *table = nullptr;
        std::size_t count = 0;
        if (dwarf_getsrclines(unit, &table, &count) != 0)
            continue;
        for (std::size_t i = 0; i + 1 < count; ++i) {
            Dwarf_Line *line = dwarf_onesrcline(table, i);
            int number = 0;
            const char *source = dwarf_linesrc(line, nullptr, nullptr);
            if (!source || dwarf_lineno(line, &number) != 0 || !lines.contains(number) ||
                !QByteArrayView(source).endsWith(tail))
                continue;
            Dwarf_Addr from = 0, to = 0;
            dwarf_lineaddr(line, &from);
            dwarf_lineaddr(dwarf_onesrcline(table, i + 1), &to);
            if (to > from)
                pieces.append({from + bias, to + bias});
        }
    }
    return pieces;
}

// What a slot object of the toolkit's calls, by the first argument of its template.
static QString calledBy(const QString &slotObject)
{
    static const QRegularExpression member("\\(([A-Za-z_][\\w:]*)::\\*\\)");
    const qsizetype from = slotObject.indexOf('<') + 1;
    qsizetype to = from;
    for (int depth = 0; to < slotObject.size(); ++to) {
        const QChar c = slotObject[to];
        if (depth == 0 && (c == ',' || c == '>'))
            break;
        depth += c == '<' || c == '(' ? 1 : c == '>' || c == ')' ? -1 : 0;
    }
    const QString type = slotObject.mid(from, to - from);
    if (const auto m = member.match(type); m.hasMatch())
        return "a member of " + m.captured(1);
    if (type.contains("(*)"))
        return QStringLiteral("a function");
    if (type.startsWith("std::function"))
        return QStringLiteral("a std::function");
    return type.section('<', 0, 0);
}

QString plainFunctionName(const QString &full)
{
    QString demangled = full;
    demangled.remove("(anonymous namespace)::");
    static const QRegularExpression lambda(
        QStringLiteral("([A-Za-z_~][\\w:~]*?)(?:\\([^()]*\\)(?: const)?)?::(?:\\{lambda|\\$_\\d|'lambda)")),
        slotObject("^QtPrivate::Q\\w*SlotObject<");
    if (const auto m = lambda.match(demangled); m.hasMatch())
        return "lambda in " + m.captured(1);
    if (slotObject.match(demangled).hasMatch())
        return calledBy(demangled);
    QString name = demangled;
    int depth = 0;
    for (qsizetype i = 0; i < name.size(); ++i) { // cut at the argument list, past template arguments
        const QChar c = name[i];
        if (c == '<')
            ++depth;
        else if (c == '>')
            --depth;
        else if (c == '(' && depth == 0 && i > 0) {
            name.truncate(i);
            break;
        }
    }
    return name;
}

QString workName(const QString &mangledClass)
{
    const QString name = demangle(mangledClass.toLatin1().constData()).remove("(anonymous namespace)::");
    const QString plain = plainFunctionName(name);
    if (plain.startsWith("lambda in "))
        return plain;
    const QString outer = name.section('<', 0, 0);
    return outer.startsWith("QtConcurrent::") ? "work given to QtConcurrent" : outer + "::run";
}

} // namespace pipit
