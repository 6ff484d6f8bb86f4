// One fault a file: a small window, what a person does with it, and what "pipit why" has to say about it.
//
// Each file begins with a comment:
//   // ask     the widget that is asked about
//   // verdict what is wrong, in the words of the answer; "ok" where nothing is
//   // says    words that the sentence must have; may be left out
//
// Input goes in as a person's would: through the window system's own queue, at a place in the window.
#pragma once

#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <QWidget>
#include <QtGui/qpa/qplatformdrag.h>
#include <QtGui/qpa/qwindowsysteminterface.h>

#include <functional>
#include <map>
#include <string>

namespace fault
{

using Program = std::function<int()>;
inline std::map<std::string, Program> &all()
{
    static std::map<std::string, Program> programs;
    return programs;
}
struct Add {
    Add(const char *name, Program p) { all()[name] = std::move(p); }
};

inline void later(int ms, std::function<void()> what)
{
    QTimer::singleShot(ms, qApp, std::move(what));
}

inline void mouse(QWidget *window, QPoint at, QEvent::Type type, Qt::MouseButton button, Qt::MouseButtons held)
{
    QWindow *w = window->windowHandle();
    QWindowSystemInterface::handleMouseEvent(w, at, w->mapToGlobal(at), held, button, type);
}
inline void click(QWidget *window, QPoint at, Qt::MouseButton button = Qt::LeftButton)
{
    mouse(window, at, QEvent::MouseButtonPress, button, button);
    mouse(window, at, QEvent::MouseButtonRelease, button, Qt::NoButton);
}
inline void click(QWidget *widget, Qt::MouseButton button = Qt::LeftButton)
{
    click(widget->window(), widget->mapTo(widget->window(), widget->rect().center()), button);
}
inline void key(QWidget *window, int key, Qt::KeyboardModifiers held = Qt::NoModifier, const QString &text = {})
{
    QWindow *w = window->windowHandle();
    QWindowSystemInterface::handleShortcutEvent(w, 1, key, held, 0, 0, 0, text) ||
        QWindowSystemInterface::handleKeyEvent(w, QEvent::KeyPress, key, held, text);
    QWindowSystemInterface::handleKeyEvent(w, QEvent::KeyRelease, key, held, text);
}

// Shows the window, does what `hand` does 200 ms later, and ends after `ms`.
inline int run(QWidget &window, std::function<void()> hand, int ms = 500)
{
    window.resize(320, 240);
    window.show();
    window.activateWindow();
    later(200, std::move(hand));
    QTimer::singleShot(200 + ms, qApp, &QApplication::quit);
    return QApplication::exec();
}

// What most of them are: a button, a field and a label that says what happened.
struct Desk : QWidget {
    QVBoxLayout layout{this};
    QPushButton board{"Board"};
    QLineEdit ticket;
    QLabel status{"ready"};
    Desk()
    {
        setObjectName("ferryDesk");
        board.setObjectName("boardButton");
        ticket.setObjectName("ticketField");
        status.setObjectName("statusLabel");
        layout.addWidget(&ticket);
        layout.addWidget(&board);
        layout.addWidget(&status);
    }
    void says(const QString &text) { status.setText(text); }
};

} // namespace fault

#define FAULT(name)                                                                                          \
    static int name();                                                                                       \
    static const fault::Add add_##name{#name, name};                                                         \
    static int name()
