// Tests of the interface.
#include "tests/support/calm.h"
#include "tests/support/registered.h"

#include <QApplication>
#include <QTemporaryDir>

int main(int argc, char **argv)
{
    if (pipit::tests::measuresTime())
        return pipit::tests::judgedInQuiet(argc, argv);
    QTemporaryDir config; // what one test lets be remembered is no business of the next
    qputenv("XDG_CONFIG_HOME", qEnvironmentVariable("PIPIT_TEST_CONFIG", config.path()).toUtf8());
    QApplication app(argc, argv);
    QCoreApplication::setAttribute(Qt::AA_Use96Dpi);
    return pipit::tests::runRegistered(argc, argv);
}
