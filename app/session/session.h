// The session: the open document, its runs, the trace that is shown, the selection, and what is said.
// Pages read these and act through them; each signals what changed.
//
// Threads: the loop's thread only.
#pragma once

#include "app/session/bookmarks.h"
#include "app/session/course.h"
#include "app/session/document.h"
#include "app/session/handing_on.h"
#include "app/session/runs.h"
#include "app/session/selection.h"
#include "app/session/shown_trace.h"

namespace pipit::app
{

class Session : public QObject
{
public:
    explicit Session(QObject *parent = nullptr);

    // A project's folder or file, a recording's folder, or a packed one's file.
    void open(const QString &path);
    QString title() const;
    // What the person did last in the running program: a widget's name and what to connect it by.
    std::pair<QString, QString> lastInput() const;

    Messages messages;
    Selection selection;
    Document document{&messages};
    ShownTrace shown{&messages};
    Runs runs{&messages, &document, &shown};
    Bookmarks bookmarks{&messages, &shown};
    HandingOn handingOn{&messages, &shown};
    Course course{&messages, &document, &runs, &shown};
};

} // namespace pipit::app
