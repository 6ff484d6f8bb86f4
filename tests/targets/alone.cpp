// What a program may do that a recorder must not mind, named by the argument.
#include <QApplication>
#include <QEventLoop>
#include <QThread>
#include <QTimer>
#include <QWidget>

#include <algorithm>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <dirent.h>
#include <fcntl.h>
#include <memory>
#include <random>
#include <stdexcept>
#include <string>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>
#include <vector>

namespace
{

void tick(QObject &o, int times)
{
    for (int i = 0; i < times; ++i)
        o.setObjectName(QString::number(i));
}

void threadWithALoop()
{
    QThread *t = QThread::create([] {
        QObject o;
        QObject::connect(&o, &QObject::objectNameChanged, &o, [] {});
        o.setObjectName("there");
        QEventLoop loop;
        QTimer::singleShot(2, &loop, &QEventLoop::quit);
        loop.exec();
    });
    t->start();
    t->wait();
    delete t;
}

long memoryOfOurs() // kB, without what is shared
{
    FILE *f = std::fopen("/proc/self/status", "r");
    char line[256];
    long kb = 0;
    while (f && std::fgets(line, sizeof line, f))
        if (std::sscanf(line, "RssAnon: %ld", &kb) == 1)
            break;
    if (f)
        std::fclose(f);
    return kb;
}

// Objects are born, connected in every way, used and die, each at an address of its own for a while.
void births(int rounds)
{
    long early = 0;
    for (int round = 0; round < rounds; ++round) {
        if (round == rounds / 4)
            early = memoryOfOurs();
        std::vector<std::unique_ptr<QTimer>> all;
        for (int i = 0; i < 100; ++i) {
            all.push_back(std::make_unique<QTimer>());
            QTimer *t = all.back().get();
            QObject::connect(t, &QObject::objectNameChanged, t, [t] { t->setInterval(5); });
            QObject::connect(t, SIGNAL(objectNameChanged(QString)), t, SLOT(stop()));
            t->setObjectName(QString::number(i));
        }
        std::shuffle(all.begin(), all.end(), std::minstd_rand(unsigned(round)));
    }
    std::printf("GREW %ld\n", memoryOfOurs() - early);
}

void listDescriptors()
{
    DIR *d = opendir("/proc/self/fd");
    while (const dirent *e = readdir(d)) {
        char to[256] = {};
        if (readlinkat(dirfd(d), e->d_name, to, sizeof to - 1) > 0 && std::atoi(e->d_name) != dirfd(d))
            std::printf("FD %s\n", std::string(to).substr(0, std::string(to).find('[')).c_str());
    }
    closedir(d);
}

// Closes what it does not know, and reads from a socket of its own in its place.
void reuseDescriptors()
{
    closefrom(3);
    int ends[2];
    socketpair(AF_UNIX, SOCK_STREAM, 0, ends);
    for (int i = 0; i < 16; ++i)
        (void)dup(ends[0]);
    fcntl(ends[1], F_SETFL, O_NONBLOCK);
    threadWithALoop();
    char bytes[64];
    std::printf("RECEIVED %d\n", int(read(ends[1], bytes, sizeof bytes)));
    std::fflush(stdout);
    _exit(0);
}

pid_t forked(bool byClone)
{
    return byClone ? pid_t(syscall(SYS_clone, SIGCHLD, nullptr, nullptr, nullptr, nullptr)) : fork();
}

// Forks inside a slot; the child leaves it by an exception and goes on for a while.
int forkInSlot(QObject &o, bool byClone)
{
    bool child = false;
    int status = 0;
    QTimer::singleShot(5, &o, [&] {
        const pid_t pid = forked(byClone);
        if (pid == 0) {
            child = true;
            throw std::runtime_error("leave");
        }
        waitpid(pid, &status, 0);
        QApplication::exit(WIFEXITED(status) ? WEXITSTATUS(status) : 99);
    });
    try {
        return QApplication::exec();
    } catch (const std::runtime_error &) {
        if (!child)
            return 98;
        tick(o, 1000);
        _exit(5);
    }
}

} // namespace

int main(int argc, char **argv)
{
    const std::string how = argc > 1 ? argv[1] : "";
    const int number = argc > 2 ? std::atoi(argv[2]) : 0;
    if (how == "small-files") { // no file may grow
        const rlimit none{0, 0};
        setrlimit(RLIMIT_FSIZE, &none);
    }
    QApplication app(argc, argv);
    QObject o;
    QObject::connect(&o, &QObject::objectNameChanged, &o, [] {});
    if (how == "descriptors") {
        threadWithALoop();
        listDescriptors();
        return 0;
    }
    if (how == "births") {
        births(number);
        return 0;
    }
    if (how == "reuse")
        reuseDescriptors();
    if (how == "fork" || how == "clone")
        return forkInSlot(o, how == "clone");
    if (how == "threads") {
        for (int i = 0; i < number; ++i)
            threadWithALoop();
        std::printf("THREADS %d\n", number);
        return 0;
    }
    if (how == "small-files") {
        for (int i = 0; i < 4; ++i)
            threadWithALoop();
        tick(o, 100);
        return 0;
    }
    if (how == "exec") {
        tick(o, 10);
        execl("/bin/sleep", "sleep", "1.5", nullptr);
    }
    if (how == "daemon") {
        tick(o, 10);
        if (fork() == 0) {
            setsid();
            sleep(2);
            _exit(0);
        }
        return 0;
    }
    if (how == "spin") { // for ever, here and in some threads
        for (int i = 0; i < 4; ++i)
            QThread::create([] {
                for (;;) {
                }
            })->start();
        QTimer::singleShot(5, &o, [] {
            for (;;) {
            }
        });
        return QApplication::exec();
    }
    if (how == "print") { // a line every few milliseconds, for so many
        QTimer t;
        int lines = 0;
        QObject::connect(&t, &QTimer::timeout, &o, [&] {
            std::printf("line %d\n", ++lines);
            std::fflush(stdout);
            if (lines == number)
                QApplication::quit();
        });
        t.start(5);
        const int code = QApplication::exec();
        if (argc > 3) {
            std::FILE *done = std::fopen(argv[3], "w");
            std::fprintf(done, "%d", lines);
            std::fclose(done);
        }
        return code;
    }
    return 1;
}
