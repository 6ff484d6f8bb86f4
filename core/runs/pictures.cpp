#include "core/runs/pictures.h"

#include "core/base/files.h"
#include "core/runner/program.h"

#include <QJsonArray>

#include <png.h>

namespace pipit
{

QByteArray WindowPicture::png() const
{
    if (width <= 0 || height <= 0 || pixels.size() != qsizetype(width) * height * 4)
        return {};
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    image.width = png_uint_32(width);
    image.height = png_uint_32(height);
    image.format = PNG_FORMAT_BGRA;
    image.flags = PNG_IMAGE_FLAG_FAST;
    png_alloc_size_t size = 0;
    if (!png_image_write_to_memory(&image, nullptr, &size, 0, pixels.constData(), 0, nullptr))
        return {};
    QByteArray bytes(qsizetype(size), '\0');
    if (!png_image_write_to_memory(&image, bytes.data(), &size, 0, pixels.constData(), 0, nullptr))
        return {};
    bytes.truncate(qsizetype(size));
    return bytes;
}

std::vector<WindowPicture> picturesIn(const QJsonObject &answer, const QString &folder)
{
    std::vector<WindowPicture> all;
    constexpr int largest = 32768;
    for (const auto &v : answer["windows"].toArray()) {
        const QJsonObject o = v.toObject();
        WindowPicture p;
        bool isAddress = false;
        p.address = o["address"].toString().toULongLong(&isAddress, 16);
        p.width = o["width"].toInt();
        p.height = o["height"].toInt();
        p.ratio = std::max(0.1, o["ratio"].toDouble(1));
        p.time = monotonicNow();
        if (!isAddress || p.width <= 0 || p.height <= 0 || p.width > largest || p.height > largest)
            continue;
        auto bytes = readFile(folder + '/' + QString::number(p.address, 16));
        if (!bytes || bytes->size() != qsizetype(p.width) * p.height * 4)
            continue;
        p.pixels = std::move(*bytes);
        all.push_back(std::move(p));
    }
    return all;
}

} // namespace pipit
