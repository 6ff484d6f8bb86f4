// Tests without an interface.
#include "tests/support/calm.h"
#include "tests/support/registered.h"

#include <QCoreApplication>

int main(int argc, char **argv)
{
    if (pipit::tests::measuresTime())
        return pipit::tests::judgedInQuiet(argc, argv);
    QCoreApplication app(argc, argv);
    return pipit::tests::runRegistered(argc, argv);
}
