// What pages to be read in a browser have in common: one file each, no script, nothing fetched.
//
// Threads: any.
#pragma once

#include <QString>

namespace pipit
{

[[nodiscard]] inline QString escaped(const QString &text)
{
    return text.toHtmlEscaped();
}

// `title` and `body` are HTML.
[[nodiscard]] QString pageOf(const QString &title, const QString &body);

} // namespace pipit
