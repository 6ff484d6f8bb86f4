// Shows, holds, sends and says what somebody entered, in every way that a program has for it, and ends.
#include <QtCore/QTimer>
#include <QtGui/QKeyEvent>
#include <QtWidgets/QApplication>
#include <QtWidgets/QLabel>
#include <QtWidgets/QLineEdit>
#include <QtWidgets/QProgressBar>
#include <QtWidgets/QSlider>
#include <QtWidgets/QSpinBox>
#include <QtWidgets/QVBoxLayout>
#include <QtWidgets/QWidget>

class Purse : public QObject
{
    Q_OBJECT
Q_SIGNALS:
    void paid(int amount, const QString &by, double rest);
};

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    const QString secret = QStringLiteral("gannet-tern-petrel-42"); // 21 characters
    const int number = 864'213;
    QWidget window;
    auto *column = new QVBoxLayout(&window);
    auto *password = new QLineEdit, *plain = new QLineEdit;
    password->setObjectName("password");
    password->setEchoMode(QLineEdit::Password);
    plain->setObjectName("plain");
    auto *amount = new QSpinBox;
    amount->setObjectName("amount");
    amount->setMaximum(1'000'000);
    auto *level = new QSlider(Qt::Horizontal);
    level->setObjectName("level");
    level->setMaximum(1'000'000);
    auto *bar = new QProgressBar;
    bar->setMaximum(1'000'000);
    auto *label = new QLabel;
    for (QWidget *w : std::initializer_list<QWidget *>{password, plain, amount, level, bar, label})
        column->addWidget(w);
    Purse purse;
    const auto heard = [] {};
    QObject::connect(password, &QLineEdit::textChanged, &window, heard);
    QObject::connect(plain, &QLineEdit::textChanged, &window, heard);
    QObject::connect(amount, &QSpinBox::valueChanged, &window, heard);
    QObject::connect(level, &QSlider::valueChanged, &window, heard);
    QObject::connect(&purse, &Purse::paid, &window, heard);
    window.show();
    QTimer::singleShot(50, &window, [&] {
        password->setText(secret.repeated(3)); // 63 characters, as nothing else has
        plain->setText(secret);
        amount->setValue(number);
        level->setValue(number);
        bar->setValue(number);
        label->setText(secret);
        window.setWindowTitle(secret);
        Q_EMIT purse.paid(number, secret, number + 0.5);
        qWarning("paid %d by %s", number, qPrintable(secret));
        for (const QChar c : secret) {
            QKeyEvent press(QEvent::KeyPress, c.toUpper().unicode(), Qt::NoModifier, QString(c));
            QApplication::sendEvent(plain, &press);
        }
    });
    QTimer::singleShot(400, &app, &QApplication::quit);
    return app.exec();
}

#include "masked.moc"
