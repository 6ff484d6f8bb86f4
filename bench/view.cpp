// How quickly the Trace page answers with a large recording in it: from the key, or the wheel's step, to the
// paint that shows what came of it. On whichever platform it is started; a real display is the honest one.
//
// ./dev bench view RECORDING
#include "app/look/tokens.h"
#include "app/shell/main_window.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QRandomGenerator>
#include <QScrollBar>
#include <QTest>

#include <algorithm>
#include <cstdio>
#include <fcntl.h>
#include <unistd.h>

using namespace pipit;
using namespace pipit::app;

namespace
{

struct Times {
    std::vector<double> all;
    double at(double share)
    {
        std::sort(all.begin(), all.end());
        return all[std::min(all.size() - 1, std::size_t(share * double(all.size())))];
    }
    void print(const char *what)
    {
        std::printf("  %-34s %6.2f ms median, %6.2f ms at the 99th percentile, %6.2f worst, of %zu\n", what,
                    at(0.5), at(0.99), at(1), all.size());
    }
};

// Until the list was painted after something was done to it.
class Painted : public QObject
{
public:
    explicit Painted(QWidget *w) { w->installEventFilter(this); }
    bool eventFilter(QObject *, QEvent *e) override
    {
        if (e->type() == QEvent::Paint)
            QMetaObject::invokeMethod(
                this, [this] { ++count; }, Qt::QueuedConnection);
        return false;
    }
    int count = 0;
};

// A paint comes within seconds; reading ten million records takes longer on a slow machine.
double until(const std::function<void()> &act, const std::function<bool()> &shown, int most = 5000)
{
    QElapsedTimer t;
    t.start();
    act();
    while (!shown()) {
        QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
        if (t.elapsed() > most)
            qFatal("what was asked for was never painted, so there is nothing to measure");
    }
    return double(t.nsecsElapsed()) / 1e6;
}

// It is read from the disk, not from memory.
void dropPages(const QString &folder)
{
    for (const QFileInfo &f : QDir(folder).entryInfoList(QDir::Files))
        if (const int fd = ::open(f.filePath().toLocal8Bit().constData(), O_RDONLY); fd >= 0) {
            ::fdatasync(fd);
            if (::posix_fadvise(fd, 0, 0, POSIX_FADV_DONTNEED) != 0)
                qFatal("its pages cannot be dropped");
            ::close(fd);
        }
}

} // namespace

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    if (argc < 2)
        qFatal("name a recording");
    dropPages(QString::fromLocal8Bit(argv[1]));
    QApplication::setStyle("Fusion");
    loadFonts();
    QApplication::setFont(textFont());
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    QElapsedTimer opening;
    opening.start();
    w.show(MainWindow::Trace);
    TraceRows *rows = w.trace()->model();
    TallList *list = w.trace()->list();
    Painted painted(list->viewport());
    const double first = until([&] { w.session()->open(QString::fromLocal8Bit(argv[1])); },
                               [&] { return rows->rowCount() > 30 && painted.count > 1; }, 60'000);
    const double complete =
        until([] {}, [&] { return !w.session()->shown.reading() && rows->complete(); }, 60'000);
    std::printf("rows in sight after %.0f ms, all %d after %.0f ms\n", first, rows->rowCount(),
                first + complete);
    if (rows->rowCount() < 100'000)
        qFatal("the recording is small, so there is nothing to measure");
    QRandomGenerator random(3);
    QScrollBar *bar = list->verticalScrollBar();
    const auto paints = [&](const std::function<void()> &act) {
        const int before = painted.count;
        return until(act, [&] { return painted.count > before; });
    };
    Times jumps, steps, pages, filters;
    for (int i = 0; i < 300; ++i)
        jumps.all.push_back(paints([&] { bar->setValue(int(random.bounded(quint32(bar->maximum())))); }));
    for (int i = 0; i < 300; ++i)
        steps.all.push_back(paints([&] { bar->triggerAction(QAbstractSlider::SliderSingleStepAdd); }));
    list->setFocus();
    list->setCurrentIndex(rows->index(rows->rowCount() / 2));
    for (int i = 0; i < 300; ++i)
        pages.all.push_back(paints([&] { QTest::keyClick(list, i % 2 ? Qt::Key_PageDown : Qt::Key_Down); }));
    QLineEdit *filter = w.trace()->filter();
    const char keys[] = "lambda";
    for (int i = 0; i < 60; ++i) {
        const int at = i % 7;
        filter->setFocus();
        filters.all.push_back(
            until([&] { at < 6 ? QTest::keyClick(filter, keys[at]) : filter->clear(); },
                  [&, before = painted.count] { return painted.count > before && rows->rowCount() > 30; }));
    }
    jumps.print("jump to anywhere");
    steps.print("a step of the wheel");
    pages.print("Down, Page Down");
    filters.print("a key in the filter");
    return 0;
}
