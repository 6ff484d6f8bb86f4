// The window as it will look, built by pipit-preview in a process of its own.
//
// Threads: the loop's thread only; the picture arrives by shared memory when it is done. A preview
// that crashes or hangs is ended, said inline, and started anew with the next change. Widgets can
// be dragged to another place in it; the window shown is that of the selection.
#pragma once

#include "app/session/session.h"

#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QProcess>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

#include <chrono>
#include <memory>

namespace pipit::app
{

// Memory without a name in any folder, handed to a child by its descriptor. Any thread; one at a time.
struct SharedMemory {
    explicit SharedMemory(const char *name);
    ~SharedMemory();
    Q_DISABLE_COPY_MOVE(SharedMemory)
    Outcome hold(const QByteArray &bytes) const;                                // these, and no more
    QString path() const { return QStringLiteral("/proc/self/fd/%1").arg(fd); } // in the child
    const int fd;                                                               // -1: there is none
};

class PreviewView : public QWidget
{
    Q_OBJECT
public:
    explicit PreviewView(Session *session, QWidget *parent = nullptr);
    ~PreviewView() override;
    bool hasPicture() const { return !image_.isNull(); }
    QString said() const { return message_; }
    QSize pictureSize() const { return image_.size(); }
    QRect placeOf(const QString &widget) const { return places_.value(widget); }
    // Where a widget is in this view's own coordinates.
    QRectF shownAt(const QString &widget) const;
    struct Options {
        bool dark = false, rightToLeft = false, longer = false;
        double scale = 1; // of its type
        QSize size;       // empty: its own
        QString style;    // of the toolkit's, by name; empty: the usual one
        friend bool operator==(const Options &, const Options &) = default;
    };
    const Options &options() const { return options_; }
    void setOptions(const Options &o);
    // Numbers on these widgets, in this order.
    void setNumbered(const QStringList &widgets);
    // At its true size, and open to typing; else a small picture.
    void setLarge(bool large);
    void setRoom(int height); // the most that the small picture may take
    // This window always; empty: the one of the selection.
    void setWindow(const QString &name);
    QString window() const { return window_; }
    // Where what is dragged would land: in which container, before which of its children, and what shows it.
    struct Landing {
        QString parent; // empty: nowhere
        int index = -1; // the last
        QRectF where;   // a line between two, or the container's room
    };
    Landing landingAt(const QPointF &point, const QString &moved) const;
    QLineEdit *textLine() const { return text_; }

Q_SIGNALS:
    void picked(const QString &widget);
    void drawn();
    void optionsChanged();
    void textChanged(const QString &widget, const QString &property, const QString &text);
    void typed(const QString &text); // while it has the focus

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void ask();
    void send(const Outcome &written);
    void answered();
    void ended();
    void giveUp(); // it did not answer: ended when it had 3 s of the processor, or 30 s of time
    void tellProblems();
    void paintNumbers(QPainter *p);
    void takePicture(int w, int h, int stride);
    void start();
    QRectF target() const;
    QString widgetAt(const QPointF &point) const;
    void drop(const QPointF &point);
    void fit();
    QString meant() const; // the window that is to be shown
    void paintLanding(QPainter *p) const;

    Session *session_;
    QProcess process_;
    QTimer soon_, patience_{this}; // patience: the next look at whether it works or hangs
    std::chrono::steady_clock::time_point asked_;
    std::chrono::nanoseconds hadByThen_{}; // of the processor, when it was asked
    // The asked-for version, and the picture of it. A worker may still write when this is gone.
    std::shared_ptr<SharedMemory> project_ = std::make_shared<SharedMemory>("pipit-project"),
                                  picture_ = std::make_shared<SharedMemory>("pipit-picture");
    QString window_; // the root's name of the one shown
    QString always_; // the one to show, whatever is selected
    bool large_ = false;
    int room_ = QWIDGETSIZE_MAX;
    QImage image_;
    QHash<QString, QRect> places_;
    QString message_;
    QStringList problems_, numbered_;
    Options options_;
    QLineEdit *text_ = nullptr; // over the widget whose text is changed
    QString textOf_, textProperty_;
    QString dragged_;
    QPointF pressedAt_, pointer_;
    bool waiting_ = false, again_ = false, dragging_ = false;
    bool crashed_ = false; // while it drew what is still to be drawn
};

} // namespace pipit::app
