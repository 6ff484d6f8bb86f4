// Events whose way is known: every receiver and filter notes what it did itself. Prints a line for each event
// that was sent: "WAY name outcome, name outcome", in the order in which they were asked.
#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QStringList>
#include <QTimer>
#include <QWidget>

#include <cstdio>

static QStringList noted;
static const char *const passedOn = "passed on", *const swallowed = "swallowed";

class Box : public QWidget
{
public:
    Box(const char *name, QWidget *parent, bool accepts) : QWidget(parent), accepts_(accepts)
    {
        setObjectName(name);
    }
    bool event(QEvent *e) override
    {
        if (e->type() != QEvent::MouseButtonPress && e->type() != QEvent::KeyPress &&
            e->type() != QEvent::Close)
            return QWidget::event(e);
        e->setAccepted(accepts_);
        noted << objectName() + (accepts_ ? " accepted" : " ignored");
        return true;
    }

private:
    bool accepts_;
};

class Filter : public QObject
{
public:
    Filter(const char *name, QEvent::Type keeps, QObject *parent) : QObject(parent), keeps_(keeps)
    {
        setObjectName(name);
    }
    bool eventFilter(QObject *, QEvent *e) override
    {
        if (e->type() != QEvent::MouseButtonPress && e->type() != QEvent::KeyPress &&
            e->type() != QEvent::Close)
            return false;
        noted << objectName() + ' ' + (e->type() == keeps_ ? swallowed : passedOn);
        return e->type() == keeps_;
    }

private:
    QEvent::Type keeps_;
};

class Application : public QApplication
{
public:
    using QApplication::QApplication;
    bool notify(QObject *o, QEvent *e) override
    {
        return keepsAll && e->type() == QEvent::KeyPress ? true : QApplication::notify(o, e);
    }
    bool keepsAll = false;
};

static void sendKey(QWidget *to, int key, Qt::KeyboardModifiers held, const char *text = "")
{
    noted.clear();
    QKeyEvent e(QEvent::KeyPress, key, held, text);
    QCoreApplication::sendEvent(to, &e);
    std::printf("WAY %d %s %s\n", int(e.type()), qPrintable(to->objectName()), qPrintable(noted.join(", ")));
}

static void send(QWidget *to, QEvent::Type type)
{
    noted.clear();
    if (type == QEvent::MouseMove) { // who tracks no mouse gets none
        QMouseEvent e(type, QPointF(4, 5), to->mapToGlobal(QPointF(4, 5)), Qt::NoButton, Qt::NoButton,
                      Qt::NoModifier);
        QCoreApplication::sendEvent(to, &e);
        return;
    }
    if (type == QEvent::MouseButtonPress) {
        QMouseEvent e(type, QPointF(3, 3), to->mapToGlobal(QPointF(3, 3)), Qt::LeftButton, Qt::LeftButton,
                      Qt::NoModifier);
        QCoreApplication::sendEvent(to, &e);
    } else if (type == QEvent::KeyPress) {
        sendKey(to, Qt::Key_F2, Qt::NoModifier);
        return;
    } else {
        QEvent e(type);
        QCoreApplication::sendEvent(to, &e);
    }
    std::printf("WAY %d %s %s\n", int(type), qPrintable(to->objectName()), qPrintable(noted.join(", ")));
}

int main(int argc, char **argv)
{
    Application app(argc, argv);
    Box window("window", nullptr, true), middle("middle", &window, false), inner("inner", &middle, false),
        alone("alone", &window, true);
    window.resize(200, 100);
    window.show();
    QTimer::singleShot(50, &app, [&] {
        send(&alone, QEvent::MouseButtonPress); // one receiver, which takes it
        send(&inner, QEvent::MouseButtonPress); // on to its parents
        send(&inner, QEvent::KeyPress);
        send(&alone, QEvent::Close);
        send(&window, QEvent::MouseMove);
        sendKey(&alone, Qt::Key_A, Qt::NoModifier, "a");
        sendKey(&alone, Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
        Filter first("first", QEvent::Close, &app), second("second", QEvent::KeyPress, &app);
        inner.installEventFilter(&first);
        inner.installEventFilter(&second);      // is asked before the first
        send(&inner, QEvent::MouseButtonPress); // both pass it on
        send(&inner, QEvent::KeyPress);         // the second keeps it
        send(&inner, QEvent::Close);            // the first does
        middle.installEventFilter(&second);
        inner.removeEventFilter(&second);
        send(&inner, QEvent::KeyPress); // kept before the parent
        Filter whole("whole", QEvent::MouseButtonPress, &app);
        app.installEventFilter(&whole);
        send(&inner, QEvent::MouseButtonPress);
        send(&alone, QEvent::KeyPress);
        app.removeEventFilter(&whole);
        app.keepsAll = true;
        send(&alone, QEvent::KeyPress); // notify() keeps it
        QCoreApplication::quit();
    });
    return Application::exec();
}
