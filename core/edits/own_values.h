// Properties that classes of the user's declare, and the values they take.
//
// Threads: any; what is returned lives as long as the project's own classes.
#pragma once

#include "core/project/model.h"

namespace pipit
{

// Null: the class is not known, or declares no such property.
const PropertyEntry *ownProperty(const Project &project, const QString &className, const QString &property);
// A null text resets.
Result<Json> ownValue(const PropertyEntry &property, const QString &text);

} // namespace pipit
