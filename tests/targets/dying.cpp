// Ends in the way its argument says, after some events.
#include <QApplication>
#include <QElapsedTimer>
#include <QThread>
#include <QTimer>
#include <QWidget>

#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <string>
#include <sys/wait.h>
#include <unistd.h>

int main(int argc, char **argv)
{
    const QString how = argc > 1 ? argv[1] : "";
    QApplication app(argc, argv);
    QObject o;
    o.setObjectName("last");
    if (how == "fork") { // a child that goes on using the toolkit must not write into our rings
        QObject::connect(&o, &QObject::objectNameChanged, &o, [] {});
        const pid_t child = fork();
        if (child == 0) {
            for (int i = 0; i < 1000; ++i)
                o.setObjectName(QString::number(i));
            _exit(0);
        }
        int status = 0;
        waitpid(child, &status, 0);
        o.setObjectName("parent");
        return WIFEXITED(status) ? 5 : 6;
    }
    if (how == "child") { // a program that starts another one, which uses the toolkit too
        std::system("echo \"child has [$LD_PRELOAD] [$PIPIT_SOCKET]\"");
        const int status = std::system((std::string(argv[0]) + " normal").c_str());
        std::printf("child ended with %d\n", WEXITSTATUS(status));
        return 0;
    }
    if (how.startsWith("slow")) { // a handler that is busy, and then: crashes, quits, or never ends
        QTimer::singleShot(20, &o, [&] {
            QElapsedTimer t;
            t.start();
            while (how == "slow-forever" || t.elapsed() < 400) {
            }
            std::printf("spun %lld\n", static_cast<long long>(t.nsecsElapsed()));
            std::fflush(stdout);
            if (how == "slow-segv")
                *static_cast<volatile int *>(nullptr) = 1;
            app.exit(4);
        });
        const int code = QApplication::exec();
        QThread::msleep(120); // what comes after the loop is none of its stalls
        return code;
    }
    if (how == "early")
        return 7; // no loop, no window
    int ticks = 0;
    QTimer t;
    QObject::connect(&t, &QTimer::timeout, &o, [&] {
        if (++ticks < 20)
            return;
        qWarning("the end is near");
        if (how == "segv")
            *static_cast<volatile int *>(nullptr) = 1;
        if (how == "kill")
            raise(SIGKILL);
        if (how == "abort")
            std::abort();
        app.exit(3);
    });
    t.start(2);
    return QApplication::exec();
}
