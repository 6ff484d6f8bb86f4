// Texts, names and comments as C++, the way one would write them by hand.
//
// Threads: any.
#pragma once

#include <QByteArray>
#include <QSet>
#include <QString>

namespace pipit
{

// A literal with only the escapes that it needs, whatever the text holds: "Müller \"Board\"\n".
QByteArray literal(const QString &text);
// A QString that holds exactly this text, not to be translated.
QByteArray stringCode(const QString &text);
// The same for what a person reads: tr("…").
QByteArray translatedCode(const QString &text);
// One line of a comment, without the two slashes.
QByteArray commentText(const QString &text);

// Names for what a function holds, which must not hide a member of the window.
class LocalNames
{
public:
    void take(const QString &name) { taken_.insert(name.toUtf8()); }
    QByteArray of(QByteArray wanted) const
    {
        while (taken_.contains(wanted))
            wanted += '_';
        return wanted;
    }

private:
    QSet<QByteArray> taken_;
};

} // namespace pipit
