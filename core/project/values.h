// Property values: from what a person types to what the project holds, checked by the type that
// the catalog gives.
//
// Threads: any. The project holds texts, numbers and yes or no only; fonts, colours, sizes, icons
// and enumerations are texts in the forms below, the same in generated code and in the preview.
//   font "Inter" 14 bold italic underline     any part may be left out
//   #2B2723, teal                             colours
//   640x480                                   sizes
//   theme:document-save, file:icons/horn.png  icons and pictures; a file lies in the project's folder
//   AlignLeft|AlignVCenter                    flags, also with spaces or commas between
//   8, or 8 4 8 4                             margins
#pragma once

#include "core/catalog/catalog.h"
#include "core/project/model.h"

namespace pipit
{

struct FontWords {
    QString family; // empty: as it was
    int points = 0; // 0: as it was
    bool bold = false, italic = false, underline = false;
};
Result<FontWords> parseFont(const QString &text);

// The value for a property of that class, or why it is none.
Result<Json> propertyValue(const QString &className, const QString &property, const QString &text);
// The keys of an enumeration, as written or near it: "high" for High.
Result<Json> enumerationValue(const PropertyEntry &property, const QString &text);
// The same the other way, as a person would type it.
QString valueText(const Json &value);
// What a person reads: empty when nothing is to be said.
QStringList nameList(const QString &text); // "a, b c" → a, b, c

// Whether a value for it can be typed at all; what is of another type is set in code.
bool isSettable(const PropertyEntry &property);

// A property by its name or by words, "minimum width", or why there is none.
Result<const PropertyEntry *> propertyFor(const QString &className, const QString &nameOrWords);

} // namespace pipit
