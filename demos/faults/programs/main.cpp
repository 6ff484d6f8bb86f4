#include "fault.h"

#include <cstdio>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    const auto it = argc > 1 ? fault::all().find(argv[1]) : fault::all().end();
    if (it != fault::all().end())
        return it->second();
    std::fprintf(stderr, "usage: faults NAME, one of:\n");
    for (const auto &[name, program] : fault::all())
        std::fprintf(stderr, "  %s\n", name.c_str());
    return 2;
}
