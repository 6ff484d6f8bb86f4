// Made by Pipit; edits here are overwritten.
#pragma once

#include <QtCore/QByteArray>
#include <QtCore/QEvent>
#include <QtCore/QFileInfo>
#include <QtCore/QSet>
#include <QtCore/QString>
#include <QtCore/QStringList>
#include <QtCore/QTimer>
#include <QtCore/QVariant>

#include <functional>
#include <memory>

namespace wiring
{

// A file of the project's folder, wherever the program is started.
inline QString projectFile(const QString &name)
{
    return QFileInfo(QString::fromUtf8(__FILE__)).absolutePath() + QStringLiteral("/../") + name;
}

// Connections are switched off and on by setting the property "off" to their ids.
class Switches : public QObject
{
public:
    Switches(QObject *window, std::function<void(const QSet<QByteArray> &)> apply)
        : QObject(window), apply_(std::move(apply))
    {
        setObjectName(QStringLiteral("wiringSwitches"));
    }

protected:
    bool event(QEvent *e) override
    {
        if (e->type() == QEvent::DynamicPropertyChange) {
            const QList<QByteArray> ids = property("off").toString().toUtf8().split(' ');
            apply_(QSet<QByteArray>(ids.begin(), ids.end()));
        }
        return QObject::event(e);
    }

private:
    std::function<void(const QSet<QByteArray> &)> apply_;
};

// Fires once it was started and left alone for that long.
inline QTimer *pause(QObject *owner, int ms)
{
    auto *timer = new QTimer(owner);
    timer->setSingleShot(true);
    timer->setInterval(ms);
    return timer;
}

} // namespace wiring

#include <QtCore/QMimeData>
#include <QtGui/QDrag>
#include <QtGui/QMouseEvent>
#include <QtWidgets/QAbstractItemView>
#include <QtWidgets/QApplication>

namespace wiring
{

// Begins a drag when its widget is pressed and the pointer moves on; what is carried is a property
// of the widget, or for lists the current row's text.
class DragSource : public QObject
{
public:
    DragSource(QWidget *widget, const QString &type, const char *property)
        : QObject(widget), widget_(widget), type_(type), property_(property)
    {
        view_ = qobject_cast<QAbstractItemView *>(widget);
        (view_ ? view_->viewport() : widget)->installEventFilter(this);
    }
    bool eventFilter(QObject *, QEvent *event) override
    {
        if (event->type() == QEvent::MouseButtonPress)
            from_ = static_cast<QMouseEvent *>(event)->position().toPoint();
        if (event->type() != QEvent::MouseMove)
            return false;
        auto *move = static_cast<QMouseEvent *>(event);
        if (!(move->buttons() & Qt::LeftButton) ||
            (move->position().toPoint() - from_).manhattanLength() < QApplication::startDragDistance())
            return false;
        const QString text = view_ ? view_->currentIndex().data().toString() : widget_->property(property_).toString();
        if (view_ && text.isEmpty())
            return false;
        auto *data = new QMimeData;
        data->setData(type_, text.toUtf8());
        if (type_ != QLatin1String("text/plain"))
            data->setText(text);
        auto *drag = new QDrag(widget_);
        drag->setMimeData(data);
        drag->setPixmap(widget_->grab().scaledToWidth(qMin(160, widget_->width())));
        drag->exec(Qt::CopyAction | Qt::MoveAction, Qt::MoveAction);
        return true;
    }

private:
    QWidget *widget_;
    QAbstractItemView *view_ = nullptr;
    QString type_;
    QByteArray property_;
    QPoint from_;
};

} // namespace wiring
