// The proof of health: many seeded windows that are used at random, each a line in the file that is named, so
// that it can be taken up again where it was left.
#include "tests/support/lively.h"

#include <QCoreApplication>
#include <QFile>
#include <QSet>

#include <cstdio>

using namespace pipit::tests;

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QFile file(app.arguments().value(1, "healthy.txt"));
    const unsigned cases = app.arguments().value(2, "100").toUInt();
    if (!file.open(QIODevice::ReadWrite | QIODevice::Append)) {
        std::fprintf(stderr, "%s: %s\n", qPrintable(file.fileName()), qPrintable(file.errorString()));
        return 2;
    }
    file.seek(0);
    QSet<unsigned> done;
    LivelyVerdict all;
    for (const QByteArray &text : file.readAll().split('\n')) {
        const QList<QByteArray> n = text.split('\t').value(0).split(' ');
        if (n.size() != 9)
            continue;
        LivelyVerdict v;
        int *const fields[] = {&v.healthy, &v.ok,    &v.unknown,  &v.falseClaims,
                               &v.faults,  &v.right, &v.notKnown, &v.wrong};
        for (int i = 0; i < 8; ++i)
            *fields[i] = n[i + 1].toInt();
        if (const QByteArray said = text.split('\t').value(1).trimmed(); !said.isEmpty())
            v.mistakes = QString::fromUtf8(said).split(" | ");
        done.insert(n[0].toUInt());
        all.add(v);
    }
    for (unsigned seed = 1; seed <= cases; ++seed) {
        if (done.contains(seed))
            continue;
        const LivelyVerdict v = judgeLively(seed, 40);
        QByteArray line = QByteArray::number(seed);
        for (const int n :
             {v.healthy, v.ok, v.unknown, v.falseClaims, v.faults, v.right, v.notKnown, v.wrong})
            line += ' ' + QByteArray::number(n);
        file.write(line + '\t' + v.mistakes.join(" | ").toUtf8() + '\n');
        file.flush();
        all.add(v);
        done.insert(seed);
        for (const QString &m : v.mistakes)
            std::printf("%s\n", qPrintable(m));
        std::fflush(stdout);
    }
    std::printf("%d windows. %s\n", int(done.size()), qPrintable(all.text()));
    return all.falseClaims + all.wrong ? 1 : 0;
}
