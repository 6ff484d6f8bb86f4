// How long the Board's own loop is held by an edit, a selection and a filter with 5,000 widgets and
// 10,000 connections, beside the same with 50 and 100; and how long saving takes.
//
// Each figure is the median and the worst of the runs, in milliseconds: the call itself and all
// that the loop does because of it before it waits again.
#include "app/look/tokens.h"
#include "app/shell/main_window.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>

#include <algorithm>
#include <cstdio>
#include <ctime>

using namespace pipit;
using namespace pipit::app;

namespace
{

QString makeProject(const QString &folder, int widgets, int connections)
{
    auto w = Workspace::create(folder);
    if (!w)
        qFatal("%s", qPrintable(w.problem().text()));
    Edit e{"fill", {}, w->project(), {}};
    Project &p = e.after;
    QString code = "#include \"" + p.windows.first().file + ".h\"\n\n";
    const QString cls = p.windows.first().className;
    code += cls + "::" + cls + "(QWidget *parent) : " + cls + "Base(parent)\n{\n}\n";
    const int groups = std::max(1, widgets / 50);
    for (int g = 0; g < groups; ++g) {
        WidgetNode group;
        group.id = p.newId("w");
        group.className = "QGroupBox";
        group.name = QStringLiteral("group%1").arg(g);
        group.layout = "column";
        for (int i = 0; i < widgets / groups - 1; ++i) {
            WidgetNode b;
            b.id = p.newId("w");
            b.className = i % 3 ? "QPushButton" : "QLineEdit";
            b.name = QStringLiteral("item%1_%2").arg(g).arg(i);
            b.setProperty("text", Json::string(QString::number(i)));
            group.children.append(b);
        }
        p.windows.first().root.children.append(group);
    }
    QStringList names = p.objectNames();
    names.removeFirst();
    names.removeIf([](const QString &n) { return n.startsWith("group"); });
    const int handlers = std::max(5, connections / 20);
    for (int i = 0; i < handlers; ++i) {
        Handler h;
        h.id = p.newId("h");
        h.name = QStringLiteral("handler%1").arg(i);
        h.file = p.windows.first().sourceFile();
        p.handlers.append(h);
        code += "\nvoid " + cls + "::" + h.name + "()\n{\n}\n";
    }
    for (int i = 0; i < connections; ++i) {
        Connection c;
        c.id = p.newId("c");
        c.from = names[i % names.size()];
        c.signal = p.classOf(c.from) == "QLineEdit" ? (i % 2 ? "returnPressed" : "editingFinished")
                                                    : (i % 2 ? "clicked" : "pressed");
        c.to = QStringLiteral("handler%1").arg(i % handlers);
        p.connections.append(c);
    }
    if (auto ok = w->apply(e); !ok)
        qFatal("%s", qPrintable(ok.problem().text()));
    w->files().setText(p.windows.first().sourceFile(), code);
    if (auto ok = w->save(); !ok)
        qFatal("%s", qPrintable(ok.problem().text()));
    return folder;
}

struct Held {
    double wall, processor; // ms; the second without what other processes and threads took
};

double processorMs()
{
    timespec t{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
    return double(t.tv_sec) * 1e3 + double(t.tv_nsec) / 1e6;
}

// The call, and what the loop does because of it.
Held held(const std::function<void()> &what)
{
    QElapsedTimer t;
    t.start();
    const double before = processorMs();
    what();
    QCoreApplication::sendPostedEvents();
    QCoreApplication::processEvents(QEventLoop::ExcludeUserInputEvents);
    return {double(t.nsecsElapsed()) / 1e6, processorMs() - before};
}

// A refused edit takes no time and says nothing.
void must(bool done, const char *what)
{
    if (!done)
        qFatal("%s was not done, so there is nothing to measure", what);
}

void rest(int ms)
{
    QEventLoop loop;
    QTimer::singleShot(ms, &loop, &QEventLoop::quit);
    loop.exec();
}

void tell(const char *what, std::vector<Held> times)
{
    const auto by = [&](auto member) {
        std::sort(times.begin(), times.end(),
                  [&](const Held &a, const Held &b) { return a.*member < b.*member; });
        return std::pair(times[times.size() / 2].*member, times.back().*member);
    };
    const auto [median, worst] = by(&Held::wall);
    const auto [cpuMedian, cpuWorst] = by(&Held::processor);
    std::printf("  %-28s %7.1f  %7.1f   %7.1f  %7.1f\n", what, median, worst, cpuMedian, cpuWorst);
}

void measure(int widgets, int connections)
{
    QTemporaryDir dir;
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(makeProject(dir.path() + "/large", widgets, connections));
    rest(3000);
    const QStringList names = s.document.project().objectNames();
    std::printf("%d widgets, %lld connections: median and worst of 15, ms; then of the loop's thread alone\n",
                widgets, static_cast<long long>(s.document.project().connections.size()));
    std::vector<Held> set, add, connected, undo, redo, select, filter, save, saved;
    for (int i = 0; i < 15; ++i) {
        const QString name = names[(i * 337 + 3) % names.size()], fresh = QStringLiteral("fresh%1").arg(i);
        const auto edit = [&](const char *what, const std::function<Outcome(Workspace &)> &how) {
            return held([&] { must(s.document.edit(how), what); });
        };
        set.push_back(edit("setting", [&](Workspace &ws) { return ws.setProperty(name, "toolTip", fresh); }));
        rest(60);
        add.push_back(edit("adding", [&](Workspace &ws) { return ws.addWidget(".", "button", fresh, {}); }));
        rest(60);
        connected.push_back(edit("connecting", [&](Workspace &ws) -> Outcome {
            auto made = ws.connect({fresh, "clicked", {}, "handler1", {}});
            return made ? Outcome(Done{}) : Outcome(made.problem());
        }));
        rest(60);
        const auto count = [&] { return s.document.project().connections.size(); };
        const qsizetype with = count();
        undo.push_back(held([&] { s.document.undo(); }));
        must(count() == with - 1, "undoing");
        rest(60);
        redo.push_back(held([&] { s.document.redo(); }));
        must(count() == with, "redoing");
        rest(60);
        rest(500); // until the wiring check has answered
        select.push_back(held([&] { s.selection.select({name, {}, {}}); }));
        auto *line = w.findChild<QLineEdit *>("filterLine");
        const int rows = w.board()->wiring()->sentenceModel()->rowCount();
        filter.push_back(held([&] { line->setText(QStringLiteral("item%1").arg(i)); }));
        must(w.board()->wiring()->sentenceModel()->rowCount() < rows, "filtering");
        filter.push_back(held([&] { line->clear(); }));
        must(s.document.workspace().dirty(), "editing");
        rest(60);
        QElapsedTimer all;
        all.start();
        save.push_back(held([&] { s.document.save(); }));
        while (s.document.saving())
            QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
        must(!s.document.workspace().dirty(), "saving");
        saved.push_back({double(all.nsecsElapsed()) / 1e6, 0});
        rest(400);
    }
    tell("set a property", set);
    tell("add a widget", add);
    tell("connect", connected);
    tell("undo", undo);
    tell("redo", redo);
    tell("select", select);
    tell("filter", filter);
    tell("save, the loop held", save);
    tell("save, until it is written", saved);
}

} // namespace

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QApplication::setStyle("Fusion");
    loadFonts();
    measure(50, 100);
    measure(5000, 10000);
    return 0;
}
