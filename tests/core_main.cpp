// Tests without an interface.
#include "tests/support/registered.h"

#include <QCoreApplication>

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    return pipit::tests::runRegistered(argc, argv);
}
