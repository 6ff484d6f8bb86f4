// Handlers that write, read, rename and remove files, each in its own way. Prints "FILE handler verb folder
// path" for each, in a folder that is the first argument and the home folder as well. And some that use
// settings, the clipboard and the desktop: "USED handler what name".
#include <QApplication>
#include <QClipboard>
#include <QDesktopServices>
#include <QDir>
#include <QFile>
#include <QPushButton>
#include <QSaveFile>
#include <QSettings>
#include <QTextEdit>
#include <QThread>
#include <QTimer>
#include <QUrl>
#include <QVBoxLayout>

#include <csignal>
#include <cstdio>
#include <fcntl.h>
#include <fstream>
#include <functional>
#include <unistd.h>

static void told(const char *handler, const char *verb, const char *folder, const char *path)
{
    std::printf("FILE %s %s %s %s\n", handler, verb, folder, path);
    std::fflush(stdout);
}

static void used(const char *handler, const char *what, const char *name)
{
    std::printf("USED %s %s\t%s\n", handler, what, name);
    std::fflush(stdout);
}

static void onSignal(int)
{
    const int file = open("from-a-handler", O_WRONLY | O_CREAT, 0600);
    if (file >= 0)
        close(file);
}

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    const QString home = QString::fromLocal8Bit(argc > 1 ? argv[1] : ".");
    QDir().mkpath(home + "/work");
    QDir::setCurrent(home + "/work");
    QFile kept(home + "/kept"); // before any handler
    if (kept.open(QIODevice::WriteOnly))
        kept.close();

    QWidget window;
    window.setObjectName("window");
    QDesktopServices::setUrlHandler("ferry", &window, "show"); // nothing is started
    auto *all = new QVBoxLayout(&window);
    int at = 0;
    const auto button = [&](const char *name, std::function<void()> does) {
        auto *b = new QPushButton(name);
        b->setObjectName(name);
        all->addWidget(b);
        QObject::connect(b, &QPushButton::clicked, &window, does);
        QTimer::singleShot(100 + 60 * at++, b, [b] { b->click(); });
    };
    button("list", [] {
        QFile f("list.txt");
        if (f.open(QIODevice::WriteOnly))
            f.write("cars\n");
        told("list", "write", "working", "list.txt");
    });
    button("stream", [home] {
        std::ofstream(home.toStdString() + "/log") << "sailed\n";
        told("stream", "write", "home", "log");
    });
    button("saved", [home] {
        QSaveFile f(home + "/plan.txt");
        if (f.open(QIODevice::WriteOnly) && f.write("plan\n") && f.commit())
            told("saved", "rename", "home", "plan.txt");
    });
    button("c", [] {
        if (std::FILE *f = std::fopen("c.txt", "a"))
            std::fclose(f);
        told("c", "write", "working", "c.txt");
    });
    button("renamed", [] {
        QFile::rename("list.txt", "cars.txt");
        told("renamed", "rename", "working", "cars.txt");
    });
    button("reads", [home] {
        QFile f(home + "/log");
        if (f.open(QIODevice::ReadOnly))
            f.readAll();
        told("reads", "read", "home", "log");
    });
    button("removed", [] {
        QFile::remove("c.txt");
        told("removed", "remove", "working", "c.txt");
    });
    button("settings", [] {
        QSettings s("Skerry", "Ferry");
        s.setValue("berth", 4);
        s.sync();
        used("settings", "setting", "berth");
        told("settings", "rename", "settings", "Skerry/Ferry.conf");
    });
    button("group", [] {
        QSettings s("Skerry", "Ferry");
        s.beginGroup("window");
        s.setValue("width", 300);
        used("group", "setting", "window/width");
        s.remove("height");
        used("group", "no setting", "window/height");
    });
    button("clipboard", [] {
        QApplication::clipboard()->setText("ferry");
        used("clipboard", "clipboard", "");
    });
    button("copies", [] { // so does the toolkit, which is not told
        QTextEdit text("quay");
        text.selectAll();
        text.copy();
    });
    button("address", [] {
        QDesktopServices::openUrl(QUrl("ferry:timetable"));
        used("address", "desktop", "ferry");
    });
    button("beeps", [] {
        QApplication::beep();
        used("beeps", "sound", "");
    });
    button("nothing", [] { QFile("nowhere/at/all").open(QIODevice::WriteOnly); });
    static char stack[8192];
    button("signal", [] {
        stack_t alternative{};
        alternative.ss_sp = stack;
        alternative.ss_size = sizeof stack;
        struct sigaction action {
        };
        action.sa_handler = onSignal;
        action.sa_flags = SA_ONSTACK;
        sigaltstack(&alternative, nullptr);
        sigaction(SIGUSR1, &action, nullptr);
        std::raise(SIGUSR1);
        told("signal", "write", "working", "from-a-handler");
    });
    button("thread", [&] {
        QThread *worker = QThread::create([] {
            QFile f("from-a-thread");
            if (f.open(QIODevice::WriteOnly))
                told("-", "write", "working", "from-a-thread");
        });
        QObject::connect(worker, &QThread::finished, &app,
                         [] { QTimer::singleShot(50, qApp, &QApplication::quit); });
        worker->start();
    });
    window.show();
    return app.exec();
}
