// pipit-preview: a process of its own that builds a project's window with real widgets, never the
// user's code, and hands back its picture and geometry over shared memory.
//
// It reads one request a line on standard input: {"file": a project, "window": its root's name,
// "width": 0, "height": 0, "memory": a descriptor of shared memory that it was started with, "scale": 1,
// "dark", "rtl", "longer", "style"}; and answers with one line: {"ok": true, "width", "height", "stride",
// "problems", "widgets": [{name, x, y, width, height}]}. It ends when its input ends.
#include "core/store/store.h"
#include "preview/window_builder.h"

#include <QApplication>
#include <QImage>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include <cstdio>
#include <cstring>
#include <iostream>
#include <string>
#include <sys/mman.h>
#include <unistd.h>

using namespace pipit;

namespace
{

QJsonObject failure(const QString &text)
{
    return {{"ok", false}, {"error", text}};
}

QString handOver(const QImage &image, int fd)
{
    const std::size_t bytes = std::size_t(image.sizeInBytes());
    if (fd < 0 || ftruncate(fd, off_t(bytes)) != 0)
        return "The shared memory for the picture cannot be used";
    void *memory = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_SHARED, fd, 0);
    if (memory == MAP_FAILED)
        return "The shared memory for the picture cannot be mapped";
    std::memcpy(memory, image.constBits(), bytes);
    munmap(memory, bytes);
    return {};
}

QJsonArray placesIn(QWidget *window)
{
    QJsonArray widgets;
    for (QWidget *w : window->findChildren<QWidget *>()) {
        if (w->objectName().isEmpty() || w->objectName().startsWith("qt_") || !w->isVisible() ||
            w->isWindow())
            continue;
        const QPoint at = w->mapTo(window, QPoint(0, 0));
        widgets.append(QJsonObject{{"name", w->objectName()},
                                   {"x", at.x()},
                                   {"y", at.y()},
                                   {"width", w->width()},
                                   {"height", w->height()}});
    }
    return widgets;
}

QJsonObject answer(const QJsonObject &request)
{
    auto project = loadProject(request["file"].toString());
    if (!project)
        return failure(project.problem().text());
    int index = 0;
    for (int i = 0; i < project->windows.size(); ++i)
        if (project->windows[i].root.name == request["window"].toString())
            index = i;
    preview::Look look;
    look.fontScale = std::clamp(request["scale"].toDouble(1), 0.5, 4.0);
    look.dark = request["dark"].toBool();
    look.rightToLeft = request["rtl"].toBool();
    look.longer = request["longer"].toBool();
    look.style = request["style"].toString();
    const preview::Built built = preview::build(*project, index, look);
    QWidget &window = *built.window;
    QSize size = window.sizeHint().expandedTo(window.minimumSizeHint()).expandedTo(QSize(240, 120));
    if (const QString wanted = project->windows[index].root.textOf("windowSize"); !wanted.isEmpty())
        size = QSize(wanted.section('x', 0, 0).toInt(), wanted.section('x', 1).toInt())
                   .expandedTo(window.minimumSizeHint());
    if (request["width"].toInt() > 0)
        size = QSize(request["width"].toInt(), request["height"].toInt());
    size = size.boundedTo(QSize(4000, 4000));
    window.resize(size);
    window.setAttribute(Qt::WA_DontShowOnScreen);
    window.show();
    QImage image(window.size().boundedTo(QSize(4000, 4000)), QImage::Format_RGB32);
    image.fill(window.palette().color(QPalette::Window));
    window.render(&image);
    if (const QString wrong = handOver(image, request["memory"].toInt(-1)); !wrong.isEmpty())
        return failure(wrong);
    return {{"ok", true},
            {"width", image.width()},
            {"height", image.height()},
            {"stride", image.bytesPerLine()},
            {"title", window.windowTitle()},
            {"problems", QJsonArray::fromStringList(built.problems)},
            {"widgets", placesIn(&window)}};
}

} // namespace

int main(int argc, char **argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    std::string line;
    while (std::getline(std::cin, line)) {
        const QJsonObject request = QJsonDocument::fromJson(QByteArray::fromStdString(line)).object();
        const QByteArray reply = QJsonDocument(answer(request)).toJson(QJsonDocument::Compact);
        std::printf("%s\n", reply.constData());
        std::fflush(stdout);
    }
    return 0;
}
