// Acts at random and prints of each what it came of: "act 17 painted:12,painted:15". Every act prints this
// from within the function that it is, so that the message lies in its span.
//
// target-causes SEED COUNT
#include <QtConcurrent/QtConcurrent>
#include <QtNetwork/QLocalServer>
#include <QtNetwork/QLocalSocket>
#include <QtNetwork/QTcpServer>
#include <QtNetwork/QTcpSocket>
#include <QtWidgets/QtWidgets>

#include <atomic>
#include <cstdio>
#include <random>
#include <thread>

namespace
{

std::atomic<int> lastAct{0};

using Causes = QStringList;

int act(const Causes &causes)
{
    const int id = ++lastAct;
    qDebug("act %d %s", id, qPrintable(causes.join(',')));
    return id;
}

QString by(const char *kind, int id)
{
    return QString::fromLatin1(kind) + ':' + QString::number(id);
}

// What was marked, in the order in which it was. In one pass of painting a widget may be painted more than
// once.
struct Mark {
    int act;
    const QWidget *widget;
};
QList<Mark> marks;
int pass = 0;

struct Passes : QObject {
    bool eventFilter(QObject *, QEvent *e) override
    {
        pass += e->type() == QEvent::UpdateRequest;
        return false;
    }
};

class Area : public QWidget
{
public:
    Area(QWidget *parent, bool opaque) : QWidget(parent) { setAttribute(Qt::WA_OpaquePaintEvent, opaque); }
    void mark(int id)
    {
        marks.append({id, this});
        update();
    }
    void markNow(int id)
    {
        marks.append({id, this});
        ++pass;
        repaint();
        ++pass;
    }

protected:
    void paintEvent(QPaintEvent *e) override
    {
        QPainter(this).fillRect(e->rect(), Qt::darkCyan);
        QStringList came;
        if (std::exchange(pass_, pass) != pass)
            from_ = std::exchange(to_, marks.size());
        for (qsizetype i = from_; i < to_; ++i)
            if (const QString one = by("painted", marks[i].act);
                isPaintedFor(marks[i].widget, e->region()) && !came.contains(one))
                came << one;
        act(came);
    }

private:
    // Those behind it are painted up to the first that is opaque, and all over these that is not.
    bool isPaintedFor(const QWidget *marked, const QRegion &region) const
    {
        if (marked == this)
            return true;
        if (isAncestorOf(marked))
            return !marked->testAttribute(Qt::WA_OpaquePaintEvent) &&
                   region.intersects(QRect(marked->mapTo(this, QPoint()), marked->size()));
        return marked == this || (marked->isAncestorOf(this) && !testAttribute(Qt::WA_OpaquePaintEvent));
    }

    // Of the marks, those that this pass paints.
    qsizetype from_ = 0, to_ = 0;
    int pass_ = -1;
};

class Listener : public QObject
{
public:
    QHash<int, int> timers; // started by which act
    QList<int> layouts;     // who asked since the last
    void startFor(int id) { timers.insert(startTimer(15), id); }
    void basicFor(int id)
    {
        basicBy_ = id;
        basic_.start(12, this);
    }

protected:
    bool event(QEvent *e) override
    {
        if (e->type() == QEvent::LayoutRequest) {
            QStringList came;
            for (const int id : std::exchange(layouts, {}))
                came << by("posted", id);
            act(came);
            return true;
        }
        return QObject::event(e);
    }
    void timerEvent(QTimerEvent *e) override
    {
        if (e->timerId() == basic_.timerId()) {
            basic_.stop();
            act({by("timer", basicBy_)});
            return;
        }
        killTimer(e->timerId());
        act({by("timer", timers.take(e->timerId()))});
    }

private:
    QBasicTimer basic_;
    int basicBy_ = 0;
};

struct Dying : QObject {
    int by_ = 0;
    ~Dying() override { act({by("posted", by_)}); }
};

struct Posting : QThread {
    QObject *to = nullptr;
    int id = 0;
    void run() override
    {
        msleep(3);
        QMetaObject::invokeMethod(to, [id = id] { act({by("thread", id)}); });
    }
};

class Desk : public QWidget
{
public:
    explicit Desk(unsigned seed) : random_(seed)
    {
        resize(420, 260);
        auto *all = new QVBoxLayout(this);
        for (int i = 0; i < 2; ++i) {
            auto *outer = new Area(this, i == 1);
            auto *row = new QHBoxLayout(outer);
            for (int k = 0; k < 3; ++k) {
                auto *inner = new Area(outer, k == 1);
                row->addWidget(inner);
                areas_ << inner;
            }
            areas_ << outer;
            all->addWidget(outer);
        }
        const QString name = QStringLiteral("causes-%1-%2").arg(QCoreApplication::applicationPid()).arg(seed);
        server_.listen(name);
        far_.listen(QHostAddress(QHostAddress::LocalHost));
        connect(&server_, &QLocalServer::newConnection, this, [this] {
            QLocalSocket *s = server_.nextPendingConnection();
            s->write("hello");
            s->flush();
            connect(s, &QLocalSocket::disconnected, s, &QObject::deleteLater);
        });
        connect(&restarted_, &QTimer::timeout, this, [this] { act({by("timer", restartedBy_)}); });
        restarted_.setSingleShot(true);
        connect(&pulse_, &QTimer::timeout, this, [] {}); // among all else
        pulse_.start(7);
    }
    void doSomething()
    {
        const int id = act({});
        for (int n = int(random_() % 3) + 1; n > 0; --n)
            one(id, int(random_() % 16));
    }

private:
    Area *anyArea() { return areas_[qsizetype(random_() % std::size_t(areas_.size()))]; }
    void one(int id, int which)
    {
        switch (which) {
        case 0:
        case 1:
            anyArea()->mark(id);
            break;
        case 2:
            anyArea()->markNow(id);
            break;
        case 3:
            QTimer::singleShot(1 + int(random_() % 20), this, [id] { act({by("timer", id)}); });
            break;
        case 4:
            repeat(id);
            break;
        case 5:
            listener_.startFor(id);
            break;
        case 6:
            std::thread([this, id] {
                QThread::msleep(2);
                QMetaObject::invokeMethod(this, [id] { act({by("thread", id)}); });
            }).detach();
            break;
        case 7:
            thread(id);
            break;
        case 8:
            QThreadPool::globalInstance()->start([this, id] {
                const int work = act({by("task", id)});
                QMetaObject::invokeMethod(this, [work] { act({by("posted", work)}); });
            });
            break;
        case 9:
            QMetaObject::invokeMethod(
                this, [id] { act({by("posted", id)}); }, Qt::QueuedConnection);
            break;
        case 10:
            if (!listener_.layouts.contains(id))
                listener_.layouts << id;
            QCoreApplication::postEvent(&listener_, new QEvent(QEvent::LayoutRequest));
            break;
        case 11: {
            auto *dying = new Dying;
            dying->by_ = id;
            dying->deleteLater();
            break;
        }
        case 12:
            restartedBy_ = id; // the last one counts
            restarted_.start(10);
            break;
        case 13:
            random_() % 4 ? listener_.basicFor(id) : process(id);
            break;
        case 14:
            random_() % 2 ? socket(id) : tcp(id);
            break;
        default:
            random_() % 2 ? loop(id) : future(id);
        }
    }
    void repeat(int id)
    {
        auto *t = new QTimer(this);
        connect(t, &QTimer::timeout, this, [t, id, n = 0]() mutable {
            act({by(n ? "timer goes on" : "timer", id)});
            if (++n == 3)
                delete t;
        });
        t->start(9);
    }
    void thread(int id)
    {
        auto *t = new Posting;
        t->to = this;
        t->id = id;
        connect(t, &QThread::finished, t, &QObject::deleteLater);
        t->start();
    }
    void process(int id)
    {
        auto *p = new QProcess(this);
        connect(p, &QProcess::finished, this, [p, id] {
            act({by("object", id)});
            p->deleteLater();
        });
        p->start("/bin/true", {});
    }
    void socket(int id)
    {
        auto *s = new QLocalSocket(this);
        connect(s, &QLocalSocket::readyRead, this, [s, id] {
            act({by("object", id)});
            s->readAll();
            s->deleteLater();
        });
        s->connectToServer(server_.serverName());
    }
    void tcp(int id)
    {
        QTcpSocket *s = new QTcpSocket(this);
        connect(s, &QTcpSocket::connected, this, [s, id] {
            act({by("object", id)});
            s->deleteLater();
        });
        s->connectToHost(QHostAddress(QHostAddress::LocalHost), far_.serverPort());
    }
    void future(int id)
    {
        auto *w = new QFutureWatcher<int>(this);
        connect(w, &QFutureWatcherBase::finished, this, [w, id] {
            act({by("object", id), by("posted", w->result())});
            w->deleteLater();
        });
        w->setFuture(QtConcurrent::run([id] {
            QThread::msleep(25); // so that it ends after it is watched
            return act({by("task", id)});
        }));
    }
    // "after loop ended:14": of the loop that ended last in the function that says it.
    void loop(int id)
    {
        if (inLoop_)
            return;
        inLoop_ = true;
        QEventLoop inner;
        int ended = 0;
        QTimer::singleShot(6, &inner, [&] {
            ended = act({by("timer", id)});
            inner.quit();
        });
        inner.exec();
        if (ended) // or the application ended meanwhile
            qDebug("after %s", qPrintable(by("loop ended", ended)));
        inLoop_ = false;
    }

    std::mt19937 random_;
    QList<Area *> areas_;
    Listener listener_;
    QLocalServer server_;
    QTcpServer far_;
    QTimer restarted_, pulse_;
    int restartedBy_ = 0;
    bool inLoop_ = false;
};

} // namespace

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    Passes passes;
    app.installEventFilter(&passes);
    const unsigned seed = argc > 1 ? unsigned(std::atoi(argv[1])) : 1;
    const int count = argc > 2 ? std::atoi(argv[2]) : 40;
    Desk desk(seed);
    desk.show();
    std::mt19937 pauses(seed + 1);
    int at = 250;
    for (int i = 0; i < count; ++i)
        QTimer::singleShot(at += int(pauses() % 25), &desk, [&desk] { desk.doSomething(); });
    QTimer::singleShot(at + 400, &app, [] { QCoreApplication::quit(); });
    const int code = QApplication::exec();
    QThreadPool::globalInstance()->waitForDone();
    return code;
}
