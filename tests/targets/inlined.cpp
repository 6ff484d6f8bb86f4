// Optimised, as programs are shipped: connections whose code is inlined into the function that makes them.
// Each handler prints the line on which it stands.
#include <QApplication>
#include <QPushButton>
#include <QTimer>

#include <cstdio>

namespace
{

void told(int line)
{
    std::printf("line %d\n", line);
    std::fflush(stdout);
}

class Window : public QWidget
{
public:
    Window()
    {
        connect(&first_, &QPushButton::clicked, this, [] { told(__LINE__); });
        connect(&first_, &QPushButton::clicked, this, [this] { told(__LINE__ + int(!isEnabled())); });
        connect(&second_, &QPushButton::clicked, [] { told(__LINE__); });
        QTimer::singleShot(20, this, [this] { first_.click(); });
        QTimer::singleShot(40, this, [this] { second_.click(); });
    }

private:
    QPushButton first_{this}, second_{this};
};

} // namespace

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    Window window;
    window.show();
    QTimer::singleShot(10, &window, [] { told(__LINE__); });
    QTimer::singleShot(120, &app, &QApplication::quit);
    return QApplication::exec();
}
