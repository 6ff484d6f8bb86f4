#include "recorder/hands/pictures.h"

#include "recorder/hands/reach.h"

#include <QtCore/QFile>
#include <QtCore/QJsonArray>
#include <QtGui/QBackingStore>
#include <QtGui/QImage>
#include <QtGui/qpa/qplatformbackingstore.h>
#include <QtWidgets/QApplication>
#include <QtWidgets/QWidget>

#include <memory>
#include <vector>

namespace pipit::recorder
{

namespace
{

constexpr int mostWindows = 6;
constexpr qint64 mostPixels = 4096 * 2304; // a copy takes about as many milliseconds as there are millions

struct Taken {
    quintptr address;
    QImage image;
};

std::vector<Taken> takeAll()
{
    std::vector<Taken> all;
    for (QWidget *w : QApplication::topLevelWidgets()) {
        if (!w->isVisible() || w->isMinimized() || int(all.size()) >= mostWindows)
            continue;
        const QBackingStore *store = w->backingStore();
        if (!store || !store->handle())
            continue;
        const QImage image = store->handle()->toImage();
        if (!image.isNull() && qint64(image.width()) * image.height() <= mostPixels)
            all.push_back({reinterpret_cast<quintptr>(w), image.copy()});
    }
    return all;
}

} // namespace

QJsonObject pictureWindows(const QString &folder, int timeoutMs)
{
    const auto taken = std::make_shared<std::vector<Taken>>();
    const QJsonObject asked = onIdle(
        [taken] {
            *taken = takeAll();
            return QJsonObject{{QStringLiteral("taken"), int(taken->size())}};
        },
        timeoutMs);
    if (!asked.contains(QStringLiteral("taken")))
        return asked;
    QJsonArray windows;
    for (const Taken &t : *taken) {
        const QImage image = t.image.convertToFormat(QImage::Format_ARGB32);
        const QString name = QString::number(t.address, 16);
        QFile file(folder + u'/' + name);
        if (!file.open(QIODevice::WriteOnly))
            return error(QStringLiteral("the picture cannot be written: %1").arg(file.errorString()));
        for (int y = 0; y < image.height(); ++y)
            file.write(reinterpret_cast<const char *>(image.constScanLine(y)), qint64(image.width()) * 4);
        windows.append(QJsonObject{{QStringLiteral("address"), name},
                                   {QStringLiteral("file"), name},
                                   {QStringLiteral("width"), image.width()},
                                   {QStringLiteral("height"), image.height()},
                                   {QStringLiteral("ratio"), image.devicePixelRatio()}});
    }
    return {{QStringLiteral("windows"), windows}};
}

} // namespace pipit::recorder
