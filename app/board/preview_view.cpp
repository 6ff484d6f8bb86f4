#include "app/board/preview_view.h"

#include "app/shell/tokens.h"
#include "core/base/files.h"

#include <QCoreApplication>
#include <QDir>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QMouseEvent>
#include <QPainter>

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace pipit::app
{

using namespace std::chrono_literals;

PreviewView::PreviewView(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setFixedHeight(200);
    setAccessibleName("Preview of the window");
    static int number = 0;
    const QString id = QStringLiteral("%1-%2").arg(QCoreApplication::applicationPid()).arg(++number);
    memoryName_ = "/pipit-preview-" + id.toUtf8();
    projectFile_ = QDir::tempPath() + "/pipit-preview-" + id + ".pipit";
    memory_ = shm_open(memoryName_.constData(), O_RDWR | O_CREAT | O_EXCL, 0600);
    soon_.setSingleShot(true);
    soon_.setInterval(60ms);
    patience_.setSingleShot(true);
    patience_.setInterval(4s);
    connect(&soon_, &QTimer::timeout, this, &PreviewView::ask);
    connect(&patience_, &QTimer::timeout, this, [this] {
        message_ = "The preview did not answer and was ended. It starts anew with the next change.";
        process_.kill();
        update();
    });
    connect(session, &Session::projectChanged, this, [this] { soon_.start(); });
    connect(session, &Session::selectionChanged, this, qOverload<>(&QWidget::update));
    connect(&process_, &QProcess::readyReadStandardOutput, this, &PreviewView::answered);
    connect(&process_, &QProcess::finished, this, [this] {
        if (waiting_ && message_.isEmpty())
            message_ = "The preview crashed. It starts anew with the next change.";
        waiting_ = false;
        patience_.stop();
        update();
    });
}

PreviewView::~PreviewView()
{
    process_.disconnect(this);
    process_.closeWriteChannel();
    if (!process_.waitForFinished(200))
        process_.kill();
    process_.waitForFinished(200);
    if (memory_ >= 0)
        ::close(memory_);
    shm_unlink(memoryName_.constData());
    QFile::remove(projectFile_);
}

void PreviewView::start()
{
    process_.start(QCoreApplication::applicationDirPath() + "/pipit-preview", QStringList());
    process_.setReadChannel(QProcess::StandardOutput);
}

void PreviewView::ask()
{
    if (!session_->hasProject())
        return;
    if (waiting_) {
        again_ = true;
        return;
    }
    if (process_.state() == QProcess::NotRunning)
        start();
    if (auto ok = writeFile(projectFile_, projectBytes(session_->project())); !ok) {
        message_ = ok.problem().text();
        update();
        return;
    }
    message_.clear();
    waiting_ = true;
    patience_.start();
    process_.write(
        QJsonDocument(QJsonObject{{"file", projectFile_}, {"memory", QString::fromUtf8(memoryName_)}})
            .toJson(QJsonDocument::Compact) +
        '\n');
}

void PreviewView::answered()
{
    if (!process_.canReadLine())
        return;
    const QJsonObject o = QJsonDocument::fromJson(process_.readLine()).object();
    waiting_ = false;
    patience_.stop();
    const int w = o["width"].toInt(), h = o["height"].toInt(), stride = o["stride"].toInt();
    struct stat st {
    };
    if (!o["ok"].toBool()) {
        message_ = o["error"].toString();
    } else if (w > 0 && h > 0 && w <= 4000 && h <= 4000 && stride >= w * 4 && fstat(memory_, &st) == 0 &&
               st.st_size >= off_t(stride) * h) {
        const std::size_t bytes = std::size_t(stride) * std::size_t(h);
        void *p = mmap(nullptr, bytes, PROT_READ, MAP_SHARED, memory_, 0);
        if (p != MAP_FAILED) {
            image_ = QImage(static_cast<const uchar *>(p), w, h, stride, QImage::Format_RGB32).copy();
            munmap(p, bytes);
        }
        places_.clear();
        for (const auto &v : o["widgets"].toArray()) {
            const QJsonObject r = v.toObject();
            places_.insert(r["name"].toString(),
                           QRect(r["x"].toInt(), r["y"].toInt(), r["width"].toInt(), r["height"].toInt()));
        }
    }
    if (std::exchange(again_, false))
        soon_.start();
    update();
}

QRectF PreviewView::target() const
{
    if (image_.isNull())
        return {};
    const QRectF room = QRectF(rect()).adjusted(padding, padding, -padding, -padding);
    QSizeF size = image_.size();
    if (size.width() > room.width() || size.height() > room.height())
        size.scale(room.size(), Qt::KeepAspectRatio);
    return QRectF(room.center() - QPointF(size.width() / 2, size.height() / 2), size);
}

void PreviewView::paintEvent(QPaintEvent *)
{
    const Tokens &t = Tokens::current();
    QPainter p(this);
    p.fillRect(rect(), t.raised);
    p.setPen(t.hairline);
    p.drawLine(0, height() - 1, width(), height() - 1);
    if (!message_.isEmpty() || image_.isNull()) {
        p.setFont(smallFont());
        p.setPen(message_.isEmpty() ? t.ink2 : t.vermilion);
        p.drawText(rect().adjusted(16, 8, -16, -8), Qt::AlignCenter | Qt::TextWordWrap,
                   !message_.isEmpty()      ? message_
                   : session_->hasProject() ? "The preview is being drawn."
                                            : "The window appears here.");
        return;
    }
    const QRectF at = target();
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.drawImage(at, image_);
    p.setPen(QPen(t.edge, 1));
    p.drawRect(at);
    const QRect place = places_.value(session_->selection().object);
    if (place.isValid()) {
        const double s = at.width() / image_.width();
        p.setPen(QPen(t.ink, 2));
        p.drawRect(QRectF(at.x() + place.x() * s - 1, at.y() + place.y() * s - 1, place.width() * s + 2,
                          place.height() * s + 2));
    }
}

void PreviewView::mousePressEvent(QMouseEvent *event)
{
    const QRectF at = target();
    if (at.isEmpty() || !at.contains(event->position()))
        return;
    const double s = image_.width() / at.width();
    const QPoint point = ((event->position() - at.topLeft()) * s).toPoint();
    QString best;
    qint64 least = INT64_MAX;
    for (auto it = places_.constBegin(); it != places_.constEnd(); ++it) {
        const qint64 area = qint64(it->width()) * it->height();
        if (it->contains(point) && area < least) {
            least = area;
            best = it.key();
        }
    }
    session_->select({best, {}, {}});
}

} // namespace pipit::app
