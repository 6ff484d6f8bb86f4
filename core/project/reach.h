// How generated code of one window reaches what it wires: its own members, and through the first
// window those of the others.
//
// Threads: any; keeps references to the project, which must outlive it.
#pragma once

#include "core/catalog/catalog.h"
#include "core/project/model.h"

#include <QSet>

namespace pipit
{

class Reach
{
public:
    explicit Reach(const Project &project);

    const Project::Named *find(const QString &name) const;
    const Handler *handler(const QString &name) const { return handlers_.value(name, nullptr); }
    const QStringList &handlerNames() const { return handlerNames_; }
    QStringList names() const { return named_.keys(); }
    // The class that the catalog knows a source as, and the C++ type of its member.
    QString classOf(const QString &name, const QString &part = {}) const;
    // All its signals and slots: of the user's class first, then of what that derives from.
    enum class Members { Signals, Slots };
    QList<SignalEntry> members(const QString &name, Members which) const;
    // False where it is of a class of the user's that has not been read, or derives from what has not been,
    // or from something else than is said of it: then what it lacks is not known.
    bool areMembersKnown(const QString &name) const;
    bool onThread(const QString &name) const { return onThread_.contains(name); } // of its own
    QByteArray typeOf(const QString &name, const QString &part = {}) const;
    // "boardButton", "this", "fareDialog->okButton", "carList->viewport()".
    QByteArray code(const QString &name, const QString &part, int window) const;
    // Whether that part exists for this class.
    static bool hasPart(const QString &className, const QString &part);

    // In which window's wiring a connection stands; -1 when it can stand in none.
    int home(const Connection &c, const QString &source) const;
    // The sources of a connection: the one named, or all that its selector matches and that have
    // the signal.
    Result<QStringList> sources(const Connection &c) const;
    // The signal by name or signature; classes of the user's may have their own, given in full.
    Result<SignalEntry> signal(const QString &name, const QString &part, const QString &signal) const;
    const Project &project() const { return project_; }

private:
    const Project &project_;
    QHash<QString, Project::Named> named_;
    QHash<QString, const Handler *> handlers_;
    QHash<QString, QByteArray> ownTypes_; // of widgets and objects of the user's classes
    QSet<QString> onThread_;
    QStringList handlerNames_;
};

} // namespace pipit
