// The proof of stalls: generated programs that block in known lines, each a line in the file that is named,
// so that it can be taken up again where it was left.
#include "tests/support/blockers.h"

#include <QCoreApplication>
#include <QFile>
#include <QMap>

#include <cstdio>

using namespace pipit::tests;

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QFile file(app.arguments().value(1, "stalls.txt"));
    const unsigned programs = app.arguments().value(2, "30").toUInt();
    if (!file.open(QIODevice::ReadWrite | QIODevice::Append)) {
        std::fprintf(stderr, "%s: %s\n", qPrintable(file.fileName()), qPrintable(file.errorString()));
        return 2;
    }
    file.seek(0);
    QMap<unsigned, BlockerVerdict> all;
    for (const QByteArray &text : file.readAll().split('\n'))
        if (const qsizetype cut = text.indexOf(' '); cut > 0)
            all[text.left(cut).toUInt()] = BlockerVerdict::fromLine(text.mid(cut + 1));
    for (unsigned seed = 1; seed <= programs; ++seed) {
        if (all.contains(seed))
            continue;
        const BlockerVerdict v = judgeBlockers(BlockerCase::of(seed));
        file.write(QByteArray::number(seed) + ' ' + v.toLine() + '\n');
        file.flush();
        all[seed] = v;
        for (const QString &wrong : v.wrong)
            std::printf("%s\n", qPrintable(wrong));
        std::fflush(stdout);
    }
    BlockerVerdict calm, load;
    for (auto it = all.constBegin(); it != all.constEnd(); ++it)
        (BlockerCase::of(it.key()).load ? load : calm).add(*it);
    std::printf("%d programs.\nOn an idle machine: %s.\nWith every processor taken: %s.\n", int(all.size()),
                qPrintable(calm.text()), qPrintable(load.text()));
    return calm.missed + calm.falseOnes + calm.wrongHandler ? 1 : 0;
}
