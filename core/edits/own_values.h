// The values that properties take which classes of the user's declare.
//
// Threads: any.
#pragma once

#include "core/project/model.h"

namespace pipit
{

// A null text resets.
Result<Json> ownValue(const PropertyEntry &property, const QString &text);

} // namespace pipit
