/* Modules loaded into this program: by the beginning of their file's name, or by an address in them. The
 * one place that walks them, for the shim and the recorder alike; libc only.
 *
 * Threads: any. The file's name is the loader's and stays while the module is loaded; it is empty for the
 * program itself. */
#pragma once

#include <link.h>
#include <stdint.h>
#include <string.h>

struct pipit_module {
    const char *file;
    uintptr_t base;     /* add to an address as the file's symbol table has it */
    uintptr_t from, to; /* its code */
};

struct pipit_wanted {
    const char *prefix; /* of the file's name without its folder; or, when null, */
    uintptr_t address;
    struct pipit_module *found;
};

static inline const char *pipit_file_name(const char *path)
{
    const char *slash = strrchr(path, '/');
    return slash ? slash + 1 : path;
}

static inline int pipit_visit_module(struct dl_phdr_info *info, size_t size, void *data)
{
    (void)size;
    struct pipit_wanted *wanted = (struct pipit_wanted *)data;
    if (wanted->prefix &&
        strncmp(pipit_file_name(info->dlpi_name), wanted->prefix, strlen(wanted->prefix)) != 0)
        return 0;
    int is = wanted->prefix != NULL;
    struct pipit_module module = {info->dlpi_name, info->dlpi_addr, 0, 0};
    for (int i = 0; i < info->dlpi_phnum; ++i) {
        const uintptr_t from = info->dlpi_addr + info->dlpi_phdr[i].p_vaddr;
        const uintptr_t to = from + info->dlpi_phdr[i].p_memsz;
        if (info->dlpi_phdr[i].p_type != PT_LOAD)
            continue;
        is = is || (wanted->address >= from && wanted->address < to);
        if (info->dlpi_phdr[i].p_flags & PF_X) {
            module.from = from;
            module.to = to;
        }
    }
    if (is)
        *wanted->found = module;
    return is;
}

/* 0 when there is none. */
static inline int pipit_module_named(const char *prefix, struct pipit_module *found)
{
    struct pipit_wanted wanted = {prefix, 0, found};
    return dl_iterate_phdr(pipit_visit_module, &wanted);
}
static inline int pipit_module_at(uintptr_t address, struct pipit_module *found)
{
    struct pipit_wanted wanted = {NULL, address, found};
    return dl_iterate_phdr(pipit_visit_module, &wanted);
}
