// The shim: a preload with libc as its only dependency. It stands in for a few functions with
// stubs that jump through a slot. A slot first resolves the real function; when a program builds
// its QCoreApplication the shim loads the recorder, which then hangs its own functions into the
// slots. A program without Qt pays for loading this small file and for nothing else.
//
// The real functions are found by walking the loaded modules: RTLD_NEXT fails when the toolkit
// itself was opened late, as language bindings do.
#define _GNU_SOURCE
#include "modules.h"
#include "stubs.h"

#include <dlfcn.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

void *pipit_slots[StubCount] __attribute__((visibility("default")));
extern void *pipit_first[StubCount]; // the stubs' first targets, in stubs.S

static const char *const names[] = {
#define X(id, name, lib) name,
    PIPIT_STUBS(X)
#undef X
};
static const char *const libraries[] = {
#define X(id, name, lib) lib,
    PIPIT_STUBS(X)
#undef X
};

// The function itself, in the module that holds it. The program cannot go on without it.
__attribute__((visibility("default"))) void *pipit_real(int id)
{
    struct pipit_module found;
    void *f = NULL;
    if (pipit_module_named(libraries[id], &found)) {
        void *module = dlopen(found.file, RTLD_LAZY | RTLD_NOLOAD);
        if (module) {
            f = dlsym(module, names[id]);
            dlclose(module);
        }
    }
    if (!f)
        f = dlsym(RTLD_NEXT, names[id]);
    if (!f) {
        static const char text[] = "pipit: a function of the toolkit is missing: ";
        ssize_t n = write(2, text, sizeof text - 1);
        n += write(2, names[id], strlen(names[id]));
        n += write(2, "\n", 1);
        (void)n;
        abort();
    }
    return f;
}

// The stub that stands in for it.
__attribute__((visibility("default"))) void *pipit_stub(int id)
{
    return dlsym(RTLD_DEFAULT, names[id]);
}

static void load_recorder(void)
{
    static int done;
    if (done)
        return;
    done = 1;
    const char *path = getenv("PIPIT_RECORDER");
    if (!path || !*path)
        return;
    if (!dlopen(path, RTLD_NOW | RTLD_GLOBAL))
        fprintf(stderr, "pipit: the recorder was not loaded: %s\n", dlerror());
}

// Called by a stub whose slot is still in its first state.
__attribute__((visibility("hidden"))) void *pipit_resolve(int id)
{
    if (id == StubAppC1 || id == StubAppC2 || id == StubAppPrivateC1 || id == StubAppPrivateC2)
        load_recorder();
    // Of the C library none is looked for by opening it: whoever asks early may be who gives memory.
    void *real = id >= StubPoll ? dlsym(RTLD_NEXT, names[id]) : pipit_real(id);
    if (!pipit_slots[id] || pipit_slots[id] == pipit_first[id]) // the recorder may have taken the slot meanwhile
        pipit_slots[id] = real;
    return pipit_slots[id];
}

__attribute__((constructor)) static void start(void)
{
    for (int i = 0; i < StubCount; ++i)
        if (!pipit_slots[i])
            pipit_slots[i] = pipit_first[i];
    // These are called where nothing may be looked up: in signal handlers, between fork and exec.
    for (int i = StubPoll; i < StubCount; ++i) {
        void *real = dlsym(RTLD_NEXT, names[i]);
        if (real)
            pipit_slots[i] = real;
    }
}
