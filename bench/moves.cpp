// The proof of moves: handlers of many forms are moved, and their windows used at random before and after.
// Each handler is a line in the file that is named; those that stand there are not judged again.
#include "tests/support/handlers.h"

#include <QCoreApplication>
#include <QFile>
#include <QMap>

#include <cstdio>

using namespace pipit;
using namespace pipit::tests;

namespace
{

struct Kind {
    const char *file;
    Shape shape;
    bool movable;
};

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QFile file(app.arguments().value(1, "moves.txt"));
    const int rounds = app.arguments().value(2, "20").toInt();
    const QString only = app.arguments().value(3);
    if (!file.open(QIODevice::ReadWrite | QIODevice::Append)) {
        std::fprintf(stderr, "%s: %s\n", qPrintable(file.fileName()), qPrintable(file.errorString()));
        return 2;
    }
    file.seek(0);
    QMap<QString, QString> said; // by handler
    for (const QByteArray &line : file.readAll().split('\n'))
        if (const qsizetype tab = line.indexOf('\t'); tab > 0)
            said.insert(QString::fromUtf8(line.left(tab)), QString::fromUtf8(line.mid(tab + 1)));
    QMap<QString, int> counts;
    // All to the background; into steps what can be, for whatever has no loop of its own is refused there.
    for (const Kind &kind :
         {Kind{"movable.txt", Shape::Background, true}, Kind{"refused.txt", Shape::Background, false},
          Kind{"movable.txt", Shape::Steps, false}})
        for (HandlerCase one : handlerCases(kind.file)) {
            const bool steps = kind.shape == Shape::Steps;
            if (steps)
                one.name += ", in steps";
            if (!only.isEmpty() && !one.name.contains(only))
                continue;
            QString verdict = said.value(one.name);
            if (verdict.isEmpty() || !only.isEmpty()) {
                const HandlerVerdict v = judgeHandler(one, kind.shape, 7 + qHash(one.name) % 1000, rounds);
                const bool wrong =
                    v.moved && v.same && !v.back && v.reasons.join("").contains("something else") ? true
                    : v.moved ? !v.same || !(kind.movable || steps)
                              : !v.wrong.isEmpty();
                verdict = wrong          ? "moved wrongly"
                          : v.moved      ? "moved right"
                          : steps        ? "not in steps"
                          : kind.movable ? "refused though movable"
                                         : "refused rightly";
                const QString why =
                    QString(v.wrong.isEmpty() ? v.reasons.join("; ") : v.wrong).replace('\n', ' ');
                if (!why.isEmpty())
                    verdict += ": " + why;
                if (!only.isEmpty())
                    std::printf("%s\n", qPrintable(v.code));
                else
                    file.write((one.name + '\t' + verdict + '\n').toUtf8());
                file.flush();
                std::printf("%s: %s\n", qPrintable(one.name), qPrintable(verdict));
                std::fflush(stdout);
            }
            ++counts[verdict.section(':', 0, 0)];
        }
    int all = 0;
    QStringList words;
    for (auto it = counts.begin(); it != counts.end(); ++it) {
        all += it.value();
        words << QStringLiteral("%1 %2").arg(it.value()).arg(it.key());
    }
    std::printf("%d handlers: %s.\n", all, qPrintable(words.join(", ")));
    return counts.value("moved wrongly") ? 1 : 0;
}
