// Made by Pipit; edits here are overwritten.
#include "ferry_desk_wiring.h"

#include <QtCore/QLocale>
#include <QtCore/QTranslator>
#include <QtWidgets/QApplication>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QApplication::setApplicationName(QStringLiteral("ferry-desk"));
    QTranslator translator; // NAME_de.qm and the like, beside the program
    if (translator.load(QLocale(), QStringLiteral("ferry_desk"), QStringLiteral("_"),
                        QCoreApplication::applicationDirPath()))
        QCoreApplication::installTranslator(&translator);
    FerryDeskWired window;
    window.show();
    return QApplication::exec();
}
