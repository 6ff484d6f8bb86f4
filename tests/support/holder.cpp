// Holds a run as Pipit's window does, until it is killed.
#include "tests/support/support.h"

#include <QCoreApplication>

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    pipit::tests::runTarget(app.arguments().value(1), app.arguments().mid(2));
}
