// Which properties of the project name other things: a label's buddy, a menu's actions, a tab
// order. One list for checking, renaming and removing.
//
// Threads: any.
#pragma once

#include "core/project/model.h"

namespace pipit
{

struct Reference {
    QString owner;    // the widget that holds the property
    QString property; // "buddy"
    QString name;     // what it names
    QString wanted;   // the class that it must be of; empty: any
    int line = 0;
};

QList<Reference> referencesIn(const Project &project);
// What is wrong with one, as a sentence; empty when it is fine.
QString complaint(const Reference &reference, const QHash<QString, Project::Named> &named,
                  const Project &project);
// Every reference to `from` becomes one to `to`; an empty `to` drops it.
void renameReferences(Project &project, const QString &from, const QString &to);

} // namespace pipit
