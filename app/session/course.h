// A course: sentences that lead through a project, each until what it asks for has happened.
//
// It is the project's file `course.json`: {version, title, steps: [{say, until}]}. `until` is one of:
// running; stall HANDLER; moved HANDLER; plays N PLAY (N times the play was played, however often each time);
// page NAME; next. It is read as data and runs nothing.
//
// Threads: the loop's thread only.
#pragma once

#include "app/session/document.h"
#include "app/session/runs.h"
#include "app/session/shown_trace.h"

namespace pipit::app
{

class Course : public QObject
{
    Q_OBJECT
public:
    Course(Messages *messages, Document *document, Runs *runs, ShownTrace *shown, QObject *parent = nullptr);

    [[nodiscard]] bool isOn() const { return at_ >= 0 && at_ < steps_.size(); }
    [[nodiscard]] bool exists() const { return !steps_.isEmpty(); } // the project has one
    [[nodiscard]] QString title() const { return title_; }
    [[nodiscard]] QString say() const { return isOn() ? steps_[at_].say : QString(); }
    [[nodiscard]] int at() const { return at_; } // from 0
    [[nodiscard]] int count() const { return int(steps_.size()); }
    // Whether the step ends by the person's word; else that passes it by.
    [[nodiscard]] bool waitsForPerson() const { return isOn() && steps_[at_].until == QStringList{"next"}; }
    void next();
    void back();
    void leave();
    void begin(); // again
    void pageShown(const QString &name);

Q_SIGNALS:
    void changed();

private:
    struct Step {
        QString say;
        QStringList until; // its words
    };
    static Result<QList<Step>> read(const QByteArray &bytes, const QString &file, QString *title);
    void open();
    void look(); // whether what the step asks for has happened
    [[nodiscard]] bool happened(const QStringList &until) const;
    void go(int to);

    Messages *messages_;
    Document *document_;
    Runs *runs_;
    ShownTrace *shown_;
    QString title_, page_;
    QList<Step> steps_;
    int at_ = -1;
    int reread_ = -1; // a step that the person went back to: it stays, though what it asks for has happened
};

} // namespace pipit::app
