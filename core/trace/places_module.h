// Inside Places: one module's debug information, shared by the files that read it.
//
// Threads: one at a time, as Places.
#pragma once

#include "core/trace/places.h"

#include <QHash>

#include <elfutils/libdw.h>
#include <elfutils/libdwfl.h>

#include <optional>
#include <vector>

namespace pipit
{

// A module's symbols, sorted by where they begin: the library looks through all of them for each address.
class Symbols
{
public:
    struct One {
        std::uint64_t at = 0, size = 0;
        const char *name = nullptr; // as long as the module is open
        bool function = false;
        unsigned char rank = 0; // of those at one place the lowest names it: global ones, weak ones, others
    };
    explicit Symbols(Dwfl_Module *module);
    // The innermost that holds the address; one of its section without a size, if none ends behind that.
    // Null: none.
    [[nodiscard]] const One *holding(std::uint64_t address) const;
    // The functions that begin there.
    [[nodiscard]] QList<QByteArray> functionsAt(std::uint64_t address) const;

private:
    Dwfl_Module *module_;
    std::vector<One> sized_, unsized_;
    std::vector<std::uint64_t> ends_; // of `sized_`: the largest up to each
};

struct Places::Module {
    Dwfl *dwfl = nullptr;
    Dwfl_Module *module = nullptr;
    std::optional<Symbols> known;
    // Once they are asked for.
    const Symbols &symbols() { return known ? *known : known.emplace(module); }
    // Functions with code of their own by where they begin, of the units that were asked for.
    QHash<Dwarf_Off, QHash<std::uint64_t, QList<Dwarf_Off>>> unitFunctions;
    ~Module()
    {
        if (dwfl)
            dwfl_end(dwfl);
    }
};

// The unit that holds the address; by its ranges where there is no index of them.
Dwarf_Die *unitAt(Dwfl_Module *module, std::uint64_t offset, Dwarf_Addr *bias);

} // namespace pipit
