#include "app/board/preview_view.h"

#include "app/look/tokens.h"
#include "app/session/background.h"
#include "core/base/files.h"
#include "core/catalog/catalog.h"

#include <QCoreApplication>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QRegularExpression>

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace pipit::app
{

using namespace std::chrono_literals;

namespace
{

// What it has had of the processor. A starved machine keeps a healthy process waiting for long.
std::chrono::nanoseconds processorTime(qint64 process)
{
    clockid_t clock{};
    timespec t{};
    if (process <= 0 || clock_getcpuclockid(pid_t(process), &clock) != 0 || clock_gettime(clock, &t) != 0)
        return {};
    return std::chrono::seconds(t.tv_sec) + std::chrono::nanoseconds(t.tv_nsec);
}

} // namespace

SharedMemory::SharedMemory(const char *name) : fd(::memfd_create(name, MFD_CLOEXEC)) {}

SharedMemory::~SharedMemory()
{
    if (fd >= 0)
        ::close(fd);
}

Outcome SharedMemory::hold(const QByteArray &bytes) const
{
    bool whole = fd >= 0 && ::ftruncate(fd, 0) == 0;
    for (qsizetype done = 0; whole && done < bytes.size();) {
        const ssize_t n =
            ::pwrite(fd, bytes.constData() + done, std::size_t(bytes.size() - done), off_t(done));
        whole = n > 0;
        done += n;
    }
    return whole ? Outcome(Done{})
                 : Problem{"There is no memory left for the preview", {}, "Close something"};
}

PreviewView::PreviewView(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    fit();
    setAccessibleName("Preview of the window");
    process_.setChildProcessModifier([picture = picture_->fd, project = project_->fd] {
        (void)::nice(10); // the window comes first
        for (const int fd : {picture, project})
            (void)::fcntl(fd, F_SETFD, 0); // this child has them, and no other
    });
    soon_.setSingleShot(true);
    soon_.setInterval(60ms);
    patience_.setObjectName("patience");
    patience_.setSingleShot(true);
    patience_.setInterval(4s);
    connect(&soon_, &QTimer::timeout, this, &PreviewView::ask);
    connect(&patience_, &QTimer::timeout, this, &PreviewView::giveUp);
    connect(&session->document, &Document::changed, this, [this] {
        crashed_ = false;
        soon_.start();
    });
    connect(&session->selection, &Selection::changed, this, [this] {
        if (session_->document.isOpen() && meant() != window_)
            soon_.start();
        update();
    });
    connect(&process_, &QProcess::readyReadStandardOutput, this, &PreviewView::answered);
    connect(&process_, &QProcess::finished, this, &PreviewView::ended);
}

PreviewView::~PreviewView()
{
    process_.disconnect(this);
    process_.closeWriteChannel();
    if (!process_.waitForFinished(200))
        process_.kill();
    process_.waitForFinished(200);
}

void PreviewView::start()
{
    process_.start(QCoreApplication::applicationDirPath() + "/pipit-preview", QStringList());
    process_.setReadChannel(QProcess::StandardOutput);
}

void PreviewView::setOptions(const Options &o)
{
    if (options_ == o)
        return;
    options_ = o;
    soon_.start();
    Q_EMIT optionsChanged();
}

void PreviewView::ask()
{
    if (!session_->document.isOpen())
        return;
    if (waiting_) {
        again_ = true;
        return;
    }
    if (process_.state() == QProcess::NotRunning)
        start();
    const Project project = session_->document.project();
    window_ = meant();
    waiting_ = true;
    inQuiet(
        this, [project, to = project_] { return to->hold(projectBytes(project)); },
        [this](const Outcome &ok) { send(ok); });
}

void PreviewView::send(const Outcome &written)
{
    if (!written) {
        waiting_ = false;
        message_ = written.problem().text();
        update();
        return;
    }
    message_.clear();
    patience_.start();
    asked_ = std::chrono::steady_clock::now();
    hadByThen_ = processorTime(process_.processId());
    const QJsonObject request{{"file", project_->path()},
                              {"window", window_},
                              {"memory", picture_->fd},
                              {"scale", options_.scale},
                              {"dark", options_.dark},
                              {"rtl", options_.rightToLeft},
                              {"longer", options_.longer},
                              {"style", options_.style},
                              {"width", options_.size.isEmpty() ? 0 : options_.size.width()},
                              {"height", options_.size.isEmpty() ? 0 : options_.size.height()}};
    process_.write(QJsonDocument(request).toJson(QJsonDocument::Compact) + '\n');
}

void PreviewView::giveUp()
{
    const auto had = processorTime(process_.processId()) - hadByThen_;
    if (had < 3s && std::chrono::steady_clock::now() - asked_ < 30s) {
        patience_.start();
        return;
    }
    message_ = "The preview did not answer, so Pipit ended it. The next change starts it again.";
    process_.kill();
    update();
}

void PreviewView::takePicture(int w, int h, int stride)
{
    struct stat st {
    };
    if (w <= 0 || h <= 0 || w > 4000 || h > 4000 || stride < w * 4 || fstat(picture_->fd, &st) != 0 ||
        st.st_size < off_t(stride) * h)
        return;
    const std::size_t bytes = std::size_t(stride) * std::size_t(h);
    void *p = mmap(nullptr, bytes, PROT_READ, MAP_SHARED, picture_->fd, 0);
    if (p == MAP_FAILED)
        return;
    image_ = QImage(static_cast<const uchar *>(p), w, h, stride, QImage::Format_RGB32).copy();
    munmap(p, bytes);
    fit();
}

QString PreviewView::meant() const
{
    const Project &p = session_->document.project();
    for (const WindowNode &w : p.windows)
        if (w.root.name == always_)
            return always_;
    const int at = p.windowOf(session_->selection.now().object);
    if (at < 0 && std::any_of(p.windows.begin(), p.windows.end(),
                              [&](const WindowNode &w) { return w.root.name == window_; }))
        return window_; // as it was
    return p.windows[std::max(0, at)].root.name;
}

void PreviewView::setWindow(const QString &name)
{
    always_ = name;
    setAccessibleName(name.isEmpty() ? QString("Preview of the window") : "The window " + name);
    soon_.start();
}

void PreviewView::answered()
{
    if (!process_.canReadLine())
        return;
    const QJsonObject o = QJsonDocument::fromJson(process_.readLine()).object();
    waiting_ = false;
    patience_.stop();
    if (!o["ok"].toBool()) {
        message_ = o["error"].toString();
    } else {
        takePicture(o["width"].toInt(), o["height"].toInt(), o["stride"].toInt());
        places_.clear();
        for (const auto &v : o["widgets"].toArray()) {
            const QJsonObject r = v.toObject();
            places_.insert(r["name"].toString(),
                           QRect(r["x"].toInt(), r["y"].toInt(), r["width"].toInt(), r["height"].toInt()));
        }
        problems_.clear();
        for (const auto &v : o["problems"].toArray())
            problems_ << v.toString();
        tellProblems();
    }
    setToolTip(problems_.join('\n'));
    Q_EMIT drawn();
    if (std::exchange(again_, false))
        soon_.start();
    update();
}

// The process is gone: once for the same windows it is started again by itself.
void PreviewView::ended()
{
    const bool drawing = std::exchange(waiting_, false), again = drawing && !crashed_ && message_.isEmpty();
    patience_.stop();
    if (drawing && message_.isEmpty()) {
        problems_ = {window_ + ": the preview crashed while drawing this window. Pipit started it again."};
        if (crashed_)
            problems_ = {window_ + ": the preview crashed twice while drawing this window. The next change "
                                   "starts it again. If the last change caused it, undo it."};
        message_ = problems_.first();
        tellProblems();
    }
    crashed_ = crashed_ || drawing;
    if (again)
        soon_.start();
    update();
}

// As findings, where they belong: each begins with the name of a widget.
void PreviewView::tellProblems()
{
    QList<Finding> found;
    for (const QString &p : std::as_const(problems_)) {
        Finding f;
        f.id = p.contains("crashed") ? "preview-crashed" : "preview-value";
        f.where = p.section(QRegularExpression("[: ]"), 0, 0);
        f.message = p;
        found.append(f);
    }
    session_->document.setPreviewFindings(found);
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
                   !message_.isEmpty()           ? message_
                   : session_->document.isOpen() ? "The preview is being drawn."
                                                 : "The window appears here.");
        return;
    }
    const QRectF at = target();
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.drawImage(at, image_);
    p.setPen(QPen(t.edge, 1));
    p.drawRect(at);
    if (const QRectF place = shownAt(session_->selection.now().object); place.isValid()) {
        p.setPen(QPen(t.ink, 2));
        p.drawRect(place.adjusted(-1, -1, 1, 1));
    }
    paintNumbers(&p);
    if (dragging_)
        paintLanding(&p);
}

void PreviewView::setLarge(bool large)
{
    large_ = large;
    setFocusPolicy(large ? Qt::StrongFocus : Qt::NoFocus);
    fit();
}

void PreviewView::setRoom(int height)
{
    if (std::exchange(room_, height) != height)
        fit();
}

// Small: a fixed height, the picture made to fit. Large: as large as the window is.
void PreviewView::fit()
{
    if (large_) {
        setMinimumSize(image_.size().expandedTo({120, 120}) + QSize(2 * padding, 2 * padding));
        setMaximumHeight(QWIDGETSIZE_MAX);
    } else {
        const int high = std::min(scaled(200), room_);
        setMinimumSize(0, high);
        setMaximumHeight(high);
    }
}

// Its text, where it stands.
void PreviewView::mouseDoubleClickEvent(QMouseEvent *event)
{
    textOf_ = widgetAt(event->position());
    const QString cls =
        session_->document.isOpen() ? session_->document.project().classOf(textOf_) : QString();
    textProperty_.clear();
    for (const char *property : {"text", "title", "placeholderText"})
        if (textProperty_.isEmpty() && Catalog::get().property(cls, QLatin1String(property)))
            textProperty_ = QLatin1String(property);
    const WidgetNode *w = textProperty_.isEmpty() ? nullptr : session_->document.project().widget(textOf_);
    if (!w)
        return;
    if (!text_) {
        text_ = new QLineEdit(this);
        text_->setObjectName("previewText");
        text_->setAccessibleName("The widget's text");
        connect(text_, &QLineEdit::returnPressed, this, [this] {
            text_->hide();
            Q_EMIT textChanged(textOf_, textProperty_, text_->text());
        });
        connect(text_, &QLineEdit::editingFinished, text_, &QWidget::hide);
    }
    text_->setText(w->textOf(textProperty_));
    const QRect place = shownAt(textOf_).toRect();
    text_->setGeometry(place.left(), place.top(), std::max(140, place.width()), std::max(28, place.height()));
    text_->show();
    text_->setFocus();
    text_->selectAll();
}

void PreviewView::keyPressEvent(QKeyEvent *event)
{
    const QString text = event->text();
    if (event->key() == Qt::Key_Escape && dragging_) { // it stays where it was
        dragging_ = false;
        dragged_.clear();
        unsetCursor();
        update();
    } else if (!text.isEmpty() && text[0].isLetter() &&
               !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier)))
        Q_EMIT typed(text);
    else
        QWidget::keyPressEvent(event);
}

void PreviewView::setNumbered(const QStringList &widgets)
{
    numbered_ = widgets;
    update();
}

void PreviewView::paintNumbers(QPainter *p)
{
    const Tokens &t = Tokens::current();
    // Dark on the window's own colours in both themes: what is numbered is not Pipit's.
    const QColor ground = t.dark ? t.paper : t.ink, number = t.dark ? t.ink : t.paper;
    QFont f = smallFont();
    f.setWeight(QFont::DemiBold);
    p->setFont(f);
    for (qsizetype i = 0; i < numbered_.size(); ++i) {
        const QRectF place = shownAt(numbered_[i]);
        if (!place.isValid())
            continue;
        const QString text = QString::number(i + 1);
        QRectF badge(0, 0, p->fontMetrics().horizontalAdvance(text) + 8, 16);
        badge.moveCenter({place.left() + badge.width() / 2, place.center().y()});
        p->setPen(Qt::NoPen);
        p->setBrush(ground);
        p->drawRoundedRect(badge, 3, 3);
        p->setPen(number);
        p->drawText(badge, Qt::AlignCenter, text);
    }
    p->setBrush(Qt::NoBrush);
}

QRectF PreviewView::shownAt(const QString &widget) const
{
    const QRect place = places_.value(widget);
    const QRectF at = target();
    if (!place.isValid() || at.isEmpty())
        return {};
    const double s = at.width() / image_.width();
    return QRectF(at.x() + place.x() * s, at.y() + place.y() * s, place.width() * s, place.height() * s);
}

QString PreviewView::widgetAt(const QPointF &where) const
{
    const QRectF at = target();
    if (at.isEmpty() || !at.contains(where))
        return {};
    const double s = image_.width() / at.width();
    const QPoint point = ((where - at.topLeft()) * s).toPoint();
    QString best;
    qint64 least = INT64_MAX;
    for (auto it = places_.constBegin(); it != places_.constEnd(); ++it) {
        const qint64 area = qint64(it->width()) * it->height();
        if (it->contains(point) && area < least && session_->document.isOpen() &&
            session_->document.project().windowOf(it.key()) >= 0) {
            least = area;
            best = it.key();
        }
    }
    return best;
}

void PreviewView::mousePressEvent(QMouseEvent *event)
{
    pressedAt_ = event->position();
    dragged_ = widgetAt(pressedAt_);
    if (!dragged_.isEmpty()) {
        session_->selection.select({dragged_, {}, {}});
        Q_EMIT picked(dragged_);
    } else if (session_->document.isOpen() && target().contains(pressedAt_))
        session_->selection.select({window_, {}, {}});
}

void PreviewView::mouseMoveEvent(QMouseEvent *event)
{
    pointer_ = event->position();
    if (!dragged_.isEmpty() && (pointer_ - pressedAt_).manhattanLength() > 8) {
        dragging_ = true;
        setCursor(Qt::ClosedHandCursor);
        update();
    }
}

void PreviewView::mouseReleaseEvent(QMouseEvent *event)
{
    unsetCursor();
    if (std::exchange(dragging_, false))
        drop(event->position());
    dragged_.clear();
    update();
}

} // namespace pipit::app
