// Two handlers that are alike, in one place of the program once the linker has folded them. Each prints
// nothing; who of them ran cannot be known.
#include <QApplication>
#include <QTimer>

namespace
{

int tides = 0;

__attribute__((noinline)) void first(QObject *o)
{
    QTimer::singleShot(5, o, [] { ++tides; });
}
__attribute__((noinline)) void second(QObject *o)
{
    QTimer::singleShot(10, o, [] { ++tides; });
}

} // namespace

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QObject o;
    first(&o);
    second(&o);
    QTimer::singleShot(60, &app, &QApplication::quit);
    return QApplication::exec();
}
