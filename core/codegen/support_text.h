// The support header that generated code brings along: uses only the toolkit.
//
// Threads: any; constant.
#pragma once

namespace pipit
{

// For every project.
inline constexpr char supportText[] = R"cpp(// Made by Pipit; edits here are overwritten.
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
)cpp";

// For projects with handlers in the background; its headers are slow to compile.
inline constexpr char backgroundText[] = R"cpp(
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
)cpp";

// For projects whose handlers share a queue.
inline constexpr char queuesText[] = R"cpp(
#include <QtCore/QScopeGuard>
#include <QtCore/QThreadPool>

#include <functional>

namespace wiring
{

// Works that are done one after the other, on one thread: who is at work has what they share alone.
class SerialQueue
{
public:
    SerialQueue()
    {
        pool_.setMaxThreadCount(1);
        pool_.setExpiryTimeout(-1); // the same thread from first to last
    }
    QThreadPool *pool() { return &pool_; }
    // Begins it, once those before it are done.
    void take(const QObject *job, std::function<void()> begin)
    {
        waiting_.append({job, std::move(begin)});
        if (!busy_)
            next();
    }
    // What waits of a job does not begin.
    void forget(const QObject *job)
    {
        waiting_.removeIf([job](const Waiting &w) { return w.job == job; });
    }
    // What was begun is done.
    void next()
    {
        busy_ = !waiting_.isEmpty();
        if (busy_)
            waiting_.takeFirst().begin();
    }

private:
    struct Waiting {
        const QObject *job;
        std::function<void()> begin;
    };
    QThreadPool pool_;
    QList<Waiting> waiting_;
    bool busy_ = false;
};

} // namespace wiring
)cpp";

// For projects with handlers that run several at once.
inline constexpr char togetherText[] = R"cpp(
#include <QtCore/QQueue>
#include <QtCore/QThreadPool>

namespace wiring
{

// Several runs of one handler's work at once; what they come to is taken in the order in which they were
// begun. The job stands for all of them: how many are done, and cancelled they are by cancelling it.
template <class T> class Together
{
public:
    explicit Together(int atOnce) { pool_.setMaxThreadCount(atOnce); }
    QThreadPool *pool() { return &pool_; }
    QFutureWatcher<T> *begin(QFutureWatcher<T> *job)
    {
        if (runs_.isEmpty()) {
            begun_ = done_ = 0;
            all_.emplace();
            all_->start();
            job->setFuture(all_->future());
        }
        auto *run = new QFutureWatcher<T>(job);
        run->setObjectName(job->objectName());
        runs_.enqueue(run);
        ++begun_;
        tell();
        return run;
    }
    // The first one, if it is finished; it is deleted later.
    QFutureWatcher<T> *takeFinished()
    {
        if (runs_.isEmpty() || !runs_.head()->isFinished())
            return nullptr;
        QFutureWatcher<T> *run = runs_.dequeue();
        run->deleteLater();
        ++done_;
        tell();
        if (runs_.isEmpty())
            all_->finish();
        return run;
    }
    void cancel()
    {
        for (QFutureWatcher<T> *run : std::as_const(runs_))
            run->cancel();
    }
    void join()
    {
        for (QFutureWatcher<T> *run : std::as_const(runs_))
            wiring::join(run);
    }

private:
    void tell()
    {
        all_->setProgressRange(0, begun_);
        all_->setProgressValue(done_);
    }

    QThreadPool pool_;
    std::optional<QPromise<T>> all_;
    QQueue<QFutureWatcher<T> *> runs_;
    int begun_ = 0, done_ = 0;
};

} // namespace wiring
)cpp";

// For projects with handlers in steps.
inline constexpr char stepsText[] = R"cpp(
#include <QtCore/QElapsedTimer>
#include <QtCore/QScopeGuard>

#include <optional>

namespace wiring
{

// How long steps may go on before the loop has its turn, in milliseconds.
inline constexpr qint64 stepBudget = 8;

} // namespace wiring
)cpp";

// For projects that start other programs.
inline constexpr char processText[] = R"cpp(
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
)cpp";

// For projects with tables, trees or item models.
inline constexpr char itemsText[] = R"cpp(
#include <QtGui/QStandardItemModel>
#include <QtWidgets/QTableWidget>
#include <QtWidgets/QTreeWidget>

namespace wiring
{

inline void head(QTreeWidget *tree, const QStringList &columns)
{
    tree->setColumnCount(int(columns.size()));
    tree->setHeaderLabels(columns);
}

// One line a row, cells divided by a bar, two spaces for each step inwards.
inline void fill(QTreeWidget *tree, const QStringList &lines)
{
    QList<QTreeWidgetItem *> open;
    for (const QString &line : lines) {
        int depth = 0;
        while (line.mid(2 * depth).startsWith(QStringLiteral("  ")))
            ++depth;
        depth = qMin(depth, int(open.size()));
        open = open.mid(0, depth);
        const QStringList cells = line.trimmed().split(QLatin1Char('|'));
        open << (open.isEmpty() ? new QTreeWidgetItem(tree, cells) : new QTreeWidgetItem(open.last(), cells));
    }
}

inline void head(QTableWidget *table, const QStringList &columns)
{
    table->setColumnCount(int(columns.size()));
    table->setHorizontalHeaderLabels(columns);
}

inline void fill(QTableWidget *table, const QStringList &lines)
{
    table->setRowCount(int(lines.size()));
    for (int row = 0; row < lines.size(); ++row) {
        const QStringList cells = lines[row].split(QLatin1Char('|'));
        table->setColumnCount(qMax(table->columnCount(), int(cells.size())));
        for (int column = 0; column < cells.size(); ++column)
            table->setItem(row, column, new QTableWidgetItem(cells[column].trimmed()));
    }
}

inline void head(QStandardItemModel *model, const QStringList &columns)
{
    model->setHorizontalHeaderLabels(columns);
}

inline void fill(QStandardItemModel *model, const QStringList &lines)
{
    for (const QString &line : lines) {
        QList<QStandardItem *> row;
        for (const QString &cell : line.split(QLatin1Char('|')))
            row << new QStandardItem(cell.trimmed());
        model->appendRow(row);
    }
}

} // namespace wiring
)cpp";

// For projects with widgets that can be dragged.
inline constexpr char dragText[] = R"cpp(
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
)cpp";

} // namespace pipit
