#include "core/trace/places_module.h"

#include <dwarf.h>

#include <optional>

namespace pipit
{

namespace
{

using Foreign = std::function<bool(const QString &)>;

std::optional<Dwarf_Die> referred(Dwarf_Die *die, unsigned attribute)
{
    Dwarf_Attribute a;
    Dwarf_Die to;
    if (!dwarf_attr(die, attribute, &a) || !dwarf_formref_die(&a, &to))
        return std::nullopt;
    return to;
}

// Calls `visit` with each child until it says true.
template <class Visit> bool anyChild(Dwarf_Die *die, Visit &&visit)
{
    Dwarf_Die child;
    if (dwarf_child(die, &child) != 0)
        return false;
    do {
        if (visit(&child))
            return true;
    } while (dwarf_siblingof(&child, &child) == 0);
    return false;
}

bool isNamespace(Dwarf_Die *die)
{
    return dwarf_tag(die) == DW_TAG_namespace;
}

// Functions stand in a unit or its namespaces when they have code, in one piece or in several.
void gather(Dwarf_Die *scope, QHash<std::uint64_t, QList<Dwarf_Off>> &into)
{
    anyChild(scope, [&](Dwarf_Die *die) {
        Dwarf_Addr base = 0, from = 0, to = 0;
        if (dwarf_tag(die) == DW_TAG_subprogram)
            for (std::ptrdiff_t at = 0; (at = dwarf_ranges(die, at, &base, &from, &to)) > 0;)
                into[from].append(dwarf_dieoffset(die));
        else if (isNamespace(die))
            gather(die, into);
        return false;
    });
}

// The type without names for it, references and constness.
std::optional<Dwarf_Die> bare(std::optional<Dwarf_Die> type)
{
    for (int i = 0; type && i < 16; ++i) {
        switch (dwarf_tag(&*type)) {
        case DW_TAG_typedef:
        case DW_TAG_const_type:
        case DW_TAG_volatile_type:
        case DW_TAG_reference_type:
        case DW_TAG_rvalue_reference_type:
            type = referred(&*type, DW_AT_type);
            break;
        default:
            return type;
        }
    }
    return type;
}

// From version 5 on a unit's own file has the number 0, which older readers take for none.
const char *declaringFile(Dwarf_Die *die)
{
    if (const char *file = dwarf_decl_file(die))
        return file;
    Dwarf_Attribute a;
    Dwarf_Word number = 1;
    Dwarf_Die unit;
    Dwarf_Half version = 0;
    if (!dwarf_attr_integrate(die, DW_AT_decl_file, &a) || dwarf_formudata(&a, &number) != 0 || number != 0 ||
        !dwarf_cu_die(a.cu, &unit, &version, nullptr, nullptr, nullptr, nullptr, nullptr) || version < 5)
        return nullptr;
    Dwarf_Files *files = nullptr;
    std::size_t count = 0;
    return dwarf_getsrcfiles(&unit, &files, &count) == 0 && count > 0
               ? dwarf_filesrc(files, 0, nullptr, nullptr)
               : nullptr;
}

Place declared(Dwarf_Die *die)
{
    Place place;
    int line = 0;
    const char *file = declaringFile(die);
    if (file && dwarf_decl_line(die, &line) == 0) {
        place.file = QString::fromUtf8(file);
        place.line = line;
    }
    return place;
}

QString nameOf(Dwarf_Die *die)
{
    const char *name = dwarf_diename(die);
    return name ? QString::fromUtf8(name) : QString();
}

// A class's own operator() that is no template; of a template's, any.
std::optional<Dwarf_Die> callOperator(Dwarf_Die *type)
{
    std::optional<Dwarf_Die> found;
    anyChild(type, [&](Dwarf_Die *die) {
        if (dwarf_tag(die) != DW_TAG_subprogram || nameOf(die).section('<', 0, 0) != "operator()")
            return false;
        found = *die;
        return true;
    });
    return found;
}

std::optional<Callee> calleeOf(std::optional<Dwarf_Die> type, const Foreign &foreign, int depth);

// The first of its template's type arguments that can be called.
std::optional<Callee> calleeInArguments(Dwarf_Die *type, const Foreign &foreign, int depth)
{
    std::optional<Callee> found;
    const auto take = [&](Dwarf_Die *die) {
        if (dwarf_tag(die) == DW_TAG_template_type_parameter)
            found = calleeOf(referred(die, DW_AT_type), foreign, depth + 1);
        return found.has_value();
    };
    anyChild(type, [&](Dwarf_Die *die) {
        return dwarf_tag(die) == DW_TAG_GNU_template_parameter_pack ? anyChild(die, take) : take(die);
    });
    return found;
}

std::optional<Callee> calleeOfClass(Dwarf_Die *type, const Foreign &foreign, int depth)
{
    const QString name = nameOf(type);
    const Place place = declared(type);
    if (name.startsWith("function<"))
        return Callee{Callee::StdFunction, {}};
    if (place.known() && !foreign(place.file)) {
        // A closure's type has no name of its own.
        if (name.isEmpty() || name.startsWith('<') || name.contains("lambda") || name.startsWith("._anon"))
            return Callee{Callee::Lambda, place};
        if (auto call = callOperator(type)) {
            Place at = declared(&*call);
            if (!at.known())
                at = place;
            at.function = name;
            return Callee{Callee::Functor, at};
        }
        return std::nullopt;
    }
    if (name.startsWith("_Bind")) { // its argument reads like a call: what is called comes first in it
        std::optional<Callee> found;
        anyChild(type, [&](Dwarf_Die *die) {
            auto argument = dwarf_tag(die) == DW_TAG_template_type_parameter ? bare(referred(die, DW_AT_type))
                                                                             : std::nullopt;
            if (argument && dwarf_tag(&*argument) == DW_TAG_subroutine_type)
                found = calleeOf(referred(&*argument, DW_AT_type), foreign, depth + 1);
            return found.has_value();
        });
        return found;
    }
    return calleeInArguments(type, foreign, depth);
}

std::optional<Callee> calleeOf(std::optional<Dwarf_Die> type, const Foreign &foreign, int depth)
{
    constexpr int deepest = 6;
    type = bare(type);
    if (!type || depth > deepest)
        return std::nullopt;
    switch (dwarf_tag(&*type)) {
    case DW_TAG_pointer_type: {
        const auto to = bare(referred(&*type, DW_AT_type));
        if (to && dwarf_tag(const_cast<Dwarf_Die *>(&*to)) == DW_TAG_subroutine_type)
            return Callee{Callee::FunctionPointer, {}};
        return std::nullopt;
    }
    case DW_TAG_ptr_to_member_type:
        return Callee{Callee::MemberPointer, {}};
    case DW_TAG_structure_type:
    case DW_TAG_class_type:
        return calleeOfClass(&*type, foreign, depth);
    default:
        return std::nullopt;
    }
}

// The class whose member function this is: what stands around its declaration.
std::optional<Callee> calleeOfFunction(Dwarf_Die function, const Foreign &foreign)
{
    for (int i = 0; i < 4; ++i) {
        auto next = referred(&function, DW_AT_abstract_origin);
        if (!next)
            next = referred(&function, DW_AT_specification);
        if (!next)
            break;
        function = *next;
    }
    Dwarf_Die *scopes = nullptr;
    const int count = dwarf_getscopes_die(&function, &scopes);
    std::optional<Callee> found;
    if (count > 1) {
        const int tag = dwarf_tag(&scopes[1]);
        if (tag == DW_TAG_class_type || tag == DW_TAG_structure_type)
            found = calleeInArguments(&scopes[1], foreign, 0);
    }
    free(scopes);
    return found;
}

} // namespace

QList<Callee> Places::callees(const QString &path, std::uint64_t offset, const Foreign &foreign)
{
    QList<Callee> found;
    Module *m = module(path);
    Dwarf_Addr bias = 0;
    Dwarf_Die *unit = m->module ? unitAt(m->module, offset, &bias) : nullptr;
    if (!unit)
        return found;
    const Dwarf_Off at = dwarf_dieoffset(unit);
    if (!m->unitFunctions.contains(at))
        gather(unit, m->unitFunctions[at]);
    Dwarf *dwarf = dwarf_cu_getdwarf(unit->cu);
    for (const Dwarf_Off function : m->unitFunctions[at].value(offset - bias)) {
        Dwarf_Die die;
        if (!dwarf_offdie(dwarf, function, &die))
            continue;
        const auto callee = calleeOfFunction(die, foreign);
        const auto same = [&](const Callee &c) {
            return c.kind == callee->kind && c.place.file == callee->place.file &&
                   c.place.line == callee->place.line;
        };
        if (callee && std::none_of(found.begin(), found.end(), same))
            found.append(*callee);
    }
    return found;
}

} // namespace pipit
