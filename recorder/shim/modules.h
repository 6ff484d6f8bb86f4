/* Modules loaded into this program: by the beginning of their file's name, or by an address in them. For the
 * shim and the recorder alike; libc only.
 *
 * By address the loader's own table is asked, which it keeps for unwinding stacks: no lock, and no walk.
 *
 * Threads: any. The file's name is the loader's and stays while the module is loaded; it is empty for the
 * program itself. */
#pragma once

#include <dlfcn.h>
#include <link.h>
#include <stdint.h>
#include <string.h>

struct pipit_module {
    const char *file;
    uintptr_t base;     /* add to an address as the file's symbol table has it */
    uintptr_t from, to; /* its code */
};

struct pipit_wanted {
    const char *prefix; /* of the file's name without its folder */
    struct pipit_module *found;
};

static inline const char *pipit_file_name(const char *path)
{
    const char *slash = strrchr(path, '/');
    return slash ? slash + 1 : path;
}

/* Whether a module is the toolkit's, the recorder's, or a plugin of the toolkit or the desktop: that is known by
 * the folder that the toolkit looks for its kind in. */
static inline int pipit_is_toolkit(const char *file)
{
    static const char *const kinds[] = {"platforms/",   "platformthemes/",    "platforminputcontexts/",
                                        "styles/",      "imageformats/",      "iconengines/",
                                        "xcbglintegrations/", "egldeviceintegrations/", "generic/",
                                        "wayland-"};
    const char *name = pipit_file_name(file);
    if (strncmp(name, "libQt6", 6) == 0 || strncmp(name, "libpipit", 8) == 0)
        return 1;
    const char *folder = strstr(file, "/plugins/");
    for (unsigned i = 0; folder && i < sizeof kinds / sizeof *kinds; ++i)
        if (strncmp(folder + strlen("/plugins/"), kinds[i], strlen(kinds[i])) == 0)
            return 1;
    return 0;
}

/* Fills in where the code is; whether the address lies in a part that is loaded. */
static inline int pipit_read_parts(const ElfW(Phdr) * parts, int count, uintptr_t address,
                                   struct pipit_module *module)
{
    int is = 0;
    module->from = module->to = 0;
    for (int i = 0; i < count; ++i) {
        const uintptr_t from = module->base + parts[i].p_vaddr;
        const uintptr_t to = from + parts[i].p_memsz;
        if (parts[i].p_type != PT_LOAD)
            continue;
        is = is || (address >= from && address < to);
        if (parts[i].p_flags & PF_X) {
            module->from = from;
            module->to = to;
        }
    }
    return is;
}

static inline int pipit_visit_module(struct dl_phdr_info *info, size_t size, void *data)
{
    (void)size;
    const struct pipit_wanted *wanted = (const struct pipit_wanted *)data;
    if (strncmp(pipit_file_name(info->dlpi_name), wanted->prefix, strlen(wanted->prefix)) != 0)
        return 0;
    wanted->found->file = info->dlpi_name;
    wanted->found->base = info->dlpi_addr;
    pipit_read_parts(info->dlpi_phdr, info->dlpi_phnum, 0, wanted->found);
    return 1;
}

/* 0 when there is none. */
static inline int pipit_module_named(const char *prefix, struct pipit_module *found)
{
    struct pipit_wanted wanted = {prefix, found};
    return dl_iterate_phdr(pipit_visit_module, &wanted);
}
static inline int pipit_module_at(uintptr_t address, struct pipit_module *found)
{
    struct dl_find_object object;
    if (_dl_find_object((void *)address, &object) != 0)
        return 0;
    const ElfW(Ehdr) *header = (const ElfW(Ehdr) *)object.dlfo_map_start;
    found->file = object.dlfo_link_map->l_name;
    found->base = object.dlfo_link_map->l_addr;
    return pipit_read_parts((const ElfW(Phdr) *)((const char *)header + header->e_phoff), header->e_phnum,
                            address, found);
}
