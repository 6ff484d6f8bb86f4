// A real display for tests: an X server of its own, a window manager, and real keys. What offscreen hides
// (fonts, focus, keyboards, window managers) is seen here.
#pragma once

#include <QProcess>
#include <QTest>

namespace pipit::tests
{

class RealDisplay
{
public:
    explicit RealDisplay(bool withWindowManager = false)
    {
        server_.start("Xvfb", {"-displayfd", "1", "-screen", "0", "1400x900x24", "-nolisten", "tcp"});
        while (!server_.canReadLine() && server_.waitForReadyRead(10'000)) {
        }
        number_ = server_.readLine().trimmed();
        qputenv("DISPLAY", ':' + number_);
        qputenv("QT_QPA_PLATFORM", "xcb");
        if (withWindowManager && works()) {
            manager_.start("openbox", {});
            manager_.waitForStarted();
            QTest::qWait(500);
        }
    }
    ~RealDisplay()
    {
        qputenv("QT_QPA_PLATFORM", "offscreen");
        for (QProcess *p : {&manager_, &server_}) {
            p->terminate();
            if (!p->waitForFinished(3000))
                p->kill();
        }
    }
    bool works() const { return !number_.isEmpty(); }

    // What no US keyboard has, empty when all can be typed: tools can type what keyboards cannot.
    static QString untypable(const QString &text)
    {
        QString others;
        for (const QChar c : text)
            if (c < ' ' || c > '~')
                others += c;
        return others;
    }
    void type(const QString &text) { tool({"type", "--delay", "12", "--", text}); }
    void key(const QString &keys, int settle = 250)
    {
        tool({"key", "--delay", "30", keys});
        QTest::qWait(settle);
    }
    void click(int x, int y)
    {
        tool({"mousemove", QString::number(x), QString::number(y), "sleep", "0.1", "click", "1"});
        QTest::qWait(250);
    }
    // The names of windows that are shown.
    QStringList windows()
    {
        QStringList names;
        for (const QByteArray &id : tool({"search", "--onlyvisible", "--name", "."}).split('\n'))
            if (!id.isEmpty())
                names << QString::fromUtf8(tool({"getwindowname", QString::fromLatin1(id)})).trimmed();
        return names;
    }

private:
    QByteArray tool(const QStringList &arguments)
    {
        QProcess p;
        p.start("xdotool", arguments);
        p.waitForFinished(60'000);
        return p.readAllStandardOutput();
    }
    QProcess server_, manager_;
    QByteArray number_;
};

} // namespace pipit::tests
