// Inside Places: one module's debug information, shared by the files that read it.
//
// Threads: one at a time, as Places.
#pragma once

#include "core/trace/places.h"

#include <QHash>

#include <elfutils/libdw.h>
#include <elfutils/libdwfl.h>

namespace pipit
{

struct Places::Module {
    Dwfl *dwfl = nullptr;
    Dwfl_Module *module = nullptr;
    QHash<std::uint64_t, QList<QByteArray>> functions; // symbols by address, once they were asked for
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
