// Made by Pipit; edits here are overwritten.
#include "ferry_desk_wiring.h"

#include <QtWidgets/QApplication>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QApplication::setApplicationName(QString::fromUtf8("ferry-desk", 10));
    FerryDeskWired window;
    window.show();
    return QApplication::exec();
}
