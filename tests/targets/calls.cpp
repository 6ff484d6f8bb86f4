// Every way to bind a handler, each called a known number of times.
#include <QApplication>
#include <QPushButton>
#include <QTimer>

#include <stdexcept>

class Base : public QObject
{
    Q_OBJECT
public:
    virtual void overridden() {}
    void plain() {}
public Q_SLOTS:
    void named() {}
Q_SIGNALS:
    void go();
    void later(int n);
};

class Derived : public Base
{
public:
    void overridden() override {}
};

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    Base source;
    source.setObjectName("source");
    Derived receiver;
    receiver.setObjectName("receiver");
    QObject::connect(&source, &Base::go, &receiver, &Base::plain);
    QObject::connect(&source, &Base::go, &receiver, &Base::overridden);
    QObject::connect(&source, SIGNAL(go()), &receiver, SLOT(named()));
    QObject::connect(&source, &Base::go, &receiver, [] {}); // lambda here
    QObject::connect(
        &source, &Base::later, &receiver, [](int) {}, Qt::QueuedConnection);
    auto *doomed = new QObject;
    QObject::connect(&source, &Base::go, doomed, [doomed] { delete doomed; }); // ends its own connection
    // The toolkit's own slot, connected by the program.
    QPushButton button("x");
    QObject::connect(&source, SIGNAL(go()), &button, SLOT(click()));
    // Unique connections and disconnecting still compare as without the recorder.
    if (QObject::connect(&source, &Base::go, &receiver, &Base::plain, Qt::UniqueConnection))
        qFatal("a unique connection was made twice");
    if (!QObject::disconnect(&source, &Base::later, &receiver, nullptr))
        qFatal("a connection could not be removed");
    QObject::connect(
        &source, &Base::later, &receiver, [](int) {}, Qt::QueuedConnection);
    QTimer::singleShot(0, &source, [&] {
        for (int i = 0; i < 3; ++i)
            Q_EMIT source.go();
        Q_EMIT source.later(1);
        QMetaObject::invokeMethod(
            &receiver, [] {}, Qt::DirectConnection);
        // An exception leaves the slot and the signal, and is caught outside.
        QObject::connect(&source, &Base::objectNameChanged, &receiver,
                         [] { throw std::runtime_error("out"); });
        try {
            source.setObjectName("renamed");
        } catch (const std::runtime_error &) {
            qWarning("caught it");
        }
    });
    QTimer::singleShot(50, &app, &QCoreApplication::quit);
    return QApplication::exec();
}

#include "calls.moc"
