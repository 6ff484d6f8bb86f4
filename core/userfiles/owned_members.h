// Members of a window that the work of a handler in the background has to itself, as the code that Pipit
// writes says it: "Gauge &gauge_ = *input.gauge;" in the work, "&gauge_" where the input is put together.
//
// Threads: any; plain text. Comments and strings are to be blank (codeOnly).
#pragma once

#include <QSet>
#include <QString>

namespace pipit
{

// Of the body of a work function.
[[nodiscard]] QSet<QString> membersOwnedIn(const QString &work);
// Whether code uses a member, rather than only saying where it is. `shows`: a variable of its name may be
// made of what the work came to.
[[nodiscard]] bool usesMember(const QString &code, const QString &member, bool shows);

} // namespace pipit
