// A program with strains that are known: a handler that is dear by its number, a widget touched on a worker,
// a queue that grows, a handler that runs inside itself, texts that nobody sees.
#include <QApplication>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QThread>
#include <QTimer>
#include <QVBoxLayout>
#include <cstdio>
static void spin(double ms)
{
    QElapsedTimer t;
    t.start();
    while (t.nsecsElapsed() < ms * 1e6) {
    }
}
int main(int c, char **v)
{
    QApplication a(c, v);
    QWidget w;
    auto *l = new QVBoxLayout(&w);
    auto *field = new QLineEdit;
    field->setObjectName("field");
    auto *label = new QLabel("x");
    label->setObjectName("label");
    auto *status = new QLabel("y");
    status->setObjectName("status");
    auto *bar = new QProgressBar;
    bar->setObjectName("bar");
    auto *go = new QPushButton("Go");
    go->setObjectName("go");
    for (QWidget *x : {(QWidget *)field, (QWidget *)label, (QWidget *)status, (QWidget *)bar, (QWidget *)go})
        l->addWidget(x);
    QObject::connect(field, &QLineEdit::textChanged, &w, [=](const QString &t) {
        spin(4);
        label->setText(t);
    });
    w.show();
    // 60 characters within a second
    auto *typing = new QTimer(&w);
    typing->setObjectName("typing");
    int *n = new int(0);
    QObject::connect(typing, &QTimer::timeout, &w, [=] {
        field->setText(QString::number(++*n));
        if (*n >= 60)
            typing->stop();
    });
    QTimer::singleShot(300, typing, [=] { typing->start(10); });
    // off the loop, and a queue that grows
    QTimer::singleShot(2000, &w, [=] {
        QThread *t = QThread::create([=] {
            status->setText("from the worker");
            for (int i = 0; i < 400; ++i)
                QMetaObject::invokeMethod(
                    bar,
                    [=] {
                        spin(1);
                        bar->setValue(i % 100);
                    },
                    Qt::QueuedConnection);
        });
        t->setObjectName("importer");
        t->start();
    });
    // re-entry
    QObject::connect(go, &QPushButton::clicked, &w, [=] {
        static int depth = 0;
        ++depth;
        if (depth == 1) {
            QTimer::singleShot(0, go, [=] { go->click(); });
            for (int i = 0; i < 3; ++i) {
                spin(2);
                QApplication::processEvents();
            }
        }
        --depth;
    });
    QTimer::singleShot(3500, go, [=] { go->click(); });
    // a hundred texts, seen once
    QTimer::singleShot(4000, &w, [=] {
        for (int i = 0; i < 300; ++i)
            status->setText(QString::number(i));
    });
    QTimer::singleShot(5000, &a, &QApplication::quit);
    return a.exec();
}
