// pipit-window: the desktop application. With a project's folder or a recording's to open.
#include "app/look/tokens.h"
#include "app/shell/main_window.h"

#include <QApplication>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QApplication::setApplicationName("pipit");
    QApplication::setStyle("Fusion");
    pipit::app::loadFonts();
    QApplication::setFont(pipit::app::textFont());
    pipit::app::MainWindow window;
    window.show();
    if (argc > 1)
        window.session()->open(QString::fromLocal8Bit(argv[1]));
    return QApplication::exec();
}
