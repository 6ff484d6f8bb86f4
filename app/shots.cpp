// Makes the pictures in docs/screenshots from the demo data: ./dev shots.
#include "app/look/tokens.h"
#include "app/shell/main_window.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QProcess>
#include <QScreen>
#include <QTemporaryDir>

#include <cstdio>

using namespace pipit;
using namespace pipit::app;

namespace
{

bool waitFor(const std::function<bool()> &done, int ms = 60'000)
{
    QElapsedTimer t;
    t.start();
    QEventLoop loop;
    while (!done() && t.elapsed() < ms) {
        QTimer::singleShot(20, &loop, &QEventLoop::quit);
        loop.exec();
    }
    return done();
}

void settle(int ms = 300)
{
    QElapsedTimer t;
    t.start();
    waitFor([&] { return t.elapsed() > ms; }, ms + 100);
}

void copyFolder(const QString &from, const QString &to)
{
    QDir().mkpath(to);
    for (const QFileInfo &f : QDir(from).entryInfoList(QDir::Files | QDir::Dirs | QDir::NoDotAndDotDot))
        f.isDir() ? copyFolder(f.filePath(), to + '/' + f.fileName())
                  : void(QFile::copy(f.filePath(), to + '/' + f.fileName()));
}

// A morning at the desk, recorded by the command line with pictures, and shown as any program's: without its
// project.
void shootRecording(const QString &work, const QSize &size, const QString &out)
{
    copyFolder("demos/ferry-desk/before", work + "/morning");
    QFile play(work + "/morning.play");
    if (!play.open(QIODevice::WriteOnly))
        return;
    play.write("ticketField: type \"K-204\"\nticketField: press Return\nwait 2500ms\nboardButton: "
               "click\nwait 1200ms\n"
               "tideButton: click\nwait 1800ms\nmoreCars: click\nwait 300ms\n");
    play.close();
    QProcess pipit;
    pipit.start(QCoreApplication::applicationDirPath() + "/pipit",
                {"run", work + "/morning", "--play", play.fileName(), "--pictures", "--record",
                 work + "/morning-run"});
    waitFor([&] { return pipit.state() == QProcess::NotRunning; });
    MainWindow other;
    other.resize(size);
    other.show();
    other.session()->open(work + "/morning-run");
    other.show(MainWindow::Board);
    waitFor([&] { return !other.liveBoard()->board().objects.empty() && !other.session()->shown.reading(); });
    settle(600);
    other.liveBoard()->showLast();
    settle(600);
    other.grab().save(out + "/board-any.png");
    std::printf("board-any\n");
    other.show(MainWindow::Trace);
    waitFor([&] { return other.trace()->model()->complete() && other.trace()->model()->rowCount() > 20; });
    TraceRows *rows = other.trace()->model();
    for (int i = 0; i < rows->rowCount(); ++i)
        if (rows->sentence(i).startsWith("boardButton emits clicked"))
            other.trace()->showSpan(rows->at(i).span);
    settle(600);
    other.grab().save(out + "/trace.png");
    std::printf("trace\n");
}

} // namespace

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QApplication::setStyle("Fusion");
    loadFonts();
    QApplication::setFont(textFont());
    const QString out = argc > 1 ? argv[1] : "docs/screenshots";
    const bool extra = argc > 2; // sizes and themes for looking at, not for the docs
    QTemporaryDir work;
    copyFolder("demos/ferry-desk/before", work.path() + "/before");
    copyFolder("demos/ferry-desk/after", work.path() + "/after");
    Tokens::choose(false);
    MainWindow w;
    w.show();
    // The screen itself, with what floats over the window, where there is one.
    const auto take = [&](const QString &name) {
        const QRect place(w.mapToGlobal(QPoint(0, 0)), w.size());
        // Not so where the recorded program's own window would lie over it.
        const QPixmap seen =
            QGuiApplication::platformName() == "xcb" && name != "board-frozen"
                ? w.screen()->grabWindow(0, place.x(), place.y(), place.width(), place.height())
                : w.grab();
        seen.save(out + '/' + name + ".png");
    };
    const auto shot = [&](const QString &name) {
        settle();
        take(name);
        std::printf("%s\n", qPrintable(name));
        if (!extra)
            return;
        w.resize(1024, 700);
        settle(200);
        take(name + "-small");
        w.resize(1280, 800);
        Tokens::choose(true);
        w.takeLook();
        settle(200);
        take(name + "-dark");
        Tokens::choose(false);
        w.takeLook();
        settle(100);
    };
    QObject::connect(&w.session()->messages, &Messages::problem,
                     [](const QString &t) { std::fprintf(stderr, "problem: %s\n", qPrintable(t)); });
    shot("start");
    w.session()->open(work.path() + "/before");
    waitFor([&] { return w.board()->preview()->hasPicture(); });
    w.session()->selection.select({"boardButton", {}, {}});
    shot("course");
    w.session()->course.leave();
    shot("board");
    w.board()->outline()->editSentence();
    w.board()->tabWalk()->begin();
    for (const char *name : {"ticketField", "boardButton", "fare_adult", "openButton", "moreCars"})
        w.board()->tabWalk()->choose(name);
    w.board()->outline()->editSentence();
    shot("compose");
    w.board()->tabWalk()->leave();
    w.board()->outline()->objects()->setFocus();
    w.board()->setLarge(true);
    shot("large");
    w.board()->setLarge(false);
    w.sheet()->open();
    shot("menu");
    w.sheet()->hide();
    w.session()->selection.select({{}, {}, "boardPassenger"});
    w.board()->drawer()->openHandler("boardPassenger");
    shot("code");
    // Changed here and on disk at the same place.
    Editor *editor = w.board()->drawer()->editor();
    editor->setText(editor->text().replace("\"No ticket number yet\"", "\"No ticket number\""));
    {
        QFile file(work.path() + "/before/ferry_desk.cpp");
        if (file.open(QIODevice::ReadWrite)) {
            const QByteArray other =
                file.readAll().replace("\"No ticket number yet\"", "\"A ticket, please\"");
            file.resize(0);
            file.seek(0);
            file.write(other);
        }
    }
    waitFor([&] { return w.board()->drawer()->clashPanel()->isVisible(); }, 5000);
    shot("conflict");
    w.board()->drawer()->clashPanel()->keepHere()->click();
    w.session()->document.save();
    settle(500);
    w.board()->drawer()->setOpen(false);
    w.session()->selection.select({"boardButton", {}, {}});
    w.board()->connectLine()->setText("#fare_* · toggled calls fareToggled");
    settle(500); // what it would do stands below it by then
    w.session()->document.edit([](Workspace &ws) { return ws.setProperty("gateTimer", "interval", "2"); });
    w.session()->document.edit(
        [](Workspace &ws) { return ws.setProperty("boardButton", "enabled", "false"); });
    w.board()->drawer()->showFindings();
    shot("findings");
    w.session()->document.undo();
    w.session()->document.undo();
    w.board()->drawer()->setOpen(false);
    w.board()->connectLine()->clear();
    settle(400);
    const QString play = work.path() + "/before/plays/tide.play";
    w.session()->runs.runPlayFile(play, 5);
    waitFor([&] { return w.session()->shown.figures().open.has_value(); });
    settle(400);
    w.session()->selection.select({"tideButton", {}, "tideForecast"});
    shot("board-frozen");
    waitFor(
        [&] { return w.session()->runs.state() == RunState::Idle && w.session()->runs.past().size() == 5; });
    w.show(MainWindow::Why);
    w.why()->askAbout("tideButton");
    waitFor([&] { return w.why()->answer().has_value(); });
    shot("why");
    shootRecording(work.path(), w.size(), out);
    w.show(MainWindow::Board);
    w.board()->drawer()->planMove("tideForecast", Shape::Background);
    waitFor([&] { return w.board()->drawer()->movePanel()->isReady(); });
    shot("move");
    w.board()->drawer()->planMove("saveManifest", Shape::Steps);
    waitFor([&] { return !w.board()->drawer()->movePanel()->isPlanning(); });
    shot("move-refused");
    w.session()->runs.playElsewhere(work.path() + "/after", play, 5);
    waitFor(
        [&] { return w.session()->runs.state() == RunState::Idle && w.session()->runs.past().size() == 10; });
    w.session()->open(w.session()->runs.past().first().folder);
    settle(600);
    w.show(MainWindow::Pace);
    shot("pace");
    w.pace()->showSide(PacePage::Timers);
    w.session()->runs.run();
    waitFor([&] { return w.session()->runs.state() == RunState::Running; });
    settle(8000);
    w.pace()->timers()->lab()->slider()->setValue(200);
    w.raise();
    shot("timers");
    w.session()->runs.stop();
    waitFor([&] { return w.session()->runs.state() == RunState::Idle; });
    w.show(MainWindow::Plays);
    shot("plays");
    return 0;
}
