// A snapshot of where the program's widgets are, taken by the main loop and read by the recorder's
// own thread.
//
// A target's name is its objectName; a widget without one is found by class and text or caption (captions.h),
// as in `QPushButton "New game"` (mnemonics do not count), or by class and number in its window, as in
// `QPushButton 2`.
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
    QString other;  // class and text
    QString called; // class and caption, as in a trace
    QPointer<QWidget> widget;
    QPointer<QWindow> window;
    QPointF centre; // in the window: where a click hits, as the style has it
    QPointF corner; // the left upper one, in the window
    QPointF origin; // of the window, on the screen
    bool visible = true;
    bool hasFocus = false;
    bool takesText = false;
    QString hindrance; // why no input reaches it: "is hidden", "is disabled"; empty: it does
};

class Snapshot
{
public:
    // Main thread only.
    static Snapshot take();

    bool empty() const { return windows_ == 0; }
    int windowCount() const { return windows_; }
    std::optional<Target> find(const QString &name) const; // a visible one before one that is not
    QStringList nearest(const QString &name) const;
    QStringList names() const; // of what is visible

private:
    QList<Target> targets_;
    int windows_ = 0;
};

// Main thread only: where a click hits it, from its corner.
QPoint hitPoint(QWidget *widget);
// "&Yes" → "Yes", "Q && A" → "Q & A".
QString withoutMnemonic(const QString &text);

} // namespace pipit::recorder
