// A snapshot of where the program's visible widgets are, taken by the main loop and read by the
// recorder's own thread.
//
// A target's name is its objectName; a widget without one is found by class and text, as in
// `QPushButton "New game"`, or by class and number in its window, as in `QPushButton 2`.
#pragma once

#include <QtCore/QList>
#include <QtCore/QPointF>
#include <QtCore/QPointer>
#include <QtCore/QStringList>
#include <QtGui/QWindow>
#include <QtWidgets/QWidget>

#include <optional>

namespace pipit::recorder
{

struct Target {
    QString name;
    QString other; // class and text
    QPointer<QWidget> widget;
    QPointer<QWindow> window;
    QPointF centre; // in the window
    QPointF corner; // the left upper one, in the window
    QPointF origin; // of the window, on the screen
    bool hasFocus = false;
    bool takesText = false;
};

class Snapshot
{
public:
    // Main thread only.
    static Snapshot take();

    bool empty() const { return windows_ == 0; }
    int windowCount() const { return windows_; }
    std::optional<Target> find(const QString &name) const;
    QStringList nearest(const QString &name) const;
    QStringList names() const;

private:
    QList<Target> targets_;
    int windows_ = 0;
};

// What a widget shows as its text now. Main thread only.
std::optional<QString> currentText(const QString &target);

} // namespace pipit::recorder
