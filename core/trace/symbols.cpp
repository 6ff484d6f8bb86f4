#include "core/trace/places_module.h"

#include <algorithm>

namespace pipit
{

namespace
{

// System V ABI, symbol table: st_info.
unsigned char rankOf(const GElf_Sym &symbol)
{
    switch (GELF_ST_BIND(symbol.st_info)) {
    case STB_GLOBAL:
        return 0;
    case STB_WEAK:
        return 1;
    default:
        return 2;
    }
}

bool isPlace(const GElf_Sym &symbol)
{
    const int type = GELF_ST_TYPE(symbol.st_info);
    return symbol.st_shndx != SHN_UNDEF && type != STT_SECTION && type != STT_FILE && type != STT_TLS;
}

Elf_Scn *sectionOf(Dwfl_Module *module, std::uint64_t address)
{
    Dwarf_Addr at = address, bias = 0;
    return dwfl_module_address_section(module, &at, &bias);
}

} // namespace

Symbols::Symbols(Dwfl_Module *module) : module_(module)
{
    const int count = dwfl_module_getsymtab(module);
    for (int i = 1; i < count; ++i) { // the first is none
        GElf_Sym symbol;
        GElf_Addr at = 0;
        GElf_Word section = SHN_UNDEF;
        const char *name = dwfl_module_getsym_info(module, i, &symbol, &at, &section, nullptr, nullptr);
        if (!name || !*name || !isPlace(symbol) || section == SHN_ABS)
            continue;
        const One one{at, symbol.st_size, name, GELF_ST_TYPE(symbol.st_info) == STT_FUNC, rankOf(symbol)};
        (one.size ? sized_ : unsized_).push_back(one);
    }
    const auto before = [](const One &a, const One &b) {
        return a.at != b.at ? a.at < b.at : a.rank < b.rank;
    };
    std::stable_sort(sized_.begin(), sized_.end(), before);
    std::stable_sort(unsized_.begin(), unsized_.end(), before);
    std::uint64_t end = 0;
    for (const One &s : sized_)
        ends_.push_back(end = std::max(end, s.at + s.size));
}

const Symbols::One *Symbols::holding(std::uint64_t address) const
{
    const auto behind = [address](const std::vector<One> &all) {
        return std::upper_bound(all.begin(), all.end(), address,
                                [](std::uint64_t a, const One &s) { return a < s.at; });
    };
    const auto from = behind(sized_);
    const One *found = nullptr;
    std::uint64_t ended = 0; // the last end before the address
    for (auto s = from; s != sized_.begin();) {
        --s;
        if (found && s->at != found->at)
            break;
        if (address - s->at < s->size)
            found = &*s; // of those at one place the first stands for all
        ended = std::max(ended, s->at + s->size <= address ? s->at + s->size : 0);
        if (const std::uint64_t last = ends_[std::size_t(s - sized_.begin())]; !found && last <= address) {
            ended = std::max(ended, last);
            break; // none of those before reaches so far
        }
    }
    if (found)
        return found;
    auto s = behind(unsized_);
    if (s == unsized_.begin() || std::prev(s)->at < ended)
        return nullptr;
    const std::uint64_t at = std::prev(s)->at;
    if (sectionOf(module_, at) != sectionOf(module_, address))
        return nullptr;
    while (s != unsized_.begin() && std::prev(s)->at == at)
        --s;
    return &*s;
}

QList<QByteArray> Symbols::functionsAt(std::uint64_t address) const
{
    QList<QByteArray> names;
    auto s = std::lower_bound(sized_.begin(), sized_.end(), address,
                              [](const One &one, std::uint64_t a) { return one.at < a; });
    for (; s != sized_.end() && s->at == address; ++s)
        if (s->function && !names.contains(s->name))
            names.append(s->name);
    return names;
}

} // namespace pipit
