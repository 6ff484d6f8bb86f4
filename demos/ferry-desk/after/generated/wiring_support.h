// Made by Pipit; edits here are overwritten.
#pragma once

#include <QtCore/QCoreApplication>
#include <QtCore/QDir>
#include <QtCore/QPointer>
#include <QtCore/QString>
#include <QtCore/QStringList>
#include <QtCore/QTimer>

#include <memory>

namespace wiring
{

// A file that belongs to the program: beside it, or in the folder above while it is being developed.
inline QString projectFile(const QString &name)
{
    const QDir beside(QCoreApplication::applicationDirPath());
    const QString above = QStringLiteral("../") + name;
    return QDir::cleanPath(beside.filePath(beside.exists(name) || !beside.exists(above) ? name : above));
}

} // namespace wiring

#include <QtConcurrent/QtConcurrentRun>
#include <QtCore/QFutureWatcher>
#include <QtCore/QPromise>

#include <exception>
#include <optional>

// What work in the background came to: a result, an error, or a cancellation.
template <class T> struct Outcome {
    std::optional<T> result;
    QString error; // in words
    std::exception_ptr exception;
    bool cancelled = false;

    // The result; throws what the work threw.
    const T &value() const
    {
        if (exception)
            std::rethrow_exception(exception);
        return *result;
    }
};
template <> struct Outcome<void> {
    QString error;
    std::exception_ptr exception;
    bool cancelled = false;

    void value() const
    {
        if (exception)
            std::rethrow_exception(exception);
    }
};

namespace wiring
{

template <class T> Outcome<T> outcomeOf(QFuture<T> future)
{
    Outcome<T> outcome;
    try {
        future.waitForFinished();
        if constexpr (std::is_void_v<T>)
            outcome.cancelled = future.isCanceled();
        else if (future.resultCount() > 0)
            outcome.result = future.result();
        else
            outcome.cancelled = true;
    } catch (const std::exception &e) {
        outcome.error = QString::fromUtf8(e.what());
        outcome.exception = std::current_exception();
    } catch (...) {
        outcome.error = QStringLiteral("the work ended with an unknown exception");
        outcome.exception = std::current_exception();
    }
    return outcome;
}

// Of work that passes on what it has so far: the last is what it came to.
template <class T> Outcome<T> lastOf(QFuture<T> future)
{
    Outcome<T> outcome = outcomeOf(future);
    if (!outcome.exception && future.isCanceled())
        outcome.cancelled = true;
    else if (!outcome.exception && !outcome.cancelled)
        outcome.result = future.resultAt(future.resultCount() - 1);
    return outcome;
}

template <class T, class Work> void deliver(QPromise<T> &promise, Work &&work)
{
    try {
        if constexpr (std::is_void_v<T>) {
            work();
        } else {
            T result = work();
            if (!promise.isCanceled())
                promise.addResult(std::move(result));
        }
    } catch (...) {
        promise.setException(std::current_exception());
    }
}

// Waits for a job without caring what it came to.
template <class T> void join(QFutureWatcher<T> *job)
{
    try {
        job->waitForFinished();
    } catch (...) {
    }
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

#include <QtCore/QProcess>

namespace wiring
{

inline void tellFailure(const QProcess *process)
{
    if (process->error() == QProcess::FailedToStart)
        qWarning("%s: %s does not start: %s", qPrintable(process->objectName()), qPrintable(process->program()),
                 qPrintable(process->errorString()));
}

} // namespace wiring
