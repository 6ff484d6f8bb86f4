// The proof of truth: many seeded runs, each a line in the file that is named, so that it can be taken up
// again where it was left.
#include "tests/support/truth.h"

#include <QCoreApplication>
#include <QFile>

#include <cstdio>

using namespace pipit::tests;

namespace
{

struct Line {
    unsigned seed;
    Verdict verdict;
};

QByteArray toLine(unsigned seed, const Verdict &v)
{
    QByteArray line = QByteArray::number(seed);
    for (const int n : {v.stalls, v.found, v.missed, v.notKnown, v.falseOnes, v.wrongName, v.wrongLength,
                        v.wrongEnd, v.calls, v.callsMissed, v.callsFalse})
        line += ' ' + QByteArray::number(n);
    return line + ' ' + QByteArray::number(v.worstLength, 'f', 2) + '\t' + v.wrong.join(" | ").toUtf8() +
           '\n';
}

std::optional<Line> fromLine(const QByteArray &text)
{
    const QList<QByteArray> parts = text.split('\t');
    const QList<QByteArray> n = parts.value(0).split(' ');
    if (n.size() != 13)
        return std::nullopt;
    Line l{n[0].toUInt(), {}};
    int *const fields[] = {&l.verdict.stalls,      &l.verdict.found,     &l.verdict.missed,
                           &l.verdict.notKnown,    &l.verdict.falseOnes, &l.verdict.wrongName,
                           &l.verdict.wrongLength, &l.verdict.wrongEnd,  &l.verdict.calls,
                           &l.verdict.callsMissed, &l.verdict.callsFalse};
    for (int i = 0; i < 11; ++i)
        *fields[i] = n[i + 1].toInt();
    l.verdict.worstLength = n[12].toDouble();
    if (!parts.value(1).trimmed().isEmpty())
        l.verdict.wrong = QString::fromUtf8(parts[1].trimmed()).split(" | ");
    return l;
}

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QFile file(app.arguments().value(1, "truth.txt"));
    const unsigned cases = app.arguments().value(2, "500").toUInt();
    if (!file.open(QIODevice::ReadWrite | QIODevice::Append)) {
        std::fprintf(stderr, "%s: %s\n", qPrintable(file.fileName()), qPrintable(file.errorString()));
        return 2;
    }
    file.seek(0);
    QSet<unsigned> done;
    Verdict all;
    for (const QByteArray &text : file.readAll().split('\n'))
        if (const auto line = fromLine(text)) {
            done.insert(line->seed);
            all.add(line->verdict);
        }
    for (unsigned seed = std::max(1u, app.arguments().value(3).toUInt()); seed <= cases; ++seed) {
        if (done.contains(seed))
            continue;
        const Verdict v = judge(TruthCase::of(seed));
        file.write(toLine(seed, v));
        file.flush();
        all.add(v);
        done.insert(seed);
        for (const QString &wrong : v.wrong)
            std::printf("%s\n", qPrintable(wrong));
        std::fflush(stdout);
    }
    std::printf("%d cases. %s\n", int(done.size()), qPrintable(all.text()));
    return all.wrong.isEmpty() ? 0 : 1;
}
