// A window of random widgets, most of them wired and well, some not, used at random through the window
// system. Says what it did and what came of it: "DID name ns" where its handler ran, "FAULT name ns verdict"
// where something is wrong that was made so. Arguments: a seed, and how many inputs.
#include <QtGui/qpa/qwindowsysteminterface.h>
#include <QtWidgets>

#include <cstdio>
#include <ctime>
#include <random>

namespace
{

long long nanoseconds()
{
    timespec t{};
    clock_gettime(CLOCK_MONOTONIC, &t);
    return t.tv_sec * 1'000'000'000LL + t.tv_nsec;
}

struct Passes : QObject {
    bool eventFilter(QObject *, QEvent *) override { return false; }
};
struct Keeps : QObject {
    bool eventFilter(QObject *, QEvent *e) override
    {
        return e->type() == QEvent::MouseButtonPress || e->type() == QEvent::MouseButtonDblClick;
    }
};

class Lively : public QMainWindow
{
public:
    Lively(unsigned seed, int inputs) : random_(seed), inputs_(inputs)
    {
        setObjectName("lively");
        keeps_.setObjectName("keeper");
        passes_.setObjectName("passer");
        auto *middle = new QWidget;
        middle->setObjectName("middle");
        setCentralWidget(middle);
        auto *rows = new QVBoxLayout(middle);
        status_ = new QLabel("ready");
        status_->setObjectName("statusLabel");
        rows->addWidget(status_);
        QBoxLayout *into = rows;
        for (int i = 0; i < 22; ++i) {
            if (one(4))
                into = container(rows);
            add(into, i);
        }
        addKeys();
        if (one(2))
            qApp->installEventFilter(&passes_);
        tick_.setObjectName("tickTimer");
        connect(&tick_, &QTimer::timeout, this, [this] { setProperty("ticks", ++ticks_); });
        if (one(2))
            tick_.start(15);
        resize(500, 760);
        show();
        QTimer::singleShot(100, this, [this] { placeVeils(); });
        QTimer::singleShot(250, this, [this] { step(); });
    }

private:
    enum class Use { Click, Return, Key };
    struct Control {
        QWidget *widget = nullptr;
        QString name;
        Use use = Use::Click;
        QString fault; // the verdict that it must have
        int key = 0;
        Qt::KeyboardModifiers held;
        QPoint offset{-1, -1};
    };

    bool one(int of) { return int(random_() % unsigned(of)) == 0; }

    void ran(const QString &name)
    {
        if (done_ == name)
            came_ = true;
        status_->setText(name + ' ' + QString::number(++count_));
    }

    QBoxLayout *container(QBoxLayout *rows)
    {
        QWidget *box = nullptr;
        switch (random_() % 3) {
        case 0:
            box = new QGroupBox("group");
            break;
        case 1:
            box = new QFrame;
            break;
        default:
            box = new QWidget;
        }
        box->setObjectName(QString("box%1").arg(++boxes_));
        if (one(3))
            box->installEventFilter(&passes_);
        rows->addWidget(box);
        auto *inner = new QHBoxLayout(box);
        inner->setContentsMargins(2, 2, 2, 2);
        return inner;
    }

    void add(QBoxLayout *into, int i)
    {
        Control c;
        c.name = QString("c%1").arg(i);
        const QString name = c.name;
        const bool wired = !one(8);
        switch (random_() % 8) {
        case 0: {
            auto *b = new QCheckBox("tick");
            if (wired)
                connect(b, &QCheckBox::toggled, this, [this, name] { ran(name); });
            else
                c.fault = "not connected";
            c.widget = b;
            c.offset = QPoint(8, -1);
            break;
        }
        case 1: {
            auto *e = new QLineEdit;
            connect(e, &QLineEdit::returnPressed, this, [this, name] { ran(name); });
            c.widget = e;
            c.use = Use::Return;
            break;
        }
        case 2: {
            auto *l = new QListWidget;
            l->addItems({"one", "two", "three"});
            l->setMaximumHeight(60);
            connect(l, &QListWidget::itemClicked, this, [this, name] { ran(name); });
            c.widget = l;
            c.offset = QPoint(20, 8);
            break;
        }
        case 3: {
            auto *s = new QSpinBox;
            connect(s, &QSpinBox::valueChanged, this, [this, name] { ran(name); });
            c.widget = s;
            c.offset = QPoint(-6, 5);
            break;
        }
        case 4: {
            auto *t = new QToolButton;
            t->setText("tool");
            if (wired)
                connect(t, &QToolButton::clicked, this, [this, name] { ran(name); });
            else
                c.fault = "not connected";
            c.widget = t;
            break;
        }
        default: {
            auto *b = new QPushButton(QString("push %1").arg(i));
            if (wired)
                connect(
                    b, &QPushButton::clicked, this, [this, name] { ran(name); },
                    one(4) ? Qt::QueuedConnection : Qt::AutoConnection);
            else
                c.fault = "not connected";
            c.widget = b;
        }
        }
        c.widget->setObjectName(name);
        into->addWidget(c.widget);
        if (wired && c.use == Use::Click)
            spoil(c);
        if (one(4))
            c.widget->installEventFilter(&passes_);
        controls_ << c;
    }

    void spoil(Control &c)
    {
        const bool button = qobject_cast<QAbstractButton *>(c.widget);
        switch (random_() % 24) {
        case 0:
            c.widget->setEnabled(false);
            c.fault = "disabled";
            break;
        case 1:
            if (!button)
                break;
            c.widget->installEventFilter(&keeps_);
            c.fault = "swallowed by a filter";
            break;
        case 2:
            if (!button || qobject_cast<QCheckBox *>(c.widget))
                break;
            c.widget->blockSignals(true);
            c.fault = "signals blocked";
            break;
        case 3: {
            auto *veil = new QLabel(c.widget->parentWidget() ? c.widget->parentWidget() : centralWidget());
            veil->setObjectName("veil" + c.name);
            veils_ << qMakePair(veil, c.widget);
            c.fault = "covered";
            break;
        }
        case 4:
            c.widget->setAttribute(Qt::WA_TransparentForMouseEvents);
            c.fault = "transparent to the mouse";
            break;
        default:
            break;
        }
    }

    void addKeys()
    {
        for (const char *key : {"Ctrl+B", "Ctrl+D", "F6"}) {
            Control c;
            c.name = QString("action%1").arg(key).remove('+');
            const QString name = c.name;
            auto *a = new QAction(name, this);
            a->setObjectName(name);
            a->setShortcut(QKeySequence(key));
            addAction(a);
            connect(a, &QAction::triggered, this, [this, name] { ran(name); });
            if (one(6)) {
                a->setEnabled(false);
                c.fault = "disabled";
            }
            c.use = Use::Key;
            const QKeyCombination k = QKeySequence(key)[0];
            c.key = k.key();
            c.held = k.keyboardModifiers();
            controls_ << c;
        }
    }

    QPoint placeOf(const Control &c) const
    {
        QPoint at = c.widget->rect().center();
        if (c.offset.x() >= 0)
            at.setX(c.offset.x());
        else if (c.offset.x() < -1)
            at.setX(c.widget->width() + c.offset.x());
        if (c.offset.y() >= 0)
            at.setY(c.offset.y());
        return c.widget->mapTo(const_cast<Lively *>(this), at);
    }

    void placeVeils()
    {
        for (const auto &[veil, under] : veils_) {
            veil->setGeometry(under->geometry());
            veil->show();
            veil->raise();
        }
    }

    // Once all input was delivered.
    void tell(const Control &c)
    {
        if (QWindowSystemInterface::windowSystemEventsQueued() > 0) {
            QTimer::singleShot(20, this, [this, c] { tell(c); });
            return;
        }
        if (!c.fault.isEmpty())
            std::printf("FAULT %s %lld %s\n", qPrintable(c.name), nanoseconds(), qPrintable(c.fault));
        else if (came_)
            std::printf("DID %s %lld\n", qPrintable(c.name), nanoseconds());
        std::fflush(stdout);
        step();
    }

    void step()
    {
        if (inputs_-- <= 0) {
            QApplication::quit();
            return;
        }
        const Control c = controls_[int(random_() % unsigned(controls_.size()))];
        done_ = c.name;
        came_ = false;
        QWindow *w = windowHandle();
        if (c.use == Use::Click || c.use == Use::Return) {
            const QPoint place = placeOf(c);
            QWindowSystemInterface::handleMouseEvent(w, place, w->mapToGlobal(place), Qt::LeftButton,
                                                     Qt::LeftButton, QEvent::MouseButtonPress);
            QWindowSystemInterface::handleMouseEvent(w, place, w->mapToGlobal(place), Qt::NoButton,
                                                     Qt::LeftButton, QEvent::MouseButtonRelease);
        }
        if (c.use != Use::Click)
            QTimer::singleShot(c.use == Use::Return ? 15 : 0, this, [this, c, w] {
                const int key = c.use == Use::Return ? int(Qt::Key_Return) : c.key;
                const QString text = c.use == Use::Return ? "\r" : "";
                if (!QWindowSystemInterface::handleShortcutEvent(w, 1, key, c.held, 0, 0, 0, text))
                    QWindowSystemInterface::handleKeyEvent(w, QEvent::KeyPress, key, c.held, text);
                QWindowSystemInterface::handleKeyEvent(w, QEvent::KeyRelease, key, c.held, text);
            });
        QTimer::singleShot(45, this, [this, c] { tell(c); });
    }

    std::mt19937 random_;
    int inputs_, boxes_ = 0, count_ = 0, ticks_ = 0;
    Passes passes_;
    Keeps keeps_;
    QLabel *status_;
    QList<Control> controls_;
    QList<QPair<QLabel *, QWidget *>> veils_;
    QString done_;
    bool came_ = false;
    QTimer tick_;
};

} // namespace

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    Lively window(argc > 1 ? unsigned(std::atoi(argv[1])) : 1, argc > 2 ? std::atoi(argv[2]) : 40);
    return QApplication::exec();
}
