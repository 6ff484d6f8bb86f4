// The generated base window: widgets and objects as members, set up and laid out.
//
// Threads: any; works on copies.
#pragma once

#include "core/codegen/cpp_text.h"
#include "core/project/model.h"

#include <QSet>

namespace pipit
{

// The C++ type of a widget's member, and what declares it.
struct MemberType {
    QByteArray type;
    QString header; // "QtWidgets/QPushButton", or the user's "deck_map.h"
    bool own = false;
};
MemberType memberType(const WidgetNode &widget);
QString toolkitHeader(const QString &className); // "QtCore/QTimer"

QByteArray baseHeader(const Project &project, const WindowNode &window);
QByteArray baseSource(const Project &project, const WindowNode &window);
// Every class of the toolkit that a window's code names.
QSet<QString> classesIn(const WindowNode &window);

// "boardButton->"; of the window itself ("this") nothing.
QByteArray memberOf(const QByteArray &name);
// Statements that set one property of the object that `name` points to; empty when it has none
// of its own (it places the widget, or is wired once everything is there).
// One that a class of the user's declares: by the setter that the header names, else by its name.
QByteArray ownPropertyCode(const QByteArray &name, const PropertyEntry &mine, const Property &property);
QByteArray propertyCode(const QByteArray &name, const QString &className, const Property &property,
                        const LocalNames &locals, bool isWindow = false);
// What no local variable of a window's code may be called.
LocalNames localNames(const Project &project);

} // namespace pipit
