// What the writers of moved handlers share. Inner; include rewrite.h instead.
//
// Threads: any; works on what it is given.
#pragma once

#include "core/moves/rewrite.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

class CodeWriter
{
public:
    CodeWriter(const CutQuestion &q, const Cut &cut, QString name);

    // The text of a range with the changes in it.
    static QString changed(const QString &text, int begin, int end, QList<TextChange> changes);

protected:
    bool isStruct(const QString &type) const
    {
        const QString c = capital(name_);
        return type == c + "Input" || type == c + "Result" || type == c + "State";
    }
    static QString capital(QString name);
    static bool isPlainType(const QString &type);
    static bool isNumber(const QString &type);
    static QString listOf(const QString &type);
    static QString field(const QString &type, const QString &name, const QString &remark = {});
    void include(const QString &type); // the headers that it needs
    int lineEnd(int after) const;
    QString lines(Stage place, const QList<TextChange> &changes, bool early = false) const;
    QString atTurn() const; // what stood before the work and is done first when the result is shown
    bool isOnlyFor(const PlacedStatement &s, Stage place) const;
    bool isConstants(const PlacedStatement &s) const;
    bool isNeeded(const PlacedStatement &s, Stage place) const;
    bool hasLambda(Stage place) const;
    QString head(const QString &type, const QString &function) const;
    QString unusedArguments() const;
    QString gathering(); // loops that gather what widgets have
    QString gatheringLoops(const QList<const Gathering *> &all, qsizetype depth, const QString &indent) const;
    static QString innerType(const Gathering &g, qsizetype depth);
    static QString gatheredType(const Gathering &g);
    QString unpacked(const QString &from, const QString &type, const QStringList &names,
                     const QStringList &fields, const QStringList &types, const QSet<QString> &written,
                     bool bindings) const;

    const CutQuestion &q_;
    const Cut &cut_;
    QString name_, class_;
    const CodeDecl &self_;
    Rewritten out_;
};

} // namespace pipit
