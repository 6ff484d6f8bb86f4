// The window as it will look, built by pipit-preview in a process of its own.
//
// Threads: the loop's thread only; the picture arrives by shared memory when it is done. A preview
// that crashes or hangs is ended, said inline, and started anew with the next change.
#pragma once

#include "app/shell/session.h"

#include <QImage>
#include <QProcess>
#include <QTimer>
#include <QWidget>

namespace pipit::app
{

class PreviewView : public QWidget
{
    Q_OBJECT
public:
    explicit PreviewView(Session *session, QWidget *parent = nullptr);
    ~PreviewView() override;
    bool hasPicture() const { return !image_.isNull(); }
    QString said() const { return message_; }

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    void ask();
    void answered();
    void start();
    QRectF target() const;

    Session *session_;
    QProcess process_;
    QTimer soon_, patience_;
    QByteArray memoryName_;
    int memory_ = -1;
    QString projectFile_; // where the asked-for version is written
    QImage image_;
    QHash<QString, QRect> places_;
    QString message_;
    bool waiting_ = false, again_ = false;
};

} // namespace pipit::app
