// pipit-preview: a process of its own that builds a project's window with real widgets, never the
// user's code, and hands back its picture and geometry over shared memory.
//
// It reads one request a line on standard input, {"file": …, "width": 0, "height": 0, "memory": …},
// where the file is a project and the memory a name in shared memory, and answers with one line:
// {"ok": true, "width": …, "height": …, "stride": …, "widgets": [{name, x, y, width, height}]}.
// It ends when its input ends.
#include "core/project/store.h"

#include <QApplication>
#include <QComboBox>
#include <QFormLayout>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QListWidget>
#include <QPainter>
#include <QTimer>
#include <QtWidgets>

#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <functional>
#include <iostream>
#include <string>
#include <sys/mman.h>
#include <unistd.h>

using namespace pipit;

namespace
{

template <class T> QWidget *make(QWidget *parent)
{
    return new T(parent);
}

QWidget *makeWidget(const QString &cls, QWidget *parent)
{
    static const QHash<QString, QWidget *(*)(QWidget *)> makers = {{"QLabel", make<QLabel>},
                                                                   {"QPushButton", make<QPushButton>},
                                                                   {"QToolButton", make<QToolButton>},
                                                                   {"QCheckBox", make<QCheckBox>},
                                                                   {"QRadioButton", make<QRadioButton>},
                                                                   {"QLineEdit", make<QLineEdit>},
                                                                   {"QTextEdit", make<QTextEdit>},
                                                                   {"QPlainTextEdit", make<QPlainTextEdit>},
                                                                   {"QSpinBox", make<QSpinBox>},
                                                                   {"QDoubleSpinBox", make<QDoubleSpinBox>},
                                                                   {"QComboBox", make<QComboBox>},
                                                                   {"QSlider", make<QSlider>},
                                                                   {"QDial", make<QDial>},
                                                                   {"QScrollBar", make<QScrollBar>},
                                                                   {"QProgressBar", make<QProgressBar>},
                                                                   {"QDateEdit", make<QDateEdit>},
                                                                   {"QTimeEdit", make<QTimeEdit>},
                                                                   {"QDateTimeEdit", make<QDateTimeEdit>},
                                                                   {"QCalendarWidget", make<QCalendarWidget>},
                                                                   {"QLCDNumber", make<QLCDNumber>},
                                                                   {"QGroupBox", make<QGroupBox>},
                                                                   {"QFrame", make<QFrame>},
                                                                   {"QListWidget", make<QListWidget>},
                                                                   {"QTreeWidget", make<QTreeWidget>},
                                                                   {"QTableWidget", make<QTableWidget>}};
    if (const auto maker = makers.value(cls))
        return maker(parent);
    return new QWidget(parent);
}

QLayout *makeLayout(const QString &kind, QWidget *owner)
{
    if (kind == "row")
        return new QHBoxLayout(owner);
    if (kind == "grid")
        return new QGridLayout(owner);
    if (kind == "labelled")
        return new QFormLayout(owner);
    return new QVBoxLayout(owner);
}

void build(const WidgetNode &node, QWidget *w)
{
    w->setObjectName(node.name);
    for (const Property &p : node.properties) {
        if (p.name == "items") {
            const QStringList items = p.value.toString().split('\n');
            if (auto *list = qobject_cast<QListWidget *>(w))
                list->addItems(items);
            else if (auto *box = qobject_cast<QComboBox *>(w))
                box->addItems(items);
            continue;
        }
        const QVariant v = p.value.type() == Json::Bool     ? QVariant(p.value.toBool())
                           : p.value.type() == Json::Number ? QVariant(p.value.toNumber())
                                                            : QVariant(p.value.toString());
        w->setProperty(p.name.toUtf8().constData(), v);
    }
    QList<QWidget *> children;
    for (const WidgetNode &child : node.children) {
        QWidget *c = makeWidget(child.className, w);
        build(child, c);
        children << c;
    }
    if (node.layout.isEmpty() || children.isEmpty())
        return;
    QLayout *layout = makeLayout(node.layout, w);
    for (qsizetype i = 0; i < children.size(); ++i) {
        if (auto *grid = qobject_cast<QGridLayout *>(layout))
            grid->addWidget(children[i], int(i / 2), int(i % 2));
        else if (auto *form = qobject_cast<QFormLayout *>(layout); form && i + 1 < children.size()) {
            form->addRow(children[i], children[i + 1]);
            ++i;
        } else
            layout->addWidget(children[i]);
    }
}

QJsonObject failure(const QString &text)
{
    return {{"ok", false}, {"error", text}};
}

QJsonObject answer(const QJsonObject &request)
{
    auto project = loadProject(request["file"].toString());
    if (!project)
        return failure(project.problem().text());
    QWidget window;
    build(project->windows.first().root, &window);
    QSize size = window.sizeHint().expandedTo(window.minimumSizeHint()).expandedTo(QSize(240, 120));
    if (request["width"].toInt() > 0)
        size = QSize(request["width"].toInt(), request["height"].toInt());
    size = size.boundedTo(QSize(4000, 4000));
    window.resize(size);
    window.setAttribute(Qt::WA_DontShowOnScreen);
    window.show();
    QImage image(size, QImage::Format_RGB32);
    window.render(&image);
    const QByteArray name = request["memory"].toString().toUtf8();
    const int fd = shm_open(name.constData(), O_RDWR, 0600);
    const std::size_t bytes = std::size_t(image.sizeInBytes());
    if (fd < 0 || ftruncate(fd, off_t(bytes)) != 0) {
        if (fd >= 0)
            close(fd);
        return failure("The shared memory for the picture cannot be used");
    }
    void *memory = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_SHARED, fd, 0);
    close(fd);
    if (memory == MAP_FAILED)
        return failure("The shared memory for the picture cannot be mapped");
    std::memcpy(memory, image.constBits(), bytes);
    munmap(memory, bytes);
    QJsonArray widgets;
    for (QWidget *w : window.findChildren<QWidget *>()) {
        if (w->objectName().isEmpty() || w->objectName().startsWith("qt_"))
            continue;
        const QPoint at = w->mapTo(&window, QPoint(0, 0));
        widgets.append(QJsonObject{{"name", w->objectName()},
                                   {"x", at.x()},
                                   {"y", at.y()},
                                   {"width", w->width()},
                                   {"height", w->height()}});
    }
    return {{"ok", true},
            {"width", size.width()},
            {"height", size.height()},
            {"stride", image.bytesPerLine()},
            {"title", window.windowTitle()},
            {"widgets", widgets}};
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
