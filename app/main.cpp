// pipit-window: the desktop application. With a project's folder or a recording's to open.
#include "app/look/tokens.h"
#include "app/shell/main_window.h"
#include "core/base/files.h"

#include <QApplication>

#include <cstdio>
#include <cstring>

namespace
{

constexpr char usage[] = "Usage: pipit-window [PROJECT or RECORDING]\n\n"
                         "Opens Pipit's window, with a project's folder or a recording if one is named.\n"
                         "  --help      Print this and exit\n"
                         "  --version   Print the version and exit\n\n"
                         "'pipit --help' lists what can be done without a window.\n";

bool is(const char *word, const char *one, const char *other)
{
    return std::strcmp(word, one) == 0 || std::strcmp(word, other) == 0;
}

} // namespace

int main(int argc, char **argv)
{
    for (int i = 1; i < argc; ++i) { // before anything needs a display
        if (is(argv[i], "--help", "-h"))
            return std::fputs(usage, stdout) < 0;
        if (is(argv[i], "--version", "-V"))
            return std::puts("pipit " PIPIT_VERSION) < 0;
    }
    QApplication app(argc, argv); // takes out what the toolkit knows
    if (argc > 2 || (argc > 1 && argv[1][0] == '-')) {
        std::fprintf(stderr, "pipit-window: unknown argument '%s'. Name one project or recording.\n\n%s",
                     argc > 2 ? argv[2] : argv[1], usage);
        return 2;
    }
    pipit::tellFilesTooLarge();
    QApplication::setApplicationName("pipit");
    QApplication::setStyle("Fusion");
    pipit::app::loadFonts();
    QApplication::setFont(pipit::app::textFont());
    pipit::app::MainWindow window;
    window.show();
    window.greet();
    if (argc > 1)
        window.session()->open(QString::fromLocal8Bit(argv[1]));
    return QApplication::exec();
}
