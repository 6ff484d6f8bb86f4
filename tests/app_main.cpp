// Tests of the interface.
#include "tests/support/registered.h"

#include <QApplication>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QCoreApplication::setAttribute(Qt::AA_Use96Dpi);
    return pipit::tests::runRegistered(argc, argv);
}
