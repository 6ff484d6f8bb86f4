// Selectors: widgets and objects by class, name and properties, in the syntax of CSS.
//
//   QPushButton        the class, or one that derives from it
//   #key_*             the name, * for any letters
//   [checkable=true]   a property as the project sets it
//   QGroupBox #key_*   a descendant
//   *                  anything
//   :not(#key_0)       but not this
//   #ok, #cancel       one or the other
//
// Threads: any. A selector is expanded against a project when code is generated; widgets that the
// program makes at run time are outside it. The window itself is matched too.
#pragma once

#include "core/project/model.h"

namespace pipit
{

struct SelectorMatch {
    QString name;
    QString star; // what the first * of its name stood for
};

class Selector
{
public:
    static Result<Selector> parse(const QString &text);
    // In the order of the tree; timers and objects after the widgets.
    QList<SelectorMatch> matches(const Project &project) const;

private:
    struct Simple {
        QString className, name; // empty: any
        QList<std::pair<QString, QString>> properties;
        QList<Simple> excluded; // without any of their own
    };
    using Path = QList<Simple>; // outermost first
    static Result<Path> parsePath(const QString &text);
    void match(const Path &path, const Project &project, QHash<QString, QString> &stars) const;
    bool fits(const Simple &s, const QString &cls, const QString &knownClass, const QString &name,
              const QList<Property> &properties, QString *star) const;
    QList<Path> paths_; // any of them
};

// The selector with its plain names written as such: "okButton, QDial" → "#okButton, QDial". A word that is
// neither a name nor a class is a Problem, with the nearest.
Result<QString> withNames(const QString &selector, const Project &project);

// Whether a text is meant as a selector rather than as a name.
bool looksLikeSelector(const QString &text);

} // namespace pipit
