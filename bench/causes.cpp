// The proof of causes: many seeded runs, each a line in the file that is named, so that it can be taken up
// again where it was left.
#include "tests/support/causes.h"

#include <QCoreApplication>
#include <QFile>
#include <QSet>

#include <cstdio>

using namespace pipit::tests;

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QFile file(app.arguments().value(1, "causes.txt"));
    const unsigned cases = app.arguments().value(2, "100").toUInt();
    if (!file.open(QIODevice::ReadWrite | QIODevice::Append)) {
        std::fprintf(stderr, "%s: %s\n", qPrintable(file.fileName()), qPrintable(file.errorString()));
        return 2;
    }
    file.seek(0);
    QSet<unsigned> done;
    CausesVerdict all;
    for (const QByteArray &line : file.readAll().split('\n')) {
        const QList<QByteArray> n = line.split('\t').value(0).split(' ');
        if (n.size() != 6)
            continue;
        done.insert(n[0].toUInt());
        all.add({n[1].toInt(), n[2].toInt(), n[3].toInt(), n[4].toInt(), n[5].toInt(), {}});
    }
    for (unsigned seed = 1; seed <= cases; ++seed) {
        if (done.contains(seed))
            continue;
        const CausesVerdict v = judgeCauses(seed, 120);
        QByteArray line = QByteArray::number(seed);
        for (const int n : {v.acts, v.edges, v.right, v.missing, v.falseOnes})
            line += ' ' + QByteArray::number(n);
        file.write(line + '\t' + v.wrong.join(" | ").toUtf8() + '\n');
        file.flush();
        all.add(v);
        done.insert(seed);
        for (const QString &wrong : v.wrong)
            std::printf("%s\n", qPrintable(wrong));
        std::fflush(stdout);
    }
    std::printf("%d runs. %s\n", int(done.size()), qPrintable(all.text()));
    return all.falseOnes == 0 && all.missing * 100 <= all.edges && all.edges > 0 ? 0 : 1;
}
